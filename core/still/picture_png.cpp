// SPDX-License-Identifier: GPL-3.0-or-later
#include <algorithm>
#include <cmath>
#include <csetjmp>
#include <png.h>
#include <stdexcept>

#include "core/files/files.h"
#include "core/still/picture_file.h"

namespace bricol {

std::optional<Problem> write_exr(const StillPicture& picture, const std::string& path);

namespace {

/// The sink of write_file behind libpng's callback.
struct PngTarget {
    const Sink* sink;
    bool full = false;
};

void put_bytes(png_structp png, png_bytep bytes, png_size_t count) {
    auto* target = static_cast<PngTarget*>(png_get_io_ptr(png));
    if (!target->full && !(*target->sink)({reinterpret_cast<const char*>(bytes), count})) target->full = true;
}

[[noreturn]] void png_failed(png_structp, png_const_charp what) { throw std::runtime_error(what); }

std::optional<Problem> write_png(const StillPicture& p, const std::string& path, StillCurve curve) {
    const std::vector<std::uint8_t> bytes = screen_bytes(p, curve);
    const auto width = static_cast<std::size_t>(p.width);
    return write_file(path, [&](const Sink& sink) {
        PngTarget target{&sink};
        png_structp png = png_create_write_struct(PNG_LIBPNG_VER_STRING, nullptr, png_failed, nullptr);
        png_infop info = png_create_info_struct(png);
        png_set_write_fn(png, &target, put_bytes, [](png_structp) {});
        png_set_IHDR(png, info, static_cast<png_uint_32>(p.width), static_cast<png_uint_32>(p.height), 8,
                     p.clear ? PNG_COLOR_TYPE_RGBA : PNG_COLOR_TYPE_RGB, PNG_INTERLACE_NONE,
                     PNG_COMPRESSION_TYPE_DEFAULT, PNG_FILTER_TYPE_DEFAULT);
        png_set_sRGB(png, info, PNG_sRGB_INTENT_PERCEPTUAL);
        png_write_info(png, info);
        const std::size_t channels = p.clear ? 4 : 3;
        std::vector<png_byte> row(channels * width);
        for (std::size_t y = 0; y < static_cast<std::size_t>(p.height) && !target.full; ++y) {
            for (std::size_t x = 0; x < width; ++x)
                std::copy_n(&bytes[4 * (y * width + x)], channels, &row[channels * x]);
            png_write_row(png, row.data());
        }
        if (!target.full) png_write_end(png, info);
        png_destroy_write_struct(&png, &info);
    });
}

}  // namespace

std::vector<std::uint8_t> screen_bytes(const StillPicture& p, StillCurve curve) {
    std::vector<std::uint8_t> bytes(4 * p.colour.size(), 255);
    for (std::size_t i = 0; i < p.colour.size(); ++i) {
        const float cover = p.clear ? p.cover[i] : 1;
        const Vec3 c = screen_colour(cover > 0 ? p.colour[i] / cover : Vec3(0), curve);
        for (std::size_t k = 0; k < 3; ++k)
            bytes[4 * i + k] = static_cast<std::uint8_t>(std::lround(255 * c[static_cast<int>(k)]));
        if (p.clear) bytes[4 * i + 3] = static_cast<std::uint8_t>(std::lround(255 * std::clamp(cover, 0.0f, 1.0f)));
    }
    return bytes;
}

std::optional<Problem> write_picture(const StillPicture& picture, const std::string& path, StillCurve curve) {
    if (path.ends_with(".png")) return write_png(picture, path, curve);
    if (path.ends_with(".exr")) return write_exr(picture, path);
    return Problem{"Pictures are written as PNG or EXR.", path, "Give the file the ending .png or .exr."};
}

}  // namespace bricol
