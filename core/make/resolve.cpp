// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/make/resolve.h"

#include <algorithm>
#include <cmath>
#include <fmt/format.h>

namespace bricol {

namespace {

constexpr std::size_t deepest_links = 200;
constexpr std::size_t most_knots = 100000;
constexpr std::size_t most_places = 20000;

Finding error_at(const std::string& where, const std::string& text) {
    return {Severity::error, "bad-value", where.empty() ? text : where + ": " + text, std::nullopt, {}};
}

}  // namespace

Resolver::Resolver(const Recipe& recipe, Surroundings surroundings) : recipe_(recipe), surroundings_(surroundings) {
    // Dials first: they are most of what formulas ask for.
    for (const Dial& dial : recipe.dials) known_.emplace("\n" + dial.name, dial.value);
}

Result<double> Resolver::name(const std::string& part_name, const std::string& name) {
    if (name == "frame") return surroundings_.frame;
    if (name == "seed") return surroundings_.seed;
    if (const auto dial = known_.find("\n" + name); dial != known_.end()) return dial->second;
    const std::string key = part_name + "\n" + name;
    if (const auto known = known_.find(key); known != known_.end()) return known->second;

    if (std::ranges::find(path_, key) != path_.end() || path_.size() > deepest_links) {
        std::string circle;
        auto from = std::ranges::find(path_, key);
        for (auto at = from == path_.end() ? path_.begin() : from; at != path_.end() && circle.size() < 400; ++at)
            circle += at->substr(at->find('\n') + 1) + " → ";
        return Problem{"These numbers depend on one another in a circle: " + circle + name + ".", "",
                       "Give one of them a value of its own."};
    }
    path_.push_back(key);
    Result<double> found = Problem{fmt::format("Nothing here is called “{}”.", name), "",
                                   "Formulas know dials, step.number and part.step.number."};
    const std::size_t dot = name.find('.');
    if (dot != std::string::npos) {
        const std::string first = name.substr(0, dot), rest = name.substr(dot + 1);
        const Part* here = recipe_.part(part_name);
        if (const Step* step = here ? find_step(*here, first) : nullptr) {
            found = setting(*here, *step, rest, name);
        } else if (const Part* other = recipe_.part(first)) {
            const std::size_t second = rest.find('.');
            const Step* there = find_step(*other, rest.substr(0, second));
            if (there && second != std::string::npos) found = setting(*other, *there, rest.substr(second + 1), name);
        }
    }
    path_.pop_back();
    // A problem inside a circle belongs to whoever asked first; only settled answers are kept.
    if (found || path_.empty()) known_.insert_or_assign(key, found);
    return found;
}

Result<double> Resolver::setting(const Part& part, const Step& step, const std::string& path, const std::string& name) {
    const StepInfo* info = find_step_info(step.type);
    const std::size_t dot = path.find('.');
    const std::string key = path.substr(0, dot);
    const ParameterInfo* parameter = info ? info->parameter(key) : nullptr;
    if (info && !parameter && dot == std::string::npos)
        for (const OutputInfo& output : info->outputs)
            if (output.key == key) {
                std::vector<Finding> findings;
                const Values values = parameters(part, step, *info, findings);
                if (!findings.empty())
                    return Problem{fmt::format("“{}” cannot be worked out: {}", name, findings.front().text), "", ""};
                const double value = output.work_out(values);
                if (!std::isfinite(value)) return Problem{fmt::format("“{}” is not a finite number.", name), "", ""};
                return value;
            }
    if (!parameter) return Problem{fmt::format("“{}”: the step “{}” has no number “{}”.", name, step.id, key), "", ""};
    const auto written = step.settings.find(key);
    if (parameter->kind == ParameterKind::number && dot == std::string::npos)
        return written == step.settings.end() ? Result<double>(parameter->standard) : number(part.name, *written);
    if (parameter->kind == ParameterKind::dials && dot != std::string::npos && written != step.settings.end() &&
        written->is_object())
        if (const auto dial = written->find(path.substr(dot + 1)); dial != written->end())
            return number(part.name, *dial);
    if (parameter->kind == ParameterKind::vector && dot != std::string::npos) {
        const std::size_t component = std::string_view("xyz").find(path.substr(dot + 1));
        if (path.size() == dot + 2 && component < 3) {
            if (written == step.settings.end()) return parameter->standard_vector[static_cast<int>(component)];
            if (written->is_array() && written->size() == 3) return number(part.name, (*written)[component]);
        }
    }
    return Problem{fmt::format("“{}” is not a single number.", name), "", ""};
}

Result<double> Resolver::number(const std::string& part, const Json& written) {
    if (written.is_number()) {
        const double value = written.get<double>();
        if (!std::isfinite(value)) return Problem{"This is not a finite number.", "", ""};
        return value;
    }
    if (written.is_string()) {
        const auto& text = written.get_ref<const std::string&>();
        if (text.starts_with('='))
            return evaluate(std::string_view(text).substr(1), [&](const std::string& n) { return name(part, n); });
        return Problem{fmt::format("“{}” is text where a number is wanted.", text.substr(0, 40)), "",
                       "A formula starts with “=”."};
    }
    return Problem{fmt::format("A number or a formula is wanted, not {}.", written.type_name()), "", ""};
}

Value Resolver::curves(const Part& part, const Step& step, const Json& written, const std::string& where,
                       std::vector<Finding>& findings) {
    std::vector<Curve> list;
    if (!written.is_array()) {
        findings.push_back(error_at(where, "A list of curves is wanted."));
        return list;
    }
    std::size_t knots_seen = 0, problems = 0;
    const auto read = [&](const Json& value, const std::string& place) -> double {
        const auto result = number(part.name, value);
        if (result && std::abs(*result) <= 1e6) return *result;
        if (problems++ < 5)
            findings.push_back(error_at(
                place, result ? "This place is more than a thousand kilometres away." : result.problem().text()));
        return 0;
    };
    // Places with two numbers lie in the drawing plane; which one, the step decides when it is made: here they stay
    // in x and z (front), and the step turns them.
    const auto place_of = [&](const Json& value, const std::string& place) -> Vec3 {
        if (!value.is_array() || (value.size() != 2 && value.size() != 3)) {
            if (problems++ < 5) findings.push_back(error_at(place, "Two or three numbers are wanted."));
            return Vec3(0);
        }
        DVec3 p(0);
        p.x = read(value[0], place + "/0");
        p.z = read(value[1], place + "/1");
        if (value.size() == 3) p.y = read(value[2], place + "/2");
        return Vec3(p);
    };
    for (std::size_t c = 0; c < written.size(); ++c) {
        const Json& one = written[c];
        const std::string at = fmt::format("{}/{}", where, c);
        if (!one.is_object() || !one.contains("knots") || !one["knots"].is_array()) {
            findings.push_back(error_at(at, "A curve needs a list of “knots”."));
            continue;
        }
        Curve curve;
        curve.source_step = step.id;
        curve.source_curve = static_cast<std::int32_t>(c);
        if (one.contains("closed")) {
            if (one["closed"].is_boolean())
                curve.closed = one["closed"].get<bool>();
            else
                findings.push_back(error_at(at + "/closed", "true or false is wanted."));
        }
        const Json& knots = one["knots"];
        knots_seen += knots.size();
        if (knots_seen > most_knots) {
            findings.push_back(error_at(at, fmt::format("More than {} knots.", most_knots)));
            break;
        }
        for (std::size_t k = 0; k < knots.size(); ++k) {
            const Json& item = knots[k];
            const std::string place = fmt::format("{}/knots/{}", at, k);
            if (!item.is_object() || !item.contains("at")) {
                if (problems++ < 5) findings.push_back(error_at(place, "A knot needs “at”: [across, up]."));
                continue;
            }
            Knot knot;
            knot.source = static_cast<std::int32_t>(k);
            knot.at = place_of(item["at"], place + "/at");
            if (const auto kind = item.find("kind"); kind != item.end()) {
                if (*kind == "smooth")
                    knot.kind = KnotKind::smooth;
                else if (*kind == "free")
                    knot.kind = KnotKind::free;
                else if (*kind != "corner" && problems++ < 5)
                    findings.push_back(error_at(place + "/kind", "“corner”, “smooth” or “free” is wanted."));
            }
            if (item.contains("in")) knot.in = place_of(item["in"], place + "/in");
            if (item.contains("out")) knot.out = place_of(item["out"], place + "/out");
            if (item.contains("fillet"))
                knot.fillet = static_cast<float>(std::max(0.0, read(item["fillet"], place + "/fillet")));
            if (item.contains("radius")) knot.radius = static_cast<float>(read(item["radius"], place + "/radius"));
            if (item.contains("roll"))
                knot.roll = static_cast<float>(glm::radians(read(item["roll"], place + "/roll")));
            curve.knots.push_back(knot);
        }
        list.push_back(std::move(curve));
    }
    return list;
}

Value Resolver::places(const Part& part, const Json& written, const std::string& where,
                       std::vector<Finding>& findings) {
    std::vector<Place> list;
    if (!written.is_array() || written.size() > most_places) {
        findings.push_back(error_at(where, fmt::format("A list of at most {} places is wanted.", most_places)));
        return list;
    }
    std::size_t problems = 0;
    const auto triple = [&](const Json& value, const std::string& at) {
        DVec3 out(0);
        if (!value.is_array() || value.size() != 3) {
            if (problems++ < 5) findings.push_back(error_at(at, "Three numbers are wanted."));
            return out;
        }
        for (int i = 0; i < 3; ++i) {
            const auto result = number(part.name, value[i]);
            if (result && std::abs(*result) <= 1e6)
                out[i] = *result;
            else if (problems++ < 5)
                findings.push_back(
                    error_at(fmt::format("{}/{}", at, i),
                             result ? "This place is more than a thousand kilometres away." : result.problem().text()));
        }
        return out;
    };
    for (std::size_t k = 0; k < written.size(); ++k) {
        const Json& one = written[k];
        const std::string at = fmt::format("{}/{}", where, k);
        Place place;
        bool known = false;
        for (const auto& [key, element] : {std::pair{"vertex", Domain::vertex},
                                           {"edge", Domain::edge},
                                           {"face", Domain::face},
                                           {"point", Domain::knot}})
            if (one.is_object() && one.contains(key)) {
                place.element = element;
                place.at = triple(one[key], at + "/" + key);
                known = true;
                break;
            }
        if (!known) {
            if (problems++ < 5)
                findings.push_back(error_at(at, "A place needs “vertex”, “edge”, “face” or “point”: [x, y, z]."));
            continue;
        }
        if (one.contains("share")) place.share = triple(one["share"], at + "/share");
        if (one.contains("facing")) place.facing = triple(one["facing"], at + "/facing");
        if (one.contains("move")) place.move = triple(one["move"], at + "/move");
        list.push_back(place);
    }
    return list;
}

DVec3 Resolver::colour(const Part& part, const Json& written, const std::string& where,
                       std::vector<Finding>& findings) {
    DVec3 out(0);
    if (!written.is_array() || written.size() != 3) {
        findings.push_back(error_at(where, "Three numbers from 0 to 1 are wanted: red, green and blue."));
        return out;
    }
    for (int i = 0; i < 3; ++i) {
        if (const auto read = number(part.name, written[i]))
            out[i] = std::clamp(*read, 0.0, 1.0);
        else
            findings.push_back(error_at(fmt::format("{}/{}", where, i), read.problem().text()));
    }
    return out;
}

double Resolver::number_or(const Part& part, const Json& written, const std::string& where,
                           std::vector<Finding>& findings, double otherwise) {
    const auto read = number(part.name, written);
    if (read && std::abs(*read) <= 1e6) return *read;
    if (findings.size() < 8)
        findings.push_back(error_at(where, read ? "This number is larger than a million." : read.problem().text()));
    return otherwise;
}

DrawnRamp Resolver::ramp(const Part& part, const Json& written, const std::string& where,
                         std::vector<Finding>& findings) {
    DrawnRamp out;
    const Json* knots = written.is_object() && written.contains("knots") ? &written["knots"] : nullptr;
    if (!knots || !knots->is_array() || knots->empty() || knots->size() > 1000) {
        findings.push_back(error_at(where, "A ramp is { \"knots\": [[at, value], …], \"smooth\": true }."));
        return out;
    }
    out.smooth = written.contains("smooth") && written["smooth"].is_boolean() && written["smooth"].get<bool>();
    out.knots.clear();
    for (std::size_t k = 0; k < knots->size(); ++k) {
        const Json& pair = (*knots)[k];
        const std::string at = fmt::format("{}/knots/{}", where, k);
        if (!pair.is_array() || pair.size() != 2) {
            findings.push_back(error_at(at, "Two numbers are wanted: where, and how much."));
            continue;
        }
        out.knots.push_back(
            {number_or(part, pair[0], at + "/0", findings, 0), number_or(part, pair[1], at + "/1", findings, 0)});
    }
    std::ranges::stable_sort(out.knots, {}, &RampKnot::at);
    return out;
}

Gradient Resolver::gradient(const Part& part, const Json& written, const std::string& where,
                            std::vector<Finding>& findings) {
    Gradient out;
    const Json* stops = written.is_object() && written.contains("stops") ? &written["stops"] : nullptr;
    if (!stops || !stops->is_array() || stops->empty() || stops->size() > 1000) {
        findings.push_back(error_at(where, "A gradient is { \"stops\": [{ \"at\": 0, \"colour\": [r, g, b] }, …] }."));
        return out;
    }
    out.smooth = written.contains("smooth") && written["smooth"].is_boolean() && written["smooth"].get<bool>();
    for (std::size_t k = 0; k < stops->size(); ++k) {
        const Json& stop = (*stops)[k];
        const std::string at = fmt::format("{}/stops/{}", where, k);
        if (!stop.is_object() || !stop.contains("at") || !stop.contains("colour")) {
            findings.push_back(error_at(at, "A stop has “at” and “colour”."));
            continue;
        }
        out.stops.push_back({number_or(part, stop["at"], at + "/at", findings, 0),
                             colour(part, stop["colour"], at + "/colour", findings)});
    }
    std::ranges::stable_sort(out.stops, {}, &GradientStop::at);
    return out;
}

std::vector<FormulaRow> Resolver::rows(const Part& part, const Json& written, const std::string& where,
                                       std::vector<Finding>& findings) {
    std::vector<FormulaRow> out;
    if (!written.is_array() || written.size() > 500) {
        findings.push_back(error_at(where, "A list of at most 500 rows is wanted."));
        return out;
    }
    for (std::size_t k = 0; k < written.size(); ++k) {
        const Json& row = written[k];
        if (!row.is_object() || !row.contains("target") || !row["target"].is_string() || !row.contains("formula") ||
            !row["formula"].is_string()) {
            findings.push_back(
                error_at(fmt::format("{}/{}", where, k), "A row has “target” and “formula”, both text."));
            continue;
        }
        std::string text = row["formula"].get<std::string>();
        if (const std::size_t begin = text.find_first_not_of(' '); begin != std::string::npos && text[begin] == '=')
            text.erase(0, begin + 1);
        out.push_back({row["target"].get<std::string>(), text, constants(part, text)});
    }
    return out;
}

std::map<std::string, double> Resolver::constants(const Part& part, const std::string& text) {
    std::map<std::string, double> known;
    for (const std::string& wanted : names_in(text))
        if (const auto value = name(part.name, wanted)) known.emplace(wanted, *value);
    return known;
}

std::vector<DVec3> Resolver::points(const Part& part, const Json& written, const std::string& where,
                                    std::vector<Finding>& findings) {
    std::vector<DVec3> out;
    if (!written.is_array() || written.size() > most_knots) {
        findings.push_back(error_at(where, fmt::format("A list of at most {} points is wanted.", most_knots)));
        return out;
    }
    for (std::size_t k = 0; k < written.size(); ++k) {
        const std::string at = fmt::format("{}/{}", where, k);
        DVec3 p(0);
        if (written[k].is_array() && written[k].size() == 3)
            for (int i = 0; i < 3; ++i)
                p[i] =
                    number_or(part, written[k][static_cast<std::size_t>(i)], fmt::format("{}/{}", at, i), findings, 0);
        else if (findings.size() < 8)
            findings.push_back(error_at(at, "Three numbers are wanted."));
        out.push_back(p);  // even a bad one, so that the others keep their numbers
    }
    return out;
}

std::vector<std::vector<int>> Resolver::lists(const Part& part, const Json& written, const std::string& where,
                                              std::vector<Finding>& findings) {
    std::vector<std::vector<int>> out;
    if (!written.is_array() || written.size() > most_knots) {
        findings.push_back(error_at(where, fmt::format("At most {} lists of numbers are wanted.", most_knots)));
        return out;
    }
    for (std::size_t k = 0; k < written.size(); ++k) {
        const std::string at = fmt::format("{}/{}", where, k);
        std::vector<int> list;
        if (written[k].is_array() && written[k].size() <= most_knots)
            for (std::size_t i = 0; i < written[k].size(); ++i)
                list.push_back(static_cast<int>(
                    std::lround(number_or(part, written[k][i], fmt::format("{}/{}", at, i), findings, -1))));
        else if (findings.size() < 8)
            findings.push_back(error_at(at, "A list of whole numbers is wanted."));
        out.push_back(std::move(list));
    }
    return out;
}

Json Resolver::worked_out(const Part& part, const Json& written, const std::string& where,
                          std::vector<Finding>& findings) {
    if (written.is_string() && written.get_ref<const std::string&>().starts_with('='))
        return number_or(part, written, where, findings, 0);
    Json out = written;
    if (out.is_array())
        for (std::size_t i = 0; i < out.size(); ++i)
            out[i] = worked_out(part, written[i], fmt::format("{}/{}", where, i), findings);
    else if (out.is_object())
        for (auto& [key, value] : out.items()) value = worked_out(part, written[key], where + "/" + key, findings);
    return out;
}

Values Resolver::parameters(const Part& part, const Step& step, const StepInfo& info, std::vector<Finding>& findings) {
    Values values;
    for (const ParameterInfo& p : info.parameters) {
        const std::string key(p.key);
        const auto written = step.settings.find(key);
        const bool given = written != step.settings.end();
        const std::string where = key;
        const auto within = [&](double value, const std::string& place) {
            if (value >= p.low && value <= p.high) return value;
            findings.push_back(
                error_at("", fmt::format("{} is {}, but must lie between {} and {}.{}", p.label,
                                         format_value(value, p.quantity, "m"), format_value(p.low, p.quantity, "m"),
                                         format_value(p.high, p.quantity, "m"), place)));
            findings.back().code = "out-of-range";
            return std::clamp(value, p.low, p.high);
        };
        switch (p.kind) {
            case ParameterKind::number: {
                double value = p.standard;
                if (given) {
                    if (const auto read = number(part.name, *written))
                        value = within(*read, "");
                    else
                        findings.push_back(error_at(std::string(p.label), read.problem().text()));
                }
                values[key] = value;
                break;
            }
            case ParameterKind::vector: {
                DVec3 value = p.standard_vector;
                if (given && written->is_array() && written->size() == 3) {
                    for (int i = 0; i < 3; ++i) {
                        if (const auto read = number(part.name, (*written)[i]))
                            value[i] = within(*read, fmt::format(" ({})", "xyz"[i]));
                        else
                            findings.push_back(
                                error_at(fmt::format("{} {}", p.label, "xyz"[i]), read.problem().text()));
                    }
                } else if (given) {
                    findings.push_back(error_at(where, "Three numbers are wanted."));
                }
                values[key] = value;
                break;
            }
            case ParameterKind::choice: {
                std::string value(p.choices.front().key);
                if (given) {
                    const bool known =
                        written->is_string() && std::ranges::any_of(p.choices, [&](const Choice& choice) {
                            return choice.key == written->get_ref<const std::string&>();
                        });
                    if (known) {
                        value = written->get<std::string>();
                    } else {
                        std::string all;
                        for (const Choice& choice : p.choices)
                            all += fmt::format("{}{}", all.empty() ? "" : ", ", choice.key);
                        findings.push_back(error_at(where, "One of these is wanted: " + all + "."));
                    }
                }
                values[key] = value;
                break;
            }
            case ParameterKind::toggle: {
                bool value = p.standard != 0;
                if (given && written->is_boolean())
                    value = written->get<bool>();
                else if (given)
                    findings.push_back(error_at(where, "true or false is wanted."));
                values[key] = value;
                break;
            }
            case ParameterKind::colour: {
                DVec3 value = p.standard_vector;
                if (given) value = colour(part, *written, where, findings);
                values[key] = value;
                break;
            }
            case ParameterKind::ramp:
                values[key] = given ? ramp(part, *written, where, findings) : DrawnRamp{};
                break;
            case ParameterKind::gradient:
                values[key] = given ? gradient(part, *written, where, findings)
                                    : Gradient{{{0, DVec3(0.02, 0.025, 0.03)}, {1, DVec3(0.62, 0.58, 0.47)}}, false};
                break;
            case ParameterKind::rows:
                values[key] = given ? rows(part, *written, where, findings) : std::vector<FormulaRow>{};
                break;
            case ParameterKind::points:
                values[key] = given ? points(part, *written, where, findings) : std::vector<DVec3>{};
                break;
            case ParameterKind::lists:
                values[key] = given ? lists(part, *written, where, findings) : std::vector<std::vector<int>>{};
                break;
            case ParameterKind::blocks:
                values[key] = given ? worked_out(part, *written, where, findings) : Json(Json::array());
                break;
            case ParameterKind::dials:
                values[key] = given ? worked_out(part, *written, where, findings) : Json(Json::object());
                break;
            case ParameterKind::kit:  // a recipe in a recipe has numbers of its own; its formulas are not ours to work
                                      // out
                values[key] = given ? *written : Json(std::string());
                break;
            case ParameterKind::attribute:
            case ParameterKind::file:
            case ParameterKind::text:
            case ParameterKind::set:
            case ParameterKind::part:
                if (given && !written->is_string()) findings.push_back(error_at(where, "Text is wanted."));
                values[key] =
                    given && written->is_string() ? written->get<std::string>() : std::string(p.standard_text);
                break;
            case ParameterKind::places:
                values[key] = given ? places(part, *written, where, findings) : Value(std::vector<Place>{});
                break;
            case ParameterKind::curves:
                values[key] = given ? curves(part, step, *written, where, findings) : Value(std::vector<Curve>{});
                break;
        }
    }
    return values;
}

}  // namespace bricol
