// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/formula/curve_rows.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <fmt/format.h>

#include "core/formula/formula.h"
#include "core/formula/hidden_dials.h"
#include "core/formula/tokens.h"
#include "core/ground/numbers.h"
#include "core/ground/words.h"

namespace bricol {

namespace {

/// Every knot is looked at in five places: its own first, then where its slope is read from.
constexpr std::size_t looks = 5;
constexpr double near_by = 1e-3;  ///< of a span: far enough for the digits, near enough for the slope

constexpr std::array<std::string_view, 8> targets = {"x", "y", "z", "distance", "angle", "height", "radius", "roll"};

/// The function in a formula that looks over all elements; empty for none. Every knot is worked out in several places,
/// which such a function would count.
std::string over_all_in(std::string_view text) {
    if (const auto tokens = tokens_of(text))
        for (const Token& token : *tokens)
            if (const FunctionInfo* function = find_function(token.text);
                function && token.kind == Token::name && function->op >= FieldOp::least_of_all)
                return token.text;
    return {};
}

class CurveRun {
public:
    CurveRun(std::span<const FormulaRow> rows, const CurveRows& options)
        : rows_(rows), options_(options), knots_(static_cast<std::size_t>(options.pieces) + 1) {
        const double span = (options.to - options.from) / options.pieces;
        step_ = span * near_by;
        auto &t = known_["t"], &share = known_["share"], &index = known_["index"];
        for (std::size_t k = 0; k < knots_; ++k)
            for (std::size_t look = 0; look < looks; ++look) {
                t.push_back(k + 1 == knots_ && look == 0
                                ? options.to
                                : options.from + span * static_cast<double>(k) + step_ * away(k, look));
                share.push_back((t.back() - options.from) / (options.to - options.from));
                index.push_back(static_cast<double>(k));
                own_.push_back(static_cast<std::uint32_t>(k));
            }
        known_["count"].assign(knots_ * looks, static_cast<double>(knots_));
        for (const std::string_view name : {"x", "y", "z", "roll"}) known_[std::string(name)].assign(knots_ * looks, 0);
        known_["radius"].assign(knots_ * looks, 1);
    }

    CurveByRows run() {
        for (std::size_t r = 0; r < rows_.size(); ++r)
            if (const std::string refusal = refused(rows_[r].target); !refusal.empty())
                out_.problems.push_back({r, "bad-target", refusal, {}, {}, {}});
            else
                work_row(r);
        if (std::ranges::all_of(out_.problems, [](const RowProblem& p) { return p.code == "hidden-dial"; })) lay();
        return std::move(out_);
    }

private:
    /// Steps away from a knot: on both sides of it, at the ends on the inner one.
    double away(std::size_t knot, std::size_t look) const {
        constexpr double both[looks] = {0, -2, -1, 1, 2};
        if (knot == 0) return static_cast<double>(look);
        if (knot + 1 == knots_) return -static_cast<double>(look);
        return both[look];
    }

    bool wrote(std::string_view target) const {
        return std::ranges::any_of(rows_, [&](const FormulaRow& row) { return row.target == target; });
    }

    std::string refused(const std::string& target) const {
        if (target.starts_with("_") && target.size() > 1) return {};
        if (std::ranges::find(targets, target) == targets.end()) {
            std::string all;
            for (const std::string_view one : targets) (all += all.empty() ? "" : ", ") += one;
            return fmt::format("A curve has no “{}”. It has: {}.", target, all);
        }
        const bool round = target == "distance" || target == "angle";
        if (round && (wrote("x") || wrote("y")))
            return fmt::format("“{}” says the place as x and y do. Give one or the other.", target);
        if (target == "height" && wrote("z")) return "“height” says the place as z does. Give one or the other.";
        return {};
    }

