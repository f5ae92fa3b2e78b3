// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/recipe/remedy.h"

#include <algorithm>

namespace bricol {

namespace {

Json as_json(const Answer& answer) {
    return std::visit([](const auto& value) { return Json(value); }, answer);
}

}  // namespace

Edited with_remedy(const Recipe& recipe, const std::string& part, const std::string& step, const Remedy& remedy) {
    Recipe out = recipe;
    // Elements are taken away from the back, so that the numbers of the others still hold.
    std::vector<const Remedy::Change*> order;
    for (const auto& change : remedy.changes) order.push_back(&change);
    std::ranges::stable_sort(order, [](const auto* a, const auto* b) {
        if (a->remove != b->remove) return b->remove;
        return a->remove && (a->path.size() != b->path.size() ? a->path.size() > b->path.size() : a->path > b->path);
    });
    for (const auto* change : order) {
        const std::string& id = change->step.empty() ? step : change->step;
        if (!change->remove) {
            auto edited = set_setting(out, part, id, change->path, as_json(change->value));
            if (!edited) return edited;
            out = std::move(*edited);
            continue;
        }
        const Part* holder = out.part(part);
        const Step* old = holder ? find_step(*holder, id) : nullptr;
        const Json::json_pointer pointer(change->path);
        if (!old || !old->settings.contains(pointer))
            return Problem{"What this would change is gone.", change->path, ""};
        Step changed = *old;
        Json& list = changed.settings[pointer.parent_pointer()];
        if (list.is_array()) list.erase(std::stoul(pointer.back()));
        auto edited = replace_step(out, part, changed);
        if (!edited) return edited;
        out = std::move(*edited);
    }
    if (remedy.insert_after.empty()) return out;
    Step behind;
    behind.type = remedy.insert_after;
    return insert_step(out, part, step, behind);
}

}  // namespace bricol
