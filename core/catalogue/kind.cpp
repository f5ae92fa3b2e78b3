// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/catalogue/kind.h"

#include <array>
#include <cmath>
#include <fmt/format.h>
#include <nlohmann/json.hpp>

#include "core/catalogue/kinds/kinds.h"

namespace bricol {

const Kind& kind_info(ParameterKind kind) {
    switch (kind) {
        case ParameterKind::number:
            return kinds::number();
        case ParameterKind::vector:
            return kinds::vector();
        case ParameterKind::choice:
            return kinds::choice();
        case ParameterKind::toggle:
            return kinds::toggle();
        case ParameterKind::text:
            return kinds::text();
        case ParameterKind::curves:
            return kinds::curves();
        case ParameterKind::part:
            return kinds::part();
        case ParameterKind::set:
            return kinds::set();
        case ParameterKind::places:
            return kinds::places();
        case ParameterKind::colour:
            return kinds::colour();
        case ParameterKind::ramp:
            return kinds::ramp();
        case ParameterKind::gradient:
            return kinds::gradient();
        case ParameterKind::rows:
            return kinds::rows();
        case ParameterKind::points:
            return kinds::points();
        case ParameterKind::lists:
            return kinds::lists();
        case ParameterKind::attribute:
            return kinds::attribute();
        case ParameterKind::blocks:
            return kinds::blocks();
        case ParameterKind::kit:
            return kinds::kit();
        case ParameterKind::dials:
            return kinds::dials();
        case ParameterKind::preset:
            return kinds::preset();
        case ParameterKind::file:
            return kinds::file();
        case ParameterKind::sticks:
            return kinds::sticks();
        case ParameterKind::table:
            return kinds::table();
        case ParameterKind::row:
            return kinds::row();
    }
    return kinds::text();
}

void Reading::tell(const std::string& where, const std::string& text, const char* code) {
    findings_.push_back(bad_value(where, text));
    findings_.back().code = code;
}

double Reading::number_or(const Json& written, const std::string& where, double otherwise) {
    const auto read = number(written);
    if (read && std::abs(*read) <= 1e6) return *read;
    if (findings_.size() < most_told)
        tell(where, read ? "This number is larger than a million." : read.problem().text());
    return otherwise;
}

Result<double> Reading::component(const Json& written, int) { return number(written); }

DVec3 Reading::three(const Json& written, const std::string& where) {
    DVec3 out(0);
    if (!can_be_three(written)) {
        if (findings_.size() < most_told) tell(where, "Three numbers are wanted.");
        return out;
    }
    for (int i = 0; i < 3; ++i) {
        const auto read = component(one_of_three(written, i), i);
        if (read && std::abs(*read) <= 1e6)
            out[i] = *read;
        else if (findings_.size() < most_told)
            tell(fmt::format("{}/{}", where, i),
                 read ? "This number is larger than a million." : read.problem().text());
    }
    return out;
}

bool can_be_three(const Json& written) {
    return written.is_array() ? written.size() == 3
                              : written.is_string() && written.get_ref<const std::string&>().starts_with('=');
}

const Json& one_of_three(const Json& written, int axis) {
    return written.is_array() ? written[static_cast<std::size_t>(axis)] : written;
}

std::vector<NumberOf> numbers_of(const ParameterInfo& p) {
    const auto suffixes = kind_info(p).number_suffixes();
    std::vector<NumberOf> out;
    for (std::size_t i = 0; i < suffixes.size(); ++i)
        out.push_back({suffixes.size() == 1 ? -1 : static_cast<int>(i), suffixes[i]});
    return out;
}

double number_in(const Value& value, const NumberOf& number) {
    return number.component < 0 ? std::get<double>(value) : std::get<DVec3>(value)[number.component];
}

Json written_number(const Json* written, const NumberOf& number) {
    if (!written) return nullptr;
    if (number.component < 0) return *written;
    return can_be_three(*written) ? one_of_three(*written, number.component) : Json(nullptr);
}

Json with_number(const ParameterInfo& p, const Json* written, const NumberOf& number, const Json& put) {
    if (number.component < 0) return put;
    const DVec3& otherwise = p.standard_vector;
    Json three = Json::array({otherwise.x, otherwise.y, otherwise.z});
    if (written && can_be_three(*written))
        for (int i = 0; i < 3; ++i) three[static_cast<std::size_t>(i)] = one_of_three(*written, i);
    three[static_cast<std::size_t>(number.component)] = put;
    return three;
}

void each_formula_in(Json& written, const OnFormula& f) {
    if (written.is_string()) {
        if (written.get_ref<const std::string&>().starts_with('=')) f({written});
    } else if (written.is_structured()) {
        for (auto& item : written) each_formula_in(item, f);
    }
}

}  // namespace bricol
