// SPDX-License-Identifier: GPL-3.0-or-later
// How a step describes itself, and what it is given when it is made. The add bar, the details panel, the command line
// and the reference manual read these descriptions; nothing else knows steps by name.
#pragma once

#include <atomic>
#include <functional>
#include <map>
#include <optional>
#include <span>
#include <string>
#include <string_view>
#include <variant>
#include <vector>

#include "core/formula/field.h"
#include "core/formula/units.h"
#include "core/kernels/ramp.h"
#include "core/recipe/recipe.h"
#include "core/shape/place.h"
#include "core/shape/sets.h"
#include "core/shape/shape.h"

namespace bricol {

// ---- Findings ---------------------------------------------------------------------------------------------------

enum class Severity : std::uint8_t { note, caution, error };
std::string_view severity_name(Severity severity);

/// One safe answer to a finding: settings to change, or a step to put behind the one that reported.
struct Remedy {
    struct Change {
        std::string step;  ///< id; empty for the step that reported
        std::string path;  ///< as for set_setting
        Json value;
        bool remove = false;  ///< take the array element at `path` away instead
        friend bool operator==(const Change&, const Change&) = default;
    };
    std::string label;  ///< what the button says ("Set them on the axis")
    std::vector<Change> changes;
    std::optional<Step> insert_after;
    friend bool operator==(const Remedy&, const Remedy&) = default;
};

struct Finding {
    Severity severity = Severity::note;
    std::string code;  ///< stable name for scripts ("near-axis")
    std::string text;  ///< one or two plain sentences with the number to change
    std::optional<Remedy> remedy;
    std::vector<Vec3> places;  ///< where, for "show"

    friend bool operator==(const Finding&, const Finding&) = default;
};

/// A parameter with every formula worked out.
/// Ramps, gradients, formula rows and lists come as themselves; blocks, kits and dial settings as JSON with numbers
/// only.
using Value = std::variant<double, DVec3, std::string, bool, std::vector<Curve>, std::vector<Place>, DrawnRamp,
                           Gradient, std::vector<FormulaRow>, std::vector<DVec3>, std::vector<std::vector<int>>, Json>;
using Values = std::map<std::string, Value, std::less<>>;

// ---- Description ------------------------------------------------------------------------------------------------

enum class ParameterKind : std::uint8_t {
    number,
    vector,
    choice,
    toggle,
    text,
    curves,
    part,
    set,
    places,
    colour,     ///< three numbers, linear, 0..1
    ramp,       ///< a number drawn over 0..1
    gradient,   ///< a colour over 0..1
    rows,       ///< lines "target <- formula", worked out per element
    points,     ///< a list of places, each number a formula if one likes
    lists,      ///< lists of whole numbers: the corners of faces
    attribute,  ///< an attribute of the input, by name
    blocks,     ///< a small graph of number blocks (core/formula/blocks.h)
    kit,        ///< another recipe: the name of a file, or the recipe itself
    dials,      ///< numbers for the dials of the recipe in `kit`
    file        ///< another file, by its name beside the recipe
};
enum class Family : std::uint8_t { make, curves, surface, faces, copies, bend, sets, look };
std::string_view family_name(Family family);

struct Choice {
    std::string_view key, label;
};

/// How a number can be pulled in the viewport.
enum class HandleKind : std::uint8_t {
    none,
    point,  ///< a vector: a place in space
    arrow,  ///< a vector: from the origin to there
    along,  ///< a number: a coordinate along the axis
    about,  ///< an angle about the axis, through the origin
    reach   ///< a number: a length from the origin along the axis
};
struct HandleInfo {
    HandleKind kind = HandleKind::none;
    /// The parameter that chooses the axis, "x", "y" or "z" for a fixed one, or "a^b" for the axis across two such.
    std::string_view axis;
    std::string_view origin;  ///< vector parameter of the point it starts from; empty for the middle of the input's box
};

struct ParameterInfo {
    std::string_view key, label, help;
    ParameterKind kind = ParameterKind::number;
    Quantity quantity = Quantity::plain;
    double standard = 0;                 ///< default, in stored units
    DVec3 standard_vector{0};            ///< for vectors
    std::string_view standard_text;      ///< for text
    double low = -1e6, high = 1e6;       ///< refused outside
    double soft_low = 0, soft_high = 1;  ///< where dragging and new dials stay
    std::vector<Choice> choices;         ///< the first is the default
    /// Shown only while another choice or toggle has one of these values ("key=a|b"); empty for always.
    std::string_view when;
    HandleInfo handle;
    /// For places: what can be picked ("vertices|edges|faces"), with "|moved" when each also has a move; "cage=key" for
    /// the control points of a cage over the input's box, counted by that vector. For files: what a file chooser
    /// offers.
    std::string_view elements;
};

/// A number that a value block works out from its parameters; formulas ask for it as `step.key`.
struct OutputInfo {
    std::string_view key, label, help;
    double (*work_out)(const Values&) = nullptr;
};

struct InputInfo {
    std::string_view key, label;
    unsigned accepts = 0;  ///< Content bits
    bool required = true;
};

class StepRun;
struct RowProblem;

struct StepInfo {
    std::string_view key, name;
    Family family = Family::make;
    std::string_view purpose;        ///< one line
    std::string_view words;          ///< other words people in the trade use for it, for the add bar
    std::string_view help;           ///< a paragraph for the manual
    std::string_view glyph;          ///< SVG path data on a 24 x 24 field, drawn with a 1.5 pen
    unsigned gives = content_faces;  ///< Content bits of its result; 0 for "as its input"
    std::vector<InputInfo> inputs;
    std::vector<ParameterInfo> parameters;
    std::string_view telling;  ///< template of the card's second line: "{segments} segments"
    void (*make)(StepRun&) = nullptr;
    std::vector<OutputInfo> outputs;
    /// Stands beside the chain: gives values or words, no shape, and the step behind it takes what stood before it.
    bool aside = false;
    /// Its shape is what the recipe step round this recipe was given.
    bool given = false;

