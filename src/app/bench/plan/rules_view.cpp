// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/bench/plan/rules_view.h"

#include "app/bench/plan/rules_dialog.h"
#include "app/model/own_tables.h"
#include "app/widgets/basics.h"
#include "app/widgets/hands.h"
#include "jobs/edits.h"

#include <QMenu>

namespace fortitor {

RulesView::RulesView(Session& session, QWidget* parent) : QWidget(parent), session_(session)
{
    setObjectName("rulesView");
    auto* column = new QVBoxLayout(this);
    column->setContentsMargins(0, 0, 0, 14);
    column->setSpacing(6);
    auto* top = new QHBoxLayout;
    top->addWidget(label("Acceptance rules", "head"));
    top->addStretch();
    cite_ = button("Cite a rule…", "link", "rulesCite");
    cite_->setToolTip("A rule of the book that this job is held against");
    book_ = button("Book of rules…", "link", "rulesBook");
    book_->setToolTip("The laboratory's own rules, each with its source");
    top->addWidget(cite_);
    top->addWidget(book_);
    column->addLayout(top);
    auto* inside = new QWidget;
    rows_ = new QVBoxLayout(inside);
    rows_->setContentsMargins(0, 0, 0, 0);
    rows_->setSpacing(8);
    column->addWidget(inside);
    words_ = label({}, "quiet");
    words_->setObjectName("rulesWords");
    words_->setWordWrap(true);
    column->addWidget(words_);
    connect(cite_, &QPushButton::clicked, this, &RulesView::openCite);
    connect(book_, &QPushButton::clicked, this, [this] {
        RulesDialog dialog(session_, window());
        dialog.exec();
        refresh();
    });
}

void RulesView::refresh()
{
    const Job& job = session_.job();
    setVisible(job.method->judgeRule != nullptr);
    if (!job.method->judgeRule)
        return;
    QString now;
    for (const AcceptanceRule& rule : job.rules)
        now += q(ruleJson(rule).dump());
    if (now != builtFor_ || rows_->count() == 0) {
        builtFor_ = now;
        build();
    }
    const std::string strictest = job.method->strictestRule && session_.hasSpecimen()
        ? job.method->strictestRule(job.rules, session_.specimen().input)
        : std::string();
    words_->setText(job.rules.empty()
                        ? QString("No rule is cited. The part is then held against what is wanted of it only.")
                        : q(strictest.empty() ? "" : strictest + " ")
                            + "A rule is no law by itself: local law decides which parts must be rated, and by what.");
}

void RulesView::build()
{
    clearLayout(rows_);
    const auto& rules = session_.job().rules;
    for (size_t i = 0; i < rules.size(); ++i) {
        auto* row = new QHBoxLayout;
        auto* text = new QVBoxLayout;
        text->setSpacing(1);
        text->addWidget(label(q(rules[i].name)));
        for (const std::string& words : {askedWords(rules[i]), sourceWords(rules[i])}) {
            auto* line = label(q(words), "quiet");
            line->setWordWrap(true);
            text->addWidget(line);
        }
        row->addLayout(text, 1);
        auto* out = button("Take out", "link", ("ruleOut-" + std::to_string(i)).c_str());
        out->setToolTip("The job does not cite it any more; it stays in the book");
        connect(out, &QPushButton::clicked, this, [this, i] { session_.apply(edits::uncite(session_.document(), i)); });
        row->addWidget(out, 0, Qt::AlignTop);
        rows_->addLayout(row);
    }
    settleLayout(rows_);
}

/// The rules of the book that are not cited yet.
void RulesView::openCite()
{
    QMenu menu(this);
    const auto book = readOwnRules(session_.logbook());
    for (const AcceptanceRule& rule : book) {
        const bool cited = std::ranges::any_of(session_.job().rules, [&](const AcceptanceRule& one) {
            return one.name == rule.name && ruleJson(one) == ruleJson(rule);
        });
        if (cited)
            continue;
        auto* act = menu.addAction(q(rule.name) + " · " + q(askedWords(rule)));
        connect(act, &QAction::triggered, this,
                [this, rule] { session_.apply(edits::cite(session_.document(), rule)); });
    }
    if (menu.isEmpty()) {
        auto* none = menu.addAction(book.empty() ? "The book holds no rule yet: open it to write one"
                                                 : "All rules of the book are cited");
        none->setEnabled(book.empty());
        connect(none, &QAction::triggered, book_, &QPushButton::click);
    }
    menu.exec(cite_->mapToGlobal(QPoint(0, cite_->height())));
}

} // namespace fortitor
