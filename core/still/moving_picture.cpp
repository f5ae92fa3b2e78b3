// SPDX-License-Identifier: GPL-3.0-or-later
// Frames as one picture that moves: WebP by libwebp, GIF by giflib.
#include <algorithm>
#include <cmath>
#include <fmt/format.h>
#include <gif_lib.h>
#include <memory>
#include <png.h>
#include <webp/encode.h>
#include <webp/mux.h>

#include "core/files/files.h"
#include "core/ground/stop.h"
#include "core/still/frames.h"

namespace bricol {

namespace {

struct Frame {
    int width = 0, height = 0;
    std::vector<std::uint8_t> rgba;
};

Result<Frame> read_frame(const std::string& name) {
    png_image image{};
    image.version = PNG_IMAGE_VERSION;
    const Problem broken{"This frame cannot be read again.", name, "Delete it and take the row once more."};
    if (!png_image_begin_read_from_file(&image, name.c_str())) return broken;
    image.format = PNG_FORMAT_RGBA;
    Frame frame{static_cast<int>(image.width), static_cast<int>(image.height), {}};
    frame.rgba.resize(PNG_IMAGE_SIZE(image));
    if (!png_image_finish_read(&image, nullptr, frame.rgba.data(), 0, nullptr)) return broken;
    return frame;
}

/// When a frame begins, rounded from the start so that rounding does not add up (in `unit`s of a second).
int start_of(std::size_t frame, double rate, double unit) {
    return static_cast<int>(std::lround(static_cast<double>(frame) / rate / unit));
}

std::optional<Problem> different(const Frame& frame, const Frame& first, const std::string& name) {
    if (frame.width == first.width && frame.height == first.height) return std::nullopt;
    return Problem{"This frame has another size than the first.", name, "Empty the folder and take the row once more."};
}

std::optional<Problem> write_webp(const std::vector<std::string>& names, const std::string& path, double rate) {
    const Problem failed{"The moving picture could not be put together.", path, "Try a smaller size, or PNGs."};
    std::unique_ptr<WebPAnimEncoder, decltype(&WebPAnimEncoderDelete)> encoder(nullptr, WebPAnimEncoderDelete);
    Frame first;
    WebPConfig config;
    if (!WebPConfigInit(&config)) return failed;
    config.quality = 90;
    for (std::size_t i = 0; i < names.size(); ++i) {
        stop_point();
        const auto frame = read_frame(names[i]);
        if (!frame) return frame.problem();
        if (i == 0) {
            first = *frame;
            WebPAnimEncoderOptions options;
            WebPAnimEncoderOptionsInit(&options);
            encoder.reset(WebPAnimEncoderNew(frame->width, frame->height, &options));
            if (!encoder) return Problem{"WebP holds up to 16383 pixels a side.", path, "Take a smaller size."};
        }
        if (auto problem = different(*frame, first, names[i])) return problem;
        WebPPicture picture;
        if (!WebPPictureInit(&picture)) return failed;
        picture.use_argb = 1, picture.width = frame->width, picture.height = frame->height;
        const bool good = WebPPictureImportRGBA(&picture, frame->rgba.data(), 4 * frame->width) &&
                          WebPAnimEncoderAdd(encoder.get(), &picture, start_of(i, rate, 1e-3), &config);
        WebPPictureFree(&picture);
        if (!good) return failed;
    }
    WebPData data;
    WebPDataInit(&data);
    if (!WebPAnimEncoderAdd(encoder.get(), nullptr, start_of(names.size(), rate, 1e-3), nullptr) ||
        !WebPAnimEncoderAssemble(encoder.get(), &data))
        return failed;
    auto problem = write_file(path, std::string_view(reinterpret_cast<const char*>(data.bytes), data.size));
    WebPDataClear(&data);
    return problem;
}

/// One frame of a GIF in colours of its own.
bool put_gif_frame(GifFileType* gif, const Frame& frame, int hundredths) {
    const auto count = static_cast<std::size_t>(frame.width) * static_cast<std::size_t>(frame.height);
    std::vector<GifByteType> channel[3], chosen(count);
    for (std::size_t c = 0; c < 3; ++c) {
        channel[c].resize(count);
        for (std::size_t i = 0; i < count; ++i) channel[c][i] = frame.rgba[4 * i + c];
    }
    int colours = 256;
    const std::unique_ptr<ColorMapObject, decltype(&GifFreeMapObject)> map(GifMakeMapObject(256, nullptr),
                                                                           GifFreeMapObject);
    if (!map || GifQuantizeBuffer(static_cast<unsigned>(frame.width), static_cast<unsigned>(frame.height), &colours,
                                  channel[0].data(), channel[1].data(), channel[2].data(), chosen.data(),
                                  map->Colors) == GIF_ERROR)
        return false;
    GraphicsControlBlock control{DISPOSE_DO_NOT, false, hundredths, NO_TRANSPARENT_COLOR};
    GifByteType bytes[4];
    EGifGCBToExtension(&control, bytes);
    if (EGifPutExtension(gif, GRAPHICS_EXT_FUNC_CODE, sizeof bytes, bytes) == GIF_ERROR ||
        EGifPutImageDesc(gif, 0, 0, frame.width, frame.height, false, map.get()) == GIF_ERROR)
        return false;
    return EGifPutLine(gif, chosen.data(), static_cast<int>(count)) != GIF_ERROR;
}

int put_gif_bytes(GifFileType* gif, const GifByteType* bytes, int count) {
    static_cast<std::string*>(gif->UserData)
        ->append(reinterpret_cast<const char*>(bytes), static_cast<std::size_t>(count));
    return count;
}

/// Ends the file whichever way it went.
struct GifCloser {
    void operator()(GifFileType* gif) const {
        int error = 0;
        EGifCloseFile(gif, &error);
    }
};

std::optional<Problem> write_gif(const std::vector<std::string>& names, const std::string& path, double rate) {
    const Problem failed{"The moving picture could not be put together.", path, "Try a smaller size, or PNGs."};
    std::string bytes;
    int error = 0;
    std::unique_ptr<GifFileType, GifCloser> gif(EGifOpen(&bytes, put_gif_bytes, &error));
    if (!gif) return failed;
    EGifSetGifVersion(gif.get(), true);
    Frame first;
    for (std::size_t i = 0; i < names.size(); ++i) {
        stop_point();
        const auto frame = read_frame(names[i]);
        if (!frame) return frame.problem();
        if (i == 0) {
            first = *frame;
            if (EGifPutScreenDesc(gif.get(), frame->width, frame->height, 8, 0, nullptr) == GIF_ERROR) return failed;
            // Played again and again: the application extension every reader knows.
            const unsigned char loops[3] = {1, 0, 0};
            if (EGifPutExtensionLeader(gif.get(), APPLICATION_EXT_FUNC_CODE) == GIF_ERROR ||
                EGifPutExtensionBlock(gif.get(), 11, "NETSCAPE2.0") == GIF_ERROR ||
                EGifPutExtensionBlock(gif.get(), 3, loops) == GIF_ERROR ||
                EGifPutExtensionTrailer(gif.get()) == GIF_ERROR)
                return failed;
        }
        if (auto problem = different(*frame, first, names[i])) return problem;
        if (!put_gif_frame(gif.get(), *frame, start_of(i + 1, rate, 1e-2) - start_of(i, rate, 1e-2))) return failed;
    }
    gif.reset();
    return write_file(path, bytes);
}

}  // namespace

std::optional<Problem> write_moving_picture(const std::vector<std::string>& frames, const std::string& path,
                                            double rate) {
    return path.ends_with(".gif") ? write_gif(frames, path, rate) : write_webp(frames, path, rate);
}

}  // namespace bricol
