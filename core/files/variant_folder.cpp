// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/files/variant_folder.h"

#include <algorithm>
#include <cerrno>
#include <cstring>
#include <filesystem>
#include <fmt/format.h>
#include <mutex>

#include "core/files/delivered.h"
#include "core/files/variant_record.h"
#include "core/ground/stop.h"
#include "core/recipe/recipe_json.h"

namespace bricol {

namespace fs = std::filesystem;

namespace {

constexpr const char* plan_file = "plan.json";

Result<Json> read_json(const std::string& path) {
    const auto text = read_file(path);
    if (!text) return text.problem();
    Json json = Json::parse(*text, nullptr, false);
    if (!json.is_object()) return Problem{"This is not the JSON it should be.", path, "Remove it, and make it again."};
    return json;
}

std::optional<Problem> make_folder(const std::string& folder) {
    std::error_code error;
    fs::create_directories(folder, error);
    if (!error) return std::nullopt;
    return Problem{fmt::format("The folder cannot be made: {}.", error.message()), folder, "Choose another folder."};
}

/// A folder that holds something, but no plan of ours, belongs to somebody else.
std::optional<Problem> strangers_folder(const std::string& folder) {
    std::error_code error;
    const auto planned = [&] { return fs::exists(folder + "/" + plan_file, error); };
    if (planned()) return std::nullopt;
    // Before the first share begins there may be a cluster's script, and the plan that another share is writing.
    const bool any = std::ranges::any_of(fs::directory_iterator(folder, error), [](const auto& entry) {
        const std::string name = entry.path().filename().string();
        return name != "cluster" && unfinished_of(name) != plan_file;
    });
    // What was seen may be another share's, whose plan came first.
    if (!any || error || planned()) return std::nullopt;
    return Problem{"The folder holds other files.", folder, "Choose an empty folder, or one with variants."};
}

/// One run over a plan.
class Writing {
public:
    explicit Writing(const VariantOrder& order)
        : order_(order), content_(options_content(recipe_content(order.recipe, order.making.environment))) {}

    VariantsReport run() {
        if ((report_.problem = make_folder(order_.folder))) return report_;
        if ((report_.problem = strangers_folder(order_.folder))) return report_;
        if ((report_.problem = write_plan())) return report_;
        look_for_those_there();
        if (report_.problem) return report_;
        TriesOrder tries{
            order_.recipe,
            order_.making,
            wanted_.size(),
            [&](std::size_t i) { return order_.plan.at(wanted_[i]); },
            [&] { return ended_.load(); },
            [&](std::size_t i, const Recipe& turned, const Result<Made>& made) { take(wanted_[i], turned, made); }};
        tries.making.for_export = true;
        Tries(order_.at_once).run(tries);
        report_.stopped = stop_asked_for();
        report_.missing = order_.plan.count - report_.made - report_.kept;
        return report_;
    }

private:
    bool stop_asked_for() const { return order_.making.stop && *order_.making.stop; }

    std::uint64_t options_content(std::uint64_t recipe) const {
        std::string text = fmt::format("{:016x} {} {}", recipe, order_.export_options.scale,
                                       order_.export_options.up ? static_cast<int>(*order_.export_options.up) : -1);
        for (const std::string& suffix : order_.suffixes) text += " " + suffix;
        for (const std::string& part : order_.parts) text += " part " + part;
        if (order_.picture) text += " picture " + order_.picture_kind;
        return text_content(text);
    }

    std::optional<Problem> write_plan() const {
        const Json plan{{"bricol_variants", 1},
                        {"title", order_.recipe.title},
                        {"count", order_.plan.count},
                        {"dials", order_.plan.dials}};
        const std::string path = order_.folder + "/" + plan_file, text = pretty_json(plan);
        if (const auto there = read_file(path); there && *there == text) return std::nullopt;
        return write_file(path, text);
    }

    std::string place(std::size_t number) const {
        return order_.folder + "/" + variant_place(number, order_.plan.count);
    }

    /// Sorts this shard's numbers into those that are there and whole, and those still to be made.
    void look_for_those_there() {
        for (std::size_t n = order_.shard; n < order_.plan.count; n += order_.shards) {
            if (stop_asked_for()) return;
            const auto record = read_json(place(n) + ".json");
            if (!record || !whole(*record, n)) {
                wanted_.push_back(n);
                continue;
            }
            ++report_.kept;
            if (record->value("errors", false)) ++report_.broken;
        }
    }

    bool whole(const Json& record, std::size_t number) const {
        try {
            if (record.at("made_of") != made_of(number)) return false;
            const std::string folder = fs::path(place(number)).parent_path().string();
            for (const Json& file : record.at("files")) {
                const auto content = read_file(folder + "/" + file.at("name").get<std::string>(), ~std::size_t(0) >> 1);
                if (!content || hash_words(text_content(*content)) != file.at("hash")) return false;
            }
            return true;
        } catch (const Json::exception&) {  // somebody has changed it by hand
            return false;
        }
    }

    /// What a variant is made of: recipe, options and its dials.
    std::string made_of(std::size_t number) const {
        return hash_words(text_content(hash_words(content_) + json_text(Json(order_.plan.at(number)))));
    }

