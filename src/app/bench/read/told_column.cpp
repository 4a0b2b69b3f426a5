// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/bench/read/told_column.h"

#include "app/theme/theme.h"
#include "app/widgets/basics.h"

#include <QPainter>
#include <QTextLayout>

#include <algorithm>

namespace fortitor {
namespace {

constexpr int columnWidth = 208;
constexpr double markRoom = 22; // px at the right of a row

} // namespace

/// Painted in one go: a heading, rows with their marks, a note below.
class ToldColumn::Picture : public QWidget {
public:
    explicit Picture(QWidget* parent) : QWidget(parent) { setObjectName("toldPicture"); }

    void show(const std::vector<ToldGroup>& groups)
    {
        groups_ = groups;
        QString words;
        for (const ToldGroup& group : groups_)
            for (const ToldRow& row : group.rows)
                words += q(row.label + ": " + row.words + ". ");
        setAccessibleName(words);
        setMinimumHeight(static_cast<int>(paint(nullptr)) + 8);
        update();
    }

protected:
    void paintEvent(QPaintEvent*) override
    {
        QPainter painter(this);
        painter.setRenderHint(QPainter::Antialiasing);
        (void)paint(&painter);
    }
    void resizeEvent(QResizeEvent*) override { setMinimumHeight(static_cast<int>(paint(nullptr)) + 8); }

private:
    /// Sets words into lines from `y` on, and gives where they end.
    double flow(QPainter* painter, const QString& words, const QFont& font, const QColor& colour, double y,
                double wide) const
    {
        QTextLayout layout(words, font);
        layout.beginLayout();
        for (QTextLine line = layout.createLine(); line.isValid(); line = layout.createLine()) {
            line.setLineWidth(wide);
            line.setPosition({0, y});
            y += line.height();
        }
        layout.endLayout();
        if (painter) {
            painter->setPen(colour);
            layout.draw(painter, {});
        }
        return y;
    }

    void mark(QPainter& painter, ToldRow::State state, const QPointF& at) const
    {
        const Palette& p = pal();
        constexpr double r = 6;
        painter.setBrush(Qt::NoBrush);
        switch (state) {
        case ToldRow::State::Plain: break;
        case ToldRow::State::Good:
            painter.setPen(QPen(p.ink, 1.5));
            painter.drawEllipse(at, r, r);
            break;
        case ToldRow::State::Open:
            painter.setPen(QPen(p.quiet, 1.5, Qt::DotLine));
            painter.drawEllipse(at, r, r);
            break;
        case ToldRow::State::Bad: {
            const QPointF triangle[] = {at + QPointF(0, -r), at + QPointF(r, r - 1), at + QPointF(-r, r - 1)};
            painter.setPen(Qt::NoPen);
            painter.setBrush(p.accent);
            painter.drawPolygon(triangle, 3);
            break;
        }
        }
    }

    /// Gives the height it takes.
    double paint(QPainter* painter) const
    {
        const Palette& p = pal();
        const double wide = std::max(120, width() - 6);
        double y = 2;
        for (const ToldGroup& group : groups_) {
            if (painter && &group != &groups_.front()) {
                painter->setPen(p.hair);
                painter->drawLine(QPointF(0, y), QPointF(wide, y));
            }
            y += &group == &groups_.front() ? 0 : 10;
            y = flow(painter, q(group.heading), wordFont(13, QFont::DemiBold), p.ink, y, wide) + 6;
            for (const ToldRow& row : group.rows) {
                const double top = y;
                y = flow(painter, q(row.label), wordFont(11.5), p.quiet, y, wide - markRoom);
                y = flow(painter, q(row.words), wordFont(13), p.ink, y, wide - markRoom);
                if (!row.more.empty())
                    y = flow(painter, q(row.more), wordFont(11), p.quiet, y, wide - markRoom);
                if (painter)
                    mark(*painter, row.state, {wide - 9, top + 18});
                y += 9;
            }
            if (!group.note.empty())
                y = flow(painter, q(group.note), wordFont(11.5), p.quiet, y, wide) + 8;
        }
        return y;
    }

    std::vector<ToldGroup> groups_;
};

ToldColumn::ToldColumn(QWidget* parent) : QScrollArea(parent)
{
    setObjectName("toldColumn");
    setFixedWidth(columnWidth);
    setFrameShape(QFrame::NoFrame);
    setWidgetResizable(true);
    setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
    picture_ = new Picture(this);
    setWidget(picture_);
    connect(&Theme::instance(), &Theme::changed, picture_, qOverload<>(&QWidget::update));
}

void ToldColumn::show(const std::vector<ToldGroup>& groups)
{
    setVisible(!groups.empty());
    picture_->show(groups);
}

} // namespace fortitor
