// SPDX-License-Identifier: GPL-3.0-or-later
#include "methods/common/figures.h"
#include "methods/proof_load/proof_load.h"

#include <fmt/format.h>

#include <cmath>
#include <tuple>

namespace fortitor {

Expected<SectionShown> partSizes(const SpecimenInput& input, bool afterBreak)
{
    SectionShown shown{
        .title = afterBreak ? "changed by the test" : "wear against new", .area = {}, .how = {}, .words = {}};
    const auto add = [&](const std::string& words) { shown.how += (shown.how.empty() ? "" : ", ") + words; };
    if (afterBreak) {
        for (const auto& [key, label] :
             {std::pair("pin", "pin"), {"bow", "bow"}, {"eye", "eye"}, {"eye_across", "across"}}) {
            const double before = firstLength(input, key), after = firstLength(input, std::string(key) + "_after");
            if (before > 0 && after > 0)
                add(fmt::format("{} {:+.2f} mm", label, after - before));
        }
        if (shown.how.empty())
            shown.how = "measure the same places again";
        return shown;
    }
    bool any = false;
    constexpr double often = 10; // %
    for (const auto& [key, fresh, label] : {std::tuple("pin", "pin_new", "pin"), {"bow", "bow_new", "bow"}}) {
        const double now = firstLength(input, key), then = firstLength(input, fresh);
        if (!(now > 0 && then > 0))
            continue;
        const double worn = 100 * (1 - now / then);
        add(fmt::format("{} {:.1f} %", label, worn));
        any = any || worn > often;
    }
    if (shown.how.empty())
        shown.how = "key the sizes as new";
    shown.words = any
        ? "Over 10 % is often the limit: local rules and the maker's manual decide, before any load is put on."
        : "Marking read or none; each part known by its label or tag, before and after.";
    return shown;
}

} // namespace fortitor
