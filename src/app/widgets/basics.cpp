// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/widgets/basics.h"

#include "app/theme/theme.h"

#include <QEvent>
#include <QHash>
#include <QPainter>
#include <QTextDocument>

namespace fortitor {
namespace {

class Hairline : public QWidget {
public:
    explicit Hairline(QWidget* parent) : QWidget(parent) { setFixedHeight(1); }

protected:
    void paintEvent(QPaintEvent*) override { QPainter(this).fillRect(rect(), pal().hair); }
};

/// Remembers how high its text is at a width: a layout asks for it again and again, and setting a text is what a page
/// takes longest for.
class Label : public QLabel {
public:
    using QLabel::QLabel;
    [[nodiscard]] int heightForWidth(int width) const override
    {
        if (text() != text_ || textFormat() != format_ || wordWrap() != wraps_) {
            heights_.clear();
            text_ = text();
            format_ = textFormat();
            wraps_ = wordWrap();
        }
        const auto known = heights_.constFind(width);
        return known != heights_.constEnd() ? *known : *heights_.insert(width, QLabel::heightForWidth(width));
    }

protected:
    void changeEvent(QEvent* event) override
    {
        heights_.clear(); // fonts, styles
        QLabel::changeEvent(event);
    }

private:
    mutable QHash<int, int> heights_;
    mutable QString text_;
    mutable Qt::TextFormat format_ = Qt::PlainText;
    mutable bool wraps_ = true;
};

} // namespace

QLabel* label(const QString& text, const char* kind, QWidget* parent)
{
    auto* made = new Label(parent);
    made->setTextFormat(Qt::PlainText); // what people typed is never read as markup
    made->setText(text);
    made->setProperty("kind", kind);
    made->setWordWrap(true);
    return made;
}

QPushButton* button(const QString& text, const char* kind, const char* name, QWidget* parent)
{
    auto* made = new QPushButton(text, parent);
    made->setProperty("kind", kind);
    made->setObjectName(name);
    made->setCursor(Qt::PointingHandCursor);
    made->setAutoDefault(false);
    if (qstrcmp(kind, "segment") == 0)
        made->setCheckable(true);
    return made;
}

QLineEdit* lineEdit(const char* name, const QString& hint)
{
    auto* made = new QLineEdit;
    made->setObjectName(name);
    made->setPlaceholderText(hint);
    made->setMinimumHeight(32);
    return made;
}

QWidget* hairline(QWidget* parent)
{
    return new Hairline(parent);
}

QString plain(const QString& text)
{
    return Qt::mightBeRichText(text) ? text.toHtmlEscaped() : text;
}

void settleLayout(QLayout* layout)
{
    for (int i = 0; i < layout->count(); ++i) {
        if (QWidget* widget = layout->itemAt(i)->widget())
            widget->show();
        else if (QLayout* inner = layout->itemAt(i)->layout())
            settleLayout(inner);
    }
    if (QWidget* parent = layout->parentWidget())
        QMetaObject::invokeMethod(
            parent, [parent] { parent->updateGeometry(); }, Qt::QueuedConnection);
}

void discard(QWidget* widget)
{
    widget->hide();
    widget->setObjectName({});
    for (QWidget* child : widget->findChildren<QWidget*>())
        child->setObjectName({});
    widget->deleteLater();
}

void clearLayout(QLayout* layout)
{
    while (QLayoutItem* item = layout->takeAt(0)) {
        if (QWidget* widget = item->widget()) {
            discard(widget);
        } else if (item->layout()) {
            clearLayout(item->layout());
        }
        delete item;
    }
}

} // namespace fortitor
