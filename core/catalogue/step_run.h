// SPDX-License-Identifier: GPL-3.0-or-later
// What a step's make function is given, and what it hands back.
#pragma once

#include <atomic>
#include <functional>

#include "core/catalogue/finding.h"
#include "core/catalogue/value.h"
#include "core/ground/result.h"
#include "core/shape/sets.h"
#include "core/shape/shape.h"

namespace bricol {

struct RowProblem;

/// A recipe inside a step, made.
struct InnerMade {
    ShapePtr shape;
    std::vector<Finding> findings;
};

/// What a step's make function sees.
class StepRun {
public:
    StepRun();
    StepRun(StepRun&&) noexcept;
    StepRun& operator=(StepRun&&) noexcept;
    ~StepRun();

    std::string id;
    Values values;
    std::map<std::string, ShapePtr, std::less<>> inputs;
    bool for_export = false;
    const std::atomic<bool>* stop = nullptr;
    double raise_bounds = 1;  ///< factor on every bound, for whoever means it
    /// Makes the recipe of a kit parameter with these dials; `part` empty for its last shown part.
    std::function<Result<InnerMade>(const KitWritten& kit, const std::string& part, const DialNumbers& dials)> inner;
    /// The text of the file that a file parameter names.
    std::function<Result<std::shared_ptr<const std::string>>(const std::string& name)> read;

    /// The main input; an empty shape when there is none.
    const Shape& shape() const { return input("shape"); }
    const Shape& input(std::string_view key) const;
    ShapePtr input_pointer(std::string_view key) const;

    double number(std::string_view key) const;
    float real(std::string_view key) const { return static_cast<float>(number(key)); }
    int integer(std::string_view key) const;
    DVec3 vector(std::string_view key) const;
    /// Text of any kind: a choice's key, a name, a file.
    const std::string& word(std::string_view key) const;
    bool toggle(std::string_view key) const;
    const std::vector<Curve>& curves(std::string_view key) const;
    const std::vector<Place>& places(std::string_view key) const;
    template <class T>
    const T& as(std::string_view key) const {
        return std::get<T>(value(key));
    }
    /// Elements of the set that a parameter names: all when it is empty; none, and an error finding, when there is no
    /// such set; a caution when it has no members.
    Mask chosen(const Mesh& mesh, Domain domain, std::string_view key = "only");
    /// One number per element from the attribute that a parameter names: 1 everywhere when it is empty. A set gives 0
    /// and 1, a value on another domain is carried over; a missing one gives 0 and an error finding that offers the
    /// nearest name.
    Array<float> weights(const Mesh& mesh, Domain domain, std::string_view key);
    /// Reports what went wrong in formula rows, at this step's parameter `key`.
    void report(const std::vector<RowProblem>& problems, std::string_view key);
    /// Keeps a mask under the name a parameter gives, when it gives one.
    void name_set(Mesh& mesh, Domain domain, std::string_view key, Mask mask) const;
    int axis(std::string_view key) const;  ///< 0 x, 1 y, 2 z
    bool stopped() const { return stop && stop->load(std::memory_order_relaxed); }

    /// The result. A step that gives nothing passes its main input through.
    void give(Shape shape) { result = std::make_shared<const Shape>(std::move(shape)); }
    void give(Mesh mesh);
    void give(ShapePtr shape) { result = std::move(shape); }
    /// Tells a finding; give it places and a remedy where there are any.
    Finding& tell(Severity severity, std::string code, std::string text);
    /// True when an error has been told.
    bool failed() const;
    /// Tells an error when making would need more than `bound` elements; true when it would.
    bool too_many(double elements, double bound, std::string_view what, std::string_view remedy);

    ShapePtr result;
    std::vector<Finding> findings;

private:
    const Value& value(std::string_view key) const;
};

/// Largest number of faces one step makes before it asks for smaller numbers.
inline constexpr double most_faces = 20e6;

}  // namespace bricol
