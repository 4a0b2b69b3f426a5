// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/bench/drop/drop_page.h"

#include "app/model/chained_after.h"
#include "app/model/live_frame.h"
#include "app/theme/units.h"
#include "app/widgets/basics.h"
#include "app/widgets/hands.h"
#include "jobs/chained.h"
#include "jobs/edits.h"
#include "methods/common/figures.h"
#include "methods/drop_weight/drop_weight.h"
#include "sim/dropped_plate.h"

#include <QHBoxLayout>
#include <QKeyEvent>

namespace fortitor {
namespace {

/// Options that belong to one blow, in the order they are asked.
constexpr const char* ofTheBlow[] = {dropKeys::height, dropKeys::speed};

QString figure(double value, int digits)
{
    return QString::number(value, 'f', digits);
}

} // namespace

PlatePicture::PlatePicture(QWidget* parent) : QWidget(parent)
{
    setObjectName("platePicture");
    setMinimumSize(300, 190);
    setAccessibleName("The plate from above, with its damage");
}

void PlatePicture::show(const StruckPlate& plate)
{
    plate_ = plate;
    update();
}

void PlatePicture::paintEvent(QPaintEvent*)
{
    QPainter painter(this);
    painter.fillRect(rect(), pal().surface);
    paintPlate(painter, pal(), QRectF(rect()), plate_);
}

DropPage::DropPage(Session& session, QWidget* parent) : Page(session, parent)
{
    setObjectName("dropPage");
    setFocusPolicy(Qt::ClickFocus);
    build();
    connect(&Units::instance(), &Units::changed, this, [this] {
        if (isVisible())
            refresh();
    });
}

void DropPage::build()
{
    auto* row = new QHBoxLayout(this);
    row->setContentsMargins(24, 14, 20, 12);
    row->setSpacing(22);
    auto* left = new QVBoxLayout;
    left->setSpacing(4);
    row->addLayout(left, 1);
    title_ = label({}, "head");
    title_->setObjectName("dropTitle");
    facts_ = label({}, "quiet");
    facts_->setObjectName("dropFacts");
    facts_->setTextFormat(Qt::RichText);
    facts_->setWordWrap(true);
    picture_ = new PlatePicture;
    plot_ = new PlotView;
    plot_->setObjectName("dropPlot");
    plot_->setMinimumHeight(150);
    plot_->setEmptyWords("No force record yet: take in the tower's file, or let the simulated tower drop it.");
    photos_ = new PhotoRow(session_);
    connect(photos_, &PhotoRow::told, this, &DropPage::say);
    auto* head = new QHBoxLayout;
    head->addWidget(title_, 1);
    head->addWidget(photos_);
    left->addLayout(head);
    left->addWidget(facts_);
    left->addWidget(picture_, 5);
    left->addWidget(plot_, 4);
    auto* panel = new QWidget;
    panel->setFixedWidth(304);
    row->addWidget(panel);
    auto* side = new QVBoxLayout(panel);
    side->setContentsMargins(0, 0, 0, 0);
    side->setSpacing(6);
    rows_ = new QVBoxLayout;
    rows_->setSpacing(5);
    side->addLayout(rows_);
    message_ = label({}, "warn");
    message_->setObjectName("dropMessage");
    message_->setWordWrap(true);
    message_->hide();
    side->addWidget(message_);
    side->addStretch(1);
    caution_ =
        label("<b>Mass blocked?</b> By its mechanical block, not by the catcher, before anyone reaches in. Guard "
              "closed, eye protection. Local rules and the machine's manual decide.");
    caution_->setObjectName("dropCaution");
    caution_->setTextFormat(Qt::RichText);
    caution_->setWordWrap(true);
    caution_->setAutoFillBackground(true);
    caution_->setMargin(8);
    side->addWidget(caution_);
    auto* ends = new QHBoxLayout;
    import_ = button("Take in record…", "primary", "dropImport");
    import_->setToolTip("The tower's file: time and force (Ctrl+O)");
    drop_ = button("Drop (simulated)", "", "dropSimulated");
    drop_->setToolTip("The simulated tower drops its mass onto a plate like this (I)");
    toRead_ = button("Read", "link", "dropToRead");
    chain_ = button({}, "link", "dropChain");
    chain_->setToolTip("A job of compression after impact with the same plates and what is known of their blows");
    after_ = label({}, "quiet");
    after_->setObjectName("dropAfter");
    after_->setWordWrap(true);
    side->addWidget(after_);
    side->addWidget(chain_, 0, Qt::AlignLeft);
    connect(chain_, &QPushButton::clicked, this, &DropPage::chain);
    for (QPushButton* b : {import_, drop_, toRead_, chain_})
        b->setFocusPolicy(Qt::TabFocus);
    ends->addWidget(import_);
    ends->addWidget(drop_);
    ends->addStretch();
    ends->addWidget(toRead_);
    side->addLayout(ends);
    connect(import_, &QPushButton::clicked, this, &DropPage::importAsked);
    connect(drop_, &QPushButton::clicked, this, &DropPage::drop);
    connect(toRead_, &QPushButton::clicked, this, &DropPage::readAsked);
}

namespace {

/// A field with its name over it, two in a row.
QLineEdit* namedField(QHBoxLayout* row, const char* name, const QString& words, const QString& tip, const QString& unit)
{
    auto* edit = lineEdit(name, {});
    edit->setToolTip(tip);
    edit->setMinimumHeight(30);
    edit->setPlaceholderText(unit);
    auto* head = label(words, "quiet");
    head->setMinimumWidth(1);
    head->setToolTip(tip);
    auto* cell = new QVBoxLayout;
    cell->setSpacing(1);
    cell->addWidget(head);
    cell->addWidget(edit);
    row->addLayout(cell, 1);
    return edit;
}

} // namespace

/// A figure of this blow: kept with this plate alone.
void DropPage::addOption(const std::string& key)
{
    const OptionSpec* spec = session_.job().method->findOption(key);
    if (!spec)
        return;
    auto* row = static_cast<QHBoxLayout*>(rows_->itemAt(rows_->count() - 1)->layout());
    const QString unit = spec->kind == Kind::Speed ? QString("m/s") : q(std::string(baseUnit(spec->kind).symbol));
    auto* edit = namedField(row, ("drop-" + key).c_str(), q(spec->label), q(spec->help), unit);
    hands::onKept(edit, this, [this, key, unit](const QString& typed, hands::Answered answered) {
        const QString text = !typed.isEmpty() && parseNumber(s(typed)) ? typed + " " + unit : typed;
        const Kind kind = session_.job().method->findOption(key)->kind;
        if (const auto read = parseQuantity(s(text), kind); !text.isEmpty() && !read) {
            say(q(read.problem().text()));
            return false;
        }
        say({});
        return session_.apply(edits::specimenOption(session_.document(), session_.current(), key, s(text), {}),
                              std::move(answered));
    });
    options_.emplace_back(key, edit);
}

void DropPage::addReading(const FieldSpec& field)
{
    auto* row = static_cast<QHBoxLayout*>(rows_->itemAt(rows_->count() - 1)->layout());
    auto* edit = namedField(row, ("drop-" + field.key).c_str(), q(field.label), q(field.help), "mm");
    hands::onKept(edit, this, [this, field](const QString& typed, hands::Answered answered) {
        const auto command = edits::reading(session_.document(), session_.current(), field, 0, s(typed));
        say(command ? QString() : q(command.problem().text()));
        return session_.apply(command, std::move(answered));
    });
    readings_.emplace_back(field.key, edit);
}

void DropPage::buildFields()
{
    const Method& method = *session_.job().method;
    if (std::exchange(builtFor_, q(method.id)) == q(method.id))
        return;
    clearLayout(rows_);
    options_.clear();
    readings_.clear();
    looks_.clear();
    const auto newRow = [this] {
        auto* row = new QHBoxLayout;
        row->setSpacing(8);
        rows_->addLayout(row);
    };
    newRow();
    for (const char* key : ofTheBlow)
        addOption(key);
    size_t count = 0;
    for (const FieldSpec& field : method.fields)
        if (field.afterBreak) {
            if (count++ % 2 == 0)
                newRow();
            addReading(field);
        }
    for (const NoteSpec& note : method.notes) {
        if (note.stage != Stage::Load || note.choices.empty())
            continue;
        auto* look = new LookRow(note);
        connect(look, &LookRow::picked, this, [this, key = note.key](const QString& choice) {
            session_.apply(edits::note(session_.document(), session_.current(), key, s(choice)));
        });
        rows_->addWidget(label(q(note.label), "quiet"));
        rows_->addWidget(look);
        looks_.push_back(look);
    }
    settleLayout(rows_);
    // Fields first, in the order they stand; what makes a job comes last.
    std::vector<QWidget*> way;
    for (const auto* list : {&options_, &readings_})
        for (const auto& [key, edit] : *list)
            way.push_back(edit);
    way.insert(way.end(), looks_.begin(), looks_.end());
    way.insert(way.end(), {import_, drop_, toRead_, chain_});
    for (size_t i = 1; i < way.size(); ++i)
        setTabOrder(way[i - 1], way[i]);
}

void DropPage::refresh()
{
    const PageSpec* page = session_.hasSpecimen() ? session_.job().method->pageOf(Stage::Load) : nullptr;
    if (!page || page->page != "drop")
        return;
    buildFields();
    photos_->refresh();
    fill();
}

void DropPage::fill()
{
    const SpecimenInput& input = session_.specimen().input;
    title_->setText(q(session_.specimen().label) + ", struck by the drop weight");
    const auto plan = dropPlan(input);
    QStringList facts;
    if (!plan) {
        facts << q(plan.problem().text()).toHtmlEscaped();
    } else {
        facts << (plan->wanted ? QString("for its thickness&nbsp; <b>%1 J</b>  (%2 J/mm × %3 mm)")
                                     .arg(figure(*plan->wanted, 1), QString::number(plan->perThickness),
                                          figure(*plan->thickness, 2))
                               : QString("thickness not measured yet"));
        if (plan->mass && plan->height)
            facts << QString("%1 kg from %2 mm&nbsp; <b>%3 J</b>, %4 m/s")
                         .arg(QString::number(*plan->mass), figure(*plan->height, 0), figure(*plan->nominal, 1),
                              figure(*plan->speed, 2));
        else if (plan->mass && plan->heightWanted)
            facts << QString("%1 kg needs&nbsp; <b>%2 mm</b>, %3 m/s")
                         .arg(QString::number(*plan->mass), figure(*plan->heightWanted, 0), figure(*plan->speed, 2));
        else if (!plan->mass)
            facts << QString("state the drop mass on Plan");
        if (plan->massNeeded)
            facts << QString("more than the tower's %1 mm: use&nbsp; <b>%2 kg</b> or more")
                         .arg(figure(*plan->towerHeight, 0), figure(*plan->massNeeded, 2));
    }
    facts_->setText(facts.join("<br>"));
    for (const auto& [key, edit] : options_) {
        const auto it = input.options.find(key);
        hands::fill(edit, it == input.options.end() ? QString() : q(it->second));
    }
    if (plan && plan->heightWanted && !options_.empty())
        options_.front().second->setPlaceholderText(figure(*plan->heightWanted, 0) + " mm needed");
    for (const auto& [key, edit] : readings_) {
        const auto it = input.dimensions.find(key);
        hands::fill(edit, it == input.dimensions.end() || it->second.empty() ? QString() : q(it->second.front().text));
    }
    for (LookRow* look : looks_)
        look->setCurrent(noteOf(input, look->key()));
    const QString after = q(chainedAfter(session_, session_.current()));
    after_->setText(after);
    after_->setVisible(!after.isEmpty());
    picture_->show({.length = meanLength(input, dropKeys::length),
                    .width = meanLength(input, dropKeys::width),
                    .damageLength = meanLength(input, dropKeys::damageLength),
                    .damageWidth = meanLength(input, dropKeys::damageWidth),
                    .dent = meanLength(input, dropKeys::dent),
                    .front = q(noteOf(input, dropKeys::front)),
                    .back = q(noteOf(input, dropKeys::back))});
    const auto& outcome = session_.specimenOutcome().outcome;
    if (outcome && outcome->curve()) {
        Plot plot = plotOf(outcome->views.front(), units());
        plot.names = Plot::Names::Row; // the plot is low: nothing stands on the curve
        plot_->show(std::move(plot), true);
    } else {
        plot_->clear();
    }
    QPalette tint = caution_->palette();
    tint.setColor(QPalette::Window, pal().accentTint);
    caution_->setPalette(tint);
    drop_->setEnabled(!session_.hasRecord(session_.current()));
}

/// The simulated tower: mass and height as they are set, a plate like this one; its light gate tells the speed.
void DropPage::drop()
{
    const SpecimenInput& input = session_.specimen().input;
    if (session_.hasRecord(session_.current()))
        return say("This plate is struck already.");
    const auto plan = dropPlan(input);
    if (!plan)
        return say(q(plan.problem().text()));
    if (!plan->mass || !(plan->height || plan->heightWanted))
        return say("The simulated tower needs the drop mass, and a height or the thickness.");
    DroppedKind kind;
    kind.mass = *plan->mass;
    if (plan->thickness) { // a thicker plate is stiffer, and is damaged later
        const double thicker = *plan->thickness / kind.thickness;
        kind.stiffness *= thicker * thicker;
        kind.damageAt *= thicker;
        kind.thickness = *plan->thickness;
    }
    const double height = plan->height ? *plan->height : *plan->heightWanted;
    const DroppedPlate plate = dropOn(kind, height, seedOf(session_.job().number + session_.specimen().label) % 100000);
    const size_t index = session_.current();
    if (!session_.attach(index, plate.record))
        return;
    session_.apply(edits::specimenOption(session_.document(), index, dropKeys::speed,
                                         s(figure(plate.speed, 3) + " m/s"), "light gate of the simulated tower"));
    say({});
}

/// The number that the second job of the chain has.
QString DropPage::chained() const
{
    return q(chainedNumber(session_.job().number));
}

/// Its id, where it is there already.
std::optional<std::int64_t> DropPage::chainedJob() const
{
    for (const JobRow& row : session_.logbook().jobs())
        if (row.number == chained())
            return row.id;
    return std::nullopt;
}

/// The second job of the chain: the same labels and sizes, with the energy of each blow.
void DropPage::chain()
{
    if (const auto there = chainedJob())
        return emit jobAsked(*there, static_cast<int>(session_.current()));
    session_.settleWork();
    std::vector<BlowOf> blows;
    for (size_t i = 0; i < session_.job().specimens.size(); ++i) {
        BlowOf blow{session_.job().specimens[i].label};
        if (const auto& outcome = session_.outcome().specimens[i].outcome) {
            const auto valueOf = [&](const char* symbol) {
                const Result* r = outcome->find(symbol);
                return r ? r->value : std::nullopt;
            };
            blow.energy = valueOf(dropKeys::energy);
            blow.dent = valueOf(dropKeys::dentResult);
            blow.first = valueOf(dropKeys::firstLoad);
        }
        blows.push_back(std::move(blow));
    }
    const auto id = session_.addJob(compressionOf(session_.document().json(), blows, s(chained())),
                                    QString("job %1 made from %2").arg(chained(), q(session_.job().number)));
    if (!id)
        return say(q(id.problem().text()));
    emit jobAsked(*id, 0);
}

void DropPage::say(const QString& words)
{
    message_->setText(words);
    message_->setVisible(!words.isEmpty());
}

/// The first field that is still empty, else the page itself.
void DropPage::enter()
{
    if (!session_.hasSpecimen())
        return;
    chain_->setText(chainedJob() ? "To their compression, " + chained() : QString("Compress these plates"));
    for (const auto* list : {&options_, &readings_})
        for (const auto& [key, edit] : *list)
            if (edit->text().isEmpty())
                return edit->setFocus();
    setFocus();
}

bool DropPage::goTo(const QString& field)
{
    for (const auto* list : {&options_, &readings_})
        for (const auto& [key, edit] : *list)
            if (q(key) == field) {
                edit->setFocus();
                return true;
            }
    return false;
}

void DropPage::keyPressEvent(QKeyEvent* event)
{
    if (event->key() == Qt::Key_I && event->modifiers() == Qt::NoModifier)
        return drop();
    Page::keyPressEvent(event);
}

QStringList DropPage::keys() const
{
    return {"Ctrl+O|take in the tower's record", "I|let the simulated tower drop it", "1…9|how the faces look",
            "Ctrl+← Ctrl+→|another plate", "Ctrl+Z|undo"};
}

} // namespace fortitor
