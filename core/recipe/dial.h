// SPDX-License-Identifier: GPL-3.0-or-later
// What of a recipe its user may turn: numbers, choices, toggles and colours, and named settings of all of them.
#pragma once

#include <cstdint>
#include <map>
#include <nlohmann/json.hpp>
#include <string>
#include <string_view>
#include <vector>

#include "core/ground/json.h"
#include "core/ground/result.h"
#include "core/ground/types.h"

namespace bricol {

enum class DialKind : std::uint8_t {
    number,
    choice,  ///< one of a few words; a number to formulas: its place in the list, from 0
    toggle,  ///< yes or no; 1 or 0 to formulas
    colour   ///< linear red, green and blue, 0..1; `name.red`, `.green`, `.blue` to formulas
};

struct Dial {
    std::string name;  ///< usable in formulas
    double value = 0, low = 0, high = 1;
    std::string unit;  ///< "m" for lengths, "deg" for angles, "count" for whole numbers, "" for plain
    std::string help;
    Json extra = Json::object();  ///< unknown keys, kept
    DialKind kind = DialKind::number;
    std::vector<std::string> choices;  ///< of a choice; at least one
    DVec3 colour{0.5};                 ///< of a colour
    std::string heading;               ///< under which it stands in the room; empty for that of the dial before
    std::string when;                  ///< shown only while another dial allows it: "lid", "ribs>0", "style=a|b"

    /// The word a choice stands at.
    const std::string& word() const { return choices[static_cast<std::size_t>(value)]; }
    friend bool operator==(const Dial&, const Dial&) = default;
};

/// Values of dials by their names, as the recipe's file writes them: a number, a word, true, three numbers.
using WrittenDials = std::map<std::string, Json, std::less<>>;

/// A named setting of all dials.
struct Preset {
    std::string name;
    WrittenDials dials;
    Json extra = Json::object();
    friend bool operator==(const Preset&, const Preset&) = default;
};

inline constexpr std::size_t most_dial_choices = 100;

/// "number", "choice", … as files write it; and the kind of such a word.
std::string_view dial_kind_word(DialKind kind);
Result<DialKind> dial_kind_of(std::string_view word);

/// The dial's value as the recipe's file writes it.
Json dial_value(const Dial& dial);

/// The dial with its range the right way round and its value inside; choices, toggles and colours have a range by what
/// they are.
Dial tidy_dial(Dial dial);

/// What happens to a number outside the dial's range.
enum class Outside : std::uint8_t { refused, held };
/// The dial turned to a written value. Refused, with what would do: a value of another kind, a word that is none of its
/// own (unless it may be held, a number outside its range).
Result<Dial> turned(Dial dial, const Json& written, Outside outside = Outside::refused);

/// The written value of what somebody typed: "110 cm", "fluted", "yes", "#7a4b20" (sRGB), "0.2, 0.1, 0.1" (linear).
/// Plain lengths are metres.
Result<Json> typed_dial(const Dial& dial, const std::string& text);
/// The dial's value in words and units: "1.1 m", "fluted", "yes", "#7a4b20".
std::string dial_words(const Dial& dial);
/// Its range in words: "0.2 to 1.5", "plain, fluted", "yes, no", "a colour".
std::string dial_range_words(const Dial& dial);

/// What a condition is about, and whether it holds for that dial ("lid", "ribs>0", "style=plain|fluted").
std::string condition_dial(std::string_view when);
bool condition_holds(std::string_view when, const Dial& about);
/// Whether it is shown: its condition, and that of the dial it asks about, hold. A condition on a dial that is gone
/// holds.
bool dial_shown(const std::vector<Dial>& dials, const Dial& dial);

/// The heading under which each dial stands.
std::vector<std::string> dial_headings(const std::vector<Dial>& dials);

}  // namespace bricol