    void work_row(std::size_t r) {
        const FormulaRow& row = rows_[r];
        const auto constants = without_hidden_dials(
            row, r, [&](const std::string& name) { return known_.contains(name); }, "belongs to the curve",
            out_.problems);
        const auto program = FieldProgram::compile(row.text, constants);
        if (!program) {
            out_.problems.push_back({r, "bad-formula", program.problem().text(), {}, {}, {}});
            return;
        }
        if (const std::string function = over_all_in(row.text); !function.empty()) {
            out_.problems.push_back({r,
                                     "bad-formula",
                                     fmt::format("“{}” looks over all elements, and the curve's knots are not there "
                                                 "yet. Put a Formula step on knots behind this one.",
                                                 function),
                                     {},
                                     {},
                                     {}});
            return;
        }
        std::vector<FieldReader> readers;
        for (const std::string& name : program->names()) {
            const auto found = known_.find(name);
            if (found == known_.end()) {
                tell_unknown(r, name);
                return;
            }
            readers.push_back([values = &found->second](std::size_t begin, std::span<double> out) {
                std::copy_n(values->begin() + static_cast<std::ptrdiff_t>(begin), out.size(), out.begin());
            });
        }
        std::vector<double> values(knots_ * looks);
        const std::size_t bad = work_out(*program, readers, own_, values);
        if (bad < values.size()) {
            out_.problems.push_back({r,
                                     "not-finite",
                                     fmt::format("“{} ← {}” gives no finite number at t = {}. Look for a division by "
                                                 "zero or a root of a negative number, or let t run elsewhere.",
                                                 row.target, row.text, format_number(known_["t"][bad])),
                                     {},
                                     {},
                                     {}});
            return;
        }
        known_[row.target] = std::move(values);
    }

    void tell_unknown(std::size_t r, const std::string& name) {
        std::vector<std::string_view> words;
        for (const auto& [word, values] : known_) words.push_back(word);
        for (const auto& [word, value] : rows_[r].constants) words.push_back(word);
        const std::string near(nearest_word(words, name));
        std::string text = fmt::format("The curve knows no “{}”.", name);
        text += near.empty() ? " It knows t, share, index, count and what rows before it say."
                             : fmt::format(" Did you mean “{}”?", near);
        out_.problems.push_back({r, "unknown-name", std::move(text), name, near, {}});
    }

    DVec3 place(std::size_t k, std::size_t look) const {
        const std::size_t i = k * looks + look;
        const auto at = [&](const char* name) {
            const auto found = known_.find(name);
            return found == known_.end() ? 0.0 : found->second[i];
        };
        DVec3 p(at("x"), at("y"), wrote("height") ? at("height") : at("z"));
        if (wrote("distance") || wrote("angle")) {
            const double distance = wrote("distance") ? at("distance") : 1, angle = at("angle") * degree;
            p.x = distance * std::cos(angle), p.y = distance * std::sin(angle);
        }
        return p;
    }

    /// How the place moves while `t` goes on by one.
    DVec3 slope(std::size_t k) const {
        const auto at = [&](std::size_t look) { return place(k, look); };
        if (k > 0 && k + 1 < knots_) return (at(1) - 8.0 * at(2) + 8.0 * at(3) - at(4)) / (12 * step_);
        const DVec3 inward = (-25.0 * at(0) + 48.0 * at(1) - 36.0 * at(2) + 16.0 * at(3) - 3.0 * at(4)) / (12 * step_);
        return k == 0 ? inward : -inward;
    }

    void lay() {
        const double span = (options_.to - options_.from) / options_.pieces;
        for (std::size_t k = 0; k < knots_; ++k) {
            Knot knot;
            knot.at = Vec3(place(k, 0));
            knot.radius = static_cast<float>(std::max(known_["radius"][k * looks], 0.0));
            knot.roll = static_cast<float>(known_["roll"][k * looks] * degree);
            if (!options_.straight) {
                knot.kind = KnotKind::free;
                const Vec3 handle(slope(k) * (span / 3));
                if (k + 1 < knots_) knot.out = handle;
                if (k > 0) knot.in = -handle;
            }
            out_.curve.knots.push_back(knot);
        }
    }

    std::span<const FormulaRow> rows_;
    const CurveRows& options_;
    std::size_t knots_;
    double step_ = 0;
    std::map<std::string, std::vector<double>> known_;  ///< name → a value for every look at every knot
    std::vector<std::uint32_t> own_;
    CurveByRows out_;
};

}  // namespace

CurveByRows curve_by_rows(std::span<const FormulaRow> rows, const CurveRows& options) {
    return CurveRun(rows, options).run();
}

}  // namespace bricol
