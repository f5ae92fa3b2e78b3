// SPDX-License-Identifier: GPL-3.0-or-later
// Edits: each takes a recipe and returns a new one, or says why it cannot.
#pragma once

#include <functional>

#include "core/recipe/recipe.h"

namespace bricol {

using Edited = Result<Recipe>;

/// A name that nobody has: `wanted`, or its stem with the next number behind it.
std::string free_name(const std::string& wanted, const std::function<bool(const std::string&)>& taken);

/// Sets one value of a step. `path` is a key ("segments") or a JSON pointer into it ("/curves/0/knots/2/at/0").
Edited set_setting(const Recipe& recipe, const std::string& part, const std::string& step, const std::string& path,
                   const Json& value);
/// Takes a setting away, so that the step's own default holds.
Edited reset_setting(const Recipe& recipe, const std::string& part, const std::string& step, const std::string& path);

/// Replaces a step by `changed` (same id).
Edited replace_step(const Recipe& recipe, const std::string& part, const Step& changed);

/// Puts a step behind `after` (empty: at the front). Its id is made unique; the result follows when it was `after`.
/// Steps that took `after` by name go on doing so, except that the strip's next step takes the new one.
Edited insert_step(const Recipe& recipe, const std::string& part, const std::string& after, Step step,
                   std::string* made_id = nullptr);
/// Takes a step out. Steps that named it take what it took.
Edited remove_step(const Recipe& recipe, const std::string& part, const std::string& id);
/// Moves a step to another place on the strip. Named links stay; a move that would close a circle is refused.
Edited move_step(const Recipe& recipe, const std::string& part, const std::string& id, std::size_t to);
Edited duplicate_step(const Recipe& recipe, const std::string& part, const std::string& id,
                      std::string* made_id = nullptr);
/// Gives a step another id and changes every link and formula that names it.
Edited rename_step_id(const Recipe& recipe, const std::string& part, const std::string& from, const std::string& to);
/// Puts the new name of a number that a step hands to formulas (a list's head) into every formula that asks for it.
Recipe with_given_renamed(const Recipe& recipe, const std::string& part, const std::string& step,
                          const std::string& from, const std::string& to);
/// Feeds an input from a step or "part:name"; an empty source takes the link away. Circles are refused, spelled out.
Edited link_input(const Recipe& recipe, const std::string& part, const std::string& step, const std::string& input,
                  const std::string& source);

/// Leaves an input without a source, even a main input that would fall back to the step before.
Edited cut_input(const Recipe& recipe, const std::string& part, const std::string& step, const std::string& input);

Edited add_part(const Recipe& recipe, std::string name, std::string* made_name = nullptr);
Edited remove_part(const Recipe& recipe, const std::string& name);
Edited rename_part(const Recipe& recipe, const std::string& from, const std::string& to);
Edited set_hidden(const Recipe& recipe, const std::string& part, bool hidden);
Edited set_helper(const Recipe& recipe, const std::string& part, bool helper);
Edited set_result(const Recipe& recipe, const std::string& part, const std::string& step);

/// Turns a dial; a number is held inside its range, what is none of a choice's words is refused.
Edited turn_dial(const Recipe& recipe, const std::string& name, const Json& written);
Edited set_dial(const Recipe& recipe, const Dial& dial);  ///< changes the dial of that name
Edited add_dial(const Recipe& recipe, Dial dial, std::string* made_name = nullptr);
/// Takes a dial away; every formula that used it gets its value instead.
Edited remove_dial(const Recipe& recipe, const std::string& name);
Edited rename_dial(const Recipe& recipe, const std::string& from, const std::string& to);
/// Moves a dial to another place in the list.
Edited move_dial(const Recipe& recipe, const std::string& name, std::size_t to);

/// All dials as they stand.
WrittenDials dials_of(const Recipe& recipe);
/// Turns several dials at once; refused as a whole when one cannot be, or is unknown.
Edited with_dials(const Recipe& recipe, const WrittenDials& dials, Outside outside = Outside::refused);
/// Goes to a preset. Dials it does not name stay, and so do those it can no longer turn (making tells which); numbers
/// outside a range that has changed since are held in it.
Edited apply_preset(const Recipe& recipe, const std::string& name);
/// Keeps values of dials under a name: a new preset, or the one of that name changed.
Edited keep_preset(const Recipe& recipe, const std::string& name, const WrittenDials& dials);
Edited rename_preset(const Recipe& recipe, const std::string& from, const std::string& to);
Edited remove_preset(const Recipe& recipe, const std::string& name);
/// Whether every dial a preset names stands where it says.
bool at_preset(const Recipe& recipe, const Preset& preset);

/// Settings that stand at a dial as a whole ("= style" in a choice, "= paint" in a colour) get its value: a formula in
/// its place would be a number.
void write_dial_out(Step& step, const Dial& dial);
/// What formulas say instead of a dial that is gone: its number, or the three of a colour.
std::map<std::string, std::string, std::less<>> numbers_for_dial(const Dial& dial);

/// A circle of links that a step is part of or waits for, spelled "a ← b ← a"; empty when there is none.
std::string circle_through(const Part& part, const std::string& step);
/// Any circle of links between the steps of a part.
std::string circle_in(const Part& part);

/// Replaces a name in every formula of the recipe; `only_part` limits it to one part.
Recipe with_name_replaced(const Recipe& recipe, const std::string& from, const std::string& to,
                          const std::string& only_part = {});
/// The same for several names at once, so that none is replaced in what another became.
Recipe with_names_replaced(const Recipe& recipe, const std::map<std::string, std::string, std::less<>>& names,
                           const std::string& only_part = {});

}  // namespace bricol
