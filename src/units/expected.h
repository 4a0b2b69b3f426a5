// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include <string>
#include <utility>
#include <variant>

namespace fortitor {

/// Bad input told to the person at the bench: where it stands, what was found, what was wanted,
/// and what to do about it. Any part may be empty.
struct Problem {
    std::string place;
    std::string found;
    std::string wanted;
    std::string advice;

    /// One line for messages: "place: found …, wanted …. advice"
    [[nodiscard]] std::string text() const
    {
        std::string line = place;
        if (!found.empty())
            line += (line.empty() ? "found " : ": found ") + found;
        if (!wanted.empty())
            line += (line.empty() ? "wanted " : found.empty() ? ": wanted " : ", wanted ") + wanted;
        if (!advice.empty())
            line += (line.empty() ? "" : ". ") + advice;
        return line;
    }
};

/// Either a value or the Problem that kept it away.
template <class T> class [[nodiscard]] Expected {
public:
    Expected(T value) : state_(std::in_place_index<0>, std::move(value)) { }
    Expected(Problem problem) : state_(std::in_place_index<1>, std::move(problem)) { }

    explicit operator bool() const { return state_.index() == 0; }
    const T& operator*() const& { return std::get<0>(state_); }
    T& operator*() & { return std::get<0>(state_); }
    T&& operator*() && { return std::get<0>(std::move(state_)); }
    const T* operator->() const { return &std::get<0>(state_); }
    T* operator->() { return &std::get<0>(state_); }
    [[nodiscard]] const Problem& problem() const { return std::get<1>(state_); }

private:
    std::variant<T, Problem> state_;
};

struct Done { };

} // namespace fortitor