    const ParameterInfo* parameter(std::string_view key) const;
    const InputInfo* input(std::string_view key) const;
};

// Short ways to write a parameter.
ParameterInfo length_of(std::string_view key, std::string_view label, double standard, double low, double soft_high,
                        std::string_view help);
ParameterInfo offset_of(std::string_view key, std::string_view label, double standard, std::string_view help);
ParameterInfo angle_of(std::string_view key, std::string_view label, double standard, double low, double high,
                       std::string_view help);
ParameterInfo count_of(std::string_view key, std::string_view label, int standard, int low, int high, int soft_high,
                       std::string_view help);
ParameterInfo number_of(std::string_view key, std::string_view label, double standard, double low, double high,
                        std::string_view help);
ParameterInfo vector_of(std::string_view key, std::string_view label, Quantity quantity, DVec3 standard,
                        std::string_view help);
ParameterInfo choice_of(std::string_view key, std::string_view label, std::vector<Choice> choices,
                        std::string_view help);
ParameterInfo toggle_of(std::string_view key, std::string_view label, bool standard, std::string_view help);
ParameterInfo axis_of(std::string_view key, std::string_view label, std::string_view standard, std::string_view help);
ParameterInfo sampling_of(std::string_view key);
/// A set of the input, by name; empty for every element. `only_of` is the one called "only".
ParameterInfo set_of(std::string_view key, std::string_view label, std::string_view help);
ParameterInfo only_of(std::string_view help);
/// The name under which a step keeps what it made as a set; empty for none.
ParameterInfo new_set_of(std::string_view key, std::string_view label, std::string_view standard,
                         std::string_view help);
/// Pinned places, picked in the viewport.
ParameterInfo places_of(std::string_view key, std::string_view label, std::string_view elements, std::string_view help);
ParameterInfo colour_of(std::string_view key, std::string_view label, DVec3 standard, std::string_view help);
/// A parameter of one of the kinds that need no more than a name: ramp, gradient, rows, points, lists, blocks, kit,
/// dials.
ParameterInfo kind_of(ParameterKind kind, std::string_view key, std::string_view label, std::string_view help);
ParameterInfo attribute_of(std::string_view key, std::string_view label, std::string_view standard,
                           std::string_view help);
ParameterInfo text_of(std::string_view key, std::string_view label, std::string_view standard, std::string_view help);
/// A file that the step reads; `endings` as a file chooser takes them ("Drawings (*.svg)").
ParameterInfo file_of(std::string_view key, std::string_view label, std::string_view endings, std::string_view help);
/// A seed: a whole number that shuffles what is random.
ParameterInfo seed_of(std::string_view key = "seed");
ParameterInfo when(ParameterInfo parameter, std::string_view condition);
ParameterInfo pulled(ParameterInfo parameter, HandleKind kind, std::string_view axis = {},
                     std::string_view origin = {});

// ---- Registry ---------------------------------------------------------------------------------------------------

/// Every step, ordered by family and name.
std::span<const StepInfo* const> all_steps();
const StepInfo* find_step_info(std::string_view key);
/// The known step most like a mistyped one; empty when nothing is near.
std::string_view nearest_step(std::string_view key);

/// A step's file holds one of these at namespace scope.
struct Registered {
    explicit Registered(StepInfo info);
};

// ---- Making -----------------------------------------------------------------------------------------------------

/// Whether a parameter matters while the others have these values: its `when` holds, and so does that of what it names.
bool asked_for(const StepInfo& info, const ParameterInfo& parameter, const Values& values);

/// A recipe inside a step, made.
struct InnerMade {
    ShapePtr shape;
    std::vector<Finding> findings;
};

/// What a step's make function sees.
class StepRun {
public:
    std::string id;
    Values values;
    std::map<std::string, ShapePtr, std::less<>> inputs;
    bool for_export = false;
    const std::atomic<bool>* stop = nullptr;
    double raise_bounds = 1;  ///< factor on every bound, for whoever means it
    /// Makes the recipe of a kit parameter with these dials; `part` empty for its last shown part.
    std::function<Result<InnerMade>(const Json& kit, const std::string& part, const Json& dials)> inner;
    /// The text of the file that a file parameter names.
    std::function<Result<std::shared_ptr<const std::string>>(const std::string& name)> read;