    void take(std::size_t number, const Recipe& turned, const Result<Made>& made) {
        std::optional<Problem> problem;
        bool broken = false;
        {
            const StopScope scope(order_.making.stop);
            try {
                problem = write_one(number, turned, made, broken);
            } catch (const Stopped&) {
                return;
            }
        }
        const std::lock_guard lock(mutex_);
        if (problem) {
            if (!stop_asked_for() && !report_.problem) report_.problem = problem;
            ended_ = true;  // a full disk is full for the others as well
            return;
        }
        ++report_.made;
        if (broken) ++report_.broken;
        if (order_.progress) order_.progress(report_.made + report_.kept, wanted_.size() + report_.kept);
    }

    std::optional<Problem> write_one(std::size_t number, const Recipe& turned, const Result<Made>& made, bool& broken) {
        const std::string name = place(number);
        if (auto problem = make_folder(fs::path(name).parent_path().string())) return problem;
        Json record;
        if (made) {
            record = variant_record(turned, *made, order_.parts);
        } else {
            record["dials"] = Json(order_.plan.at(number));
            record["errors"] = true;
            record["findings"] = Json::array({{{"severity", "error"},
                                               {"code", "dial"},
                                               {"part", ""},
                                               {"step", ""},
                                               {"text", made.problem().text()}}});
        }
        broken = record["errors"].get<bool>();
        record["files"] = Json::array();
        if (!broken)
            if (auto problem = write_files(name, turned, *made, record)) return problem;
        Json whole{{"number", number}};
        for (auto& [key, value] : record.items()) whole[key] = std::move(value);
        whole["made_of"] = made_of(number);
        return write_file(name + ".json", pretty_json(whole));
    }

    std::optional<Problem> write_files(const std::string& name, const Recipe& turned, const Made& made, Json& record) {
        const std::vector<NamedShape> shapes = shapes_to_write(turned, made, order_.parts);
        const ShapeNames names = shape_names(turned, made);
        ExportOptions options = order_.export_options;
        options.copied = &names;
        std::vector<std::string> files;
        for (const std::string& suffix : order_.suffixes) {
            files.push_back(name + "." + suffix);
            if (auto problem = export_shapes(shapes, files.back(), options)) return problem;
        }
        if (order_.picture) {
            files.push_back(name + ".png");
            const std::lock_guard lock(picture_mutex_);  // a picture takes all threads
            if (auto problem = order_.picture(turned, made, files.back())) return problem;
        }
        for (const std::string& file : files) {
            const auto content = read_file(file, ~std::size_t(0) >> 1);
            if (!content) return content.problem();
            record["files"].push_back({{"name", fs::path(file).filename().string()},
                                       {"bytes", content->size()},
                                       {"hash", hash_words(text_content(*content))}});
        }
        return std::nullopt;
    }

    const VariantOrder& order_;
    const std::uint64_t content_;
    std::vector<std::size_t> wanted_;
    VariantsReport report_;
    std::mutex mutex_, picture_mutex_;
    std::atomic<bool> ended_ = false;
};

/// Takes away what killed runs had begun. Only once every variant is there: what a slower double of a run still writes
/// is wanted no more.
void clear_unfinished(const std::string& folder) {
    std::vector<fs::path> left;
    std::error_code error;
    for (auto at = fs::recursive_directory_iterator(folder, error); !error && at != fs::recursive_directory_iterator();
         at.increment(error)) {
        const std::string name = unfinished_of(at->path().filename().string());
        if (!name.empty() && name.find_first_not_of("0123456789") == name.find('.')) left.push_back(at->path());
    }
    for (const fs::path& file : left) fs::remove(file, error);
}

}  // namespace

VariantsReport write_variants(const VariantOrder& order) { return Writing(order).run(); }

Result<Gathered> gather_variants(const std::string& folder, std::size_t count) {
    const auto plan = read_json(folder + "/" + plan_file);
    if (!plan) return plan.problem();
    std::vector<std::string> dials;
    Gathered out;
    try {
        if (count == 0) count = plan->at("count").get<std::size_t>();
        for (const Json& dial : plan->at("dials")) dials.push_back(dial.get<std::string>());
    } catch (const Json::exception&) {
        return Problem{"The plan of the variants cannot be read.", folder + "/" + plan_file, "Make them again."};
    }
    // One record at a time: of ten million nobody keeps all in memory.
    const auto each_record = [&](const std::function<void(const Json&)>& see) {
        for (std::size_t n = 0; n < count; ++n)
            if (const auto record = read_json(folder + "/" + variant_place(n, count) + ".json"))
                see(*record);
            else
                see(Json{{"number", n}, {"missing", true}});
    };
    auto problem = write_file(folder + "/index.csv", [&](const Sink& sink) {
        sink(variant_head(dials));
        each_record([&](const Json& record) {
            if (record.contains("missing")) {
                out.missing.push_back(record["number"].get<std::size_t>());
                return;
            }
            ++out.count;
            if (record.value("errors", false)) ++out.broken;
            sink(variant_row(record, dials));
        });
    });
    if (problem) return *problem;
    problem = write_file(folder + "/index.json", [&](const Sink& sink) {
        Json head{{"title", plan->value("title", "")},
                  {"count", count},
                  {"made", out.count},
                  {"broken", out.broken},
                  {"missing", out.missing},
                  {"dials", dials}};
        std::string text = pretty_json(head);
        sink(text.substr(0, text.find_last_of('}') - 1) + ",\n  \"variants\": [");
        bool first = true;
        each_record([&](const Json& record) {
            if (record.contains("missing")) return;
            sink((first ? "\n    " : ",\n    ") + json_text(record));
            first = false;
        });
        sink("\n  ]\n}\n");
    });
    if (problem) return *problem;
    if (out.missing.empty()) clear_unfinished(folder);
    return out;
}

}  // namespace bricol
