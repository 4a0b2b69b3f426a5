// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/theme/theme.h"

#include <QApplication>
#include <QStyleFactory>
#include <QToolTip>

namespace fortitor {
namespace {

QString sheet(const Palette& p)
{
    QString css = R"(
* { font-family: "@words"; }
QWidget { color: @ink; }
QMainWindow, QDialog { background: @paper; }
QDialog { border: 1px solid @hair; }
QToolTip { background: @surface; color: @ink; border: 1px solid @hair; padding: 5px; }
QLabel[kind="quiet"] { color: @quiet; }
QLabel[kind="title"] { font-size: 17px; font-weight: 600; }
QLabel[kind="head"] { font-size: 13px; font-weight: 600; }
QLabel[kind="warn"] { color: @accentText; }
QLineEdit, QComboBox, QPlainTextEdit, QSpinBox { background: @surface; border: 1px solid @hair; border-radius: 3px;
    padding: 5px 8px; selection-background-color: @accent; selection-color: white; font-size: 13px; }
QLineEdit:focus, QComboBox:focus, QPlainTextEdit:focus, QSpinBox:focus { border: 2px solid @accent; padding: 4px 7px; }
QLineEdit[kind="figure"] { font-family: "@figures"; font-size: 16px; }
QLineEdit[queried="true"] { border: 2px solid @accent; background: @tint; }
QLineEdit[wrong="true"] { border: 2px solid @stop; }
QLineEdit:disabled, QComboBox:disabled { color: @quiet; background: @paper; }
QComboBox { combobox-popup: 0; }
QComboBox::drop-down { border: none; width: 22px; }
QComboBox::down-arrow { image: url(:/arrow-@mode.svg); width: 10px; height: 7px; margin-right: 8px; }
QComboBox QAbstractItemView { background: @surface; border: 1px solid @hair; selection-background-color: @tint;
    selection-color: @ink; outline: none; }
QComboBox QAbstractItemView::item { min-height: 26px; padding: 2px 8px; border: none; color: @ink; }
QComboBox QAbstractItemView::item:selected { background: @tint; color: @ink; }
QPushButton { background: @surface; border: 1px solid @hair; border-radius: 4px; padding: 6px 14px; font-size: 13px; }
QPushButton:hover { border-color: @quiet; }
QPushButton:focus { border: 2px solid @accent; padding: 5px 13px; }
QPushButton:disabled { color: @quiet; border-color: @hairSoft; }
QPushButton[kind="primary"] { background: @accentText; color: @onAccent; border: 1px solid @accentText;
    font-weight: 600; }
QPushButton[kind="primary"]:disabled { background: @hair; border-color: @hair; color: @quiet; }
QPushButton[kind="primary"]:focus { border: 2px solid @ink; }
QPushButton[kind="stop"] { background: @stop; color: white; border: 1px solid @stop; font-size: 17px;
    font-weight: 600; }
QPushButton[kind="big"] { border: 2px solid @ink; font-size: 16px; font-weight: 600; }
QPushButton[kind="link"] { background: transparent; border: none; color: @accentText; font-weight: 600;
    padding: 2px 0; text-align: left; }
QPushButton[kind="link"]:focus { text-decoration: underline; border: none; padding: 2px 0; }
QPushButton[kind="link"]:hover { text-decoration: underline; }
QPushButton[kind="segment"] { border-radius: 0; padding: 5px 12px; color: @quiet; background: transparent;
    border: none; border-bottom: 2px solid @hair; }
QPushButton[kind="segment"]:checked { color: @ink; font-weight: 600; border-bottom: 2px solid @accent; }
QPushButton[kind="segment"]:focus { padding: 5px 12px; border: none; border-bottom: 2px solid @accentText;
    text-decoration: underline; }
QCheckBox { spacing: 8px; font-size: 13px; }
QCheckBox::indicator, QListView::indicator { width: 14px; height: 14px; border: 1.5px solid @quiet;
    border-radius: 2px; background: @surface; }
QCheckBox::indicator:checked, QListView::indicator:checked { background: @ink; border-color: @ink;
    image: url(:/tick-@mode.svg); }
QCheckBox:focus { color: @accentText; }
QScrollArea { border: none; background: transparent; }
QScrollArea > QWidget > QWidget { background: transparent; }
QScrollBar:vertical { background: transparent; width: 9px; margin: 0; }
QScrollBar::handle:vertical { background: @hair; border-radius: 4px; min-height: 30px; }
QScrollBar:horizontal { background: transparent; height: 9px; margin: 0; }
QScrollBar::handle:horizontal { background: @hair; border-radius: 4px; min-width: 30px; }
QScrollBar::add-line, QScrollBar::sub-line { width: 0; height: 0; }
QScrollBar::add-page, QScrollBar::sub-page { background: transparent; }
QTableView { background: transparent; border: none; gridline-color: transparent; font-size: 13px;
    selection-background-color: @tint; selection-color: @ink; alternate-background-color: transparent; outline: none; }
QTableView::item { border-bottom: 1px solid @hairSoft; padding: 4px 8px; }
QTableView::item:focus { background: @tint; }
QHeaderView { background: transparent; }
QHeaderView::section { background: transparent; color: @quiet; border: none; border-bottom: 1px solid @hair;
    padding: 6px 8px; font-size: 12px; text-align: left; }
QListView { background: transparent; border: none; outline: none; font-size: 13px; }
QListView#suggestions { background: @surface; border: 1px solid @hair; }
QListView::item { padding: 7px 10px; border-bottom: 1px solid @hairSoft; }
QListView::item:selected { background: @tint; color: @ink; }
QCalendarWidget QWidget { background: @surface; alternate-background-color: @paper; }
QCalendarWidget QAbstractItemView { background: @surface; color: @ink; selection-background-color: @tint;
    selection-color: @ink; }
QCalendarWidget QToolButton { background: @surface; color: @ink; border: none; padding: 4px; }
QMenu { background: @surface; border: 1px solid @hair; padding: 4px; }
QMenu::item { padding: 6px 22px; }
QMenu::item:selected { background: @tint; }
QMenu::item:disabled { color: @quiet; }
QMenu::separator { height: 1px; background: @hair; margin: 4px 8px; }
QProgressBar { border: none; background: @hairSoft; border-radius: 3px; height: 6px; }
QProgressBar::chunk { background: @accent; border-radius: 3px; }
)";
    const std::pair<const char*, QString> values[] = {
        {"@mode", p.dark ? "dark" : "light"},
        {"@words", wordFont(13).family()},
        {"@figures", figureFont(13).family()},
        {"@inkText", p.ink.name()},
        {"@ink", p.ink.name()},
        {"@paper", p.paper.name()},
        {"@surface", p.surface.name()},
        {"@quiet", p.quiet.name()},
        {"@hairSoft", p.hairSoft.name()},
        {"@hair", p.hair.name()},
        {"@accentText", p.accentText.name()},
        {"@accent", p.accent.name()},
        {"@tint", p.accentTint.name()},
        {"@stop", p.stop.name()},
        {"@onAccent", p.dark ? "#1B1E22" : "#FFFFFF"},
    };
    for (const auto& [key, value] : values)
        css.replace(key, value);
    return css;
}

} // namespace

