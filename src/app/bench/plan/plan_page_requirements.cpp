// SPDX-License-Identifier: GPL-3.0-or-later
// What is wanted of the results.
#include "app/bench/plan/plan_page.h"

#include "jobs/json_at.h"
#include "app/theme/theme.h"
#include "app/theme/units.h"
#include "app/widgets/basics.h"
#include "app/widgets/hands.h"
#include "draw/chart.h"
#include "jobs/edits.h"
#include "jobs/pad.h"
#include "methods/display.h"
#include "methods/common/run.h"
#include "plan/load_train.h"
#include "reference/tables.h"

namespace fortitor {
namespace {

QString limitText(const ResultSpec& spec, std::optional<double> limit)
{
    if (!limit)
        return {};
    const auto shown = showValue(spec, limit, 0, RoundingRule::FourDigits);
    return QString::number(shown.value, 'g', 6) + " " + q(shown.unit);
}

} // namespace

void PlanPage::buildRequirements()
{
    clearLayout(requirements_);
    const Job& job = session_.job();
    for (const Requirement& r : job.requirements) {
        auto* row = new QHBoxLayout;
        row->setSpacing(8);
        auto* name = label(symbolHtml(q(r.symbol)));
        name->setTextFormat(Qt::RichText);
        name->setFixedWidth(40);
        row->addWidget(name);
        addLimitFields(row, r.symbol, {{{"at least", "min", ""}, {"at most", "max", ""}}}, &edits::requirement);
        auto* out = button("take out", "link", "requirementOut");
        row->addWidget(out);
        if (!r.meanMin && !r.boundMin && lotShown_ != q(r.symbol)) {
            auto* lot = button("of the lot…", "link", ("lot-" + r.symbol).c_str());
            lot->setToolTip("What the mean and the lower bound of the whole lot are to reach");
            connect(lot, &QPushButton::clicked, this, [this, symbol = q(r.symbol)] {
                lotShown_ = symbol;
                refresh();
                if (auto* field = findChild<QLineEdit*>("mean_min-" + symbol))
                    field->setFocus();
            });
            row->addWidget(lot);
        }
        row->addStretch();
        connect(out, &QPushButton::clicked, this,
                [this, symbol = r.symbol] { session_.apply(edits::noRequirement(session_.document(), symbol)); });
        requirements_->addLayout(row);
        addLotRow(r);
    }
    settleLayout(requirements_);
}

/// A requirement more: its own row, which stays while others come and go.
QHBoxLayout* PlanPage::makeAddRow()
{
    auto* add = new QHBoxLayout;
    addSymbol_ = new QComboBox;
    addSymbol_->setObjectName("requirementSymbol");
    addSymbol_->setFixedWidth(170);
    addMin_ = lineEdit("requirementMin", "at least, 290 MPa");
    addMin_->setFixedWidth(128);
    auto* go = button("Add", "", "requirementAdd");
    add->addWidget(addSymbol_);
    add->addWidget(addMin_);
    add->addWidget(go);
    add->addStretch();
    const auto take = [this] {
        const QString text = addMin_->text().trimmed();
        if (!text.isEmpty() && session_.isOpen()
            && session_.apply(
                edits::requirement(session_.document(), s(addSymbol_->currentData().toString()), s(text), "")))
            addMin_->clear();
    };
    connect(go, &QPushButton::clicked, this, take);
    connect(addMin_, &QLineEdit::returnPressed, this, take);
    return add;
}

void PlanPage::fillRequirements()
{
    const Job& job = session_.job();
    const auto put = [this](const char* key, const std::string& symbol, std::optional<double> limit) {
        if (auto* edit = requirementRows_->findChild<QLineEdit*>(QString(key) + "-" + q(symbol)))
            hands::fill(edit, limitText(specFor(*session_.job().method, symbol), limit));
    };
    for (const Requirement& r : job.requirements) {
        put("min", r.symbol, r.min);
        put("max", r.symbol, r.max);
        put("mean_min", r.symbol, r.meanMin);
        put("lower_bound_min", r.symbol, r.boundMin);
    }
    std::vector<hands::Item> free;
    int current = 0;
    const QVariant chosen = addSymbol_->currentData();
    for (const ResultSpec& spec : job.method->results) {
        if (std::ranges::find(job.requirements, spec.symbol, &Requirement::symbol) != job.requirements.end())
            continue;
        if (chosen == QVariant(q(spec.symbol)))
            current = static_cast<int>(free.size());
        free.push_back({q(spec.symbol + ", " + spec.name), q(spec.symbol)});
    }
    hands::fill(addSymbol_, free, current);
}

/// Two limits of a symbol that are kept together, each with its word before it.
void PlanPage::addLimitFields(QHBoxLayout* row, const std::string& symbol, const std::array<LimitField, 2>& limits,
                              KeepLimits keep)
{
    std::array<QLineEdit*, 2> edits{};
    for (size_t k = 0; k < 2; ++k) {
        const LimitField& limit = limits[k];
        auto* word = label(limit.words, "quiet");
        word->setWordWrap(false);
        row->addWidget(word);
        edits[k] = lineEdit((std::string(limit.key) + "-" + symbol).c_str(), "–");
        edits[k]->setFixedWidth(92);
        edits[k]->setToolTip(limit.help);
        row->addWidget(edits[k]);
    }
    for (QLineEdit* edit : edits)
        connect(edit, &QLineEdit::editingFinished, this, [this, symbol, keep, edits] {
            if (!session_.isOpen() || (!edits[0]->isModified() && !edits[1]->isModified()))
                return;
            for (QLineEdit* one : edits)
                one->setModified(false);
            session_.apply(
                keep(session_.document(), symbol, s(edits[0]->text().trimmed()), s(edits[1]->text().trimmed())));
        });
}

/// A second row for what is wanted of the lot, where it is or was asked for.
void PlanPage::addLotRow(const Requirement& r)
{
    if (!r.meanMin && !r.boundMin && lotShown_ != q(r.symbol))
        return;
    auto* row = new QHBoxLayout;
    row->setSpacing(8);
    row->addSpacing(48);
    addLimitFields(row, r.symbol,
                   {{{"lot: mean at least", "mean_min", "The mean of all that count"},
                     {"lower bound at least", "lower_bound_min", "90 % of all lie above it, with 95 % confidence"}}},
                   &edits::lotRequirement);
    row->addStretch();
    requirements_->addLayout(row);
}

} // namespace fortitor
