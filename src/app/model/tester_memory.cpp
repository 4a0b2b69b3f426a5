// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/model/tester_memory.h"

#include "methods/common/figures.h"
#include "methods/hardness/block_history.h"

#include <QSettings>

namespace fortitor {
namespace {

QString scaleKey(const HardnessSetting& setting)
{
    return "tester/" + QString::fromStdString(testedScale(setting));
}

QString fittedKey(const QString& tester)
{
    return "fitted/" + tester;
}

} // namespace

QString testerOf(const SpecimenInput& input, const Method& method, const HardnessSetting& setting)
{
    const QString noted = QString::fromStdString(noteOf(input, method.intake.machine));
    return noted.isEmpty() ? QSettings().value(scaleKey(setting)).toString() : noted;
}

bool fittedOtherwise(const SpecimenInput& input, const Method& method, const HardnessSetting& setting)
{
    const QString last = QSettings().value(fittedKey(testerOf(input, method, setting))).toString();
    return setting.seating > 0 && !last.isEmpty() && last != QString::fromStdString(fittedOn(setting));
}

void rememberTester(const QString& tester, const HardnessSetting& setting)
{
    QSettings().setValue(scaleKey(setting), tester);
    QSettings().setValue(fittedKey(tester), QString::fromStdString(fittedOn(setting)));
}

} // namespace fortitor
