// SPDX-License-Identifier: GPL-3.0-or-later
// What a text of USD is put together from: indented lines, names as it allows them, meshes.
#pragma once

#include <map>
#include <set>

#include "core/files/format.h"

namespace bricol {

/// A name as USD allows it: letters, digits and "_", not beginning with a digit.
std::string usda_name(std::string_view name);

/// Names that stand beside one another, none twice.
class UsdaNames {
public:
    std::string fresh(std::string_view name);

private:
    std::set<std::string> taken_;
};

/// "(1, 0.5, 0)", with the fewest digits that read back as the same.
std::string usda_tuple(const Vec3& v);
/// A place in the file's directions and units, the move in the last row.
std::string usda_matrix(const glm::mat4& place, const ExportOptions& options);

/// Lines with their indent, handed on in pieces.
class UsdaText {
public:
    explicit UsdaText(const Sink& sink) : sink_(sink) {}
    void line(std::string_view text);
    /// A line and "{", or "{" alone; what follows stands further in.
    void open(std::string_view text = {});
    /// The same for lines that end in "{" themselves.
    void open_here(std::string_view text);
    void close();
    /// `head` = [one, two, …] in one line, each put by `put(i)`.
    void list(std::string_view head, std::size_t count, const std::function<void(std::string&, std::size_t)>& put,
              std::string_view behind = {});
    void flush();

private:
    const Sink& sink_;
    std::string text_;
    std::size_t depth_ = 0;
};

/// How meshes are written.
struct UsdaMesh {
    const ExportOptions& options;
    const std::map<std::int32_t, std::string>& materials;  ///< paths, by number
    const std::vector<Array<Vec3>>* moved = nullptr;       ///< points, a frame each

    void write(UsdaText& out, std::string_view specifier, const std::string& name, const Mesh& mesh,
               const std::vector<std::string>& lines) const;
};

}  // namespace bricol
