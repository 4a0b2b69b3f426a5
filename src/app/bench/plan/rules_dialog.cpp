// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/bench/plan/rules_dialog.h"

#include "app/model/own_tables.h"
#include "app/widgets/basics.h"
#include "jobs/json_at.h"

#include <QGridLayout>
#include <QHBoxLayout>
#include <QVBoxLayout>

namespace fortitor {

RulesDialog::RulesDialog(Session& session, QWidget* parent) : QDialog(parent), session_(session)
{
    setObjectName("rulesDialog");
    setWindowTitle("Book of acceptance rules");
    resize(820, 540);
    rules_ = Json::array();
    for (const AcceptanceRule& rule : readOwnRules(session.logbook()))
        rules_.push_back(ruleJson(rule));
    build();
    list(rules_.empty() ? -1 : 0);
}

void RulesDialog::build()
{
    auto* outer = new QVBoxLayout(this);
    outer->setContentsMargins(20, 16, 20, 16);
    outer->setSpacing(10);
    auto* words =
        label("Rules as people have written them down, each with its source. None is law by itself. A job keeps "
              "a rule as it was when it was cited.",
              "quiet");
    words->setWordWrap(true);
    outer->addWidget(words);
    auto* sides = new QHBoxLayout;
    outer->addLayout(sides, 1);
    names_ = new QListWidget;
    names_->setObjectName("ruleNames");
    names_->setFixedWidth(220);
    sides->addWidget(names_);
    auto* form = new QGridLayout;
    form->setHorizontalSpacing(12);
    form->setVerticalSpacing(6);
    struct Row {
        const char *key, *label, *hint;
    };
    static constexpr Row rows[] = {{"name", "name", "hoist rule"},
                                   {"source", "source", "where it stands written; needed"},
                                   {"place", "place", "where it holds"},
                                   {"edition", "edition", ""},
                                   {"date", "date", "2025-02-01"},
                                   {"break_factor_min", "break factor, least", "5"},
                                   {"gross_mass", "gross mass", "850 kg"},
                                   {"break_force_min", "breaking load, least", "40 kN"},
                                   {"proof_factor", "proof factor", "2"},
                                   {"hold", "hold", "60 s"},
                                   {"cycles", "cycles", "2"},
                                   {"set_max", "set, most", "0.2 mm"}};
    int at = 0;
    for (const Row& row : rows) {
        auto* edit = lineEdit((std::string("rule-") + row.key).c_str(), row.hint);
        texts_.emplace_back(row.key, edit);
        form->addWidget(label(row.label, "quiet"), at, 0);
        form->addWidget(edit, at++, 1);
        connect(edit, &QLineEdit::returnPressed, this, &RulesDialog::keep);
    }
    against_ = new QComboBox;
    against_->setObjectName("rule-break_against");
    against_->addItem("of the working load", "working-load");
    against_->addItem("of the gross mass", "gross-mass");
    against_->addItem("none: a fixed load", "force");
    function_ = new QComboBox;
    function_->setObjectName("rule-function");
    function_->addItem("not asked", "");
    function_->addItem("free by hand", "free");
    function_->addItem("free by hand or with a tool", "tool");
    form->addWidget(label("break factor is", "quiet"), at, 0);
    form->addWidget(against_, at++, 1);
    form->addWidget(label("function after it", "quiet"), at, 0);
    form->addWidget(function_, at++, 1);
    form->setColumnStretch(1, 1);
    form->setRowStretch(at, 1);
    sides->addLayout(form, 1);
    message_ = label({}, "warn");
    message_->setObjectName("ruleMessage");
    message_->setWordWrap(true);
    outer->addWidget(message_);
    auto* acts = new QHBoxLayout;
    auto* fresh = button("New rule", "", "ruleNew");
    out_ = button("Take out of the book", "link", "ruleRemove");
    keep_ = button("Keep  Enter", "primary", "ruleKeep");
    auto* close = button("Close", "", "ruleClose");
    for (QPushButton* one : {fresh, out_, keep_, close})
        one->setAutoDefault(false);
    acts->addWidget(fresh);
    acts->addWidget(out_);
    acts->addStretch();
    acts->addWidget(keep_);
    acts->addWidget(close);
    outer->addLayout(acts);
    connect(names_, &QListWidget::currentRowChanged, this, &RulesDialog::fill);
    connect(fresh, &QPushButton::clicked, this, [this] {
        names_->setCurrentRow(-1);
        fill(-1);
        texts_.front().second->setFocus();
    });
    connect(out_, &QPushButton::clicked, this, &RulesDialog::remove);
    connect(keep_, &QPushButton::clicked, this, &RulesDialog::keep);
    connect(close, &QPushButton::clicked, this, &QDialog::accept);
}

void RulesDialog::list(int chosen)
{
    const QSignalBlocker quiet(names_);
    names_->clear();
    for (const Json& rule : rules_)
        names_->addItem(q(textAt(rule, "name")));
    names_->setCurrentRow(chosen);
    fill(chosen);
}

void RulesDialog::fill(int row)
{
    const Json rule =
        row >= 0 && row < static_cast<int>(rules_.size()) ? rules_[static_cast<size_t>(row)] : Json::object();
    for (const auto& [key, edit] : texts_)
        edit->setText(q(textAt(rule, key.c_str())));
    const auto pick = [&](QComboBox* box, const char* key) {
        box->setCurrentIndex(std::max(0, box->findData(q(textAt(rule, key)))));
    };
    pick(against_, "break_against");
    pick(function_, "function");
    out_->setEnabled(row >= 0);
    message_->clear();
}

Json RulesDialog::written() const
{
    Json rule = Json::object();
    for (const auto& [key, edit] : texts_)
        if (const QString text = edit->text().trimmed(); !text.isEmpty())
            rule[key] = s(text);
    rule["break_against"] = s(against_->currentData().toString());
    if (const QString worst = function_->currentData().toString(); !worst.isEmpty())
        rule["function"] = s(worst);
    return rule;
}

bool RulesDialog::store(const Json& rules)
{
    const auto row = ownRulesRow(rules);
    if (auto ok = session_.writer().now([&](Logbook& book) { return book.keepInstrument(row, session_.who()); }); !ok) {
        message_->setText(q(ok.problem().text()));
        return false;
    }
    rules_ = rules;
    return true;
}

void RulesDialog::keep()
{
    const auto rule = ruleFrom(written(), "");
    if (!rule)
        return message_->setText("Nothing is kept yet. " + q(rule.problem().text()));
    Json rules = rules_;
    auto at = static_cast<size_t>(std::max(0, names_->currentRow()));
    for (size_t i = 0; i < rules.size(); ++i)
        if (textAt(rules[i], "name") == rule->name && (names_->currentRow() < 0 || i != at))
            return message_->setText("Nothing is kept yet. Another rule has this name: " + q(rule->name) + ".");
    if (names_->currentRow() < 0) {
        at = rules.size();
        rules.push_back(ruleJson(*rule));
    } else {
        rules[at] = ruleJson(*rule);
    }
    if (!store(rules))
        return;
    list(static_cast<int>(at));
    message_->setText("Kept.");
}

void RulesDialog::remove()
{
    const int row = names_->currentRow();
    if (row < 0)
        return;
    Json rules = rules_;
    rules.erase(static_cast<size_t>(row));
    if (store(rules))
        list(std::min(row, static_cast<int>(rules.size()) - 1));
}

} // namespace fortitor
