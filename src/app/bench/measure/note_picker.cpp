// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/bench/measure/note_picker.h"

#include "app/theme/theme.h"
#include "app/widgets/basics.h"
#include "draw/note_drawing.h"

#include <QKeyEvent>
#include <QMenu>
#include <QMouseEvent>
#include <QPainter>

#include <algorithm>
#include <set>

namespace fortitor {
namespace {

QIcon iconOf(const NoteSpec& note, const std::string& choice)
{
    if (!drawsChoice(note, choice))
        return {};
    constexpr int size = 36;
    QPixmap pixmap(2 * size, 2 * size);
    pixmap.setDevicePixelRatio(2);
    pixmap.fill(Qt::transparent);
    QPainter painter(&pixmap);
    paintNote(painter, pal(), note, choice, QRectF(0, 0, size, size));
    return QIcon(pixmap);
}

} // namespace

NotePicker::NotePicker(const NoteSpec& note, QWidget* parent) : QPushButton(parent), note_(note)
{
    setObjectName("note-" + q(note.key));
    setToolTip(q(note.help.empty() ? note.label : note.help));
    setWhatsThis(q(note.label + ". " + note.help));
    setIconSize({24, 24});
    setMinimumHeight(32);
    setCurrent({});
    connect(this, &QPushButton::clicked, this, &NotePicker::open);
}

void NotePicker::setCurrent(const QString& choice)
{
    current_ = choice;
    setText(choice.isEmpty() ? q(note_.label) + "…" : choice);
    setIcon(iconOf(note_, s(choice)));
}

void NotePicker::open()
{
    if (note_.by == NoteSpec::By::Section)
        openSection();
    else
        openMenu();
}

void NotePicker::openMenu()
{
    auto* menu = new QMenu(this);
    menu->setObjectName("noteMenu");
    menu->setAttribute(Qt::WA_DeleteOnClose);
    menu->setStyleSheet("QMenu { icon-size: 36px; }");
    for (const std::string& choice : note_.choices)
        connect(menu->addAction(iconOf(note_, choice), q(choice)), &QAction::triggered, this,
                [this, choice] { emit picked(q(choice)); });
    menu->addSeparator();
    connect(menu->addAction("not noted"), &QAction::triggered, this, [this] { emit picked({}); });
    menu->popup(mapToGlobal(QPoint(0, height() + 2)));
}

void NotePicker::openSection()
{
    auto* section = new SectionPick(note_, s(current_), this);
    section->setWindowFlags(Qt::Popup);
    section->setAttribute(Qt::WA_DeleteOnClose);
    connect(section, &SectionPick::picked, this, [this, section](const QString& choice) {
        section->close();
        emit picked(choice);
    });
    section->resize(340, 330);
    section->move(mapToGlobal(QPoint(0, height() + 2)));
    section->show();
    section->setFocus();
}

SectionPick::SectionPick(const NoteSpec& note, std::string chosen, QWidget* parent)
    : QWidget(parent), note_(note), chosen_(std::move(chosen))
{
    setObjectName("sectionPick");
    setMouseTracking(true);
    setFocusPolicy(Qt::StrongFocus);
}

QPoint SectionPick::spotOf(const std::string& choice) const
{
    for (const DrawnLayer& layer : sectionLayers(note_.section, room()))
        if (layer.choice == choice)
            return layer.box.center().toPoint();
    return {};
}

void SectionPick::paintEvent(QPaintEvent*)
{
    const Palette& p = pal();
    QPainter painter(this);
    painter.setRenderHint(QPainter::Antialiasing);
    painter.fillRect(rect(), p.surface);
    painter.setPen(QPen(p.hair, 1));
    painter.drawRect(rect().adjusted(0, 0, -1, -1));
    painter.setFont(wordFont(12.5, QFont::DemiBold));
    painter.setPen(p.ink);
    painter.drawText(QPointF(24, 26), "Where did it fail?");
    paintSection(painter, p, note_.section, room(), chosen_, hovered_);
    // Names stand apart from their thin layers, joined by a line; each once, at its first layer.
    double next = room().top() + 20;
    std::set<std::string> named;
    for (const DrawnLayer& layer : sectionLayers(note_.section, room())) {
        if (layer.choice.empty() || !named.insert(layer.choice).second)
            continue;
        const bool on = layer.choice == hovered_ || layer.choice == chosen_;
        const double y = std::max(next, layer.box.center().y() - 6);
        next = y + 34;
        painter.setPen(QPen(p.hair, 1));
        painter.drawLine(QPointF(room().right() + 2, layer.box.center().y()), QPointF(room().right() + 14, y + 6));
        painter.setFont(wordFont(12.5, on ? QFont::DemiBold : QFont::Normal));
        painter.setPen(on ? p.accentText : p.ink);
        painter.drawText(QPointF(room().right() + 20, y + 10), q(layer.choice));
    }
    painter.setFont(wordFont(11.5));
    painter.setPen(p.quiet);
    painter.drawText(QPointF(24, height() - 8), "Arrows and Enter choose; Esc closes.");
}

void SectionPick::mouseMoveEvent(QMouseEvent* event)
{
    hovered_.clear();
    for (const DrawnLayer& layer : sectionLayers(note_.section, room()))
        if (layer.box.contains(event->position()))
            hovered_ = layer.choice;
    setCursor(hovered_.empty() ? Qt::ArrowCursor : Qt::PointingHandCursor);
    update();
}

void SectionPick::mousePressEvent(QMouseEvent* event)
{
    for (const DrawnLayer& layer : sectionLayers(note_.section, room()))
        if (layer.box.contains(event->position()) && !layer.choice.empty()) {
            emit picked(q(layer.choice));
            return;
        }
    if (!rect().contains(event->pos()))
        close();
}

void SectionPick::keyPressEvent(QKeyEvent* event)
{
    std::vector<std::string> order;
    for (const SketchLayer& layer : note_.section)
        if (!layer.choice.empty() && std::ranges::find(order, layer.choice) == order.end())
            order.push_back(layer.choice);
    const auto last = std::ssize(order) - 1;
    const auto at = std::ranges::find(order, hovered_.empty() ? chosen_ : hovered_);
    const auto i = at == order.end() ? -1 : at - order.begin();
    if (event->key() == Qt::Key_Down)
        hovered_ = order[static_cast<size_t>(std::min<std::ptrdiff_t>(i + 1, last))];
    else if (event->key() == Qt::Key_Up)
        hovered_ = order[static_cast<size_t>(std::max<std::ptrdiff_t>(i - 1, 0))];
    else if ((event->key() == Qt::Key_Return || event->key() == Qt::Key_Space) && !hovered_.empty())
        emit picked(q(hovered_));
    else
        QWidget::keyPressEvent(event);
    update();
}

} // namespace fortitor
