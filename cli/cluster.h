// SPDX-License-Identifier: GPL-3.0-or-later
// Shares of a plan of variants, given to a cluster's scheduler.
#pragma once

#include <cstdint>
#include <string>
#include <vector>

#include "core/ground/result.h"

namespace bricol {

struct ClusterOrder {
    std::vector<std::string> command;  ///< what one share runs, without its number: program and arguments
    std::string folder;                ///< where the variants go; the script is kept in its subfolder "cluster"
    std::size_t shards = 0;
    std::vector<std::string> extras;  ///< lines for the scheduler as they are: "--partition=long"
};

/// The script of an array of jobs (Slurm): `command --shard $SLURM_ARRAY_TASK_ID/N`, begun again when its node is lost.
std::string array_script(const ClusterOrder& order);

/// Writes the script and submits it; gives the number of the job. Refused, with what can be done instead: no cluster
/// here, or one that refuses.
Result<std::string> submit_shards(const ClusterOrder& order);

/// Shares that are not done yet; refused when the cluster does not answer.
Result<std::size_t> shards_left(const std::string& job);

/// A word as a shell takes it whole.
std::string shell_word(const std::string& text);

}  // namespace bricol
