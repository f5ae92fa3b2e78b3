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
        case ParameterKind::file:
            return kinds::file();
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

DVec3 Reading::three(const Json& written, const std::string& where) {
    DVec3 out(0);
    if (!written.is_array() || written.size() != 3) {
        if (findings_.size() < most_told) tell(where, "Three numbers are wanted.");
        return out;
    }
    for (int i = 0; i < 3; ++i)
        out[i] = number_or(written[static_cast<std::size_t>(i)], fmt::format("{}/{}", where, i), 0);
    return out;
}

void each_formula_in(Json& written, const OnFormula& f) {
    if (written.is_string()) {
        if (written.get_ref<const std::string&>().starts_with('=')) f({written});
    } else if (written.is_structured()) {
        for (auto& item : written) each_formula_in(item, f);
    }
}

}  // namespace bricol
