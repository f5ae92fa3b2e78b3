// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/ground/parallel.h"

#include <tbb/blocked_range.h>
#include <tbb/parallel_for.h>

namespace bricol::parallel {

void run_pieces(std::size_t count, std::size_t grain, const void* body, Piece piece) {
    tbb::task_group_context own(tbb::task_group_context::isolated);
    tbb::parallel_for(
        tbb::blocked_range<std::size_t>(0, count, grain),
        [=](const tbb::blocked_range<std::size_t>& range) { piece(body, range.begin(), range.end()); }, own);
}

void run_together(std::size_t count, const void* body, Piece piece) {
    tbb::task_group_context own(tbb::task_group_context::isolated);
    // Each is worth a thread: none waits behind another in one piece.
    tbb::parallel_for(
        tbb::blocked_range<std::size_t>(0, count, 1),
        [=](const tbb::blocked_range<std::size_t>& range) {
            for (std::size_t k = range.begin(); k != range.end(); ++k) piece(body, k, k + 1);
        },
        tbb::simple_partitioner(), own);
}

}  // namespace bricol::parallel
