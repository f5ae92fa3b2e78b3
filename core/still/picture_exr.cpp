// SPDX-License-Identifier: GPL-3.0-or-later
// EXR: linear light and what else is known of every pixel, as layers.
#include <OpenEXR/ImfChannelList.h>
#include <OpenEXR/ImfFrameBuffer.h>
#include <OpenEXR/ImfHeader.h>
#include <OpenEXR/ImfIO.h>
#include <OpenEXR/ImfOutputFile.h>
#include <cstring>

#include "core/files/files.h"
#include "core/still/picture_file.h"

namespace bricol {

namespace {

/// A file in memory: it is written where it belongs in one go.
class MemoryFile : public Imf::OStream {
public:
    MemoryFile() : Imf::OStream("picture") {}
    void write(const char bytes[], int count) override {
        const auto n = static_cast<std::size_t>(count);
        if (content.size() < at_ + n) content.resize(at_ + n);
        std::memcpy(content.data() + at_, bytes, n);
        at_ += n;
    }
    std::uint64_t tellp() override { return at_; }
    void seekp(std::uint64_t at) override { at_ = at; }
    std::string content;

private:
    std::size_t at_ = 0;
};

}  // namespace

std::optional<Problem> write_exr(const StillPicture& p, const std::string& path) {
    try {
        Imf::Header header(p.width, p.height);
        header.compression() = Imf::ZIP_COMPRESSION;
        Imf::FrameBuffer frame;
        const auto width = static_cast<std::size_t>(p.width);
        const auto add = [&](const char* name, Imf::PixelType type, const void* first, std::size_t stride) {
            header.channels().insert(name, Imf::Channel(type));
            frame.insert(name, Imf::Slice(type, static_cast<char*>(const_cast<void*>(first)), stride, stride * width));
        };
        const auto three = [&](const std::array<const char*, 3>& names, const std::vector<Vec3>& values) {
            for (std::size_t k = 0; k < 3; ++k)
                add(names[k], Imf::FLOAT, reinterpret_cast<const float*>(values.data()) + k, sizeof(Vec3));
        };
        three({"R", "G", "B"}, p.colour);
        three({"albedo.R", "albedo.G", "albedo.B"}, p.albedo);
        three({"normal.X", "normal.Y", "normal.Z"}, p.normal);
        add("A", Imf::FLOAT, p.cover.data(), sizeof(float));
        add("depth.Z", Imf::FLOAT, p.depth.data(), sizeof(float));
        // Numbers count from 1; 0 is nothing.
        std::vector<std::uint32_t> part(p.part.size()), material(p.material.size());
        for (std::size_t i = 0; i < part.size(); ++i) {
            part[i] = static_cast<std::uint32_t>(p.part[i] + 1);
            material[i] = static_cast<std::uint32_t>(p.material[i]);
        }
        add("part.id", Imf::UINT, part.data(), sizeof(std::uint32_t));
        add("material.id", Imf::UINT, material.data(), sizeof(std::uint32_t));
        MemoryFile memory;
        {
            Imf::OutputFile file(memory, header);
            file.setFrameBuffer(frame);
            file.writePixels(p.height);
        }
        return write_file(path, memory.content);
    } catch (const std::exception& error) {
        return Problem{std::string("The picture could not be written: ") + error.what(), path, ""};
    }
}

}  // namespace bricol
