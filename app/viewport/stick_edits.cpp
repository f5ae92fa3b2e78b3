// SPDX-License-Identifier: GPL-3.0-or-later
// What the bar and the keys do to the chosen knots of a stick figure.
#include <algorithm>

#include "app/viewport/knot_numbers.h"
#include "app/viewport/stick_tool.h"

namespace bricol {

namespace {

Json place_numbers(const DVec3& p) { return Json::array({rounded(p.x), rounded(p.y), rounded(p.z)}); }

Json girth_numbers(const DVec2& g) {
    return g.x == g.y ? Json(rounded(g.x)) : Json::array({rounded(g.x), rounded(g.y)});
}

}  // namespace

void StickTool::set_pulling_out(bool on) {
    pulling_out_ = on;
    if (on) sliding_ = false;
    emit changed();
}

void StickTool::set_sliding(bool on) {
    sliding_ = on;
    if (on) pulling_out_ = false;
    emit changed();
}

void StickTool::insert_before() {
    std::set<int> made;
    edit("Insert a knot", {}, [&](Json& list) {
        for (const int k : session_.knots()) {
            const int from = knots_[k].from < 0 ? -1 : knot_numbered(knots_[k].from);
            if (from < 0) continue;
            const std::int32_t id = free_id(list);
            list[k]["from"] = id;
            made.insert(static_cast<int>(list.size()));
            list.push_back({{"id", id},
                            {"from", knots_[from].id},
                            {"at", place_numbers(0.5 * (knots_[from].at + knots_[k].at))},
                            {"girth", girth_numbers(0.5 * (girth_of(from) + girth_of(k)))}});
        }
    });
    if (!made.empty()) session_.choose_knots(0, made);
}

/// A knot becomes a row of two or three along its bone, as far apart as it is thick; what hung on it hangs on the last.
void StickTool::split(int into) {
    std::set<int> made;
    edit(into == 2 ? "Split in two" : "Split in three", {}, [&](Json& list) {
        for (const int k : session_.knots()) {
            int child = -1;
            for (int c = 0; c < static_cast<int>(knots_.size()); ++c)
                if (knots_[c].from == knots_[k].id && child < 0) child = c;
            const int from = knots_[k].from < 0 ? -1 : knot_numbered(knots_[k].from);
            DVec3 way(0, 0, 1);
            if (child >= 0)
                way = knots_[child].at - knots_[k].at;
            else if (from >= 0)
                way = knots_[k].at - knots_[from].at;
            const double room = child >= 0 ? glm::length(way) : 4 * girth_of(k).x;
            if (glm::length(way) > 0) way = glm::normalize(way);
            const double apart = std::min(girth_of(k).x, 0.5 * room / (into - 1));
            std::int32_t last = knots_[k].id;
            const DVec3 first = knots_[k].at - (from >= 0 && child >= 0 ? way * (0.5 * apart * (into - 1)) : DVec3(0));
            made.insert(k);
            for (int i = 1; i < into; ++i) {
                const std::int32_t id = free_id(list);
                made.insert(static_cast<int>(list.size()));
                list.push_back({{"id", id},
                                {"from", last},
                                {"at", place_numbers(first + way * (apart * i))},
                                {"girth", girth_numbers(girth_of(k))}});
                last = id;
            }
            if (from >= 0 && child >= 0) list[k]["at"] = place_numbers(first);
            for (int c = 0; c < static_cast<int>(knots_.size()); ++c)
                if (knots_[c].from == knots_[k].id) list[c]["from"] = last;
        }
    });
    session_.choose_knots(0, made);
}

void StickTool::join() {
    if (session_.knots().size() < 2) return;
    const int kept = *session_.knots().begin();
    edit("Join knots", {}, [&](Json& list) {
        DVec3 middle(0);
        for (const int k : session_.knots()) middle += knots_[k].at / static_cast<double>(session_.knots().size());
        list[kept]["at"] = place_numbers(middle);
        const auto gone = [&](std::int32_t id) {
            const int k = knot_numbered(id);
            return k != kept && session_.knots().contains(k);
        };
        // The one that is kept may have hung on one that goes: then it hangs on what that hung on.
        std::int32_t from = knots_[kept].from;
        for (std::size_t turns = 0; from >= 0 && gone(from) && turns < knots_.size(); ++turns)
            from = knots_[knot_numbered(from)].from;
        if (from < 0 || from == knots_[kept].id)
            list[kept].erase("from");
        else
            list[kept]["from"] = from;
        for (int c = 0; c < static_cast<int>(knots_.size()); ++c)
            if (c != kept && knots_[c].from >= 0 && gone(knots_[c].from)) list[c]["from"] = knots_[kept].id;
        for (auto k = session_.knots().rbegin(); k != session_.knots().rend(); ++k)
            if (*k != kept) list.erase(static_cast<std::size_t>(*k));
    });
    session_.choose_knots(0, {kept});
}

void StickTool::cut() {
    edit("Cut a bone", {}, [&](Json& list) {
        for (const int k : session_.knots()) list[k].erase("from");
    });
}

void StickTool::remove_chosen() {
    if (session_.knots().empty()) return;
    edit("Delete knots", {}, [&](Json& list) {
        for (int c = 0; c < static_cast<int>(knots_.size()); ++c) {
            std::int32_t from = knots_[c].from;
            for (std::size_t turns = 0; from >= 0 && turns < knots_.size(); ++turns) {
                const int k = knot_numbered(from);
                if (k < 0 || !session_.knots().contains(k)) break;
                from = knots_[k].from;
            }
            if (from == knots_[c].from) continue;
            if (from < 0)
                list[c].erase("from");
            else
                list[c]["from"] = from;
        }
        for (auto k = session_.knots().rbegin(); k != session_.knots().rend(); ++k)
            list.erase(static_cast<std::size_t>(*k));
    });
    session_.choose_knots(0, {});
}

void StickTool::mark_root() {
    if (session_.knots().empty()) return;
    const int root = *session_.knots().begin();
    edit("Mark the root", {}, [&](Json& list) {
        const bool was = knots_[root].root;
        for (Json& knot : list) knot.erase("root");
        if (!was) list[root]["root"] = true;
    });
}

bool StickTool::all_chosen(bool DrawnStick::*what) const {
    return !session_.knots().empty() && std::ranges::all_of(session_.knots(), [&](int k) {
        return k < static_cast<int>(knots_.size()) && knots_[k].*what;
    });
}

void StickTool::toggle_flat() {
    const bool on = !all_chosen(&DrawnStick::cut);
    edit("Flat end", {}, [&](Json& list) {
        for (const int k : session_.knots()) {
            list[k].erase("flat");
            if (on) list[k]["flat"] = true;
        }
    });
}

void StickTool::toggle_joint() {
    const bool on = !all_chosen(&DrawnStick::joint);
    edit("Joint", {}, [&](Json& list) {
        for (const int k : session_.knots()) {
            list[k].erase("joint");
            if (!on) list[k]["joint"] = false;
        }
    });
}

void StickTool::choose_all() {
    std::set<int> all;
    for (int k = 0; k < static_cast<int>(knots_.size()); ++k) all.insert(k);
    session_.choose_knots(0, all);
}

}  // namespace bricol
