// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/bench/read/before_after.h"

#include "app/theme/theme.h"
#include "app/theme/units.h"
#include "app/widgets/basics.h"
#include "draw/chart.h"

#include <cmath>

namespace fortitor {

QString beforeAfter(const Method& method, const Outcome& before, const Outcome& after)
{
    QString heads, first, second, change;
    constexpr int mostColumns = 6;
    int shown = 0;
    for (const Result& r : after.results) {
        const Result* was = before.find(r.symbol);
        const bool known = was && was->value;
        if ((!known && !r.value)
            || (known && r.value && std::abs(*r.value - *was->value) <= 1e-5 * std::abs(*was->value))
            || shown >= mostColumns)
            continue;
        const ResultSpec spec = specFor(method, r.symbol);
        const auto text = [&](const Result* one) {
            const ShownFigure f = one ? showFigure(spec, *one, RoundingRule::FourDigits, units()) : ShownFigure{};
            return one && one->value ? q(f.text + (f.unit.empty() ? "" : " " + f.unit)) : QString("–");
        };
        const QString cell = "<td style='padding-right:18px'>%1</td>";
        heads += cell.arg(symbolHtml(q(r.symbol)));
        first += cell.arg(text(was));
        second += cell.arg(text(&r));
        change += cell.arg(known && r.value && *was->value != 0
                               ? QString("%1 %").arg(100 * (*r.value / *was->value - 1), 0, 'f', 2)
                               : QString());
        ++shown;
    }
    if (shown == 0)
        return "No figure of this specimen changes.";
    const QString quiet = QString("<tr style='color:%1'><td style='padding-right:12px'>%2</td>%3</tr>");
    return "<table cellspacing='1'>" + quiet.arg(pal().quiet.name(), "", heads)
        + quiet.arg(pal().ink.name(), "before", first) + quiet.arg(pal().ink.name(), "after", second)
        + quiet.arg(pal().quiet.name(), "change", change) + "</table>";
}

} // namespace fortitor
