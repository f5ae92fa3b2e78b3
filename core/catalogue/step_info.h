// SPDX-License-Identifier: GPL-3.0-or-later
// How a step describes itself, and the list of all that do. The add bar, the details panel, the command line and the
// reference manual read these descriptions; nothing else knows steps by name.
#pragma once

#include <functional>
#include <optional>
#include <span>

#include "core/catalogue/parameter.h"
#include "core/catalogue/value.h"
#include "core/ground/result.h"
#include "core/shape/content.h"

namespace bricol {

enum class Family : std::uint8_t { make, curves, surface, faces, copies, bend, sets, look, light };
std::string_view family_name(Family family);

/// A number that a value block works out from its parameters; formulas ask for it as `step.key`.
struct OutputInfo {
    std::string_view key, label, help;
    std::function<double(const Values&)> work_out;
};

/// Numbers that a value block gives under names the artist gave them; formulas ask for them as `step.name`.
struct NamedNumbers {
    /// Those in what is written, and what there is to say of each.
    std::function<std::vector<std::string>(const Json& settings)> names;
    /// Nothing when there is no number of that name.
    std::function<std::optional<Result<double>>(const Values&, std::string_view name)> work_out;
    explicit operator bool() const { return static_cast<bool>(names); }
};

struct InputInfo {
    std::string_view key, label;
    unsigned accepts = 0;  ///< Content bits
    bool required = true;
};

class StepRun;

struct StepInfo {
    ~StepInfo();  // in its own file, so that no step compiles it anew

    std::string_view key, name;
    Family family = Family::make;
    std::string_view purpose;        ///< one line
    std::string_view words;          ///< other words people in the trade use for it, for the add bar
    std::string_view help;           ///< a paragraph for the manual
    std::string_view glyph;          ///< SVG path data on a 24 x 24 field, drawn with a 1.5 pen
    unsigned gives = content_faces;  ///< Content bits of its result; 0 for "as its input"
    std::vector<InputInfo> inputs;
    std::vector<ParameterInfo> parameters;
    std::vector<std::string_view> reads;  ///< edge weights it heeds, by attribute name
    std::string_view weighs;   ///< its setting that names the edge weight it writes for others; empty for none
    std::string_view telling;  ///< template of the card's second line: "{segments} segments"
    std::function<void(StepRun&)> make;  ///< empty for steps that make no shape
    std::vector<OutputInfo> outputs;
    NamedNumbers named_numbers{};
    /// Stands beside the chain: gives values or words, no shape, and the step behind it takes what stood before it.
    bool aside = false;
    /// Its shape is what the recipe step round this recipe was given.
    bool given = false;
    /// Of a step that makes the recipe inside it many times: numbers that recipe knows besides its own, other ones each
    /// time.
    std::vector<std::string_view> loop_names{};

    const ParameterInfo* parameter(std::string_view key) const;
    const InputInfo* input(std::string_view key) const;
    /// The first setting of a kind; null for none.
    const ParameterInfo* parameter_of(ParameterKind kind) const;
    /// Begins a chain: makes a shape and takes no main input.
    bool starts() const { return !aside && !input("shape"); }
};

/// Every step, ordered by family and name.
std::span<const StepInfo* const> all_steps();
/// The step of that key; null for none.
const StepInfo* find_step_info(std::string_view key);
/// The known step most like a mistyped one; empty when nothing is near.
std::string_view nearest_step(std::string_view key);

/// A step's file holds one of these at namespace scope.
struct Registered {
    explicit Registered(const StepInfo& info);
};

/// Whether a parameter matters while the others have these values: its `when` holds, and so does that of what it names.
bool asked_for(const StepInfo& info, const ParameterInfo& parameter, const Values& values);

}  // namespace bricol
