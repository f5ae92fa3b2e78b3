// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/files/handover.h"

#include <algorithm>
#include <cmath>
#include <filesystem>
#include <fmt/format.h>
#include <set>

#include "core/files/delivered.h"
#include "core/files/motion.h"
#include "core/files/preview_page.h"
#include "core/files/stays_out.h"
#include "core/files/variant_record.h"
#include "core/ground/stop.h"
#include "core/ground/words.h"
#include "core/kernels/measure.h"
#include "core/kernels/transform.h"
#include "core/recipe/edit.h"
#include "core/recipe/recipe_json.h"

namespace bricol {

namespace fs = std::filesystem;

namespace {

constexpr const char* list_file = "handover.json";
constexpr const char* page_file = "preview.html";

/// A part's or recipe's name as a file's: nothing that a shell or another system trips over.
std::string file_name(const std::string& name) {
    std::string out;
    for (const char c : name) {
        const bool good = (c >= 'a' && c <= 'z') || (c >= 'A' && c <= 'Z') || (c >= '0' && c <= '9') || c == '-' ||
                          c == '_' || c == '.' || static_cast<unsigned char>(c) >= 0x80;
        out += good ? c : '_';
    }
    return out.empty() || out[0] == '.' ? "asset" + out : out;
}

class Handing {
public:
    explicit Handing(const HandoverOrder& order) : order_(order) {}

    HandoverReport run() {
        const StopScope scope(order_.making.stop);
        try {
            report_.problem = all();
        } catch (const Stopped&) {
            report_.stopped = true;
        }
        report_.stopped |= order_.making.stop && *order_.making.stop;
        if (report_.stopped) report_.problem.reset();
        return std::move(report_);
    }

private:
    std::optional<Problem> all() {
        say("Making");
        MakeOptions making = order_.making;
        making.for_export = true;
        // What stands in the files is the first frame: movements begin there.
        if (order_.frames) making.environment.surroundings.frame = order_.frames->first;
        const Made made = maker_.make(order_.recipe, making);
        if (made.stopped) throw Stopped();
        if (made.has_errors(order_.recipe, order_.parts)) {
            report_.broken = true;
            return Problem{"The recipe has errors, so nothing was handed over.", order_.recipe.title,
                           "Look at the findings, or run `bricol check`."};
        }
        std::vector<NamedShape> still = shapes_to_write(order_.recipe, made, order_.parts);
        std::erase_if(still, [](const NamedShape& one) { return one.shape->face_count() == 0; });
        if (still.empty())
            return Problem{"There is nothing to hand over: no part has faces.", order_.recipe.title,
                           "Add a step that makes faces, such as Lathe."};
        names_ = shape_names(order_.recipe, made);
        say("Preparing shapes");
        report_.shapes = dressed(still, order_.dressing, names_, report_.notes, &memory_);
        if (auto problem = set_in_motion(making, still)) return problem;
        if (auto problem = make_presets(making)) return problem;
        tell_what_stays_out();
        if (auto problem = look_at_folder()) return problem;
        if (auto problem = write_shapes()) return problem;
        if (order_.page)
            if (auto problem = write_page(still)) return problem;
        tidy();
        return finish();
    }

    void say(const std::string& what) const {
        stop_point();
        if (order_.progress) order_.progress(what);
    }

    void note(std::string text) {
        if (std::ranges::find(report_.notes, text) == report_.notes.end()) report_.notes.push_back(std::move(text));
    }

    /// Makes every frame and gives the parts their movement.
    std::optional<Problem> set_in_motion(const MakeOptions& making, const std::vector<NamedShape>& still) {
        if (!order_.frames) return std::nullopt;
        const FrameRange& range = *order_.frames;
        const auto count = static_cast<std::size_t>(std::floor(range.last - range.first + 1e-9)) + 1;
        std::vector<std::vector<ShapePtr>> frames(still.size());
        for (std::size_t k = 0; k < count; ++k) {
            say(fmt::format("Making frame {} of {}", k + 1, count));
            MakeOptions now = making;
            now.environment.surroundings.frame = range.first + static_cast<double>(k);
            const Made made = maker_.make(order_.recipe, now);
            if (made.stopped) throw Stopped();
            if (made.has_errors(order_.recipe, order_.parts))
                return Problem{fmt::format("The recipe has errors at frame {}.", now.environment.surroundings.frame),
                               order_.recipe.title, "Shorten the range of frames, or run `bricol check --frame`."};
            for (std::size_t p = 0; p < still.size(); ++p) {
                const PartOutcome* part = made.part(order_.recipe, still[p].name);
                const NamedShape* whole = whole_of(p);
                ShapePtr shape = part->shape;
                if (whole->at != Vec3(0))
                    shape = std::make_shared<const Shape>(
                        transformed(*shape, placement(-DVec3(whole->at), DVec3(0), DVec3(1), DVec3(0))));
                frames[p].push_back(std::move(shape));
            }
        }
        bool any = false;
        for (std::size_t p = 0; p < still.size(); ++p) {
            const auto motion = motion_of(frames[p], range.rate);
            if (!motion) {
                note(fmt::format("{} stands still: {}.", still[p].name, motion.problem().what));
                continue;
            }
            if (!motion->moves()) continue;
            any = true;
            NamedShape* whole = whole_of(p);
            whole->motion = std::make_shared<const PartMotion>(*motion);
            set_its_own_in_motion(whole, *motion, still[p].name);
        }
        if (!any) note("No part moves between these frames as a movement that files hold.");
        return std::nullopt;
    }

