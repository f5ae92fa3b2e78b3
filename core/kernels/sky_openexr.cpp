// SPDX-License-Identifier: GPL-3.0-or-later
// The only file that sees OpenEXR's reader.
#include <ImfIO.h>
#include <ImfRgbaFile.h>
#include <cmath>
#include <cstring>
#include <stdexcept>

#include "core/kernels/sky_picture.h"

namespace bricol {

namespace {

class MemoryStream final : public Imf::IStream {
public:
    explicit MemoryStream(std::string_view bytes) : Imf::IStream("sky"), bytes_(bytes) {}
    bool read(char out[], int count) override {
        if (count < 0 || at_ + static_cast<std::size_t>(count) > bytes_.size())
            throw std::runtime_error("ends too early");
        std::memcpy(out, bytes_.data() + at_, static_cast<std::size_t>(count));
        at_ += static_cast<std::size_t>(count);
        return at_ < bytes_.size();
    }
    std::uint64_t tellg() override { return at_; }
    void seekg(std::uint64_t to) override { at_ = std::min<std::size_t>(to, bytes_.size()); }
    void clear() override {}

private:
    std::string_view bytes_;
    std::size_t at_ = 0;
};

float usable(float v) { return std::isfinite(v) && v > 0 ? v : 0; }

}  // namespace

Result<SkyPicture> read_sky_exr(std::string_view bytes) {
    try {
        MemoryStream stream(bytes);
        Imf::RgbaInputFile file(stream, 0);
        const Imath::Box2i window = file.dataWindow();
        const double width = static_cast<double>(window.max.x) - window.min.x + 1,
                     height = static_cast<double>(window.max.y) - window.min.y + 1;
        if (auto refused = refused_sky_size(width, height)) return *refused;
        SkyPicture picture{static_cast<int>(width), static_cast<int>(height), {}};
        std::vector<Imf::Rgba> row(static_cast<std::size_t>(width));
        picture.pixels.reserve(row.size() * static_cast<std::size_t>(height));
        for (int y = window.min.y; y <= window.max.y; ++y) {
            file.setFrameBuffer(row.data() - window.min.x, 1, 0);
            file.readPixels(y, y);
            for (const Imf::Rgba& p : row) picture.pixels.emplace_back(usable(p.r), usable(p.g), usable(p.b));
        }
        return picture;
    } catch (const std::bad_alloc&) {
        throw;
    } catch (const std::exception&) {
        return Problem{"This EXR picture is damaged or of a kind that is not read.", "",
                       "Save it again with plain red, green and blue channels."};
    }
}

}  // namespace bricol
