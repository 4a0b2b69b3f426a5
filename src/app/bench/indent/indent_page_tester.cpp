// SPDX-License-Identifier: GPL-3.0-or-later
// What the page knows of the tester: its last check, what is fitted, places of earlier checks, the log.
#include "app/bench/indent/indent_page.h"

#include "app/bench/indent/block_dialog.h"
#include "app/model/own_tables.h"
#include "app/model/tester_memory.h"
#include "app/widgets/basics.h"
#include "methods/common/figures.h"

#include <QDateTime>

#include <map>

namespace fortitor {

/// Once a piece: its tester's last check, whether it has to be seated, and where its block was indented before.
void IndentPage::lookAtTester()
{
    const SpecimenInput& input = session_.specimen().input;
    const Method& method = *session_.job().method;
    const auto specimen = static_cast<int>(session_.current());
    const auto& rows = session_.testerRows();
    const std::string tester = s(testerOf(input, method, desk_->setting));
    used_ = usedPlaces(rows, input, session_.jobId(), specimen);
    refitted_ = desk_->indents.empty()
        && fittedOtherwise(rows, tester, desk_->setting, anvilOf(input), session_.jobId(), specimen);
    const TesterRow* check = lastCheck(rows, tester, testedScale(desk_->setting), noteOf(input, method.intake.stamp));
    if (isBlock(input))
        block_->setText("a reference block, checked on Read");
    else if (!check)
        block_->setText("no reference block was checked before this piece");
    else
        block_->setText((check->job == session_.jobId() ? QString() : check->number + " ") + check->label + ": error "
                        + (check->work.error > 0 ? "+" : "") + q(formatFixed(check->work.error, 1))
                        + (check->work.within ? ", within its limits" : ", out of its limits"));
}

/// With the first reading of a piece goes when and on what machine it is read; with that of a block what the laboratory's
/// own table allows.
WithReading IndentPage::withFirst()
{
    const Method& method = *session_.job().method;
    const SpecimenInput& input = session_.specimen().input;
    const QString tester = testerOf(input, method, desk_->setting);
    WithReading with;
    with.notes[method.intake.stamp] = s(QDateTime::currentDateTime().toString("yyyy-MM-ddTHH:mm"));
    if (!tester.isEmpty())
        with.notes[method.intake.machine] = s(tester);
    if (refitted_)
        with.notes.merge(notesOfChange());
    std::erase_if(with.notes, [&](const auto& one) { return !noteOf(input, one.first).empty(); });
    rememberTester(tester, desk_->setting);
    if (!isBlock(input))
        return with;
    const auto stated = parseQuantity(stampedOn(input), Kind::Hardness, desk_->setting.unit);
    const auto own = stated
        ? ownLimitFor(readOwnLimits(session_.logbook()), std::string(desk_->setting.unit->symbol), stated->base)
        : std::nullopt;
    if (own)
        with.options = limitOptions(*own);
    std::erase_if(with.options, [&](const auto& one) { return !optionOr(input, one.first, "").empty(); });
    return with;
}

/// Mean and interval so far, and how many more a wanted interval asks for.
void IndentPage::showMean()
{
    const RunningMean now = runningMean(desk_->indents);
    wanted_->setVisible(!desk_->traverse && now.count > 0);
    if (desk_->traverse || now.count == 0)
        return mean_->clear();
    QString words = QString("mean %1").arg(q(formatSignificant(now.mean, 4)));
    if (now.half > 0)
        words += " ± " + q(formatSignificant(now.half, 2));
    words += QString(" of %1").arg(now.count);
    const auto wanted = parseNumber(s(wanted_->text().trimmed()));
    if (const auto more = wanted ? readingsFor(now, *wanted) : std::nullopt)
        words += *more == 0 ? QString(" · enough for ± %1").arg(wanted_->text())
                            : QString(" · %1 more for ± %2").arg(*more).arg(wanted_->text());
    mean_->setText(words);
}

/// Who has finished with the machine, when, and that it is covered: a line of the logbook.
void IndentPage::logOut()
{
    const std::string tester = noteOf(session_.specimen().input, session_.job().method->intake.machine);
    const QString what = (tester.empty() ? QString("hardness tester") : q(tester)) + ": finished and covered after "
        + q(session_.specimen().label) + ", " + q(testedScale(desk_->setting));
    const auto ok =
        session_.writer().now([&](Logbook& book) { return book.note(session_.jobId(), session_.who(), what, {}); });
    say(ok ? "Written to the logbook: " + what + ", " + session_.who() + "." : q(ok.problem().text()));
}

void IndentPage::openBlocks()
{
    const std::string tester = noteOf(session_.specimen().input, session_.job().method->intake.machine);
    BlockDialog dialog(session_, tester, testedScale(desk_->setting), this);
    if (dialog.exec() == QDialog::Accepted && dialog.asked())
        emit jobAsked(dialog.asked()->job, dialog.asked()->specimen);
}

} // namespace fortitor
