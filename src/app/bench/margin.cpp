// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/bench/margin.h"

#include "app/theme/theme.h"
#include "app/widgets/basics.h"
#include "app/widgets/hands.h"
#include "jobs/edits.h"

#include <QApplication>
#include <QDateTime>
#include <QHBoxLayout>
#include <QLineEdit>
#include <QMouseEvent>
#include <QPainter>
#include <QScrollBar>

namespace fortitor {
namespace {

/// The mark: a ring for a note, a triangle for a caution, a crossed square for a reject. Shape and
/// colour both tell.
class Mark : public QWidget {
public:
    Mark(Severity severity, bool settled, QWidget* parent) : QWidget(parent), severity_(severity), settled_(settled)
    {
        setFixedSize(16, 18);
    }

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
    // While readings are keyed one after the other the next key comes first, while specimens are worked out the page;
    // the remarks a moment later.
    later_.setSingleShot(true);
    later_.setInterval(80);
    connect(&later_, &QTimer::timeout, this, &Margin::rebuild);
    connect(&session, &Session::changed, this, [this] {
        const bool busy = session_.stage() == static_cast<int>(Stage::Load) || session_.working() > 0;
        busy ? later_.start() : rebuild();
    });
    for (auto signal : {&Session::currentChanged, &Session::opened})
        connect(&session, signal, this, &Margin::rebuild);
    connect(&session, &Session::stageChanged, this, &Margin::rebuild);
    connect(&Theme::instance(), &Theme::changed, viewport(), qOverload<>(&QWidget::update));
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
    replace(pageRemarks_, remarks);
}

void Margin::setTesterRemarks(const std::vector<Remark>& remarks)
{
    replace(testerRemarks_, remarks);
}

void Margin::replace(std::vector<Remark>& old, const std::vector<Remark>& remarks)
{
    const auto same = remarks.size() == old.size()
        && std::equal(remarks.begin(), remarks.end(), old.begin(), [](const Remark& a, const Remark& b) {
                          return a.code == b.code && a.text == b.text && a.advice == b.advice;
                      });
    if (same)
        return;
    old = remarks;
    rebuild();
}

Margin::Entry Margin::card(const Remark& remark, bool settleable)
{
    const Settlement* settled =
        settleable && session_.hasSpecimen() ? session_.settlement(session_.current(), remark.code) : nullptr;
    QStringList key{settleable && session_.hasSpecimen()
                        ? QString::number(session_.jobId()) + "/" + q(session_.specimen().label)
                        : QString("page"),
                    q(remark.code),
                    q(remark.text),
                    q(remark.advice),
                    q(remark.field),
                    QString::number(static_cast<int>(remark.severity)),
                    settled ? q(settled->who + settled->why) : QString(),
                    QString::number(session_.stage() == static_cast<int>(Stage::Read)),
                    QString::number(width() < 250)};
    return {key.join('\x1f'), [this, remark, settleable] { return makeCard(remark, settleable); }};
}

QWidget* Margin::makeCard(const Remark& remark, bool settleable)
{
    const Settlement* settled =
        settleable && session_.hasSpecimen() ? session_.settlement(session_.current(), remark.code) : nullptr;
    auto* card = new QWidget;
    card->setObjectName("remark-" + q(remark.code));
    auto* outer = new QVBoxLayout(card);
    outer->setContentsMargins(0, 0, 0, 0);
    outer->setSpacing(0);
    auto* row = new QHBoxLayout;
    row->setContentsMargins(0, 9, 0, 9);
    row->setSpacing(10);
    outer->addLayout(row);
    outer->addWidget(hairline());
    row->addWidget(new Mark(remark.severity, settled != nullptr, card), 0, Qt::AlignTop);
    auto* words = new QVBoxLayout;
    words->setSpacing(3);
    row->addLayout(words, 1);
    auto* text = label(q(remark.text));
    text->setTextInteractionFlags(Qt::TextSelectableByMouse);
    words->addWidget(text);
    if (settled)
        words->addWidget(label("Accepted by " + q(settled->who) + ": " + q(settled->why), "quiet"));
    else if (!remark.advice.empty())
        words->addWidget(label(q(remark.advice), "quiet"));
    auto* actions = new QBoxLayout(width() < 250 ? QBoxLayout::TopToBottom : QBoxLayout::LeftToRight);
    actions->setSpacing(width() < 250 ? 2 : 14);
    words->addLayout(actions);
    if (!remark.field.empty() && !settled) {
        auto* go = button("Go there", "link", "remarkGo", card);
        connect(go, &QPushButton::clicked, this, [this, field = q(remark.field)] { emit fieldAsked(field); });
        actions->addWidget(go);
    } else if (!remark.symbols.empty() && !settled && remark.severity != Severity::Note
               && session_.stage() == static_cast<int>(Stage::Read)) {
        auto* show = button("Show", "link", "remarkShow", card);
        connect(show, &QPushButton::clicked, this,
                [this, symbol = q(remark.symbols.front())] { emit symbolAsked(symbol); });
        actions->addWidget(show);
    }
    if (settleable && remark.severity != Severity::Note) {
        auto* accept = button(settled ? "Open again" : "Accept with reason…", "link",
                              settled ? "remarkReopen" : "remarkAccept", card);
        actions->addWidget(accept);
        if (settled)
            connect(accept, &QPushButton::clicked, this, [this, index = session_.current(), code = remark.code] {
                session_.apply(edits::unsettle(session_.document(), index, code));
            });
        else
            addReason(words, accept, remark.code);
    }
    actions->addStretch();
    return card;
}

/// The field for the reason: opened by the button, open still with what was typed when the card comes again.
void Margin::addReason(QVBoxLayout* words, QPushButton* accept, const std::string& code)
{
    auto* reason = new QLineEdit;
    reason->setObjectName("remarkReason");
    reason->setPlaceholderText("Reason, Enter to keep");
    words->addWidget(reason);
    const size_t index = session_.current();
    const QString draft = QString::number(session_.jobId()) + "/" + q(session_.specimen().label) + "/" + q(code);
    const auto typed = reasons_.find(draft);
    reason->setText(typed == reasons_.end() ? QString() : typed->second);
    reason->setModified(typed != reasons_.end());
    reason->setVisible(typed != reasons_.end());
    connect(accept, &QPushButton::clicked, reason, [reason] {
        reason->show();
        reason->setFocus();
    });
    connect(reason, &QLineEdit::textEdited, this, [this, draft](const QString& text) {
        if (text.isEmpty())
            reasons_.erase(draft);
        else
            reasons_[draft] = text;
    });
    connect(reason, &QLineEdit::returnPressed, this, [this, index, reason, draft, code] {
        const QString why = reason->text().trimmed();
        if (why.isEmpty())
            return;
        reason->setModified(false);
        reason->hide(); // the hand is off it, the card may follow
        if (session_.apply(edits::settle(session_.document(), index, code, s(session_.who()), s(why),
                                         s(QDateTime::currentDateTime().toString("yyyy-MM-dd HH:mm"))))) {
            reasons_.erase(draft);
            return;
        }
        reason->setModified(true);
        reason->show();
        reason->setFocus();
    });
}

QWidget* Margin::makeSafety(const QStringList& words) const
{
    auto* care = new QWidget;
    auto* column = new QVBoxLayout(care);
    column->setContentsMargins(0, 14, 0, 0);
    column->setSpacing(0);
    column->addWidget(label("Take care", "head"));
    column->addSpacing(4);
    for (const QString& w : words)
        column->addWidget(label(w, "quiet"));
    column->addSpacing(6);
    column->addWidget(label("Local rules, the machine's manual and a competent person decide.", "quiet"));
    return care;
}

std::vector<Margin::Entry> Margin::entries()
{
    std::vector<Entry> all;
    const auto words = [&](const QString& text, const char* kind, int above, int below) {
        all.push_back({QString(kind) + "/" + text, [text, kind, above, below] {
                           auto* made = label(text, kind);
                           made->setContentsMargins(0, above, 0, below);
                           return made;
                       }});
    };
    const QString who = session_.hasSpecimen() ? " · " + q(session_.specimen().label) : QString();
    words(session_.stage() >= static_cast<int>(Stage::Judge) ? "Remarks on the set" : "Remarks" + who, "head", 0, 6);
    all.push_back({"line", [] { return hairline(); }});
    const size_t before = all.size();
    for (const auto* list : {&testerRemarks_, &pageRemarks_})
        for (const Remark& r : *list)
            all.push_back(card(r, false));
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
    std::stable_sort(remarks.begin(), remarks.end(),
                     [](const Remark& a, const Remark& b) { return a.severity > b.severity; });
    const bool untested = session_.hasSpecimen() && !session_.hasRecord(session_.current());
    for (const Remark& r : session_.outcome().remarks)
        if (session_.stage() >= static_cast<int>(Stage::Judge)
            || (session_.stage() == 0 && (r.code == "unknown-key" || r.code == "import-unfinished")))
            all.push_back(card(r, false));
    if (session_.stage() >= static_cast<int>(Stage::Judge) && session_.outcome().set)
        for (const Remark& r : session_.outcome().set->remarks)
            all.push_back(card(r, false));
    const bool any = all.size() > before;
    if (session_.stage() >= static_cast<int>(Stage::Judge) && session_.hasSpecimen())
        words(q(session_.specimen().label), "head", 12, 0);
    const size_t own = all.size();
    for (const Remark& r : remarks) {
        if (untested && (r.code == "no-record" || r.code == "no-readings" || r.code == "missing-dimension"))
            continue;
        if (r.code == "not-applicable" && session_.stage() != static_cast<int>(Stage::Read))
            continue;
        all.push_back(card(r, true));
    }
    if (!any && all.size() == own)
        words("Nothing to remark.", "quiet", 14, 0);
    QStringList care;
    for (const StepSpec& step : session_.job().method->steps)
        if (static_cast<int>(step.stage) == session_.stage() && !step.safety.empty() && !care.contains(q(step.safety)))
            care << q(step.safety);
    if (!care.isEmpty())
        all.push_back({"care/" + care.join('\n'), [this, care] { return makeSafety(care); }});
    return all;
}

/// A card in which a reason is being typed stays, also when its remark says something else meanwhile or
/// is gone: it follows once the reason is kept or dropped.
void Margin::keepTyped(std::vector<Entry>& wanted)
{
    const QString here =
        session_.hasSpecimen() ? QString::number(session_.jobId()) + "/" + q(session_.specimen().label) : QString();
    for (size_t i = 0; i < shown_.size(); ++i) {
        const auto& [key, widget] = shown_[i];
        const auto* focus = qobject_cast<QLineEdit*>(QApplication::focusWidget());
        const bool busy = hands::on(widget) || (focus && widget->isAncestorOf(focus));
        if (!busy || key.section('\x1f', 0, 0) != here || std::ranges::find(wanted, key, &Entry::key) != wanted.end())
            continue;
        const QString remark = key.section('\x1f', 0, 1);
        const auto now =
            std::ranges::find_if(wanted, [&](const Entry& e) { return e.key.section('\x1f', 0, 1) == remark; });
        if (now != wanted.end())
            now->key = key;
        else
            wanted.insert(wanted.begin() + static_cast<std::ptrdiff_t>(std::min(i, wanted.size())), Entry{key, {}});
        hands::whenFree(widget, "rebuild", [this] { later_.start(); });
    }
}

/// Cards that stand already stay as they are, with what is typed in them; the rest is put in its place.
void Margin::rebuild()
{
    later_.stop();
    std::vector<Entry> wanted = session_.isOpen() ? entries() : std::vector<Entry>();
    keepTyped(wanted);
    if (std::ranges::equal(wanted, shown_, {}, &Entry::key, &std::pair<QString, QWidget*>::first))
        return;
    const int place = verticalScrollBar()->value();
    auto before = std::exchange(shown_, {});
    while (QLayoutItem* item = list_->takeAt(0))
        delete item; // the widgets are in `before`
    for (const Entry& entry : wanted) {
        const auto at = std::ranges::find(before, entry.key, &std::pair<QString, QWidget*>::first);
        QWidget* widget = at != before.end() ? at->second : entry.make();
        if (at != before.end())
            before.erase(at);
        list_->addWidget(widget);
        shown_.emplace_back(entry.key, widget);
    }
    list_->addStretch(1); // cards keep their own height
    for (const auto& [key, widget] : before)
        discard(widget);
    settleLayout(list_);
    verticalScrollBar()->setValue(place);
}

} // namespace fortitor
