// SPDX-License-Identifier: GPL-3.0-or-later
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
    return write_file(path, [&](const Sink& sink) {
        PngTarget target{&sink};
        png_structp png = png_create_write_struct(PNG_LIBPNG_VER_STRING, nullptr, png_failed, nullptr);
        png_infop info = png_create_info_struct(png);
        png_set_write_fn(png, &target, put_bytes, [](png_structp) {});
        png_set_IHDR(png, info, static_cast<png_uint_32>(p.width), static_cast<png_uint_32>(p.height), 8,
                     PNG_COLOR_TYPE_RGB, PNG_INTERLACE_NONE, PNG_COMPRESSION_TYPE_DEFAULT, PNG_FILTER_TYPE_DEFAULT);
        png_set_sRGB(png, info, PNG_sRGB_INTENT_PERCEPTUAL);
        png_write_info(png, info);
        std::vector<png_byte> row(3 * static_cast<std::size_t>(p.width));
        for (int y = 0; y < p.height && !target.full; ++y) {
            for (int x = 0; x < p.width; ++x) {
                const Vec3 c = screen_colour(p.colour[static_cast<std::size_t>(y * p.width + x)], curve);
                for (int k = 0; k < 3; ++k)
                    row[3 * static_cast<std::size_t>(x) + static_cast<std::size_t>(k)] =
                        static_cast<png_byte>(std::lround(255 * c[k]));
            }
            png_write_row(png, row.data());
        }
        if (!target.full) png_write_end(png, info);
        png_destroy_write_struct(&png, &info);
    });
}

}  // namespace

std::optional<Problem> write_picture(const StillPicture& picture, const std::string& path, StillCurve curve) {
    if (path.ends_with(".png")) return write_png(picture, path, curve);
    if (path.ends_with(".exr")) return write_exr(picture, path);
    return Problem{"Pictures are written as PNG or EXR.", path, "Give the file the ending .png or .exr."};
}

}  // namespace bricol