    /// A part's levels move as its bodies do, and what it collides with where it is one body. Points that move on their
    /// own are others in a level: there they stand, and that is told.
    void set_its_own_in_motion(const NamedShape* whole, const PartMotion& motion, const std::string& part) {
        PartMotion bodies = motion;
        bool bends = false;
        for (PlacedMotion& one : bodies.placed) bends |= !one.points.empty(), one.points.clear();
        const bool one_body = !bends && bodies.placed.size() == 1 && !bodies.placed[0].places.empty() &&
                              bodies.placed[0].places[0].size() == 1;
        const auto moves = std::make_shared<const PartMotion>(bodies);
        bool levels_stand = false, others_stand = false;
        for (NamedShape* one = report_.shapes.data() + (whole - report_.shapes.data()) + 1;
             one != report_.shapes.data() + report_.shapes.size() && (one->level > 0 || one->collision); ++one) {
            const bool takes = one->collision ? one_body : bodies.moves();
            if (takes) one->motion = moves;
            (one->collision ? others_stand : levels_stand) |= one->collision ? !takes : bends;
        }
        if (levels_stand)
            note(fmt::format("{}: its levels do not bend as it does; what is stiff in them moves.", part));
        if (others_stand) note(fmt::format("{}: its shapes to collide with do not move.", part));
    }

    /// The p-th part's whole form among what is written.
    NamedShape* whole_of(std::size_t p) {
        for (NamedShape& one : report_.shapes)
            if (one.level == 0 && !one.collision && p-- == 0) return &one;
        return nullptr;
    }

    std::optional<Problem> make_presets(const MakeOptions& making) {
        const bool kept = order_.page || std::ranges::any_of(order_.suffixes, [](const std::string& suffix) {
                              return (find_format("x." + suffix)->keeps & Keep::presets) != 0;
                          });
        if (!order_.presets || !kept) return std::nullopt;
        for (const Preset& preset : order_.recipe.presets) {
            say("Making " + preset.name);
            const auto turned = apply_preset(order_.recipe, preset.name);
            if (!turned) {
                note(fmt::format("The preset “{}” stays out: {}", preset.name, turned.problem().text()));
                continue;
            }
            const Made made = maker_.make(*turned, making);
            if (made.stopped) throw Stopped();
            if (made.has_errors(*turned, order_.parts)) {
                note(fmt::format("The preset “{}” stays out: the recipe has errors there.", preset.name));
                continue;
            }
            names_.merge(shape_names(*turned, made));
            std::vector<NamedShape> shapes = shapes_to_write(*turned, made, order_.parts);
            plain_presets_.push_back({preset.name, shapes});
            std::vector<std::string> notes;
            presets_.push_back({preset.name, dressed(shapes, order_.dressing, names_, notes, &memory_)});
            for (const std::string& text : notes)
                if (std::ranges::find(report_.notes, text) == report_.notes.end())
                    note(fmt::format("Preset “{}”, {}", preset.name, text));
        }
        return std::nullopt;
    }

    /// What was asked for, or is there, and is not written.
    void tell_what_stays_out() {
        unsigned asked = 0;
        if (order_.presets && !order_.recipe.presets.empty() && !order_.page) asked |= Keep::presets;
        if (!order_.dressing.levels.empty() || order_.dressing.collision != CollisionKind::none) asked |= Keep::levels;
        if (order_.options.attributes) asked |= Keep::values;
        if (order_.dressing.light_uvs) asked |= Keep::light_uvs;
        for (NamedShape named : report_.shapes) {
            if (named.level > 0 || named.collision) continue;
            named.name = part_of(named);
            for (const std::string& suffix : order_.suffixes)
                for (std::string& text : what_stays_out(named, *find_format("x." + suffix), asked))
                    note(std::move(text));
            for (std::string& text : what_no_file_holds(*named.shape)) note(std::move(text));
        }
        const auto written = [&](std::string_view suffix) {
            return std::ranges::find(order_.suffixes, suffix) != order_.suffixes.end();
        };
        if (order_.options.joined_copies && !written("glb"))
            note("Copies are joined in glTF alone, which is not written.");
        if (order_.options.cages && !written("usda")) note("Cages are told in USD alone, which is not written.");
        if (order_.presets && order_.recipe.presets.empty()) note("The recipe has no presets.");
    }

