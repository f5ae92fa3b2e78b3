// SPDX-License-Identifier: GPL-3.0-or-later
// What a kind of setting means: its default, how it is read from what is written, hashed, described and told, and which
// formulas and names stand inside. Everything that walks settings walks them through here.
#pragma once

#include <functional>
#include <optional>
#include <span>

#include "core/catalogue/digest.h"
#include "core/catalogue/finding.h"
#include "core/catalogue/parameter.h"
#include "core/catalogue/value.h"
#include "core/ground/result.h"

namespace bricol {

/// What a kind reads a setting with: numbers worked out as they are seen from the step, and a place for what is wrong.
class Reading {
public:
    virtual ~Reading() = default;
    /// A number or formula ("= height / 3") as written.
    virtual Result<double> number(const Json& written) = 0;
    /// One of three numbers (`axis` 0 to 2): there a name that stands for three ("= corner.value") gives the one of its
    /// own.
    virtual Result<double> component(const Json& written, int axis);
    /// Names in an attribute formula that stand for one number here: dials, other steps' numbers, frame, seed.
    virtual std::map<std::string, double> constants(const std::string& formula) = 0;

    /// What "= name" stands for as a whole where a dial of that name is no number: a choice's word, or a colour.
    virtual std::optional<Value> named(const Json&) { return std::nullopt; }

    const std::string& step() const { return step_; }
    /// Tells what is wrong with a value; `where` is its place in the step ("/curves/0/knots/2/at").
    void tell(const std::string& where, const std::string& text, const char* code = "bad-value");
    /// The number; `otherwise`, and told, when there is none or it is larger than a million.
    double number_or(const Json& written, const std::string& where, double otherwise);
    /// Three numbers, or one formula for all of them; those that cannot be read are 0 and told.
    DVec3 three(const Json& written, const std::string& where);

    /// At most this many problems of one setting are told.
    static constexpr std::size_t most_told = 8;

protected:
    Reading(std::string step, std::vector<Finding>& findings) : findings_(findings), step_(std::move(step)) {}

    std::vector<Finding>& findings_;

private:
    std::string step_;
};

/// A formula inside a setting, for those who change it in place.
struct WrittenFormula {
    Json& text;
    bool has_sign = true;  ///< starts with "="; rows of attribute formulas need not
};
using OnFormula = std::function<void(WrittenFormula)>;

/// How a value is shown on a card.
struct Shown {
    std::string_view length_unit;
    const Json* written = nullptr;  ///< null when the default holds
    const Value* value = nullptr;   ///< null before it was worked out
};

class Kind {
public:
    virtual ~Kind() = default;
    /// "number", "vector", … as catalogue and schema say.
    virtual std::string_view name() const = 0;
    virtual Value standard(const ParameterInfo& p) const = 0;
    /// What is written, worked out. What cannot be read is told, and the default holds in its place.
    virtual Value read(const ParameterInfo& p, const Json& written, Reading& reading) const = 0;
    virtual void digest(const Value& value, Digest& digest) const = 0;
    /// JSON Schema of what may be written.
    virtual Json schema(const ParameterInfo& p) const = 0;
    /// The default in words, for the manual; empty when there is nothing to say.
    virtual std::string standard_words(const ParameterInfo&) const { return {}; }
    /// The range or choices in words, for the manual.
    virtual std::string range_words(const ParameterInfo&) const { return {}; }
    /// Adds what is particular to the kind ("quantity", "default", …) to the catalogue's row.
    virtual void describe(const ParameterInfo&, Json&) const {}
    /// The value as a card's second line tells it.
    virtual std::string told(const ParameterInfo&, const Shown&) const { return {}; }
    /// Every formula inside what is written. Kinds that hold none leave it alone: the formulas inside a packed recipe
    /// belong to that recipe.
    virtual void each_formula(Json&, const OnFormula&) const {}
    /// How many single numbers formulas may ask for, and the suffix of each (".x"): 1 with an empty suffix for a
    /// number, 3 for a vector, none for most.
    virtual std::span<const std::string_view> number_suffixes() const { return {}; }
    /// The single number that `step.key` (`rest` empty) or `step.key.rest` asks for; nothing when there is no such
    /// number.
    virtual std::optional<Result<double>> single(const ParameterInfo&, const Json*, std::string_view, Reading&) const {
        return std::nullopt;
    }
};

/// The one place where kinds are told apart.
const Kind& kind_info(ParameterKind kind);
inline const Kind& kind_info(const ParameterInfo& p) { return kind_info(p.kind); }

/// A single number of a setting: all of it, or one of three.
struct NumberOf {
    int component = -1;       ///< -1: the setting is one number
    std::string_view suffix;  ///< what formulas write behind the setting's name: "", ".x", …
};
/// The numbers of a setting that formulas may ask for; none for most kinds.
std::vector<NumberOf> numbers_of(const ParameterInfo& p);
inline bool has_numbers(const ParameterInfo& p) { return !kind_info(p).number_suffixes().empty(); }
/// One of them in a setting worked out.
double number_in(const Value& value, const NumberOf& number);
/// One of them as written: null when the default holds there.
Json written_number(const Json* written, const NumberOf& number);
/// What is written with one of them put in; the default stands for what is not written.
Json with_number(const ParameterInfo& p, const Json* written, const NumberOf& number, const Json& put);

/// Whether three numbers can be read from it: a list of three, or one formula whose names stand for three.
bool can_be_three(const Json& written);
/// What is written for one of them (`axis` 0 to 2).
const Json& one_of_three(const Json& written, int axis);

/// Every formula of an arbitrary piece of JSON: texts that start with "=". For settings no description tells of.
void each_formula_in(Json& written, const OnFormula& f);

}  // namespace bricol
