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

} // namespace

QString testerOf(const SpecimenInput& input, const Method& method, const HardnessSetting& setting)
{
    const QString noted = QString::fromStdString(noteOf(input, method.intake.machine));
    return noted.isEmpty() ? QSettings().value(scaleKey(setting)).toString() : noted;
}

void rememberTester(const QString& tester, const HardnessSetting& setting)
{
    if (!tester.isEmpty())
        QSettings().setValue(scaleKey(setting), tester);
}

} // namespace fortitor
