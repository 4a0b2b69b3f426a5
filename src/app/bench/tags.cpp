// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/bench/tags.h"

#include "app/model/chained_after.h"
#include "app/theme/theme.h"
#include "app/widgets/basics.h"
#include "draw/note_drawing.h"
#include "draw/specimen_drawing.h"
#include "jobs/chained.h"
#include "jobs/edits.h"
#include "methods/common/figures.h"

#include <QContextMenuEvent>
#include <QHelpEvent>
#include <QInputDialog>
#include <QKeyEvent>
#include <QMenu>
#include <QPainter>
#include <QToolTip>
#include <QWheelEvent>

#include <algorithm>
#include <utility>

namespace fortitor {
namespace {

/// How many photographs are joined to a piece.
std::ptrdiff_t photographsOf(const Specimen& specimen)
{
    return std::ranges::count(specimen.pictures, size_t{0}, &ReadingPicture::reading);
}

constexpr int left = 18;
constexpr int gap = 10;
constexpr int infoWidth = 190;

} // namespace

TagStrip::TagStrip(Session& session, QWidget* parent) : QWidget(parent), session_(session)
{
    setObjectName("tags");
    setFocusPolicy(Qt::TabFocus);
    setWhatsThis(
        "A tag for each specimen. The ring fills as it is measured, loaded, read and judged; a triangle says that a "
        "remark waits. Left and right arrows choose, Insert adds one, Delete takes it out with a reason.");
    fit();
    connect(&session, &Session::changed, this, [this] {
        seeAfter();
        fit();
        QString now = session_.isOpen()
            ? QString::number(session_.jobId()) + QString::fromStdString(session_.job().method->id)
            : QString();
        for (size_t i = 0; session_.isOpen() && i < session_.job().specimens.size(); ++i) {
            const Specimen& specimen = session_.job().specimens[i];
            const auto& verdict = session_.outcome().specimens[i].verdict;
            now += QString("/%1 %2 %3 %4 %5 %6")
                       .arg(QString::fromStdString(specimen.label), QString::fromStdString(specimen.input.shape),
                            QString::fromStdString(noteOf(specimen.input, "direction")))
                       .arg(session_.steps(i))
                       .arg(session_.openRemarks(i).size())
                       .arg(static_cast<int>(verdict))
                + QString::fromStdString(specimen.excludedBecause);
        }
        for (size_t i = 0; session_.isOpen() && i < session_.job().specimens.size(); ++i)
            now += QString("/%1").arg(photographsOf(session_.job().specimens[i]));
        now += QString::fromStdString(then_);
        if (std::exchange(shown_, now) != now)
            update();
    });
    connect(&session, &Session::currentChanged, this, [this] {
        seeAfter();
        update();
    });
    connect(&Theme::instance(), &Theme::changed, this, qOverload<>(&QWidget::update));
}

TagStrip::Shape TagStrip::shape() const
{
    Shape s;
    const int n = session_.isOpen() ? static_cast<int>(session_.job().specimens.size()) + 1 : 1;
    const int room = std::max(200, width() - left - infoWidth);
    for (const int wide : {74, 60, 54}) {
        s.width = wide;
        s.perRow = std::max(1, room / (wide + (wide == 74 ? gap : 5)));
        if (n <= s.perRow)
            break;
    }
    if (n > s.perRow) {
        s.width = 54;
        s.height = 44;
    }
    s.rows = (n + s.perRow - 1) / s.perRow;
    return s;
}

void TagStrip::fit()
{
    const Shape s = shape();
    setFixedHeight(s.rows == 1 ? 92 : 12 + 2 * (s.height + 5));
    scroll_ = std::clamp(scroll_, 0, std::max(0, s.rows - 2));
}

QRect TagStrip::tagRect(int index) const
{
    const Shape s = shape();
    const int space = s.width == 74 ? gap : 5;
    const int row = index / s.perRow;
    const int column = index % s.perRow;
    if (s.rows == 1)
        return {left + column * (s.width + space), 14, s.width, s.height};
    return {left + column * (s.width + space), 8 + (row - scroll_) * (s.height + 5), s.width, s.height};
}

void TagStrip::paintTag(QPainter& painter, int index, const QRect& box) const
{
    const Palette& p = pal();
    const auto i = static_cast<size_t>(index);
    const bool here = i == session_.current();
    const bool small = box.height() < 60;
    const Specimen& specimen = session_.job().specimens[i];
    const bool out = !specimen.excludedBecause.empty();
    QRectF body = box;
    if (here && !small)
        body.adjust(0, -5, 0, 0);
    QPainterPath outline(body.bottomLeft()); // round above only
    outline.lineTo(body.left(), body.top() + 7);
    outline.arcTo(QRectF(body.left(), body.top(), 14, 14), 180, -90);
    outline.lineTo(body.right() - 7, body.top());
    outline.arcTo(QRectF(body.right() - 14, body.top(), 14, 14), 90, -90);
    outline.lineTo(body.bottomRight());
    outline.closeSubpath();
    painter.setPen(QPen(here ? p.ink : p.hair, here ? 2 : 1));
    painter.setBrush(p.surface);
    painter.drawPath(outline);
    painter.fillRect(QRectF(body.left() + (here ? 1 : 0.5), body.bottom() - 3, body.width() - (here ? 2 : 1), 3),
                     p.data[0]);

    const QPointF middle(small ? body.left() + 15 : body.center().x(), body.top() + (small ? 19 : 37));
    const double radius = small ? 11 : 15.5;
    if (!small) {
        painter.setPen(QPen(p.hair, 1.4));
        painter.setBrush(Qt::NoBrush);
        painter.drawEllipse(QPointF(body.center().x(), body.top() + 11), 3.2, 3.2);
    }
    painter.setBrush(Qt::NoBrush);
    painter.setPen(QPen(p.hairSoft, small ? 2.2 : 3));
    painter.drawEllipse(middle, radius, radius);
    const int steps = session_.steps(i);
    painter.setPen(QPen(out ? p.quiet : p.ink, small ? 2.2 : 3));
    painter.drawArc(QRectF(middle.x() - radius, middle.y() - radius, 2 * radius, 2 * radius), 90 * 16,
                    -steps * 360 * 16 / Session::allSteps);
    painter.setPen(QPen(out ? p.quiet : p.ink, 1.1));
    painter.setBrush(p.metal);
    const QPainterPath figure =
        silhouette(session_.job().method->drawing.formFor(specimen.input), specimen.input.shape,
                   QRectF(middle.x() - radius * 0.32, middle.y() - radius * 0.58, radius * 0.64, radius * 1.16));
    painter.drawPath(figure);
    // The direction of printing or of fibres shows on the silhouette.
    if (const NoteSpec* note = session_.job().method->noteShownAs(NoteSpec::Shown::Direction))
        if (const auto degrees = directionDegrees(noteOf(specimen.input, note->key))) {
            paintDirection(painter, figure, *degrees, p.data[0]);
            painter.setBrush(Qt::NoBrush);
            painter.drawPath(figure);
        }

    if (photographsOf(specimen) > 0) { // a small frame at the foot of the tag
        const QRectF frame(body.right() - (small ? 12 : 15), body.bottom() - (small ? 14 : 16), 9, 7);
        painter.setPen(QPen(p.quiet, 1.1));
        painter.setBrush(Qt::NoBrush);
        painter.drawRect(frame);
        painter.drawEllipse(frame.center(), 1.6, 1.6);
    }
    if (!session_.openRemarks(i).empty()) {
        const QPointF at(small ? middle.x() + 13 : middle.x() + 22, small ? body.top() + 8 : middle.y() - 14);
        const double size = small ? 4.5 : 6.5;
        painter.setPen(Qt::NoPen);
        painter.setBrush(p.accent);
        const QPointF triangle[] = {at + QPointF(0, -size), at + QPointF(size, size * 0.85),
                                    at + QPointF(-size, size * 0.85)};
        painter.drawPolygon(triangle, 3);
    }
    painter.setPen(out ? p.quiet : p.ink);
    QFont font = wordFont(small ? 10.5 : 12, QFont::DemiBold);
    font.setStrikeOut(out);
    painter.setFont(font);
    const QRectF words = small ? QRectF(middle.x() + 11, body.top(), body.right() - middle.x() - 12, body.height() - 4)
                               : QRectF(body.left() + 2, body.bottom() - 23, body.width() - 4, 18);
    painter.drawText(words, Qt::AlignCenter,
                     QFontMetricsF(font).elidedText(q(specimen.label), Qt::ElideMiddle, words.width() + 4));
}

void TagStrip::paintEvent(QPaintEvent* event)
{
    const Palette& p = pal();
    QPainter painter(this);
    painter.setRenderHint(QPainter::Antialiasing);
    painter.fillRect(rect(), p.paper);
    painter.fillRect(QRect(0, height() - 1, width(), 1), p.hair);
    if (!session_.isOpen())
        return;
    const int n = static_cast<int>(session_.job().specimens.size());
    const Shape s = shape();
    for (int i = 0; i <= n; ++i) {
        const QRect box = tagRect(i);
        if (box.bottom() < 0 || box.top() > height() - 4 || !event->rect().intersects(box.adjusted(-10, -10, 10, 10)))
            continue;
        if (i < n) {
            paintTag(painter, i, box);
            continue;
        }
        QPen pen(p.hair, 1.2);
        pen.setDashPattern({4, 3});
        painter.setPen(pen);
        painter.setBrush(Qt::NoBrush);
        painter.drawRoundedRect(QRectF(box).adjusted(0.5, 0.5, -0.5, -0.5), 7, 7);
        painter.setPen(p.quiet);
        const bool small = box.height() < 60;
        painter.setFont(wordFont(small ? 15 : 20));
        painter.drawText(box.adjusted(0, 0, 0, small ? 0 : -22), Qt::AlignCenter, "+");
        painter.setFont(wordFont(11.5));
        if (!small)
            painter.drawText(box.adjusted(0, 34, 0, 0), Qt::AlignCenter, "add");
    }
    if (n == 0)
        return;
    painter.setFont(wordFont(11.5));
    painter.setPen(p.quiet);
    const QString words = QString("%1 of %2 · ← → to change").arg(session_.current() + 1).arg(n);
    painter.drawText(QRect(width() - infoWidth - 18, height() - 34, infoWidth, 20), Qt::AlignRight | Qt::AlignVCenter,
                     words);
    if (!session_.job().chain.empty() && session_.hasSpecimen()) {
        const std::string found = chainWords(session_.specimen());
        const QString line = "after " + q(session_.job().chain) + (found.empty() ? QString() : ": " + q(found));
        paintHistory(painter, line);
    } else if (!then_.empty())
        paintHistory(painter, q(then_));
    else if (s.rows > 2)
        painter.drawText(QRect(width() - infoWidth - 18, height() - 56, infoWidth, 20),
                         Qt::AlignRight | Qt::AlignVCenter,
                         QString("rows %1–%2 of %3, scroll").arg(scroll_ + 1).arg(scroll_ + 2).arg(s.rows));
    if (hasFocus()) {
        painter.setPen(QPen(p.accent, 2));
        painter.drawLine(QPointF(tagRect(static_cast<int>(session_.current())).left(), height() - 1.5),
                         QPointF(tagRect(static_cast<int>(session_.current())).right(), height() - 1.5));
    }
}

void TagStrip::seeAfter()
{
    then_ = session_.isOpen() && session_.hasSpecimen() ? chainedAfter(session_, session_.current()) : std::string();
}

/// What happened to the piece before or after, at the end of the strip.
void TagStrip::paintHistory(QPainter& painter, const QString& line) const
{
    const int room = width() - tagRect(static_cast<int>(session_.job().specimens.size())).right() - 40;
    painter.drawText(QRect(width() - room - 18, height() - 56, room, 20), Qt::AlignRight | Qt::AlignVCenter,
                     QFontMetricsF(painter.font()).elidedText(line, Qt::ElideRight, room));
}

int TagStrip::tagAt(const QPoint& at) const
{
    if (!session_.isOpen())
        return -1;
    for (int i = 0; i <= static_cast<int>(session_.job().specimens.size()); ++i)
        if (tagRect(i).contains(at))
            return i;
    return -1;
}

void TagStrip::mousePressEvent(QMouseEvent* event)
{
    const int i = tagAt(event->pos());
    if (i < 0)
        return;
    if (i < static_cast<int>(session_.job().specimens.size())) {
        session_.setCurrent(static_cast<size_t>(i));
    } else if (event->button() == Qt::LeftButton) {
        add();
    }
}

/// One more specimen, and the work goes on there.
void TagStrip::add()
{
    emit session_.leaving();
    if (!session_.apply(edits::addSpecimen(session_.document())))
        return;
    session_.setCurrent(session_.job().specimens.size() - 1);
    emit added();
}

void TagStrip::contextMenuEvent(QContextMenuEvent* event)
{
    const int i = tagAt(event->pos());
    if (i < 0 || i >= static_cast<int>(session_.job().specimens.size()))
        return;
    const auto index = static_cast<size_t>(i);
    QMenu menu(this);
    QAction* rename = menu.addAction("Label…");
    QAction* remove = menu.addAction("Take out with reason…");
    QAction* chosen = menu.exec(event->globalPos());
    bool ok = false;
    const QString label = q(session_.job().specimens[index].label);
    if (chosen == rename) {
        const QString text =
            QInputDialog::getText(this, "Label", plain("New label of " + label), QLineEdit::Normal, label, &ok);
        if (ok && !text.trimmed().isEmpty())
            session_.apply(edits::relabel(session_.document(), index, s(text.trimmed())));
    } else if (chosen == remove) {
        const QString why = QInputDialog::getText(this, "Take out " + label, "Why? It stays in the journal.",
                                                  QLineEdit::Normal, {}, &ok);
        if (ok && !why.trimmed().isEmpty())
            session_.apply(edits::removeSpecimen(session_.document(), index, s(why.trimmed())));
    }
}

void TagStrip::keyPressEvent(QKeyEvent* event)
{
    const size_t i = session_.current();
    if (event->key() == Qt::Key_Left && i > 0)
        session_.setCurrent(i - 1);
    else if (event->key() == Qt::Key_Right)
        session_.setCurrent(i + 1);
    else if (event->key() == Qt::Key_Insert && session_.isOpen())
        add();
    else
        QWidget::keyPressEvent(event);
}

void TagStrip::wheelEvent(QWheelEvent* event)
{
    scroll_ = std::clamp(scroll_ + (event->angleDelta().y() < 0 ? 1 : -1), 0, std::max(0, shape().rows - 2));
    update();
}

void TagStrip::resizeEvent(QResizeEvent*)
{
    fit();
}

bool TagStrip::event(QEvent* event)
{
    if (event->type() == QEvent::ToolTip) {
        auto* help = static_cast<QHelpEvent*>(event);
        const int i = tagAt(help->pos());
        if (i >= 0 && i < static_cast<int>(session_.job().specimens.size())) {
            static const char* words[] = {"nothing yet", "measured", "measured and loaded", "read, remarks settled",
                                          "judged"};
            const auto index = static_cast<size_t>(i);
            const Specimen& specimen = session_.job().specimens[index];
            QToolTip::showText(
                help->globalPos(),
                plain(q(specimen.label) + ": " + words[session_.steps(index)]
                      + (chainWords(specimen).empty()
                             ? ""
                             : "\nafter " + q(session_.job().chain) + ": " + q(chainWords(specimen)))
                      + (photographsOf(specimen) == 0 ? QString()
                                                      : QString("\nphotographs: %1").arg(photographsOf(specimen)))
                      + (then_.empty() || index != session_.current() ? "" : "\n" + q(then_))
                      + (specimen.excludedBecause.empty() ? "" : "\nleft out: " + q(specimen.excludedBecause))),
                this);
        } else {
            QToolTip::showText(help->globalPos(), i < 0 ? QString() : QString("One more specimen (Insert)"), this);
        }
        return true;
    }
    return QWidget::event(event);
}

} // namespace fortitor
