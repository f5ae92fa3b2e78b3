// SPDX-License-Identifier: GPL-3.0-or-later
// A folder of variants: each with its files and a record, and one index over all.
#pragma once

#include <cstdint>
#include <functional>
#include <optional>

#include "core/files/export.h"
#include "core/inspect/tries.h"
#include "core/inspect/variant_plan.h"

namespace bricol {

struct VariantOrder {
    const Recipe& recipe;
    MakeOptions making;
    const VariantPlan& plan;
    std::string folder;
    std::vector<std::string> suffixes = {"glb"};  ///< kinds of file written for each
    ExportOptions export_options;
    std::vector<std::string> parts;     ///< only these; empty for those that are delivered
    std::size_t shard = 0, shards = 1;  ///< this run makes the numbers n with n % shards == shard
    std::size_t at_once = 0;            ///< makings at once; 0 for as many as there are threads
    /// Writes a picture of a variant to a file; none when it is empty. Called from several threads, one at a time.
    std::function<std::optional<Problem>(const Recipe&, const Made&, const std::string& path)> picture;
    std::string picture_kind;  ///< what decides how pictures look, for telling whether those there are still right
    std::function<void(std::size_t done, std::size_t of)> progress;  ///< from any thread, one call at a time
};

struct VariantsReport {
    std::size_t made = 0;     ///< written by this run
    std::size_t kept = 0;     ///< there already, whole and of the same recipe, dials and options
    std::size_t broken = 0;   ///< with an error finding, kept ones included
    std::size_t missing = 0;  ///< not made: stopped, or another shard's
    bool stopped = false;
    std::optional<Problem> problem;  ///< a folder or file that could not be written; ends the run
};

/// Makes what is not there yet. Every variant is written whole or not at all: its files under names of their own first,
/// its record last, so that a run that is broken off goes on where it was, and two runs of one shard do no harm. The
/// same files in whatever order, at whatever number of shards. A variant with an error finding has a record that says
/// so and no files. A folder that holds somebody else's files is refused.
VariantsReport write_variants(const VariantOrder& order);

/// Joins the records of a folder into index.json and index.csv. Numbers below `count` without a record are missing.
struct Gathered {
    std::size_t count = 0, broken = 0;
    std::vector<std::size_t> missing;
};
/// Half-written files of runs that were killed are taken away once nothing is missing.
/// `count` 0: what the folder's plan says. Refused: a folder without a plan or records that cannot be read.
Result<Gathered> gather_variants(const std::string& folder, std::size_t count = 0);

}  // namespace bricol
