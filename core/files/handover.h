// SPDX-License-Identifier: GPL-3.0-or-later
// A folder that an engine or a renderer takes as it is, with a list of what is in it.
#pragma once

#include "core/files/dressing.h"
#include "core/files/export.h"
#include "core/make/make.h"

namespace bricol {

struct FrameRange {
    double first = 0, last = 0;  ///< values of `frame`, both made
    double rate = 25;            ///< frames a second
};

struct HandoverOrder {
    const Recipe& recipe;
    MakeOptions making;  ///< made with export levels whatever it says
    std::string folder;
    std::vector<std::string> parts;               ///< only these; empty for those that are delivered
    std::vector<std::string> suffixes = {"glb"};  ///< kinds of file
    bool apart = false;                           ///< a file a part, its pivot at the file's origin
    Dressing dressing;
    ExportOptions options;             ///< unit, up axis, what goes along; names and presets are settled here
    std::optional<FrameRange> frames;  ///< what `frame` moves goes along
    bool presets = false;              ///< and what the presets make, for formats that keep them
    bool page = false;                 ///< a page to look at it, preview.html
    std::function<void(const std::string& what)> progress;
};

struct HandedFile {
    std::string name;  ///< in the folder
    std::size_t bytes = 0;
    std::string hash;
};

struct HandoverReport {
    std::vector<HandedFile> files;   ///< handover.json, which lists the others, is not among them
    std::vector<std::string> notes;  ///< what could not be done as asked, a sentence each
    std::vector<NamedShape> shapes;  ///< as they were written
    bool stopped = false;
    bool broken = false;  ///< the recipe has errors: nothing was written
    std::optional<Problem> problem;
};

/// Makes the recipe and writes the folder. Files that an earlier hand-over left there are replaced, or taken away when
/// they are not written again; a file of somebody else's that stands in the way is left alone and refuses the whole.
/// The same recipe and order give the same bytes.
HandoverReport hand_over(const HandoverOrder& order);

}  // namespace bricol
