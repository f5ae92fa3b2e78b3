// SPDX-License-Identifier: GPL-3.0-or-later
// What a shape can hold, as bits and in words.
#pragma once

#include <string>

namespace bricol {

/// `content_edges` stands for loose edges: those without a face.
enum Content : unsigned {
    content_faces = 1,
    content_curves = 2,
    content_points = 4,
    content_edges = 8,
    content_instances = 16
};
/// Everything a step that only moves or joins things can take.
inline constexpr unsigned content_any = 31;

/// All of it, for lists: "mesh, curves, loose edges".
std::string content_list(unsigned content);
/// What to ask for, for sentences: "curves or a mesh". What comes with a mesh anyway is left out; "nothing" for none.
std::string content_words(unsigned content);

}  // namespace bricol
