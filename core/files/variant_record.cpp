// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/files/variant_record.h"

#include <algorithm>
#include <cmath>
#include <fmt/format.h>

#include "core/catalogue/digest.h"
#include "core/catalogue/step_info.h"
#include "core/files/csv.h"
#include "core/formula/formula.h"
#include "core/ground/version.h"
#include "core/inspect/told.h"
#include "core/make/inner_kits.h"
#include "core/inspect/told.h"
#include "core/recipe/recipe_json.h"
#include "core/recipe/settings.h"

namespace bricol {

namespace {

constexpr std::size_t most_in_a_folder = 1000, most_flat = 10000;

bool is_wanted(const Part& part, const std::vector<std::string>& parts) {
    return parts.empty() ? part.delivered() : std::ranges::find(parts, part.name) != parts.end();
}

Json finding_row(const Finding& finding, const std::string& part, const std::string& step) {
    return {{"severity", severity_name(finding.severity)},
            {"code", finding.code},
            {"part", part},
            {"step", step},
            {"text", finding.text}};
}

Json findings_of(const Recipe& recipe, const Made& made) {
    Json rows = Json::array();
    each_told(recipe, made,
              [&](const std::string& part, const std::string& step, const std::vector<Finding>& findings) {
                  for (const Finding& finding : findings)
                      if (finding.severity != Severity::note) rows.push_back(finding_row(finding, part, step));
              });
    return rows;
}

/// A cell for a dial's or a measure's value.
std::string cell(const Json& value) {
    if (value.is_string()) return value.get<std::string>();
    if (value.is_boolean()) return value.get<bool>() ? "yes" : "no";
    if (value.is_number_integer()) return fmt::format("{}", value.get<std::int64_t>());
    if (value.is_number()) return format_number(value.get<double>(), 9);
    if (!value.is_array()) return {};
    std::string out;
    for (const Json& one : value) out += fmt::format("{}{}", out.empty() ? "" : ", ", cell(one));
    return out;
}

constexpr const char* measures[] = {"faces", "triangles", "area", "volume", "pieces"};

}  // namespace

std::string variant_name(std::size_t number, std::size_t count) {
    const std::size_t digits = std::max<std::size_t>(4, std::to_string(count > 0 ? count - 1 : 0).size());
    return fmt::format("{:0{}}", number, digits);
}

std::string variant_place(std::size_t number, std::size_t count) {
    const std::string name = variant_name(number, count);
    return count <= most_flat ? name : variant_name(number / most_in_a_folder, count) + "/" + name;
}

std::uint64_t text_content(std::string_view text) {
    Digest digest;
    digest.add(text);
    return digest.hash();
}

std::string hash_words(std::uint64_t hash) { return fmt::format("{:016x}", hash); }

std::uint64_t recipe_content(const Recipe& recipe, const Environment& environment) {
    Digest digest;
    digest.add(std::string_view(version()));
    digest.add(std::string_view(recipe_text(recipe)));
    digest.add(environment.surroundings.frame);
    digest.add(environment.surroundings.seed);
    for (const auto& part : recipe.parts)
        for (const auto& step : part->steps) {
            if (const Json* kit = written_of(*step, ParameterKind::kit); kit && environment.find_kit)
                add_kit({std::make_shared<const Json>(*kit)}, environment, digest);
            const Json* file = written_of(*step, ParameterKind::file);
            if (!file || !file->is_string() || !environment.read_file) continue;
            if (const auto text = environment.read_file(file->get<std::string>(), environment.folder))
                digest.add(std::string_view(**text));
        }
    return digest.hash();
}

Json variant_record(const Recipe& turned, const Made& made, const std::vector<std::string>& parts) {
    Json record{{"dials", Json(dials_of(turned))}};
    std::size_t faces = 0, triangles = 0, pieces = 0;
    double area = 0, volume = 0;
    bool closed = true;
    std::optional<Box> box;
    for (std::size_t p = 0; p < turned.parts.size(); ++p) {
        if (!is_wanted(*turned.parts[p], parts) || !made.parts[p]) continue;
        const Measures& m = made.parts[p]->measures;
        faces += m.faces, triangles += m.triangles, pieces += m.pieces;
        area += m.area;
        if (m.faces > 0) closed = closed && m.closed, volume += m.volume.value_or(0);
        if (!m.box) continue;
        if (!box) box = m.box;
        box->low = glm::min(box->low, m.box->low), box->high = glm::max(box->high, m.box->high);
    }
    record["faces"] = faces;
    record["triangles"] = triangles;
    record["pieces"] = pieces;
    record["area"] = area;
    if (closed && faces > 0) record["volume"] = volume;
    const auto list = [](const DVec3& v) { return Json::array({v.x, v.y, v.z}); };
    if (box) record["size"] = list(box->size());
    record["over_budget"] = turned.budget > 0 && made.faces(turned) > turned.budget;
    record["errors"] = made.has_errors(turned, parts);
    record["findings"] = findings_of(turned, made);
    return record;
}

std::string variant_head(const std::vector<std::string>& dials) {
    TableRow row{"number"};
    row.insert(row.end(), dials.begin(), dials.end());
    for (const char* measure : measures) row.emplace_back(measure);
    for (const char* name : {"size_x", "size_y", "size_z", "errors", "findings", "files", "hash"})
        row.emplace_back(name);
    return csv_row(row);
}

std::string variant_row(const Json& record, const std::vector<std::string>& dials) {
    const auto at = [](const Json& json, const std::string& key) { return json.contains(key) ? json[key] : Json(); };
    TableRow row{cell(at(record, "number"))};
    for (const std::string& dial : dials) row.push_back(cell(at(at(record, "dials"), dial)));
    for (const char* measure : measures) row.push_back(cell(at(record, measure)));
    const Json size = at(record, "size");
    for (std::size_t i = 0; i < 3; ++i) row.push_back(size.is_array() ? cell(size[i]) : std::string());
    row.push_back(cell(at(record, "errors")));
    std::string codes, files, hashes;
    for (const Json& finding : at(record, "findings")) {
        const std::string code = finding.value("code", "");
        if (codes.find(code) == std::string::npos) codes += fmt::format("{}{}", codes.empty() ? "" : " ", code);
    }
    for (const Json& file : at(record, "files")) {
        files += fmt::format("{}{}", files.empty() ? "" : " ", file.value("name", ""));
        hashes += fmt::format("{}{}", hashes.empty() ? "" : " ", file.value("hash", ""));
    }
    row.insert(row.end(), {codes, files, hashes});
    return csv_row(row);
}

}  // namespace bricol
