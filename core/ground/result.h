// SPDX-License-Identifier: GPL-3.0-or-later
// Errors as values: what happened, where, and what to do.
#pragma once

#include <optional>
#include <string>
#include <utility>
#include <variant>

namespace bricol {

struct Problem {
    std::string what;    ///< one sentence
    std::string where;   ///< place: a JSON pointer, a file, a column of a formula; may be empty
    std::string remedy;  ///< what to do next; may be empty

    std::string text() const;
};

/// A value or the problem that prevented it.
template <class T>
class Result {
public:
    Result(T value) : content_(std::move(value)) {}
    Result(Problem problem) : content_(std::move(problem)) {}
    explicit operator bool() const { return std::holds_alternative<T>(content_); }
    const T& operator*() const { return std::get<T>(content_); }
    T& operator*() { return std::get<T>(content_); }
    const T* operator->() const { return &std::get<T>(content_); }
    T* operator->() { return &std::get<T>(content_); }
    const Problem& problem() const { return std::get<Problem>(content_); }

private:
    std::variant<T, Problem> content_;
};

}  // namespace bricol
