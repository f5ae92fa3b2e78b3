// SPDX-License-Identifier: GPL-3.0-or-later
// What a step's make function is given, and what it hands back.
#pragma once

#include <functional>
#include <span>

#include "core/catalogue/finding.h"
#include "core/catalogue/value.h"
#include "core/ground/result.h"
#include "core/shape/selection.h"
#include "core/shape/shape.h"

namespace bricol {

struct FieldSlot;
struct FileShape;
struct RowProblem;
struct StepInfo;
struct StagePiece;

/// A recipe inside a step, made.
struct InnerWanted {
    KitWritten kit;
    std::string part;    ///< empty for its last shown part, "*" for all that are shown
    std::string preset;  ///< it is set to this first; none when empty
    DialValues dials;    ///< and these are turned then
    /// Numbers that its formulas know besides its own; a dial of such a name is turned to it, unless `dials` says
    /// otherwise.
    std::map<std::string, double> names{};
    ShapePtr given{};              ///< its first given shape; null for the step's own main input
    std::uint64_t given_hash = 0;  ///< of that shape's content
};

struct InnerMade {
    ShapePtr shape;
    std::vector<Finding> findings;
    std::uint64_t hash = 0;  ///< of everything the shape depends on
};

/// What a step's make function sees.
class StepRun {
public:
    explicit StepRun(const StepInfo* step = nullptr);
    StepRun(StepRun&&) noexcept;
    StepRun& operator=(StepRun&&) noexcept;
    ~StepRun();

    const StepInfo* info;  ///< what the step says of itself
    std::string id;
    Values values;
    std::map<std::string, ShapePtr, std::less<>> inputs;
    bool for_export = false;
    double raise_bounds = 1;  ///< factor on every bound, for whoever means it
    /// Makes the recipe of a kit parameter.
    std::function<Result<InnerMade>(const InnerWanted&)> inner;
    /// The text of the file that a file parameter names.
    std::function<Result<std::shared_ptr<const std::string>>(const std::string& name)> read;
    /// The shape in the file that a file parameter names, read outside this process.
    std::function<Result<std::shared_ptr<const FileShape>>(const std::string& name)> read_shape;

    /// The main input; an empty shape when there is none.
    const Shape& shape() const { return input("shape"); }
    const Shape& input(std::string_view key) const;
    ShapePtr input_pointer(std::string_view key) const;

    /// Elements of the set that a setting names: all when it is empty; none, and an error finding, when there is no
    /// such set; a caution when it has no members. `set` is the field of the settings itself: a remedy changes it. The
    /// vertices may stand for other elements (knots, copies): `told_as` then says which they are.
    Mask chosen(const Mesh& mesh, Domain domain, const std::string& set, std::optional<Domain> told_as = {});
    /// The same for operations that may work on everything: all when the setting is empty.
    Selection selected(const Mesh& mesh, Domain domain, const std::string& set, std::optional<Domain> told_as = {});
    /// One number per element from the attribute that a setting names: 1 everywhere when it is empty. A set gives 0
    /// and 1, a value on another domain is carried over; a missing one gives 0 and an error finding that offers the
    /// nearest name. `attribute` is the field of the settings itself.
    Array<float> weights(const Mesh& mesh, Domain domain, const std::string& attribute);
    /// Tells what went wrong in formula rows; `rows` is the field of the settings itself, or made from it.
    void report(const std::vector<RowProblem>& problems, const std::vector<FormulaRow>& rows);
    /// Keeps a mask as a set, when it is given a name.
    void name_set(Mesh& mesh, Domain domain, const std::string& name, Mask mask) const;
    /// The key of the setting that a field of the step's settings holds; empty for anything else.
    template <class M>
    std::string key_of(const M& field) const {
        return key_at(&field);
    }
    /// Says where the settings stand, so that fields can be told from one another.
    void bind(const void* settings, std::span<const FieldSlot> fields);

    /// The result. A step that gives nothing passes its main input through.
    void give(Shape shape);
    void give(Mesh mesh);
    void give(ShapePtr shape) { result = std::move(shape); }
    /// Tells a finding; give it places and a remedy where there are any.
    Finding& tell(Severity severity, std::string_view code, std::string text);
    /// True when an error has been told.
    bool failed() const;
    /// Tells an error when making would need more than `bound` elements; true when it would.
    bool too_many(double elements, double bound, std::string_view what, std::string_view remedy);

    ShapePtr result;
    std::vector<Finding> findings;
    std::shared_ptr<const StagePiece> stage;  ///< what it puts round the shapes for pictures

private:
    std::string key_at(const void* field) const;

    const void* settings_ = nullptr;
    std::span<const FieldSlot> fields_;
};

/// Largest number of faces one step makes before it asks for smaller numbers: with what belongs to them about a
/// gigabyte, and seconds to make and write. A recipe can raise all bounds (raise_bounds).
inline constexpr double most_faces = 3e6;
/// Largest number of points and knots.
inline constexpr double most_points = 6e6;
/// Largest number of copies standing, nested ones each counted, and of faces that all of them show.
inline constexpr double most_copies = 250e3, most_standing = 200e6;

}  // namespace bricol
