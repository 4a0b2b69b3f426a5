// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/bench/load/check_panel.h"

#include "app/theme/theme.h"
#include "app/widgets/basics.h"
#include "app/widgets/hands.h"
#include "jobs/edits.h"
#include "methods/common/figures.h"

#include <QHBoxLayout>
#include <QKeyEvent>
#include <QPainter>
#include <QVBoxLayout>

#include <optional>
#include <utility>

namespace fortitor {

namespace {

/// The note beside that of a check, with the distance that was measured at it.
const std::string distanceEnding = "_distance";

/// The specimen that hangs in the frame, which need not be the one at hand: what is found goes to it and to no other.
std::optional<size_t> hanging(const Session& session, const LiveFrame& frame)
{
    if (!session.isOpen())
        return std::nullopt;
    const Job& job = session.job();
    for (size_t i = 0; i < job.specimens.size(); ++i)
        if (seedOf(job.number + job.specimens[i].label) == frame.mounted().seed) // it comes from the name
            return i;
    return std::nullopt;
}

} // namespace

CheckPanel::CheckPanel(Session& session, LiveFrame& frame, QWidget* parent)
    : QWidget(parent), session_(session), frame_(frame)
{
    setObjectName("checkPanel");
    setFocusPolicy(Qt::StrongFocus);
    setFixedWidth(440);
    auto* column = new QVBoxLayout(this);
    column->setContentsMargins(20, 16, 20, 16);
    column->setSpacing(8);
    head_ = label({}, "head");
    head_->setObjectName("checkHead");
    column->addWidget(head_);
    caution_ =
        label("At no force, the drive is disabled. Whoever checks keeps the release to themselves and gives free "
              "only once hands are out. Local rules and the machine's manual decide.",
              "warn");
    caution_->setWordWrap(true);
    column->addWidget(caution_);
    distance_ = lineEdit("checkDistance", {});
    distance_->setToolTip("Measured at the same place as before the test; Enter keeps it");
    hands::onKept(distance_, this, [this](const QString& text, hands::Answered answered) {
        const auto index = hanging(session_, frame_);
        return index
            && session_.apply(edits::note(session_.document(), *index, note_ + distanceEnding, s(text)),
                              std::move(answered));
    });
    column->addWidget(distance_);
    state_ = label({}, "quiet");
    state_->setObjectName("checkState");
    column->addWidget(state_);
    auto* acts = new QHBoxLayout;
    guard_ = button({}, "", "checkGuard");
    free_ = button("Give free  Enter", "primary", "checkFree");
    acts->addWidget(guard_);
    acts->addStretch();
    acts->addWidget(free_);
    column->addLayout(acts);
    connect(guard_, &QPushButton::clicked, this, [this] {
        frame_.setGuard(!frame_.shows("guard-closed"));
        enter();
    });
    connect(free_, &QPushButton::clicked, this, &CheckPanel::giveFree);
    hide();
}

void CheckPanel::build(const NoteSpec& note)
{
    if (note_ == note.key)
        return;
    note_ = note.key;
    if (row_)
        discard(row_);
    row_ = new LookRow(note);
    static_cast<QVBoxLayout*>(layout())->insertWidget(2, row_);
    connect(row_, &LookRow::picked, this, [this](const QString& choice) {
        picked_ = true; // a digit says what was found; giving free is a key of its own
        if (const auto index = hanging(session_, frame_))
            session_.apply(edits::note(session_.document(), *index, note_, s(choice)));
        follow();
    });
    connect(row_, &LookRow::goOn, this, [this] {
        if (!std::exchange(picked_, false))
            giveFree();
    });
}

bool CheckPanel::follow()
{
    const auto& stages = frame_.program().stages;
    const auto at = static_cast<size_t>(std::max(0, frame_.status().stage));
    const auto index = hanging(session_, frame_);
    const bool waits =
        frame_.state() == LiveFrame::State::Prompt && at < stages.size() && !stages[at].note.empty() && index;
    const NoteSpec* note = waits ? session_.job().method->findNote(stages[at].note) : nullptr;
    const bool fresh = note && !isVisible();
    setVisible(note != nullptr);
    if (!note)
        return false;
    build(*note);
    const Specimen& specimen = session_.job().specimens[*index];
    head_->setText(q(specimen.label + ", " + note->label) + ": does it move free?");
    const std::string found = noteOf(specimen.input, note_);
    row_->setCurrent(found);
    const Method& method = *session_.job().method;
    distance_->setVisible(method.findNote(note_ + distanceEnding) != nullptr);
    hands::fill(distance_, q(noteOf(specimen.input, note_ + distanceEnding)));
    const double before = firstLength(specimen.input, method.drawing.along);
    distance_->setPlaceholderText(before > 0 ? "distance along the load; before the test "
                                          + q(formatQuantity(before, *findUnit("mm"), 4))
                                             : QString("distance along the load"));
    const bool closed = frame_.shows("guard-closed");
    guard_->setText(closed ? "Open guard  G" : "Close guard  G");
    free_->setEnabled(!found.empty() && closed);
    state_->setText(found.empty() ? "Pin turns, parts move: 1, 2 or 3."
                        : closed  ? "Hands out? Then give free."
                                  : "Close the guard before it is given free.");
    adjustSize();
    if (fresh)
        enter();
    return true;
}

void CheckPanel::enter()
{
    if (row_)
        row_->setFocus();
}

/// By the person who checks, never by itself.
void CheckPanel::giveFree()
{
    if (!free_->isEnabled())
        return;
    frame_.answerPrompt();
}

void CheckPanel::keyPressEvent(QKeyEvent* event)
{
    const bool enters = event->key() == Qt::Key_Return || event->key() == Qt::Key_Enter;
    if (event->key() == Qt::Key_G)
        guard_->click();
    else if (enters && distance_->hasFocus())
        enter(); // it was kept, nothing is given free by it
    else if (enters)
        giveFree();
    else
        QWidget::keyPressEvent(event);
}

void CheckPanel::paintEvent(QPaintEvent*)
{
    QPainter painter(this);
    painter.setRenderHint(QPainter::Antialiasing);
    painter.setPen(QPen(pal().accent, 1.5));
    painter.setBrush(pal().surface);
    painter.drawRoundedRect(QRectF(rect()).adjusted(1, 1, -1, -1), 8, 8);
}

} // namespace fortitor
