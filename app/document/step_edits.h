// SPDX-License-Identifier: GPL-3.0-or-later
// Edits that need to know the catalogue: adding steps, making dials, linking numbers.
#pragma once

#include "app/document/session.h"
#include "core/catalogue/kind.h"

namespace bricol {

/// A count with thin spaces between thousands.
QString grouped(std::size_t n);
/// A time, short: "8.4 ms", "320 ms", "2.94 s".
QString time_text(double milliseconds);

/// Why a step cannot follow the chosen one, in plain words; empty when it can.
QString why_not(const Session& session, const StepInfo& info);
/// The recipe with the part that is worked on, made when there is none yet; `part` gets its name.
Edited recipe_with_part(const Session& session, std::string& part);
/// A new step of that kind for a part. A setting that names a part names another one at once, when there is one.
Step fresh_step(const Recipe& recipe, const std::string& part, const StepInfo& info);
/// Adds a step behind the chosen one, or as a branch of its own when it needs no shape; chooses it.
bool add_step(Session& session, const StepInfo& info);
/// Adds a recipe of the stock as a part of its own (or as the first step of the chosen part while that is empty), with
/// all it shows; chooses it. `name` is "stock:hex-bolt".
bool add_stock_part(Session& session, const std::string& name, const std::string& title);
/// Edits the chosen step, when there is one.
template <class Change>
void change_chosen_step(Session& session, const QString& name, const Change& change) {
    const Step* step = session.chosen_step();
    if (!step) return;
    Step changed = *step;
    change(changed);
    session.edit(replace_step(session.recipe(), session.part(), changed), name);
}
/// Steps of a part from the first to `end` along main inputs.
std::vector<std::string> chain_to(const Part& part, const std::string& end);
/// What the card says about a step in one line ("32 segments", "= rounding").
QString telling_value(const Session& session, const Step& step, const StepInfo& info);

/// One number of a step: a parameter, or a component of a vector (0..2), or a place in its settings (a JSON pointer).
struct NumberPlace {
    std::string part, step, key;
    int component = -1;
    std::string pointer;  ///< when set, used instead of key

    /// Name by which formulas of another step can use it; empty when they cannot.
    std::string link_name() const;
};
/// "Width", or "Size x" for one of three.
QString number_label(const ParameterInfo& p, const NumberOf& number);
/// As written: a number, a formula, or nothing.
Json written_at(const Recipe& recipe, const NumberPlace& place);
Edited set_number(const Recipe& recipe, const NumberPlace& place, const Json& value);
Edited make_dial(const Recipe& recipe, const NumberPlace& place, const ParameterInfo& info, double value,
                 std::string* name);

/// The same of a whole choice, toggle or colour that stands at `value`.
Edited make_dial_of(const Recipe& recipe, const NumberPlace& place, const ParameterInfo& info, const Json& value,
                    std::string* name);

}  // namespace bricol
