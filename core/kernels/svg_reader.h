// SPDX-License-Identifier: GPL-3.0-or-later
// Reads the number lists of SVG attributes.
#pragma once

#include <cctype>
#include <cstdlib>
#include <cstring>
#include <optional>
#include <string>
#include <string_view>

#include "core/ground/numbers.h"

namespace bricol {

/// Numbers of an attribute, one after another.
struct SvgReader {
    const char* at;
    const char* end;

    explicit SvgReader(std::string_view text) : at(text.data()), end(text.data() + text.size()) {}
    void skip() {
        while (at < end && (std::isspace(static_cast<unsigned char>(*at)) || *at == ',')) ++at;
    }
    bool done() {
        skip();
        return at >= end;
    }
    std::optional<double> number() {
        skip();
        if (at >= end) return std::nullopt;
        const char* p = at;
        if (*p == '+' || *p == '-') ++p;
        bool digits = false;
        while (p < end && std::isdigit(static_cast<unsigned char>(*p))) ++p, digits = true;
        if (p < end && *p == '.') {
            ++p;
            while (p < end && std::isdigit(static_cast<unsigned char>(*p))) ++p, digits = true;
        }
        if (!digits) return std::nullopt;
        if (p < end && (*p == 'e' || *p == 'E')) {
            const char* q = p + 1;
            if (q < end && (*q == '+' || *q == '-')) ++q;
            if (q < end && std::isdigit(static_cast<unsigned char>(*q))) {
                while (q < end && std::isdigit(static_cast<unsigned char>(*q))) ++q;
                p = q;
            }
        }
        const double value = number_of_digits({at, p});
        at = p;
        return std::isfinite(value) ? std::optional(value) : std::nullopt;
    }
    /// A flag of an arc: one 0 or 1, nothing need stand behind it.
    std::optional<bool> flag() {
        skip();
        if (at >= end || (*at != '0' && *at != '1')) return std::nullopt;
        return *at++ == '1';
    }
};

}  // namespace bricol
