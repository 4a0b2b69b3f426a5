// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/bench/note_picker.h"

#include "app/theme/theme.h"
#include "app/widgets/basics.h"
#include "draw/note_drawing.h"

#include <QKeyEvent>
#include <QMenu>
#include <QMouseEvent>
#include <QPainter>

namespace fortitor {
namespace {

QIcon iconOf(const std::string& family, const std::string& choice)
{
    constexpr int size = 36;
    QPixmap pixmap(2 * size, 2 * size);
    pixmap.setDevicePixelRatio(2);
    pixmap.fill(Qt::transparent);
    QPainter painter(&pixmap);
    paintNote(painter, pal(), family, choice, QRectF(0, 0, size, size));
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
    setIcon(choice.isEmpty() || note_.drawing.empty() ? QIcon() : iconOf(note_.drawing, s(choice)));
}

void NotePicker::open()
{
    if (note_.drawing == "sandwich")
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
        connect(menu->addAction(note_.drawing.empty() ? QIcon() : iconOf(note_.drawing, choice), q(choice)), &QAction::triggered, this, [this, choice] { emit picked(q(choice)); });
    menu->addSeparator();
    connect(menu->addAction("not noted"), &QAction::triggered, this, [this] { emit picked({}); });
    menu->popup(mapToGlobal(QPoint(0, height() + 2)));
}

void NotePicker::openSection()
{
    auto* section = new SectionPick(s(current_), this);
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

SectionPick::SectionPick(std::string chosen, QWidget* parent) : QWidget(parent), chosen_(std::move(chosen))
{
    setObjectName("sectionPick");
    setMouseTracking(true);
    setFocusPolicy(Qt::StrongFocus);
}

QPoint SectionPick::spotOf(const std::string& choice) const
{
    for (const SandwichLayer& layer : sandwichLayers(room()))
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
    painter.drawText(QPointF(24, 26), "Where did it part?");
    paintSandwich(painter, p, room(), chosen_, hovered_);
    std::string named;
    for (const SandwichLayer& layer : sandwichLayers(room())) {
        const bool low = layer.box.center().y() > room().center().y();
        if (low || layer.choice.empty())
            continue;
        const bool on = layer.choice == hovered_ || layer.choice == chosen_;
        painter.setPen(QPen(p.hair, 1));
        // Names stand apart from their thin layers, joined by a line.
        const double y = room().top() + 20 + 34 * static_cast<double>(std::count(named.begin(), named.end(), '|'));
        painter.drawLine(QPointF(room().right() + 2, layer.box.center().y()), QPointF(room().right() + 14, y + 6));
        painter.setFont(wordFont(12.5, on ? QFont::DemiBold : QFont::Normal));
        painter.setPen(on ? p.accentText : p.ink);
        painter.drawText(QPointF(room().right() + 20, y + 10), layer.name);
        named += '|';
    }
    painter.setFont(wordFont(12.5, chosen_ == "core" || hovered_ == "core" ? QFont::DemiBold : QFont::Normal));
    painter.setPen(p.ink);
    painter.drawText(QPointF(room().right() + 20, room().center().y() + 5), "core");
    painter.setFont(wordFont(11.5));
    painter.setPen(p.quiet);
    painter.drawText(QPointF(24, height() - 8), "Block adhesive: no property of the panel. Esc closes.");
}

void SectionPick::mouseMoveEvent(QMouseEvent* event)
{
    hovered_.clear();
    for (const SandwichLayer& layer : sandwichLayers(room()))
        if (layer.box.contains(event->position()))
            hovered_ = layer.choice;
    setCursor(hovered_.empty() ? Qt::ArrowCursor : Qt::PointingHandCursor);
    update();
}

void SectionPick::mousePressEvent(QMouseEvent* event)
{
    for (const SandwichLayer& layer : sandwichLayers(room()))
        if (layer.box.contains(event->position()) && !layer.choice.empty()) {
            emit picked(q(layer.choice));
            return;
        }
    if (!rect().contains(event->pos()))
        close();
}

void SectionPick::keyPressEvent(QKeyEvent* event)
{
    static const std::vector<std::string> order{"block adhesive", "skin", "core-to-skin bond", "core"};
    const auto at = std::ranges::find(order, hovered_.empty() ? chosen_ : hovered_);
    const auto i = at == order.end() ? -1 : at - order.begin();
    if (event->key() == Qt::Key_Down)
        hovered_ = order[static_cast<size_t>(std::min<std::ptrdiff_t>(i + 1, 3))];
    else if (event->key() == Qt::Key_Up)
        hovered_ = order[static_cast<size_t>(std::max<std::ptrdiff_t>(i - 1, 0))];
    else if ((event->key() == Qt::Key_Return || event->key() == Qt::Key_Space) && !hovered_.empty())
        emit picked(q(hovered_));
    else
        QWidget::keyPressEvent(event);
    update();
}

} // namespace fortitor
