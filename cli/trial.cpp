// SPDX-License-Identifier: GPL-3.0-or-later
// bricol trial: where a recipe breaks when its dials are turned.
#include <filesystem>
#include <fmt/format.h>
#include <unistd.h>

#include "cli/running.h"
#include "cli/still_order.h"
#include "core/formula/formula.h"
#include "core/inspect/trial.h"
#include "core/recipe/edit.h"
#include "core/recipe/recipe_json.h"

namespace bricol {

namespace {

/// File names of pictures by the setting they show.
using Pictures = std::map<const WrittenDials*, std::string>;

/// Takes a picture of each finding's setting; which file shows which finding. A shape that is gone has none.
Result<Pictures> pictures_of(const Recipe& recipe, const Trial& trial, const MakeOptions& making,
                             const std::string& folder) {
    Pictures out;
    std::error_code error;
    std::filesystem::create_directories(folder, error);
    if (error)
        return Problem{fmt::format("The folder cannot be made: {}.", error.message()), folder,
                       "Choose another folder."};
    StillOrder order;
    order.width = 480, order.height = 360, order.samples = 16;
    Maker maker;
    const auto take = [&](const WrittenDials& setting, const std::string& code) -> std::optional<Problem> {
        const auto turned = with_dials(recipe, setting, Outside::held);
        if (!turned) return std::nullopt;
        const Made made = maker.make(*turned, making);
        if (made.stopped || !made.faces(*turned)) return std::nullopt;
        const std::string name = fmt::format("{:02}-{}.png", out.size() + 1, code);
        if (auto problem = take_picture(order, *turned, made, folder + "/" + name)) return problem;
        out[&setting] = name;
        return std::nullopt;
    };
    for (const TrialPair& pair : trial.pairs)
        if (auto problem = take(pair.setting, pair.code)) return *problem;
    for (const TrialFinding& finding : trial.findings)
        if (auto problem = take(finding.dials, finding.code)) return *problem;
    return out;
}

std::string picture_of(const Pictures& pictures, const WrittenDials& setting) {
    const auto found = pictures.find(&setting);
    return found == pictures.end() ? "" : found->second;
}

Json trial_json(const Recipe& recipe, const Trial& trial, const Pictures& pictures) {
    Json json{{"title", recipe.title},
              {"holds", trial.holds()},
              {"made", trial.made},
              {"broke", trial.broke},
              {"broken_as_saved", trial.base_broken},
              {"stopped", trial.stopped},
              {"seconds", trial.seconds}};
    json["dials"] = Json::array();
    for (const DialTrial& one : trial.dials) {
        const Dial& dial = *recipe.dial(one.name);
        Json row{{"name", one.name}, {"turned", one.turned}};
        if (dial.kind == DialKind::number)
            row.update(Json{{"min", dial.low},
                            {"max", dial.high},
                            {"safe_min", one.safe_low},
                            {"safe_max", one.safe_high},
                            {"narrowed", one.narrowed}});
        row["stretches"] = Json::array();
        for (const DialTrial::Stretch& stretch : one.stretches) {
            Json part{{"holds", stretch.holds}};
            if (dial.kind == DialKind::number) {
                part["from"] = dial.low + (dial.high - dial.low) * stretch.from;
                part["to"] = dial.low + (dial.high - dial.low) * stretch.to;
            } else {
                part["from"] = stretch.from, part["to"] = stretch.to;
            }
            if (!stretch.holds) part["code"] = stretch.code;
            row["stretches"].push_back(std::move(part));
        }
        json["dials"].push_back(std::move(row));
    }
    json["together"] = Json::array();
    for (const TrialPair& pair : trial.pairs)
        json["together"].push_back({{"dials", pair.dials},
                                    {"code", pair.code},
                                    {"picture", picture_of(pictures, pair.setting)},
                                    {"setting", Json(pair.setting)}});
    json["findings"] = Json::array();
    for (const TrialFinding& finding : trial.findings)
        json["findings"].push_back({{"severity", severity_name(finding.severity)},
                                    {"code", finding.code},
                                    {"part", finding.part},
                                    {"step", finding.step},
                                    {"text", finding.text},
                                    {"times", finding.times},
                                    {"as_saved", finding.as_saved},
                                    {"picture", picture_of(pictures, finding.dials)},
                                    {"setting", Json(finding.dials)}});
    json["safe"] = {{"tried", trial.safe_tried}, {"broke", trial.safe_broke}};
    return json;
}

/// A range drawn in forty letters: "=" holds, "x" breaks.
std::string drawn(const DialTrial& trial) {
    std::string line(40, '=');
    for (const DialTrial::Stretch& stretch : trial.stretches)
        for (std::size_t i = 0; i < line.size(); ++i) {
            const double middle = (static_cast<double>(i) + 0.5) / static_cast<double>(line.size());
            if (!stretch.holds && middle >= stretch.from && middle <= stretch.to) line[i] = 'x';
        }
    return line;
}

/// Dials that differ from the saved ones, as they are set on the command line.
std::string setting_words(const Recipe& recipe, const WrittenDials& setting) {
    std::string words;
    const WrittenDials base = dials_of(recipe);
    for (const Dial& dial : recipe.dials) {
        const auto written = setting.find(dial.name);
        if (written == setting.end() || written->second == base.at(dial.name)) continue;
        const auto there = turned(dial, written->second, Outside::held);
        if (!there) continue;
        const std::string value = dial.kind == DialKind::number ? format_number(there->value, 9) : dial_words(*there);
        words += fmt::format(" {}={}", dial.name, value);
    }
    return words.empty() ? " as saved" : words;
}

std::string trial_text(const Recipe& recipe, const Trial& trial, const Pictures& pictures) {
    const auto seen = [&](const WrittenDials& setting) {
        const std::string file = picture_of(pictures, setting);
        return file.empty() ? "" : "\n  picture " + file;
    };
    std::string out;
    if (trial.base_broken) out += "The recipe is broken as it was saved; mend that first.\n\n";
    for (const DialTrial& one : trial.dials) {
        const Dial& dial = *recipe.dial(one.name);
        if (!one.turned) continue;
        out += fmt::format("{:<18} {}  {}", one.name, drawn(one), dial_range_words(dial));
        if (one.narrowed)
            out += fmt::format("  safe {} to {}", format_number(one.safe_low), format_number(one.safe_high));
        out += "\n";
    }
    for (const TrialPair& pair : trial.pairs) {
        std::string names;
        for (const std::string& name : pair.dials) names += (names.empty() ? "" : " and ") + name;
        out += fmt::format("\n{} break together ({}):{}{}", names, pair.code, setting_words(recipe, pair.setting),
                           seen(pair.setting));
    }
    if (!trial.pairs.empty()) out += "\n";
    for (const TrialFinding& finding : trial.findings)
        out += fmt::format("\n{} {} ×{} at {}{}{}:{}\n  {}{}\n", severity_name(finding.severity), finding.code,
                           finding.times, finding.part, finding.step.empty() ? "" : ".", finding.step,
                           setting_words(recipe, finding.dials), finding.text, seen(finding.dials));
    return out + fmt::format("\n{} settings made, {} broke, {:.1f} s; inside the safe ranges {} of {} broke\n",
                             trial.made, trial.broke, trial.seconds, trial.safe_broke, trial.safe_tried);
}

}  // namespace

int run_trial(const MakeCommand& making, const TrialCommand& command, const CommonOptions& common) {
    const std::optional<tbb::global_control> threads = bounded_threads(common);
    ExitCode code{};
    const auto recipe = load_turned(making, code);
    if (!recipe) return fail(recipe.problem(), code);
    MakeOptions options = making_options(making);
    options.for_export = false;
    options.thorough = command.thorough;
    TrialOrder order{command.samples, command.seed, command.cautions};
    TrialProgress progress;
    if (!common.quiet && isatty(STDERR_FILENO))
        progress = [](double share, const std::string& what) {
            fmt::print(stderr, "\r{:3.0f} %  {:<40}", share * 100, what);
        };
    const Trial trial = try_dials(*recipe, options, order, progress);
    if (progress) fmt::print(stderr, "\r{:50}\r", "");
    Pictures pictures;
    if (!command.pictures.empty() && !trial.stopped) {
        auto taken = pictures_of(*recipe, trial, options, command.pictures);
        if (!taken) return fail(taken.problem(), exit_file);
        pictures = std::move(*taken);
    }
    const int result = trial.stopped ? exit_stopped : trial.holds() ? exit_good : exit_recipe_errors;
    if (common.json) return print(pretty_json(trial_json(*recipe, trial, pictures)), result);
    if (common.quiet) return result;
    return print(trial_text(*recipe, trial, pictures), result);
}

}  // namespace bricol
