// SPDX-License-Identifier: GPL-3.0-or-later
// Loops on all threads that can be put inside each other.
#pragma once

#include <tbb/blocked_range.h>
#include <tbb/parallel_for.h>
#include <tbb/parallel_invoke.h>
#include <tbb/parallel_reduce.h>

/// TBB's loops, each with a context of its own. By its default a loop belongs to the one around it, and what one round
/// of the outer loop throws (a stop, memory that has run out) cancels the inner loops of the other rounds: these return
/// as though they had run to their end and their round goes on with arrays that are half filled. Here a loop ends early
/// only by what its own rounds throw, and then it throws too.
namespace bricol::parallel {

/// body(range) for pieces of a range.
template <class Range, class Body>
void each(const Range& range, const Body& body) {
    tbb::task_group_context own(tbb::task_group_context::isolated);
    tbb::parallel_for(range, body, own);
}

/// body(i) for first <= i < last.
template <class Number, class Body>
void each(Number first, Number last, const Body& body) {
    tbb::task_group_context own(tbb::task_group_context::isolated);
    tbb::parallel_for(first, last, body, own);
}

/// tbb::parallel_reduce. Pieces differ from run to run: only for sums that do not depend on their order.
template <class Range, class Value, class Body, class Join>
Value reduce(const Range& range, const Value& identity, const Body& body, const Join& join) {
    tbb::task_group_context own(tbb::task_group_context::isolated);
    return tbb::parallel_reduce(range, identity, body, join, own);
}

/// Several pieces of work at once.
template <class... Work>
void together(const Work&... works) {
    tbb::task_group_context own(tbb::task_group_context::isolated);
    tbb::parallel_invoke(works..., own);
}

}  // namespace bricol::parallel
