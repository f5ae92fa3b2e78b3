// SPDX-License-Identifier: GPL-3.0-or-later
// A colour: linear red, green and blue, 0..1.
#include <algorithm>
#include <fmt/format.h>

#include "core/catalogue/kinds/colours.h"
#include "core/ground/colour.h"
#include "core/ground/numbers.h"

namespace bricol::kinds {

DVec3 read_colour(const Json& written, const std::string& where, Reading& reading) {
    DVec3 out(0);
    if (const auto named = reading.named(written); named && std::holds_alternative<DVec3>(*named))
        return std::get<DVec3>(*named);
    if (!written.is_array() || written.size() != 3) {
        reading.tell(where, "Three numbers from 0 to 1 are wanted: red, green and blue, or “=” and a colour's dial.");
        return out;
    }
    for (int i = 0; i < 3; ++i) {
        if (const auto read = reading.number(written[static_cast<std::size_t>(i)]))
            out[i] = std::clamp(*read, 0.0, 1.0);
        else
            reading.tell(fmt::format("{}/{}", where, i), read.problem().text());
    }
    return out;
}

namespace {

class ColourKind final : public SignedKind {
    std::string_view name() const override { return "colour"; }
    Value standard(const ParameterInfo& p) const override { return p.standard_vector; }
    Value read(const ParameterInfo& p, const Json& written, Reading& reading) const override {
        const auto named = reading.named(written);
        if (!named || !p.on_screen) return read_colour(written, std::string(p.key), reading);
        const DVec3* linear = std::get_if<DVec3>(&*named);
        return linear ? screen_from_linear(*linear) : read_colour(written, std::string(p.key), reading);
    }
    /// A part of it, ".red" or ".x".
    std::optional<Result<double>> single(const ParameterInfo& p, const Json* written, std::string_view rest,
                                         Reading& reading) const override {
        for (int i = 0; i < 3; ++i) {
            const auto n = static_cast<std::size_t>(i);
            if (rest != colour_words[n] && rest != axis_letters.substr(n, 1)) continue;
            if (!written) return Result<double>(p.standard_vector[i]);
            if (written->is_array() && written->size() == 3) return reading.number((*written)[n]);
            if (reading.named(*written)) return Result<double>(std::get<DVec3>(read(p, *written, reading))[i]);
        }
        return std::nullopt;
    }
    void digest(const Value& value, Digest& digest) const override { digest.add(std::get<DVec3>(value)); }
    Json schema(const ParameterInfo&) const override { return three_schema(); }
    std::string standard_words(const ParameterInfo& p) const override {
        return fmt::format("{}, {}, {}", format_number(p.standard_vector.x, 3), format_number(p.standard_vector.y, 3),
                           format_number(p.standard_vector.z, 3));
    }
};

}  // namespace

const Kind& colour() {
    static const ColourKind kind;
    return kind;
}

}  // namespace bricol::kinds
