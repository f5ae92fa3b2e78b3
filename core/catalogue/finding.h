// SPDX-License-Identifier: GPL-3.0-or-later
// A diagnosis at a step: what is wrong, where, and one safe answer where there is one.
#pragma once

#include <cstdint>
#include <initializer_list>
#include <optional>
#include <string>
#include <string_view>
#include <variant>
#include <vector>

#include "core/ground/types.h"

namespace bricol {

enum class Severity : std::uint8_t { note, caution, error };
std::string_view severity_name(Severity severity);

/// A value that an answer puts into a setting.
using Answer = std::variant<double, bool, std::string>;

// What follows is written in nearly every step's file: the functions that make, copy and end it are compiled once, in
// finding.cpp.

/// One safe answer to a finding: settings to change, or a step to put behind the one that reported.
struct Remedy {
    struct Change {
        std::string step;  ///< id; empty for the step that reported
        std::string path;  ///< a key ("weld") or a JSON pointer into the settings ("/curves/0/knots/2")
        Answer value;
        bool remove = false;  ///< take the array element at `path` away instead

        Change(std::string step, std::string path, Answer value = {}, bool remove = false);
        Change(const Change&);
        Change(Change&&) noexcept;
        Change& operator=(const Change&);
        Change& operator=(Change&&) noexcept;
        ~Change();
        friend bool operator==(const Change&, const Change&) = default;
    };
    std::string label;  ///< what the button says ("Set them on the axis")
    std::vector<Change> changes;
    std::string insert_after;  ///< type of a step to put behind the one that reported; empty for none

    Remedy();
    Remedy(std::string label, std::initializer_list<Change> changes, std::string insert_after = {});
    Remedy(std::string label, std::vector<Change> changes, std::string insert_after = {});
    Remedy(const Remedy&);
    Remedy(Remedy&&) noexcept;
    Remedy& operator=(const Remedy&);
    Remedy& operator=(Remedy&&) noexcept;
    ~Remedy();
    friend bool operator==(const Remedy&, const Remedy&) = default;
};

struct Finding {
    Severity severity = Severity::note;
    std::string code;  ///< stable name for scripts ("near-axis")
    std::string text;  ///< one or two plain sentences with the number to change
    std::optional<Remedy> remedy;
    std::vector<Vec3> places;  ///< where, for "show" (metres)

    Finding();
    Finding(Severity severity, std::string code, std::string text, std::optional<Remedy> remedy = {},
            std::vector<Vec3> places = {});
    Finding(const Finding&);
    Finding(Finding&&) noexcept;
    Finding& operator=(const Finding&);
    Finding& operator=(Finding&&) noexcept;
    ~Finding();
    friend bool operator==(const Finding&, const Finding&) = default;
};

/// What is wrong with a setting as it is written; `where` is its place in the step ("/curves/0/knots/2/at").
Finding bad_value(const std::string& where, const std::string& text);

}  // namespace bricol
