// SPDX-License-Identifier: GPL-3.0-or-later
// The document as an immutable value. Edits return a new recipe; unchanged parts and steps are shared.
#pragma once

#include <array>
#include <map>
#include <memory>
#include <nlohmann/json.hpp>
#include <optional>
#include <string>
#include <vector>

#include "core/ground/json.h"
#include "core/ground/result.h"
#include "core/recipe/dial.h"

namespace bricol {

struct Step {
    std::string id;     ///< unique in its part; usable in formulas
    std::string type;   ///< name in the catalogue ("lathe")
    std::string title;  ///< what the artist calls it; empty for the catalogue's name
    std::string note;
    bool skipped = false, ghost = false;
    std::optional<std::array<double, 2>> at;  ///< place of its card on the sheet, when the artist put it somewhere
    std::map<std::string, std::vector<std::array<double, 2>>>
        via;                                    ///< points an input's wire is led through on the sheet
    std::map<std::string, std::string> inputs;  ///< input → step id, or "part:name"; the main input is "shape"
    Json settings = Json::object();             ///< parameters as written, and unknown keys, kept

    friend bool operator==(const Step&, const Step&) = default;
};

/// A titled area of the sheet.
struct SheetFrame {
    std::string title;
    std::array<double, 2> at{0, 0}, size{300, 200};
    Json extra = Json::object();  ///< unknown keys, kept
    friend bool operator==(const SheetFrame&, const SheetFrame&) = default;
};

struct Part {
    std::string name;
    std::string result;  ///< id of the step whose shape is the part's; empty for the last step
    bool hidden = false;
    bool helper = false;  ///< worked with and seen as wire, but never in files, pictures and counts
    std::vector<std::shared_ptr<const Step>> steps;  ///< order of the strip; links may make it a graph
    std::vector<SheetFrame> frames;
    Json extra = Json::object();  ///< unknown keys, kept

    /// Whether it stands in what the recipe makes: in files, pictures and counts.
    bool delivered() const { return !hidden && !helper; }
};

/// A reference picture standing on one of the three planes.
struct Picture {
    std::string file;  ///< relative to the recipe
    std::string plane = "front";
    double height = 1;          ///< metres
    double across = 0, up = 0;  ///< place of its lower middle on the plane, metres
    double opacity = 0.5;
    Json extra = Json::object();  ///< unknown keys, kept
    friend bool operator==(const Picture&, const Picture&) = default;
};

struct Recipe {
    std::string title;
    std::string unit = "m";      ///< length unit shown to the artist
    std::size_t budget = 20000;  ///< faces
    double raise_bounds = 1;     ///< factor on what steps refuse to make, for whoever means it
    std::vector<Dial> dials;
    std::vector<Preset> presets;
    std::vector<Picture> pictures;
    std::vector<std::shared_ptr<const Part>> parts;
    Json extra = Json::object();

    const Part* part(const std::string& name) const;
    const Dial* dial(const std::string& name) const;
    const Preset* preset(const std::string& name) const;
};

/// Whether a step begins a chain (makes a shape and takes no main input), and whether it stands beside the chain (gives
/// no shape); as the catalogue says. A step the catalogue does not know does neither.
bool starts_chain(const Step& step);
bool stands_aside(const Step& step);

const Step* find_step(const Part& part, const std::string& id);
std::size_t step_index(const Part& part, const std::string& id);  ///< part.steps.size() when absent

/// The step that a step at this place follows on the strip: the nearest one before it that gives a shape; null for
/// none.
const Step* step_before(const Part& part, std::size_t step);

/// The step (or "part:name") that feeds an input; empty when nothing does. The main input falls back to the step
/// before.
std::string source_of(const Part& part, std::size_t step, const std::string& input);

/// The step whose shape is the part's; null for a part without steps.
const Step* result_step(const Part& part);

bool same(const Recipe& a, const Recipe& b);

}  // namespace bricol