Theme& Theme::instance()
{
    static Theme theme;
    return theme;
}

void Theme::setDark(bool dark)
{
    if (dark == dark_)
        return;
    dark_ = dark;
    install();
    emit changed();
}

void Theme::install()
{
    qApp->setStyle(QStyleFactory::create("Fusion"));
    const Palette& p = palette();
    QPalette q;
    q.setColor(QPalette::Window, p.paper);
    q.setColor(QPalette::WindowText, p.ink);
    q.setColor(QPalette::Base, p.surface);
    q.setColor(QPalette::AlternateBase, p.paper);
    q.setColor(QPalette::Text, p.ink);
    q.setColor(QPalette::Button, p.surface);
    q.setColor(QPalette::ButtonText, p.ink);
    q.setColor(QPalette::Highlight, p.accent);
    q.setColor(QPalette::HighlightedText, Qt::white);
    q.setColor(QPalette::PlaceholderText, p.quiet);
    q.setColor(QPalette::ToolTipBase, p.surface);
    q.setColor(QPalette::ToolTipText, p.ink);
    qApp->setPalette(q);
    QToolTip::setPalette(q); // of explanations (F1) too
    qApp->setFont(wordFont(13));
    qApp->setStyleSheet(sheet(p));
}

QPainterPath railIcon(const QString& name)
{
    QPainterPath path;
    if (name == "Today") {
        path.addRoundedRect(3, 4, 14, 13, 1.5, 1.5);
        path.moveTo(3, 8.5);
        path.lineTo(17, 8.5);
        path.moveTo(7, 2);
        path.lineTo(7, 6);
        path.moveTo(13, 2);
        path.lineTo(13, 6);
    } else if (name == "Jobs") {
        path.moveTo(4, 2);
        path.lineTo(12, 2);
        path.lineTo(16, 6);
        path.lineTo(16, 18);
        path.lineTo(4, 18);
        path.closeSubpath();
        for (double y : {9.0, 13.0}) {
            path.moveTo(7, y);
            path.lineTo(13, y);
        }
    } else if (name == "Compare") {
        path.moveTo(2, 17);
        path.cubicTo(4, 6, 8, 4, 18, 3);
        path.moveTo(2, 17);
        path.cubicTo(6, 11, 10, 9, 18, 9);
    } else if (name == "Reference") {
        path.addRect(3, 3, 14, 14);
        path.moveTo(10, 3);
        path.lineTo(10, 17);
        path.moveTo(5.5, 7);
        path.lineTo(8, 7);
        path.moveTo(12, 7);
        path.lineTo(14.5, 7);
    } else if (name == "Instruments") {
        path.addEllipse(QPointF(10, 11), 7, 7);
        path.moveTo(10, 11);
        path.lineTo(14, 7);
        path.moveTo(8, 1.5);
        path.lineTo(12, 1.5);
    } else if (name == "Logbook") {
        path.addRect(4, 2, 12, 16);
        path.moveTo(7, 2);
        path.lineTo(7, 18);
        path.moveTo(10, 7);
        path.lineTo(13, 7);
        path.moveTo(10, 11);
        path.lineTo(13, 11);
    }
    return path;
}

QString figureHtml(const QString& figure, const QString& unit, int pixels)
{
    return QString("<span style='font-family:\"%1\";font-size:%2px'>%3</span>&nbsp;<span "
                   "style='color:%4;font-size:%5px'>%6</span>")
        .arg(figureFont(12).family())
        .arg(pixels)
        .arg(figure, pal().quiet.name())
        .arg(pixels * 6 / 10)
        .arg(unit);
}

} // namespace fortitor
