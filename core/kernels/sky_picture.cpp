// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/kernels/sky_picture.h"

#include <cmath>
#include <charconv>
#include <fmt/format.h>
#include <optional>

namespace bricol {

namespace {

Problem damaged() { return {"This picture is damaged or ends too early.", "", "Save it again as EXR or HDR."}; }

/// Reads bytes and remembers when there were none left.
struct Bytes {
    std::string_view text;
    std::size_t at = 0;
    bool ended = false;
    std::uint8_t next() {
        if (at < text.size()) return static_cast<std::uint8_t>(text[at++]);
        ended = true;
        return 0;
    }
    std::string_view line() {
        const std::size_t end = text.find('\n', at);
        ended = ended || end == std::string_view::npos;
        const std::string_view got = text.substr(at, end - at);
        at = end == std::string_view::npos ? text.size() : end + 1;
        return got;
    }
};

/// "-Y 512 +X 1024": the only order cameras and stitchers write.
std::optional<std::pair<int, int>> size_of(std::string_view line) {
    int height = 0, width = 0;
    const char *at = line.data(), *end = at + line.size();
    if (!line.starts_with("-Y ")) return std::nullopt;
    auto read = std::from_chars(at + 3, end, height);
    if (read.ec != std::errc() || std::string_view(read.ptr, end).substr(0, 4) != " +X ") return std::nullopt;
    read = std::from_chars(read.ptr + 4, end, width);
    if (read.ec != std::errc() || width < 1 || height < 1) return std::nullopt;
    return std::pair(width, height);
}

Vec3 light_of(const std::uint8_t* rgbe) {
    if (rgbe[3] == 0) return Vec3(0);
    const float scale = std::ldexp(1.0f, rgbe[3] - 136);
    return Vec3(rgbe[0], rgbe[1], rgbe[2]) * scale;
}

/// One row: the four channels packed one after another in runs, or plain pixels.
bool read_row(Bytes& bytes, std::size_t width, std::vector<std::uint8_t>& row) {
    row.resize(4 * width);
    const std::uint8_t a = bytes.next(), b = bytes.next(), c = bytes.next(), d = bytes.next();
    const bool packed = a == 2 && b == 2 && c < 128 && (std::size_t(c) << 8 | d) == width;
    if (!packed) {
        row[0] = a, row[1] = b, row[2] = c, row[3] = d;
        for (std::size_t i = 4; i < row.size(); ++i) row[i] = bytes.next();
        return !bytes.ended;
    }
    for (std::size_t channel = 0; channel < 4; ++channel)
        for (std::size_t x = 0; x < width;) {
            std::size_t count = bytes.next();
            const bool run = count > 128;
            if (run) count -= 128;
            if (bytes.ended || count == 0 || x + count > width) return false;
            const std::uint8_t same = run ? bytes.next() : 0;
            for (; count > 0; --count) row[4 * x++ + channel] = run ? same : bytes.next();
        }
    return !bytes.ended;
}

Result<SkyPicture> read_shared_exponents(std::string_view text) {
    Bytes bytes{text};
    bool format = false;
    for (std::string_view line = bytes.line(); !line.empty() && !bytes.ended; line = bytes.line()) {
        if (line.starts_with("FORMAT=") && line != "FORMAT=32-bit_rle_rgbe")
            return Problem{"This picture's colours are not red, green and blue.", "", "Save it as EXR or HDR in RGB."};
        format = true;
    }
    const auto size = size_of(bytes.line());
    if (!format || !size) return damaged();
    if (auto refused = refused_sky_size(size->first, size->second)) return *refused;
    SkyPicture picture{size->first, size->second, {}};
    const auto width = static_cast<std::size_t>(size->first);
    std::vector<std::uint8_t> row;
    for (int y = 0; y < picture.height; ++y) {
        if (!read_row(bytes, width, row)) return damaged();
        for (std::size_t x = 0; x < width; ++x) picture.pixels.push_back(light_of(&row[4 * x]));
    }
    return picture;
}

}  // namespace

std::optional<Problem> refused_sky_size(double width, double height) {
    if (width >= 1 && height >= 1 && width * height <= most_sky_pixels) return std::nullopt;
    return Problem{fmt::format("This picture has {:.0f} × {:.0f} pixels; a sky is taken up to {:.0f} million.", width,
                               height, most_sky_pixels / 1e6),
                   "", "Make it smaller: 4096 × 2048 is plenty for light."};
}

Result<SkyPicture> read_sky_picture(std::string_view bytes) {
    if (bytes.starts_with("#?")) return read_shared_exponents(bytes);
    if (bytes.starts_with("\x76\x2f\x31\x01")) return read_sky_exr(bytes);
    return Problem{"This is neither an EXR nor an HDR picture.", "",
                   "A sky needs a picture of true brightness; save it as EXR or HDR."};
}

}  // namespace bricol
