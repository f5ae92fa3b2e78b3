// SPDX-License-Identifier: GPL-3.0-or-later
// Rows of pictures: a folder of them, kept as they come, and a moving picture made of it.
#pragma once

#include <functional>
#include <optional>
#include <string>

#include "core/ground/result.h"
#include "core/still/still.h"

namespace bricol {

struct FrameRow {
    int frames = 120;
    std::string out;      ///< a folder of PNGs, or FILE.webp or FILE.gif
    double rate = 25;     ///< pictures a second of a moving picture
    std::string made_of;  ///< everything the pictures depend on, as text: frames of anything else are made again
    StillCurve curve = StillCurve::filmic;
    /// One picture; a problem ends the row.
    std::function<Result<StillPicture>(int frame)> take;
    /// Told after every frame: how many stand, and how many of those were there already.
    std::function<void(int done, int kept)> progress;
};

struct FrameRowDone {
    int made = 0, kept = 0;
    bool stopped = false;
};

/// Takes what is missing of a row and, for a moving picture, puts it together in the end; frames stand in a folder
/// beside it until then (FILE.frames). A stop leaves the whole frames where they are for the next time. Frames are
/// written beside and renamed, so that none is ever half. The last frame is the one before the first comes again: a
/// loop has no doubled one.
Result<FrameRowDone> take_frames(const FrameRow& row);

/// Whether a name asks for a moving picture.
bool is_moving_picture(const std::string& name);

/// Puts PNGs together as a moving picture that loops: WebP (lossy, 90 of 100) or GIF (256 colours each), by the ending
/// of `path`.
std::optional<Problem> write_moving_picture(const std::vector<std::string>& frames, const std::string& path,
                                            double rate);

}  // namespace bricol
