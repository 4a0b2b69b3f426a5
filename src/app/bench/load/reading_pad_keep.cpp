// SPDX-License-Identifier: GPL-3.0-or-later
// Readings on their way to the logbook, and those that found no room there.
#include "app/bench/load/reading_pad.h"

#include "app/widgets/basics.h"

#include <QDateTime>
#include <QPointer>

#include <algorithm>

namespace fortitor {

/// To the logbook, as the job stands now.
bool ReadingPad::handOver(const Reading& reading)
{
    const PadTable table = padTable(session_.document(), session_.current(), also_);
    const auto command =
        edits::padReading(session_.document(), session_.current(), table,
                          table.indexOf(reading.channel).value_or(table.channels.size()), reading.row, reading.text,
                          s(session_.who()), s(QDateTime::currentDateTime().toString(Qt::ISODate)), reading.why);
    if (!command) {
        say(q(command.problem().text()));
        return false;
    }
    keeping_.push_back(reading);
    if (session_.apply(*command, [self = QPointer(this), reading](bool kept) {
            if (self)
                self->answered(reading, kept);
        }))
        return true;
    keeping_.pop_back();
    return false;
}

/// Answers come in the order of asking.
void ReadingPad::answered(const Reading& reading, bool kept)
{
    keeping_.erase(keeping_.begin());
    if (!kept) {
        lost_.push_back(reading); // it stays on the sheet; the session tells why at once
        const size_t lost = lostHere();
        message_->setText(QString("%1 not kept yet, still on the sheet: tried again with the next one.")
                              .arg(lost == 1 ? QString("A reading is") : QString("%1 readings are").arg(lost)));
    }
    again_->setVisible(lostHere() > 0);
    showKeeping();
}

size_t ReadingPad::lostHere() const
{
    return static_cast<size_t>(std::ranges::count(lost_, specimen_, &Reading::specimen));
}

/// What could not be kept stands on the sheet where it was read.
void ReadingPad::layLostOver()
{
    for (const Reading& one : lost_) {
        const auto channel = table_.indexOf(one.channel);
        if (one.specimen != specimen_ || !channel)
            continue;
        table_.rows = std::max(table_.rows, one.row + 1);
        for (auto& list : table_.cells)
            list.resize(table_.rows);
        table_.cells[*channel][one.row] = one.text;
    }
    again_->setVisible(lostHere() > 0);
}

/// Hands over what was lost here, in its order, before anything that is built on it.
bool ReadingPad::tryLostAgain()
{
    std::vector<Reading> here;
    std::erase_if(lost_, [&](const Reading& one) {
        if (one.specimen != specimen_)
            return false;
        here.push_back(one);
        return true;
    });
    for (size_t i = 0; i < here.size(); ++i)
        if (!handOver(here[i])) {
            lost_.insert(lost_.end(), here.begin() + static_cast<std::ptrdiff_t>(i), here.end());
            return false;
        }
    if (!here.empty()) {
        message_->clear();
        again_->hide();
    }
    return true;
}

void ReadingPad::showKeeping()
{
    std::set<std::string> here;
    for (const auto* list : {&keeping_, &lost_})
        for (const Reading& one : *list)
            if (one.specimen == specimen_)
                here.insert(std::to_string(one.row + 1) + "/" + one.channel);
    sheet_->showKeeping(std::move(here));
}

} // namespace fortitor
