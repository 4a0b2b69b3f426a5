// SPDX-License-Identifier: GPL-3.0-or-later
// What holds the start back, in words, and what of it a person may set aside.
#include "app/model/live_frame.h"

#include "jobs/json_at.h"
#include "jobs/calibration.h"
#include "methods/common/cure.h"
#include "reference/tables.h"

#include <QDateTime>

#include <algorithm>

namespace fortitor {

bool LiveFrame::shows(const std::string& watch) const
{
    const bool both = seen() && status().top && status().bottom;
    if (watch == "measured")
        return session_.hasSpecimen() && session_.steps(session_.current()) >= 1;
    if (watch == "margins")
        return expected_.maximum && weakestLink(train_)
            && std::ranges::none_of(trainRemarks_, [](const Remark& r) { return r.severity == Severity::Reject; });
    if (watch == "force-zeroed")
        return ready_ && zeroed_;
    if (watch == "grip-top")
        return seen() && status().top;
    if (watch == "grip-bottom")
        return seen() && status().bottom;
    if (watch.starts_with("grip-second"))
        return ready_ && both && eased_;
    if (watch == "extensometer-on")
        return ready_ && balanced_;
    if (watch == "guard-closed")
        return seen() && status().guard;
    if (watch == "centred")
        return ready_ && both;
    if (watch == "balanced")
        return ready_ && aligned_;
    if (watch == "cured")
        return session_.hasSpecimen() && cureLeft().isEmpty();
    return false;
}

Balance LiveFrame::balance() const
{
    FourStrains now{sample_.front, sample_.back, sample_.frontRight, sample_.backRight};
    double sum = 0;
    for (const double strain : now)
        sum += strain;
    if (sum < 0) // an indicator that counts shortening as negative
        for (double& strain : now)
            strain = -strain;
    return balanceOf(now);
}

QString LiveFrame::cureLeft() const
{
    const auto clock = cureClock(session_.specimen().input);
    if (!clock)
        return QString::fromStdString(clock.problem().text());
    if (!*clock)
        return "the blocks are not bonded yet: start the cure clock on Measure";
    const auto now = static_cast<double>(QDateTime::currentDateTime().toSecsSinceEpoch()
                                         + QDateTime::currentDateTime().offsetFromUtc());
    const double left = (*clock)->readyAt() - now;
    return left <= 0 ? QString()
                     : QString("the adhesive cures for another %1 h %2 min")
                           .arg(static_cast<int>(left / 3600))
                           .arg(static_cast<int>(left / 60) % 60);
}

/// Whatever the steps of the method watch has to be so.
std::vector<HoldBack> LiveFrame::stepHolds() const
{
    std::vector<HoldBack> out;
    const Method& method = *session_.job().method;
    const auto& options = session_.specimen().input.options;
    for (const StepSpec& step : method.steps) {
        if (step.stage != Stage::SetUp || !stepApplies(step, method, options) || shows(step.watch))
            continue;
        if (step.watch == "cured")
            out.push_back({"cure", cureLeft()});
        else if (step.watch == "force-zeroed")
            out.push_back({"zero", "the force is not zeroed"});
        else if (step.watch.starts_with("grip-second") && status().top && status().bottom)
            out.push_back({"clamp-load", "the clamp load is not eased off"});
        else if (step.watch.starts_with("grip-second"))
            out.push_back({"grips", "the specimen is not in both grips", true});
        else if (step.watch == "centred")
            out.push_back({"centred", "the piece is not in its place", true});
        else if (step.watch == "extensometer-on")
            out.push_back({"balance",
                           hasGauges() ? QString("the strain channels are not balanced")
                               : method.train.extensometer.empty()
                               ? "not done: " + QString::fromStdString(step.text)
                               : QString("the extensometer is not on and balanced")});
        else if (step.watch == "guard-closed")
            out.push_back({"guard", "the guard is open", true});
    }
    return out;
}

/// Instruments of the job that ran out, or failed their last check.
std::vector<HoldBack> LiveFrame::calibrationHolds() const
{
    // Asked for many times a second, and read from the logbook: what was found a moment ago still holds.
    constexpr qint64 goodFor = 2000; // ms
    if (calibrationRead_.isValid() && calibrationRead_.elapsed() < goodFor && calibrationFor_ == session_.jobId())
        return calibration_;
    std::vector<HoldBack> out;
    const std::string today = QDate::currentDate().toString(Qt::ISODate).toStdString();
    const auto rows = session_.logbook().instruments();
    const Json tools = objectAt(session_.document().json(), "instruments");
    for (const auto& [key, tool] : tools.items()) {
        const QString name = QString::fromStdString(textAt(tool, "name"));
        const auto row = std::ranges::find(rows, name, &InstrumentRow::name);
        if (row == rows.end() || name.isEmpty())
            continue;
        if (const auto trouble = calibrationTrouble(row->body, row->due.toStdString(), today))
            out.push_back({trouble->code, name + ": " + QString::fromStdString(trouble->words)});
    }
    calibration_ = out;
    calibrationFor_ = session_.jobId();
    calibrationRead_.start();
    return out;
}

/// "load cell, wedge grips": the kinds of the train's links.
std::string LiveFrame::linkNames() const
{
    std::string names;
    for (const LinkSpec& link : session_.job().method->train.links)
        if (!link.none.empty())
            names += (names.empty() ? "" : ", ") + link.kind;
    return names;
}

std::vector<HoldBack> LiveFrame::holds() const
{
    if (const QString words = strange(); !words.isEmpty())
        return {{"strange", words + " Take the load off and open the grips, then set up anew.", true}};
    if (!ready_ || !session_.hasSpecimen())
        return {{"frame",
                 client_.link() == MachineClient::Link::Joined ? QString("nothing hangs in the frame")
                                                               : "the frame is not there yet (" + linkWords() + ")",
                 true}};
    std::vector<HoldBack> out;
    if (client_.link() != MachineClient::Link::Joined)
        out.push_back({"link", "the link to the frame is lost", true});
    if (status().emergency)
        out.push_back({"emergency", "the emergency stop is in", true});
    for (const Remark& r : trainRemarks_)
        if (r.severity == Severity::Reject)
            out.push_back({r.code, QString::fromStdString(r.text), r.code != "cell-too-large"});
    if (!weakestLink(train_))
        out.push_back({"limits",
                       QString::fromStdString("nothing is chosen that carries the load (" + linkNames()
                                              + "), so there is no stop limit"),
                       true});
    for (HoldBack& hold : stepHolds())
        out.push_back(std::move(hold));
    for (HoldBack& hold : calibrationHolds())
        out.push_back(std::move(hold));
    std::erase_if(out, [this](const HoldBack& hold) { return !hold.safety && overruled_.contains(hold.code); });
    return out;
}

QStringList LiveFrame::holdBacks() const
{
    QStringList words;
    for (const HoldBack& hold : holds())
        words << hold.words;
    return words;
}

bool LiveFrame::overrule(const std::string& code, const QString& reason)
{
    const auto open = holds();
    const auto it = std::ranges::find(open, code, &HoldBack::code);
    if (it == open.end() || it->safety || reason.trimmed().isEmpty())
        return false;
    overruled_[code] = reason.trimmed();
    emit updated();
    return true;
}

} // namespace fortitor
