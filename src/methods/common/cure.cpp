// SPDX-License-Identifier: GPL-3.0-or-later
#include "methods/common/cure.h"

#include <fmt/format.h>

#include <charconv>
#include <chrono>
#include <vector>

namespace fortitor {
namespace {

std::string note(const SpecimenInput& input, const char* key)
{
    const auto it = input.notes.find(key);
    return it == input.notes.end() ? std::string() : it->second;
}

} // namespace

std::optional<double> wallClock(const std::string& text)
{
    // Year, month, day, hour, minute and perhaps second, by whatever stands between them.
    std::vector<int> parts;
    for (size_t i = 0; i < text.size();) {
        int value = 0;
        const auto [end, error] = std::from_chars(text.data() + i, text.data() + text.size(), value);
        if (error != std::errc{} || value < 0)
            return std::nullopt;
        parts.push_back(value);
        i = static_cast<size_t>(end - text.data()) + 1;
    }
    if (parts.size() < 5 || parts.size() > 6 || parts[3] > 23 || parts[4] > 59 || (parts.size() == 6 && parts[5] > 60))
        return std::nullopt;
    const std::chrono::year_month_day date{std::chrono::year(parts[0]),
                                           std::chrono::month(static_cast<unsigned>(parts[1])),
                                           std::chrono::day(static_cast<unsigned>(parts[2]))};
    if (!date.ok() || parts[0] < 1900)
        return std::nullopt;
    const auto days = std::chrono::sys_days(date).time_since_epoch().count();
    return static_cast<double>(days) * 86400 + parts[3] * 3600 + parts[4] * 60 + (parts.size() == 6 ? parts[5] : 0);
}

Expected<std::optional<CureClock>> cureClock(const SpecimenInput& input)
{
    const std::string bonded = note(input, cureKeys::bonded);
    const std::string cure = note(input, cureKeys::hours);
    if (bonded.empty())
        return std::optional<CureClock>();
    CureClock clock;
    const auto at = wallClock(bonded);
    if (!at)
        return Problem{
            input.label + ", notes.bonded", '"' + bonded + '"', "a date and time such as 2026-11-25 09:30", {}};
    clock.bonded = *at;
    const auto hours = parseQuantity(cure.empty() ? "24 h" : cure, Kind::Time);
    if (!hours || !(hours->base >= 0))
        return Problem{input.label + ", notes.cure", '"' + cure + '"', "a time with unit such as 24 h", {}};
    clock.hours = hours->base / 3600;
    return std::optional(clock);
}

std::optional<Remark> cureRemark(const SpecimenInput& input, std::vector<std::string> symbols)
{
    const auto clock = cureClock(input);
    if (!clock)
        return Remark{"cure-unknown",        Severity::Caution,
                      std::move(symbols),    "The cure can't be followed: " + clock.problem().text(),
                      "Put the note right.", "bonded"};
    if (!*clock)
        return std::nullopt;
    const std::string tested = note(input, cureKeys::tested);
    const auto when = wallClock(tested);
    if (tested.empty() && !input.record)
        return std::nullopt;
    if (!when)
        return Remark{"cure-unknown",
                      Severity::Caution,
                      std::move(symbols),
                      "When it was loaded is not noted; whether the adhesive had cured can't be told.",
                      "Note the time under tested.",
                      "tested"};
    if (*when >= (*clock)->readyAt())
        return std::nullopt;
    return Remark{"cure-incomplete",
                  Severity::Reject,
                  std::move(symbols),
                  fmt::format("It was loaded {:.1f} h after bonding; the adhesive wants {:.1f} h.",
                              (*when - (*clock)->bonded) / 3600, (*clock)->hours),
                  "Let it cure: the bond may give before the panel does.",
                  "bonded"};
}

} // namespace fortitor
