// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/bench/margin.h"

#include "app/theme/theme.h"
#include "app/widgets/basics.h"
#include "jobs/edits.h"

#include <QDateTime>
#include <QHBoxLayout>
#include <QLineEdit>
#include <QMouseEvent>
#include <QPainter>

namespace fortitor {
namespace {

/// The mark: a ring for a note, a triangle for a caution, a crossed square for a reject. Shape and
/// colour both tell.
class Mark : public QWidget {
public:
    Mark(Severity severity, bool settled, QWidget* parent) : QWidget(parent), severity_(severity), settled_(settled) { setFixedSize(16, 18); }

protected:
    void paintEvent(QPaintEvent*) override
    {
        const Palette& p = pal();
        QPainter painter(this);
        painter.setRenderHint(QPainter::Antialiasing);
        const QPointF c(8, 9);
        if (severity_ == Severity::Note) {
            painter.setPen(QPen(p.quiet, 1.6));
            painter.drawEllipse(c, 5.5, 5.5);
        } else if (severity_ == Severity::Caution) {
            painter.setPen(settled_ ? QPen(p.accent, 1.6) : Qt::NoPen);
            painter.setBrush(settled_ ? Qt::NoBrush : QBrush(p.accent));
            const QPointF triangle[] = {c + QPointF(0, -6.5), c + QPointF(6.8, 5.5), c + QPointF(-6.8, 5.5)};
            painter.drawPolygon(triangle, 3);
        } else {
            painter.setPen(settled_ ? QPen(p.stop, 1.6) : Qt::NoPen);
            painter.setBrush(settled_ ? Qt::NoBrush : QBrush(p.stop));
            painter.drawRect(QRectF(2.5, 3.5, 11, 11));
            painter.setPen(QPen(settled_ ? p.stop : QColor(Qt::white), 1.6));
            painter.drawLine(QPointF(5, 6), QPointF(11, 12));
            painter.drawLine(QPointF(11, 6), QPointF(5, 12));
        }
    }

private:
    Severity severity_;
    bool settled_;
};

} // namespace

Margin::Margin(Session& session, QWidget* parent) : QScrollArea(parent), session_(session)
{
    setObjectName("margin");
    setFixedWidth(268);
    setWidgetResizable(true);
    setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
    auto* inside = new QWidget;
    list_ = new QVBoxLayout(inside);
    list_->setContentsMargins(15, 12, 14, 12);
    list_->setSpacing(0);
    setWidget(inside);
    viewport()->setAutoFillBackground(false);
    // While readings are keyed one after the other the next key comes first, the remarks a moment later.
    later_.setSingleShot(true);
    later_.setInterval(80);
    connect(&later_, &QTimer::timeout, this, &Margin::rebuild);
    connect(&session, &Session::changed, this, [this] { session_.stage() == static_cast<int>(Stage::Load) ? later_.start() : rebuild(); });
    connect(&session, &Session::currentChanged, this, &Margin::rebuild);
    connect(&session, &Session::stageChanged, this, &Margin::rebuild);
    connect(&Theme::instance(), &Theme::changed, this, &Margin::rebuild);
    rebuild();
}

void Margin::paintEvent(QPaintEvent* event)
{
    QPainter painter(viewport());
    painter.fillRect(viewport()->rect(), pal().margin);
    painter.fillRect(QRect(0, 0, 1, viewport()->height()), pal().hair);
    QScrollArea::paintEvent(event);
}

void Margin::setPageRemarks(const std::vector<Remark>& remarks)
{
    const auto same = remarks.size() == pageRemarks_.size() && std::equal(remarks.begin(), remarks.end(), pageRemarks_.begin(), [](const Remark& a, const Remark& b) { return a.code == b.code && a.text == b.text && a.advice == b.advice; });
    if (same)
        return;
    pageRemarks_ = remarks;
    rebuild();
}

void Margin::addCard(const Remark& remark, bool settleable)
{
    const Settlement* settled = settleable && session_.hasSpecimen() ? session_.settlement(session_.current(), remark.code) : nullptr;
    auto* card = new QWidget;
    card->setObjectName("remark-" + q(remark.code));
    auto* row = new QHBoxLayout(card);
    row->setContentsMargins(0, 9, 0, 9);
    row->setSpacing(10);
    row->addWidget(new Mark(remark.severity, settled != nullptr, card), 0, Qt::AlignTop);
    auto* words = new QVBoxLayout;
    words->setSpacing(3);
    auto* text = label(q(remark.text));
    text->setTextInteractionFlags(Qt::TextSelectableByMouse);
    words->addWidget(text);
    if (settled) {
        words->addWidget(label("Accepted by " + q(settled->who) + ": " + q(settled->why), "quiet"));
    } else if (!remark.advice.empty()) {
        words->addWidget(label(q(remark.advice), "quiet"));
    }
    auto* actions = new QBoxLayout(width() < 250 ? QBoxLayout::TopToBottom : QBoxLayout::LeftToRight);
    actions->setSpacing(width() < 250 ? 2 : 14);
    if (!remark.field.empty() && !settled) {
        auto* go = button("Go there", "link", "remarkGo", card);
        connect(go, &QPushButton::clicked, this, [this, field = q(remark.field)] { emit fieldAsked(field); });
        actions->addWidget(go);
    } else if (!remark.symbols.empty() && !settled && remark.severity != Severity::Note && session_.stage() == 4) {
        auto* show = button("Show", "link", "remarkShow", card);
        connect(show, &QPushButton::clicked, this, [this, symbol = q(remark.symbols.front())] { emit symbolAsked(symbol); });
        actions->addWidget(show);
    }
    if (settleable && remark.severity != Severity::Note) {
        auto* accept = button(settled ? "Open again" : "Accept with reason…", "link", settled ? "remarkReopen" : "remarkAccept", card);
        actions->addWidget(accept);
        const size_t index = session_.current();
        if (settled) {
            connect(accept, &QPushButton::clicked, this, [this, index, code = remark.code] { session_.apply(edits::unsettle(session_.document(), index, code)); });
        } else {
            auto* reason = new QLineEdit(card);
            reason->setObjectName("remarkReason");
            reason->setPlaceholderText("Reason, Enter to keep");
            reason->hide();
            words->addLayout(actions);
            words->addWidget(reason);
            connect(accept, &QPushButton::clicked, reason, [reason] { reason->show(); reason->setFocus(); });
            connect(reason, &QLineEdit::returnPressed, this, [this, index, reason, code = remark.code] {
                const QString why = reason->text().trimmed();
                if (!why.isEmpty())
                    session_.apply(edits::settle(session_.document(), index, code, s(session_.who()), s(why), s(QDateTime::currentDateTime().toString("yyyy-MM-dd HH:mm"))));
            });
        }
    }
    if (!actions->parent() && actions->count() > 0)
        words->addLayout(actions);
    actions->addStretch();
    row->addLayout(words, 1);
    list_->addWidget(card);
    list_->addWidget(hairline());
}

void Margin::addSafety()
{
    if (!session_.isOpen())
        return;
    QStringList words;
    for (const StepSpec& step : session_.job().method->steps)
        if (static_cast<int>(step.stage) == session_.stage() && !step.safety.empty() && !words.contains(q(step.safety)))
            words << q(step.safety);
    if (words.isEmpty())
        return;
    list_->addSpacing(14);
    list_->addWidget(label("Take care", "head"));
    list_->addSpacing(4);
    for (const QString& w : words)
        list_->addWidget(label(w, "quiet"));
    list_->addSpacing(6);
    list_->addWidget(label("Local rules, the machine's manual and a competent person decide.", "quiet"));
}

void Margin::rebuild()
{
    later_.stop();
    clearLayout(list_);
    if (!session_.isOpen())
        return;
    const QString who = session_.hasSpecimen() ? " · " + q(session_.specimen().label) : QString();
    list_->addWidget(label(session_.stage() >= 5 ? "Remarks on the set" : "Remarks" + who, "head"));
    list_->addSpacing(6);
    list_->addWidget(hairline());
    for (const Remark& r : pageRemarks_)
        addCard(r, false);
    std::vector<Remark> remarks;
    if (session_.hasSpecimen() && session_.stage() > 0) {
        const SpecimenOutcome& s = session_.specimenOutcome();
        if (s.problem)
            remarks.push_back({"problem", Severity::Reject, {}, s.problem->text(), {}, {}});
        if (s.outcome)
            remarks = s.outcome->remarks;
    }
    // What waits first, then what is only worth knowing; before the test the figures that are not
    // there yet are no news.
    std::stable_sort(remarks.begin(), remarks.end(), [](const Remark& a, const Remark& b) { return a.severity > b.severity; });
    const bool before = session_.hasSpecimen() && !session_.record(session_.current());
    size_t shown = 0;
    for (const Remark& r : session_.outcome().remarks)
        if (session_.stage() >= 5 || (session_.stage() == 0 && r.code == "unknown-key")) {
            addCard(r, false);
            ++shown;
        }
    if (session_.stage() >= 5 && session_.hasSpecimen()) {
        list_->addSpacing(12);
        list_->addWidget(label(q(session_.specimen().label), "head"));
    }
    for (const Remark& r : remarks) {
        if (before && (r.code == "no-record" || r.code == "missing-dimension"))
            continue;
        if (r.code == "not-applicable" && session_.stage() != 4)
            continue;
        addCard(r, true);
        ++shown;
    }
    if (shown + pageRemarks_.size() == 0)
        list_->addWidget(label("\nNothing to remark.", "quiet"));
    addSafety();
    list_->addStretch();
    settleLayout(list_);
}

} // namespace fortitor
