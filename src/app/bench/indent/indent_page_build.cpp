// SPDX-License-Identifier: GPL-3.0-or-later
// How the page is put together.
#include "app/bench/indent/indent_page.h"

#include "app/bench/indent/picture_panel.h"

#include "app/theme/theme.h"
#include "app/theme/units.h"
#include "app/widgets/basics.h"

#include <QSettings>
#include <QShortcut>

namespace fortitor {

IndentPage::IndentPage(Session& session, QWidget* parent) : Page(session, parent)
{
    setObjectName("indentPage");
    build();
    connect(&Units::instance(), &Units::changed, this, [this] {
        if (isVisible())
            refresh();
    });
}

void IndentPage::build()
{
    auto* row = new QHBoxLayout(this);
    row->setContentsMargins(24, 16, 20, 14);
    row->setSpacing(22);
    auto* left = new QVBoxLayout;
    left->setSpacing(6);
    row->addLayout(left, 1);
    title_ = label({}, "head");
    title_->setObjectName("indentTitle");
    left->addWidget(title_);
    hint_ = label({}, "quiet");
    left->addWidget(hint_);
    trouble_ = label({}, "warn");
    trouble_->setObjectName("indentTrouble");
    trouble_->setWordWrap(true);
    trouble_->setAlignment(Qt::AlignTop | Qt::AlignLeft);
    trouble_->hide();
    left->addWidget(trouble_, 1);
    map_ = new PieceMap;
    left->addWidget(map_, 3);
    buildPicture();
    left->addWidget(picture_, 5);
    profile_ = new PlotView;
    profile_->setObjectName("indentProfile");
    profile_->setMinimumHeight(150);
    profile_->hide();
    left->addWidget(profile_, 2);
    connect(map_, &PieceMap::indentChosen, this, [this](size_t i) { choose(i); });

    side_ = new QWidget;
    side_->setFixedWidth(304);
    row->addWidget(side_);
    auto* side = new QVBoxLayout(side_);
    side->setContentsMargins(0, 0, 0, 0);
    side->setSpacing(6);
    head_ = label({}, "quiet");
    head_->setObjectName("indentHead");
    scale_ = label({});
    scale_->setTextFormat(Qt::RichText);
    scale_->setObjectName("indentScale");
    fieldRows_ = new QVBoxLayout;
    fieldRows_->setSpacing(6);
    wayRow_ = new QHBoxLayout;
    wayRow_->setSpacing(10);
    noteRow_ = new QHBoxLayout;
    noteRow_->setSpacing(8);
    tried_ = label({});
    tried_->setTextFormat(Qt::RichText);
    tried_->setObjectName("indentTried");
    triedWords_ = label({}, "quiet");
    triedWords_->setObjectName("indentTriedWords");
    triedWords_->setWordWrap(true);
    triedWords_->setMinimumHeight(34);
    triedWords_->setAlignment(Qt::AlignTop | Qt::AlignLeft);
    message_ = label({}, "warn");
    message_->setObjectName("indentMessage");
    message_->setWordWrap(true);
    message_->setMinimumHeight(18);
    message_->setAlignment(Qt::AlignTop | Qt::AlignLeft);
    why_ = lineEdit("indentWhy", "Why? cracked, lopsided, misread … Enter keeps it");
    why_->hide();
    connect(why_, &QLineEdit::returnPressed, this, &IndentPage::setAside);
    list_ = new IndentList;
    connect(list_, &IndentList::indentChosen, this, [this](size_t i) { choose(i); });
    mean_ = label({}, "quiet");
    mean_->setObjectName("indentMean");
    wanted_ = lineEdit("indentWanted", "± wanted");
    wanted_->setFixedWidth(84);
    wanted_->setText(QSettings().value("indentWanted").toString());
    wanted_->setToolTip(
        "The 95 % interval of the mean that is wanted; how many more readings it takes is told beside.");
    connect(wanted_, &QLineEdit::textEdited, this, [this](const QString& text) {
        QSettings().setValue("indentWanted", text);
        showMean();
    });
    block_ = label({}, "quiet");
    block_->setObjectName("indentBlock");
    block_->setWordWrap(true);
    blocks_ = button("Checks…", "link", "indentBlocks");
    blocks_->setToolTip("The checks of this tester over time");
    connect(blocks_, &QPushButton::clicked, this, &IndentPage::openBlocks);
    log_ = button("Covered", "link", "indentLog");
    log_->setToolTip("The machine is covered: who and when goes to the logbook");
    connect(log_, &QPushButton::clicked, this, &IndentPage::logOut);
    take_ = button("Take it  ↵", "primary", "indentTake");
    aside_ = button("Set aside…", "", "indentAside");
    aside_->setToolTip("The chosen indent, or the last, does not count; its reason stays (Alt+A)");
    toRead_ = button("Read", "link", "indentToRead");
    for (QPushButton* b : {take_, aside_, toRead_, blocks_, log_})
        b->setFocusPolicy(Qt::TabFocus);
    connect(take_, &QPushButton::clicked, this, [this] { keep(); });
    connect(aside_, &QPushButton::clicked, this, &IndentPage::setAside);
    connect(toRead_, &QPushButton::clicked, this, &IndentPage::readAsked);
    auto* strike = new QShortcut(QKeySequence("Alt+A"), this);
    strike->setContext(Qt::WidgetWithChildrenShortcut);
    connect(strike, &QShortcut::activated, this, &IndentPage::setAside);

    auto* means = new QHBoxLayout;
    means->addWidget(mean_, 1);
    means->addWidget(wanted_);
    auto* ends = new QHBoxLayout;
    ends->setSpacing(8);
    ends->addWidget(take_);
    ends->addWidget(aside_);
    ends->addStretch();
    ends->addWidget(log_);
    ends->addWidget(toRead_);
    side->addWidget(head_);
    side->addWidget(scale_);
    side->addLayout(fieldRows_);
    side->addLayout(wayRow_);
    side->addLayout(noteRow_);
    side->addWidget(tried_);
    side->addWidget(triedWords_);
    side->addWidget(message_);
    side->addWidget(why_);
    side->addWidget(hairline());
    side->addWidget(list_, 1);
    side->addLayout(means);
    auto* blocks = new QHBoxLayout;
    blocks->addWidget(block_, 1);
    blocks->addWidget(blocks_, 0, Qt::AlignTop);
    side->addLayout(blocks);
    side->addLayout(ends);
}

} // namespace fortitor
