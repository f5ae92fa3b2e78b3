// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/catalogue/finding.h"

#include <array>

namespace bricol {

std::string_view severity_name(Severity severity) {
    constexpr std::array<std::string_view, 3> names = {"note", "caution", "error"};
    return names[static_cast<std::size_t>(severity)];
}

Remedy::Change::Change(std::string in_step, std::string at, Answer put, bool take_away)
    : step(std::move(in_step)), path(std::move(at)), value(std::move(put)), remove(take_away) {}
Remedy::Change::Change(const Change&) = default;
Remedy::Change::Change(Change&&) noexcept = default;
Remedy::Change& Remedy::Change::operator=(const Change&) = default;
Remedy::Change& Remedy::Change::operator=(Change&&) noexcept = default;
Remedy::Change::~Change() = default;

Remedy::Remedy() = default;
Remedy::Remedy(std::string says, std::initializer_list<Change> list, std::string step)
    : label(std::move(says)), changes(list), insert_after(std::move(step)) {}
Remedy::Remedy(std::string says, std::vector<Change> list, std::string step)
    : label(std::move(says)), changes(std::move(list)), insert_after(std::move(step)) {}
Remedy::Remedy(const Remedy&) = default;
Remedy::Remedy(Remedy&&) noexcept = default;
Remedy& Remedy::operator=(const Remedy&) = default;
Remedy& Remedy::operator=(Remedy&&) noexcept = default;
Remedy::~Remedy() = default;

Finding::Finding() = default;
Finding::Finding(Severity how, std::string name, std::string says, std::optional<Remedy> answer, std::vector<Vec3> at)
    : severity(how), code(std::move(name)), text(std::move(says)), remedy(std::move(answer)), places(std::move(at)) {}
Finding::Finding(const Finding&) = default;
Finding::Finding(Finding&&) noexcept = default;
Finding& Finding::operator=(const Finding&) = default;
Finding& Finding::operator=(Finding&&) noexcept = default;
Finding::~Finding() = default;

Finding bad_value(const std::string& where, const std::string& text) {
    return {Severity::error, "bad-value", where.empty() ? text : where + ": " + text, std::nullopt, {}};
}

}  // namespace bricol