    std::optional<Problem> look_at_folder() {
        std::error_code error;
        fs::create_directories(order_.folder, error);
        if (error)
            return Problem{fmt::format("The folder cannot be made: {}.", error.message()), order_.folder,
                           "Choose another folder."};
        if (!fs::exists(order_.folder + "/" + list_file, error)) return std::nullopt;
        const auto text = read_file(order_.folder + "/" + list_file);
        const Json json = text ? Json::parse(*text, nullptr, false) : Json();
        if (!json.is_object() || !json.contains("bricol_handover"))
            return Problem{"This file is not Bricol's.", order_.folder + "/" + list_file, "Choose another folder."};
        try {
            for (const Json& file : json.at("files"))
                earlier_[file.at("name").get<std::string>()] = file.at("hash").get<std::string>();
        } catch (const Json::exception&) {
            return Problem{"The list of the earlier hand-over cannot be read.", order_.folder + "/" + list_file,
                           "Remove it, and the files it belongs to."};
        }
        return std::nullopt;
    }

    std::optional<Problem> stranger(const std::string& name) const {
        std::error_code error;
        if (earlier_.contains(name) || !fs::exists(order_.folder + "/" + name, error)) return std::nullopt;
        return Problem{"A file of this name stands there and is not from a hand-over.", order_.folder + "/" + name,
                       "Move it away, or choose another folder."};
    }

    /// One file that is about to be written: its name in the folder, and what goes into it.
    struct Planned {
        std::string name;
        std::vector<NamedShape> shapes;
        std::vector<PresetShapes> presets;
    };

    std::vector<Planned> planned() const {
        std::vector<Planned> out;
        const std::string stem =
            file_name(order_.recipe.title.empty() ? fs::path(order_.folder).filename().string() : order_.recipe.title);
        for (const std::string& suffix : order_.suffixes) {
            if (!order_.apart) {
                out.push_back({stem + "." + suffix, report_.shapes, presets_});
                continue;
            }
            std::set<std::string> taken;
            for (std::size_t i = 0; i < report_.shapes.size(); ++i) {
                const NamedShape& whole = report_.shapes[i];
                if (whole.level > 0 || whole.collision) continue;
                const std::string part = part_of(whole);
                Planned one;
                const auto add = [&](const NamedShape& named, std::vector<NamedShape>& list) {
                    list.push_back(named);
                    list.back().at = Vec3(0);
                };
                add(whole, one.shapes);
                for (std::size_t k = i + 1; k < report_.shapes.size(); ++k) {
                    if (report_.shapes[k].level == 0 && !report_.shapes[k].collision) break;
                    add(report_.shapes[k], one.shapes);
                }
                for (const PresetShapes& preset : presets_) {
                    one.presets.push_back({preset.name, {}});
                    bool mine = false;
                    for (const NamedShape& named : preset.shapes) {
                        if (named.level == 0 && !named.collision) mine = named.name == whole.name;
                        if (mine) add(named, one.presets.back().shapes);
                    }
                }
                std::string name = file_name(part);
                for (int n = 2; !taken.insert(name).second; ++n) name = fmt::format("{}_{}", file_name(part), n);
                one.name = name + "." + suffix;
                out.push_back(std::move(one));
            }
        }
        return out;
    }

    std::string part_of(const NamedShape& whole) const {
        constexpr std::string_view behind = "_LOD0";
        return !order_.dressing.levels.empty() && whole.name.ends_with(behind)
                   ? whole.name.substr(0, whole.name.size() - behind.size())
                   : whole.name;
    }

    /// The file of materials that goes beside it; empty for none.
    static std::string beside(const Planned& file) {
        const FormatInfo& format = *find_format(file.name);
        const bool materials = std::ranges::any_of(
            file.shapes, [](const NamedShape& named) { return !materials_of(*named.shape).empty(); });
        if (format.beside.empty() || !materials) return {};
        return fs::path(file.name).stem().string() + "." + std::string(format.beside);
    }

    std::optional<Problem> write_shapes() {
        const std::vector<Planned> files = planned();
        std::vector<std::string> names;
        for (const Planned& file : files) {
            names.push_back(file.name);
            if (const std::string more = beside(file); !more.empty()) names.push_back(more);
        }
        if (order_.page) names.emplace_back(page_file);
        for (const std::string& name : names)
            if (auto problem = stranger(name)) return problem;
        if (auto problem = claim(names)) return problem;
        for (const Planned& file : files) {
            say("Writing " + file.name);
            ExportOptions options = order_.options;
            options.copied = &names_;
            options.presets = file.presets;
            if (auto problem = export_shapes(file.shapes, order_.folder + "/" + file.name, options)) return problem;
            if (auto problem = list(file.name)) return problem;
            if (const std::string more = beside(file); !more.empty())
                if (auto problem = list(more)) return problem;
        }
        return std::nullopt;
    }

