// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/shell/finder.h"

#include "app/theme/theme.h"
#include "app/widgets/basics.h"

#include <QGridLayout>
#include <QKeyEvent>
#include <QVBoxLayout>

#include <algorithm>

namespace fortitor {

Finder::Finder(Session& session, std::vector<FinderCommand> commands, QWidget* parent)
    : QDialog(parent), session_(session), commands_(std::move(commands))
{
    setObjectName("finder");
    setWindowTitle("Find");
    resize(560, 420);
    auto* column = new QVBoxLayout(this);
    column->setContentsMargins(14, 14, 14, 10);
    words_ = new QLineEdit;
    words_->setObjectName("finderWords");
    words_->setPlaceholderText("job, specimen or command");
    words_->setMinimumHeight(38);
    words_->installEventFilter(this);
    column->addWidget(words_);
    list_ = new QListWidget;
    list_->setObjectName("finderList");
    list_->setFocusPolicy(Qt::NoFocus);
    column->addWidget(list_, 1);
    connect(words_, &QLineEdit::textChanged, this, &Finder::fill);
    connect(words_, &QLineEdit::returnPressed, this, &Finder::take);
    connect(list_, &QListWidget::itemClicked, this, [this] { take(); });
    fill();
}

void Finder::fill()
{
    list_->clear();
    const QString words = words_->text().trimmed();
    const auto add = [&](const QString& text, const QVariant& kind, const QVariant& a, const QVariant& b) {
        auto* item = new QListWidgetItem(text);
        item->setData(Qt::UserRole, kind);
        item->setData(Qt::UserRole + 1, a);
        item->setData(Qt::UserRole + 2, b);
        list_->addItem(item);
    };
    const QStringList each = words.split(' ', Qt::SkipEmptyParts);
    const auto fits = [&](const QString& text) {
        return std::ranges::all_of(each, [&](const QString& one) { return text.contains(one, Qt::CaseInsensitive); });
    };
    for (size_t i = 0; i < commands_.size(); ++i)
        if (fits(commands_[i].words))
            add(commands_[i].words + (commands_[i].key.isEmpty() ? "" : "   " + commands_[i].key), "command",
                static_cast<int>(i), {});
    int jobs = 0;
    for (const JobRow& row : session_.logbook().jobs(words))
        if (jobs++ < 12)
            add("Job  " + row.number + "  " + row.title, "job", QVariant::fromValue<qlonglong>(row.id), 0);
    if (!words.isEmpty())
        for (const SpecimenRow& row : session_.logbook().specimens(words, 20))
            add("Specimen  " + row.label + " of " + row.number + "   " + row.figures, "job",
                QVariant::fromValue<qlonglong>(row.job), row.position);
    list_->setCurrentRow(words.isEmpty() ? -1 : 0); // nothing is asked yet: Enter does nothing
}

void Finder::take()
{
    const QListWidgetItem* item = list_->currentItem();
    if (!item)
        return;
    const QString kind = item->data(Qt::UserRole).toString();
    const QVariant a = item->data(Qt::UserRole + 1);
    const QVariant b = item->data(Qt::UserRole + 2);
    accept();
    if (kind == "command")
        commands_[static_cast<size_t>(a.toInt())].act();
    else
        emit jobChosen(a.toLongLong(), b.toInt());
}

bool Finder::eventFilter(QObject* watched, QEvent* event)
{
    if (watched == words_ && event->type() == QEvent::KeyPress) {
        const int key = static_cast<QKeyEvent*>(event)->key();
        const int step = key == Qt::Key_Down ? 1
            : key == Qt::Key_Up              ? -1
            : key == Qt::Key_PageDown        ? 8
            : key == Qt::Key_PageUp          ? -8
                                             : 0;
        if (step != 0) {
            list_->setCurrentRow(std::clamp(list_->currentRow() + step, 0, std::max(0, list_->count() - 1)));
            return true;
        }
    }
    return QDialog::eventFilter(watched, event);
}

KeySheet::KeySheet(const QString& page, const QStringList& keys, QWidget* parent) : QDialog(parent)
{
    setObjectName("keySheet");
    setWindowTitle("Keys");
    auto* column = new QVBoxLayout(this);
    column->setContentsMargins(26, 22, 26, 20);
    column->addWidget(label("Keys of " + page, "title"));
    auto* grid = new QGridLayout;
    grid->setHorizontalSpacing(24);
    grid->setVerticalSpacing(7);
    const QStringList always{"Alt+1 … Alt+7|the stages",
                             "Ctrl+← Ctrl+→|the specimen before, the next one",
                             "Ctrl+K|find any job, specimen or command",
                             "Ctrl+Z, Ctrl+Shift+Z|undo, redo",
                             "Ctrl+1 … Ctrl+6|the rail",
                             "Ctrl+N, Ctrl+O|new job, take in a file",
                             "F1|explain what has the focus",
                             "F2|this sheet",
                             "F10|menu",
                             "Esc|STOP while the frame runs"};
    int row = 0;
    for (const QStringList& list : {keys, always}) {
        for (const QString& line : list) {
            auto* key = label(line.section('|', 0, 0));
            key->setFont(wordFont(13, QFont::DemiBold));
            key->setWordWrap(false);
            grid->addWidget(key, row, 0);
            auto* words = label(line.section('|', 1), "quiet");
            words->setWordWrap(false);
            grid->addWidget(words, row++, 1);
        }
        grid->addWidget(hairline(), row++, 0, 1, 2);
    }
    column->addLayout(grid);
}

} // namespace fortitor
