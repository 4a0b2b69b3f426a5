// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/shell/jobs_page.h"

#include "app/theme/theme.h"
#include "app/widgets/basics.h"

#include <QDateTime>
#include <QHBoxLayout>
#include <QPainter>
#include <QScrollBar>
#include <QStyledItemDelegate>
#include <QVBoxLayout>

namespace fortitor {
namespace {

enum Role { Id = Qt::UserRole, Number, Title, Material, Changed, Count, Judged, Failed };

/// A job as a line: number, title, material; how many are judged as a row of small marks.
class JobDelegate : public QStyledItemDelegate {
public:
    using QStyledItemDelegate::QStyledItemDelegate;
    QSize sizeHint(const QStyleOptionViewItem&, const QModelIndex&) const override { return {200, 56}; }
    void paint(QPainter* painter, const QStyleOptionViewItem& option, const QModelIndex& index) const override
    {
        const Palette& p = pal();
        const QRect box = option.rect;
        painter->save();
        painter->setRenderHint(QPainter::Antialiasing);
        if (option.state & QStyle::State_Selected)
            painter->fillRect(box, p.accentTint);
        else if (option.state & QStyle::State_MouseOver)
            painter->fillRect(box, p.paper);
        painter->setPen(p.hairSoft);
        painter->drawLine(box.bottomLeft(), box.bottomRight());
        painter->setFont(figureFont(13));
        painter->setPen(p.quiet);
        painter->drawText(box.adjusted(12, 0, 0, 0), Qt::AlignVCenter | Qt::AlignLeft, index.data(Number).toString());
        painter->setFont(wordFont(14, QFont::DemiBold));
        painter->setPen(p.ink);
        painter->drawText(QRect(box.left() + 112, box.top() + 8, box.width() - 460, 22), Qt::AlignVCenter,
                          index.data(Title).toString());
        painter->setFont(wordFont(12));
        painter->setPen(p.quiet);
        painter->drawText(QRect(box.left() + 112, box.top() + 29, box.width() - 460, 18), Qt::AlignVCenter,
                          index.data(Material).toString());
        const int n = index.data(Count).toInt();
        const int judged = index.data(Judged).toInt();
        const int failed = index.data(Failed).toInt();
        double x = box.right() - 330;
        for (int i = 0; i < std::min(n, 12); ++i, x += 11) {
            painter->setPen(QPen(i < judged ? (i < failed ? p.stop : p.ink) : p.hair, 1.3));
            painter->setBrush(i < judged ? QBrush(i < failed ? p.stop : p.ink) : Qt::NoBrush);
            if (i < failed)
                painter->drawRect(QRectF(x, box.center().y() - 4, 8, 8));
            else
                painter->drawEllipse(QRectF(x, box.center().y() - 4, 8, 8));
        }
        painter->setPen(p.quiet);
        painter->drawText(QRect(box.right() - 190, box.top(), 90, box.height()), Qt::AlignVCenter,
                          QString("%1 of %2").arg(judged).arg(n)
                              + (failed ? QString(", %1 fail").arg(failed) : QString()));
        painter->drawText(QRect(box.right() - 100, box.top(), 88, box.height()), Qt::AlignVCenter | Qt::AlignRight,
                          index.data(Changed).toString());
        painter->restore();
    }
};

} // namespace

JobsPage::JobsPage(Session& session, QWidget* parent) : QWidget(parent), session_(session)
{
    setObjectName("jobsPage");
    auto* column = new QVBoxLayout(this);
    column->setContentsMargins(28, 22, 28, 16);
    column->setSpacing(10);
    auto* head = new QHBoxLayout;
    head->addWidget(label("Jobs", "title"));
    search_ = new QLineEdit;
    search_->setObjectName("jobSearch");
    search_->setPlaceholderText("number, title, material or a specimen's label");
    search_->setFixedWidth(320);
    search_->setClearButtonEnabled(true);
    head->addStretch();
    head->addWidget(search_);
    auto* make = button("New job", "primary", "newJob");
    auto* take = button("Import job…", "", "importJob");
    head->addWidget(take);
    head->addWidget(make);
    column->addLayout(head);
    list_ = new QListWidget;
    list_->setObjectName("jobList");
    list_->setItemDelegate(new JobDelegate(list_));
    list_->setMouseTracking(true);
    list_->setVerticalScrollMode(QAbstractItemView::ScrollPerPixel);
    column->addWidget(list_, 1);
    empty_ =
        label("No job fits. Clear the search, make a new job (Ctrl+N), or drop a job file on the window.", "quiet");
    empty_->setObjectName("jobsEmpty");
    column->addWidget(empty_);
    column->addStretch();
    connect(search_, &QLineEdit::textChanged, this, &JobsPage::refresh);
    connect(search_, &QLineEdit::returnPressed, this, [this] {
        if (list_->count() > 0)
            emit openAsked(list_->item(std::max(0, list_->currentRow()))->data(Id).toLongLong());
    });
    connect(list_, &QListWidget::itemClicked, this,
            [this](QListWidgetItem* item) { emit openAsked(item->data(Id).toLongLong()); });
    connect(list_, &QListWidget::itemActivated, this,
            [this](QListWidgetItem* item) { emit openAsked(item->data(Id).toLongLong()); });
    connect(make, &QPushButton::clicked, this, &JobsPage::newAsked);
    connect(take, &QPushButton::clicked, this, &JobsPage::importAsked);
}

void JobsPage::refresh()
{
    // Where one was in the list stays, as long as it is listed.
    const QVariant here = list_->currentItem() ? list_->currentItem()->data(Id) : QVariant();
    const int scrolled = list_->verticalScrollBar()->value();
    int at = 0;
    list_->clear();
    for (const JobRow& row : session_.logbook().jobs(search_->text().trimmed())) {
        auto* item = new QListWidgetItem;
        item->setData(Id, QVariant::fromValue<qlonglong>(row.id));
        item->setData(Number, row.number);
        item->setData(Title, row.title.isEmpty() ? "Untitled job" : row.title);
        item->setData(Qt::DisplayRole, row.number + " " + row.title);
        const Method* method = findMethod(s(row.method));
        item->setData(Material,
                      (row.material.isEmpty() ? QString() : row.material + " · ")
                          + (method ? q(method->name) : row.method));
        item->setData(Changed,
                      QDateTime::fromString(row.changed, Qt::ISODateWithMs).toLocalTime().toString("yyyy-MM-dd"));
        item->setData(Count, row.specimens);
        item->setData(Judged, row.judged);
        item->setData(Failed, row.failed);
        if (here.isValid() && here == item->data(Id))
            at = list_->count();
        list_->addItem(item);
    }
    list_->setVisible(list_->count() > 0);
    empty_->setVisible(list_->count() == 0);
    if (list_->count() > 0)
        list_->setCurrentRow(at);
    list_->verticalScrollBar()->setValue(scrolled);
}

} // namespace fortitor
