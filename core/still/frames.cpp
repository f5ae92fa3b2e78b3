// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/still/frames.h"

#include <filesystem>
#include <fmt/format.h>

#include "core/files/files.h"
#include "core/ground/stop.h"
#include "core/still/picture_file.h"

namespace bricol {

namespace {

namespace fs = std::filesystem;

constexpr const char* note_name = "frames.txt";

std::string frame_name(const std::string& folder, int frame) { return fmt::format("{}/{:04}.png", folder, frame); }

/// Pictures that are called by a number alone, as those of a row are.
std::vector<fs::path> numbered_pictures(const std::string& folder) {
    std::vector<fs::path> found;
    std::error_code error;
    for (const auto& entry : fs::directory_iterator(folder, error)) {
        const std::string name = entry.path().filename().string();
        if (entry.path().extension() == ".png" && name.size() >= 8 &&
            name.find_first_not_of("0123456789") == name.size() - 4)
            found.push_back(entry.path());
    }
    return found;
}

/// A folder for frames of exactly this: what was made of something else is taken out, but only of a row of ours.
std::optional<Problem> prepare_folder(const std::string& folder, const std::string& made_of) {
    std::error_code error;
    fs::create_directories(folder, error);
    if (error)
        return Problem{"The folder cannot be made: " + error.message() + ".", folder, "Choose another, or make it."};
    const std::string note = folder + "/" + note_name;
    const auto before = read_file(note);
    if (before && *before == made_of) return std::nullopt;
    const std::vector<fs::path> pictures = numbered_pictures(folder);
    if (!before && !pictures.empty())
        return Problem{"This folder holds numbered pictures that no row of Bricol left there.", folder,
                       "Choose an empty folder, or move them away."};
    for (const fs::path& picture : pictures) fs::remove(picture, error);
    return write_file(note, made_of);
}

}  // namespace

bool is_moving_picture(const std::string& name) { return name.ends_with(".webp") || name.ends_with(".gif"); }

Result<FrameRowDone> take_frames(const FrameRow& row) {
    const bool moving = is_moving_picture(row.out);
    const std::string folder = moving ? row.out + ".frames" : row.out;
    if (auto problem = prepare_folder(folder, row.made_of)) return *problem;
    FrameRowDone done;
    std::vector<std::string> names;
    std::error_code error;
    for (int frame = 0; frame < row.frames; ++frame) {
        names.push_back(frame_name(folder, frame));
        if (fs::exists(names.back(), error)) {
            ++done.kept;
        } else {
            if (stop_asked()) {
                done.stopped = true;
                return done;
            }
            const Result<StillPicture> picture = row.take(frame);
            if (!picture) return picture.problem();
            if (picture->stopped) {
                done.stopped = true;
                return done;
            }
            if (auto problem = write_picture(*picture, names.back(), row.curve)) return *problem;
            ++done.made;
        }
        if (row.progress) row.progress(frame + 1, done.kept);
    }
    if (!moving) return done;
    if (auto problem = write_moving_picture(names, row.out, row.rate)) return *problem;
    for (const std::string& name : names) fs::remove(name, error);
    fs::remove(folder + "/" + note_name, error);
    fs::remove(folder, error);  // only when nothing else is in it
    return done;
}

}  // namespace bricol
