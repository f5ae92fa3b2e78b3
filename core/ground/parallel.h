// SPDX-License-Identifier: GPL-3.0-or-later
// Loops on all threads that can be put inside each other.
#pragma once

#include <cstddef>
#include <functional>
#include <memory>
#include <type_traits>
#include <vector>

/// Loops on TBB's threads, each with a task context of its own. By TBB's default a loop belongs to the one around it,
/// and what one round of the outer loop throws (a stop, memory that has run out) cancels the inner loops of the other
/// rounds: these return as though they had run to their end and their round goes on with arrays that are half filled.
/// Here a loop ends early only by what its own rounds throw, and then it throws too. TBB itself is in parallel.cpp
/// alone: its headers and a loop of its own kind for every body cost more to compile than most of what is looped over.
namespace bricol::parallel {

/// What is handed on of a loop's body: called for pieces first to last of the numbers 0 to count - 1.
using Piece = void (*)(const void* body, std::size_t first, std::size_t last);
void run_pieces(std::size_t count, std::size_t grain, const void* body, Piece piece);
/// Calls piece(body, k, k + 1) for each k < count, all at once.
void run_together(std::size_t count, const void* body, Piece piece);

/// The numbers first to last - 1, and how many of them are worth a thread's while.
template <class Number>
struct Numbers {
    Number first, last;
    std::size_t grain;
    Numbers(Number first, Number last, std::size_t grain) : first(first), last(last), grain(grain) {}
    Number begin() const { return first; }
    Number end() const { return last; }
    std::size_t count() const { return last > first ? static_cast<std::size_t>(last - first) : 0; }
    Numbers piece(std::size_t from, std::size_t to) const {
        return {static_cast<Number>(first + static_cast<Number>(from)),
                static_cast<Number>(first + static_cast<Number>(to)), grain};
    }
};

/// body(numbers) for pieces of the numbers.
template <class Number, class Body>
void each(const Numbers<Number>& numbers, const Body& body) {
    const auto piece = [&](std::size_t from, std::size_t to) { body(numbers.piece(from, to)); };
    run_pieces(numbers.count(), numbers.grain, std::addressof(piece),
               [](const void* held, std::size_t from, std::size_t to) {
                   (*static_cast<decltype(std::addressof(piece))>(held))(from, to);
               });
}

/// body(i) for first <= i < last.
template <class Number, class Body>
void each(Number first, Number last, const Body& body) {
    each(Numbers<Number>(first, last, 1), [&](const Numbers<Number>& numbers) {
        for (Number i = numbers.first; i != numbers.last; ++i) body(i);
    });
}

/// What body(numbers, identity) gives for pieces of `grain` numbers, joined in their order.
template <class Number, class Value, class Body, class Join>
Value reduce(const Numbers<Number>& numbers, const Value& identity, const Body& body, const Join& join) {
    const std::size_t count = numbers.count(), pieces = (count + numbers.grain - 1) / numbers.grain;
    std::vector<Value> values(pieces, identity);
    each(std::size_t(0), pieces, [&](std::size_t p) {
        const std::size_t from = p * numbers.grain, to = from + numbers.grain;
        values[p] = body(numbers.piece(from, to < count ? to : count), identity);
    });
    Value all = identity;
    for (const Value& value : values) all = join(all, value);
    return all;
}

/// Several pieces of work at once.
template <class... Work>
void together(const Work&... works) {
    const void* const bodies[] = {std::addressof(works)...};
    const auto one = [&](std::size_t k) {
        std::size_t i = 0;
        ((i++ == k ? (*static_cast<const Work*>(bodies[k]))() : void()), ...);
    };
    run_together(sizeof...(works), std::addressof(one), [](const void* held, std::size_t k, std::size_t) {
        (*static_cast<decltype(std::addressof(one))>(held))(k);
    });
}

/// Work that cannot look for a stop, as inside a library, on a thread of its own with as many helpers as here. Returns
/// when it is done, throws what it throws; at a stop it throws Stopped at once, and the work ends by itself, unheard:
/// what it touches must be its own. Where nobody can ask for a stop, or no thread is to be had, it is done here.
void beside(std::function<void()> work);

}  // namespace bricol::parallel
