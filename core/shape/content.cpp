// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/shape/content.h"

#include "core/shape/shape.h"

namespace bricol {

std::string content_list(unsigned content) {
    std::string words;
    const auto add = [&](unsigned bit, const char* word) {
        if (content & bit) words += (words.empty() ? "" : ", ") + std::string(word);
    };
    add(content_faces, "mesh");
    add(content_curves, "curves");
    add(content_edges, "loose edges");
    add(content_points, "points");
    add(content_instances, "instances");
    return words;
}

std::string content_words(unsigned content) {
    std::string words;
    const auto add = [&](unsigned bit, const char* word) {
        if (content & bit) words += (words.empty() ? "" : " or ") + std::string(word);
    };
    add(content_curves, "curves");
    add(content_faces, "a mesh");
    if (!(content & content_faces)) add(content_instances, "instances");
    if (!(content & content_faces)) add(content_edges, "edges");
    if (!(content & (content_faces | content_edges))) add(content_points, "points");
    return words.empty() ? "nothing" : words;
}

std::string content_found(const Shape& shape) {
    if (shape.empty()) return "nothing";
    if (!shape.instances.empty()) return "instances";
    const unsigned content = content_of(shape);
    if (content & content_faces) return content & content_curves ? "a mesh and curves" : "a mesh";
    if (content & content_curves) return "curves";
    return content & content_edges ? "loose edges" : "points";
}

}  // namespace bricol
