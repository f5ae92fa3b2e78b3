// SPDX-License-Identifier: GPL-3.0-or-later
#include <fmt/format.h>

#include "core/kernels/drape.h"
#include "core/kernels/transform.h"
#include "core/catalogue/settings.h"
#include "core/ground/words.h"

namespace bricol {

namespace {

struct CheckTile {
    enum class Tile { box, given };
    bool along_x = true;
    bool along_y = true;
    Tile tile = Tile::box;
    DVec3 low{0, 0, 0};
    DVec3 high{1, 1, 0};
    double within = 0.0001;
};

void run_check_tile(const CheckTile& s, StepRun& run) {
    const auto box = box_of(run.shape());
    run.give(run.input_pointer("shape"));
    if (!box || run.shape().mesh.empty()) return;
    const DVec3 low = s.tile == CheckTile::Tile::box ? box->low : s.low,
                high = s.tile == CheckTile::Tile::box ? box->high : s.high;
    for (int axis = 0; axis < 2; ++axis) {
        if (!(axis == 0 ? s.along_x : s.along_y)) continue;
        const char* name = axis == 0 ? "x" : "y";
        TileCheck check = check_tile(run.shape().mesh, axis, low[axis], high[axis], s.within);
        if (check.unmatched.empty()) {
            run.tell(Severity::note, check.pairs > 0 ? "tile-matches" : "tile-closed",
                     check.pairs > 0
                         ? fmt::format("Across {}: {} their partners.", name,
                                       counted(check.pairs, "border point meets", "border points meet"))
                         : fmt::format("Across {} there are no border points on the tile's sides to match.", name));
            continue;
        }
        std::string where;
        for (std::size_t i = 0; i < std::min<std::size_t>(check.unmatched.size(), 3); ++i)
            where += fmt::format("{}({}, {}, {})", i ? ", " : "",
                                 format_value(static_cast<double>(check.unmatched[i].x), Quantity::length, "m"),
                                 format_value(static_cast<double>(check.unmatched[i].y), Quantity::length, "m"),
                                 format_value(static_cast<double>(check.unmatched[i].z), Quantity::length, "m"));
        Finding& finding =
            run.tell(Severity::caution, "tile-differs",
                     fmt::format("Across {}: {} no partner on the opposite side, {} do: {}{}.{}", name,
                                 counted(check.unmatched.size(), "border point has", "border points have"), check.pairs,
                                 where, check.unmatched.size() > 3 ? " …" : "",
                                 check.worst > 0 ? fmt::format(" The nearest are up to {} off.",
                                                               format_value(check.worst, Quantity::length, "m"))
                                                 : ""));
        finding.places = std::move(check.unmatched);
        if (finding.places.size() > 256) finding.places.resize(256);
    }
}

const StepOf<CheckTile> check_tile_step(
    StepInfo{
        .key = "check_tile",
        .name = "Check tile",
        .family = Family::faces,
        .purpose = "Tells whether a tile's borders meet when it is set side by side.",
        .words = "seamless repeat match border pattern tileable",
        .help = "Compares the open border on opposite sides of the tile and names the points that find no partner. The "
                "shape passes through as it is.",
        .glyph = "M4 4h7v7H4z M13 4h7v7h-7z M4 13h7v7H4z M13.5 17 L15.5 19 L20 14",
        .gives = 0,
        .inputs = {{"shape", "Tile", content_faces, true}},
        .telling = ""},
    {toggle_of(&CheckTile::along_x, "along_x", "Across x", "Compares the sides at the low and high x."),
     toggle_of(&CheckTile::along_y, "along_y", "Across y", "Compares the sides at the low and high y."),
     choice_of(&CheckTile::tile, "tile", "Tile is",
               {{CheckTile::Tile::box, "box", "its own box"}, {CheckTile::Tile::given, "given", "a rectangle"}},
               "What is repeated."),
     when(vector_of(&CheckTile::low, "low", "Low corner", Quantity::length, "Of the tile, x and y."), "tile=given"),
     when(vector_of(&CheckTile::high, "high", "High corner", Quantity::length, "Of the tile, x and y."), "tile=given"),
     length_of(&CheckTile::within, "within", "Within", 1e-7, 0.01, "Points nearer than this meet.")},
    run_check_tile);

}  // namespace

}  // namespace bricol