    /// Lists what is about to be written, so that a hand-over that is broken off knows its own files the next time.
    std::optional<Problem> claim(const std::vector<std::string>& names) {
        for (const std::string& name : names) earlier_.try_emplace(name);
        Json json{{"bricol_handover", 1}, {"title", order_.recipe.title}, {"files", Json::array()}};
        for (const auto& [name, hash] : earlier_) json["files"].push_back({{"name", name}, {"hash", hash}});
        return write_file(order_.folder + "/" + list_file, pretty_json(json));
    }

    std::optional<Problem> write_page(const std::vector<NamedShape>& still) {
        say("Writing the preview");
        // Levels and what bodies bump into would lie over what is to be seen.
        std::vector<NamedShape> seen;
        for (std::size_t p = 0; p < still.size(); ++p) {
            seen.push_back(*whole_of(p));
            seen.back().name = still[p].name;
        }
        PreviewPage page{order_.recipe.title, {{"As it stands", seen, numbers_of(still)}}};
        for (const PresetShapes& preset : plain_presets_)
            page.states.push_back({preset.name, preset.shapes, numbers_of(preset.shapes)});
        if (auto problem = write_preview(page, order_.folder + "/" + page_file)) return problem;
        return list(page_file);
    }

    std::vector<std::pair<std::string, std::string>> numbers_of(const std::vector<NamedShape>& shapes) const {
        std::vector<std::pair<std::string, std::string>> out;
        for (const NamedShape& one : shapes) {
            const Measures m = measured(*one.shape);
            const DVec3 size = m.box ? m.box->size() : DVec3(0);
            out.emplace_back(one.name, fmt::format("{:.3g} × {:.3g} × {:.3g} m, {} faces, {} triangles", size.x, size.y,
                                                   size.z, m.faces, m.triangles));
        }
        return out;
    }

    std::optional<Problem> list(const std::string& name) {
        const auto content = read_file(order_.folder + "/" + name, ~std::size_t(0) >> 1);
        if (!content) return content.problem();
        report_.files.push_back({name, content->size(), hash_words(text_content(*content))});
        return std::nullopt;
    }

    /// Away with what an earlier hand-over left and this one does not write.
    void tidy() {
        std::set<std::string> written;
        for (const HandedFile& file : report_.files) written.insert(file.name);
        for (const auto& [name, hash] : earlier_) {
            if (written.contains(name) || name.find('/') != std::string::npos) continue;
            const std::string path = order_.folder + "/" + name;
            const auto content = read_file(path, ~std::size_t(0) >> 1);
            std::error_code error;
            // Without a hash: a hand-over that was broken off has written it.
            if (content && (hash.empty() || hash_words(text_content(*content)) == hash))
                fs::remove(path, error);
            else if (content)
                note(fmt::format("{} was changed since the last hand-over and is left where it is.", name));
        }
    }

    /// The list of everything.
    std::optional<Problem> finish() {
        Json json{{"bricol_handover", 1}, {"title", order_.recipe.title}};
        Json dials = Json::object();
        for (const Dial& dial : order_.recipe.dials) dials[dial.name] = dial_value(dial);
        json["dials"] = std::move(dials);
        json["shapes"] = Json::array();
        for (const NamedShape& one : report_.shapes) {
            const Measures m = measured(*one.shape);
            Json shape{{"name", one.name}, {"triangles", m.triangles}, {"at", {one.at.x, one.at.y, one.at.z}}};
            if (m.box) {
                shape["low"] = {m.box->low.x, m.box->low.y, m.box->low.z};
                shape["high"] = {m.box->high.x, m.box->high.y, m.box->high.z};
            }
            if (one.level > 0) shape["level"] = one.level;
            if (one.collision) shape["collision"] = true;
            if (one.motion) shape["moves"] = true;
            json["shapes"].push_back(std::move(shape));
        }
        json["notes"] = report_.notes;
        json["files"] = Json::array();
        for (const HandedFile& file : report_.files)
            json["files"].push_back({{"name", file.name}, {"bytes", file.bytes}, {"hash", file.hash}});
        return write_file(order_.folder + "/" + list_file, pretty_json(json));
    }

    const HandoverOrder& order_;
    Maker maker_;
    HandoverReport report_;
    ShapeNames names_;
    DressingMemory memory_;
    std::vector<PresetShapes> presets_, plain_presets_;
    std::map<std::string, std::string> earlier_;
};

}  // namespace

HandoverReport hand_over(const HandoverOrder& order) { return Handing(order).run(); }

}  // namespace bricol
