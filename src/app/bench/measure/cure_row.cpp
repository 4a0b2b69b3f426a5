// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/bench/measure/cure_row.h"

#include "app/widgets/basics.h"
#include "app/widgets/hands.h"
#include "jobs/edits.h"
#include "jobs/json_at.h"
#include "methods/common/cure.h"
#include "methods/common/figures.h"

#include <QDateTime>
#include <QHBoxLayout>

namespace fortitor {

CureRow::CureRow(Session& session, const NoteSpec& note, QWidget* parent)
    : QWidget(parent), session_(session), key_(note.key)
{
    auto* row = new QHBoxLayout(this);
    row->setContentsMargins(0, 0, 0, 0);
    row->setSpacing(8);
    adhesive_ = new QComboBox;
    adhesive_->setObjectName("note-" + q(key_));
    adhesive_->setToolTip(q(note.help));
    connect(adhesive_, &QComboBox::activated, this, [this](int i) {
        const QStringList chosen = adhesive_->itemData(i).toStringList(); // name and hours of cure
        const std::string path = "/specimens/" + std::to_string(session_.current()) + "/notes/";
        const auto text = [&](int k) { return chosen.size() == 2 ? std::optional<Json>(s(chosen[k])) : std::nullopt; };
        session_.apply(CommandBuilder(session_.document(), key_ + ": " + s(adhesive_->itemText(i)))
                           .set(path + key_, text(0))
                           .set(path + cureKeys::hours, text(1))
                           .take());
    });
    row->addWidget(adhesive_);
    bonded_ = button({}, "", "bondedNow");
    bonded_->setToolTip("Starts the cure clock of this specimen");
    connect(bonded_, &QPushButton::clicked, this, [this] {
        const std::string now = s(QDateTime::currentDateTime().toString("yyyy-MM-dd HH:mm"));
        session_.apply(edits::note(session_.document(), session_.current(), cureKeys::bonded, now));
    });
    row->addWidget(bonded_);
    clock_ = label({}, "quiet");
    clock_->setObjectName("cureClock");
    clock_->setWordWrap(false);
    row->addWidget(clock_);
    minute_.setInterval(20000);
    connect(&minute_, &QTimer::timeout, this, [this] {
        if (isVisible())
            tell();
    });
    minute_.start();
}

void CureRow::fill()
{
    const SpecimenInput& input = session_.specimen().input;
    std::vector<hands::Item> items{{"adhesive…"}};
    int current = 0;
    for (const InstrumentRow& row : session_.logbook().instruments()) {
        if (row.kind != "adhesive")
            continue;
        const QString cure = q(textAt(row.body, "cure", "24 h"));
        if (row.name == q(noteOf(input, key_)))
            current = static_cast<int>(items.size());
        items.push_back({row.name + ", " + cure, QStringList{row.name, cure}});
    }
    hands::fill(adhesive_, items, current);
    bonded_->setText(noteOf(input, cureKeys::bonded).empty() ? "Bonded now" : "Bonded anew");
    tell();
}

/// The clock goes on by itself.
void CureRow::tell()
{
    if (!session_.hasSpecimen())
        return;
    const SpecimenInput& input = session_.specimen().input;
    QString words = "the cure clock is not started";
    if (const auto clock = cureClock(input); !clock)
        words = q(clock.problem().text());
    else if (*clock) {
        const double left = (*clock)->readyAt()
            - wallClock(s(QDateTime::currentDateTime().toString("yyyy-MM-dd HH:mm:ss"))).value_or(0);
        words = left <= 0 ? QString("cured, bonded %1").arg(q(noteOf(input, cureKeys::bonded)))
                          : QString("cures for another %1 h %2 min")
                                .arg(static_cast<int>(left / 3600))
                                .arg(static_cast<int>(left / 60) % 60);
    }
    clock_->setText(words);
}

} // namespace fortitor