    /// The main input; an empty shape when there is none.
    const Shape& shape() const { return input("shape"); }
    const Shape& input(std::string_view key) const;
    ShapePtr input_pointer(std::string_view key) const;

    double number(std::string_view key) const { return std::get<double>(value(key)); }
    float real(std::string_view key) const { return static_cast<float>(number(key)); }
    int integer(std::string_view key) const;
    DVec3 vector(std::string_view key) const { return std::get<DVec3>(value(key)); }
    const std::string& choice(std::string_view key) const { return std::get<std::string>(value(key)); }
    bool toggle(std::string_view key) const { return std::get<bool>(value(key)); }
    const std::vector<Curve>& curves(std::string_view key) const { return std::get<std::vector<Curve>>(value(key)); }
    const std::vector<Place>& places(std::string_view key) const { return std::get<std::vector<Place>>(value(key)); }
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
    Finding& find(Severity severity, std::string code, std::string text);
    /// Reports an error when making would need more than `bound` elements; true when it would.
    bool too_many(double elements, double bound, std::string_view what, std::string_view remedy);

    ShapePtr result;
    std::vector<Finding> findings;

private:
    const Value& value(std::string_view key) const;
};

/// Largest number of faces one step makes before it asks for smaller numbers.
inline constexpr double most_faces = 20e6;

}  // namespace bricol
