// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/shell/start_page.h"

#include "app/theme/theme.h"
#include "app/widgets/basics.h"
#include "draw/specimen_drawing.h"

#include <QGridLayout>
#include <QHBoxLayout>
#include <QKeyEvent>
#include <QPainter>
#include <QScrollArea>
#include <QVBoxLayout>

#include <algorithm>

namespace fortitor {
namespace {

constexpr int cardGap = 12, leastCard = 240;

} // namespace

TestCard::TestCard(const Method& method, QWidget* parent) : QAbstractButton(parent), method_(method)
{
    setObjectName("test-" + q(method.id));
    setFocusPolicy(Qt::StrongFocus);
    setCursor(Qt::PointingHandCursor);
    setAttribute(Qt::WA_Hover);
    setText(q(method.question));
    setAccessibleName(q(method.question + " " + method.name));
    QStringList found;
    for (const ResultSpec& result : method.results)
        found << q(result.symbol) + ", " + q(result.name);
    shown_ = (QStringList{q(method.question), q(method.name), q(method.standards)}).join(" ");
    results_ = found.join(" ");
    constexpr int most = 8;
    const QString more = found.size() > most ? QString(" and %1 more").arg(found.size() - most) : QString();
    setToolTip("Gives " + QStringList(found.mid(0, most)).join("; ") + more);
}

void TestCard::setFirst(bool first)
{
    first_ = first;
    update();
}

int TestCard::fits(const QString& words) const
{
    const QStringList each = words.split(' ', Qt::SkipEmptyParts);
    const auto holds = [&](const QString& text) {
        return std::ranges::all_of(each, [&](const QString& one) { return text.contains(one, Qt::CaseInsensitive); });
    };
    return holds(shown_) ? 2 : holds(shown_ + " " + results_) ? 1 : 0;
}

void TestCard::paintEvent(QPaintEvent*)
{
    const Palette& p = pal();
    QPainter painter(this);
    painter.setRenderHint(QPainter::Antialiasing);
    const bool here = hasFocus() || first_;
    painter.setBrush(isDown() || here ? p.accentTint : underMouse() ? p.paper : p.surface);
    painter.setPen(QPen(here ? p.accent : p.hair, here ? 2 : 1.2));
    painter.drawRect(QRectF(rect()).adjusted(1, 1, -1, -1));
    painter.setBrush(p.paper);
    painter.setPen(QPen(p.ink, 1.3));
    const std::string shape = method_.shapes.empty() ? std::string() : method_.shapes.front();
    painter.drawPath(silhouette(method_.drawing.form, shape, QRectF(24, 18, 34, height() - 36)));
    const QRectF room(82, 12, width() - 92, height() - 24);
    painter.setFont(wordFont(14, QFont::DemiBold));
    painter.setPen(p.ink);
    painter.drawText(room, Qt::TextWordWrap | Qt::AlignTop, text());
    painter.setFont(wordFont(12));
    painter.setPen(p.quiet);
    painter.drawText(room, Qt::TextWordWrap | Qt::AlignBottom,
                     q(method_.name) + " · "
                         + q(method_.standards).replace("ISO ", "ISO\u00A0").replace("ASTM ", "ASTM\u00A0"));
}

void TestCard::keyPressEvent(QKeyEvent* event)
{
    switch (event->key()) {
    case Qt::Key_Return:
    case Qt::Key_Enter: click(); break;
    case Qt::Key_Left:
    case Qt::Key_Right:
    case Qt::Key_Up:
    case Qt::Key_Down: emit steered(event->key()); break;
    default: QAbstractButton::keyPressEvent(event);
    }
}

StartPage::StartPage(QWidget* parent) : QWidget(parent)
{
    setObjectName("startPage");
    auto* column = new QVBoxLayout(this);
    column->setContentsMargins(28, 22, 28, 16);
    column->setSpacing(10);
    auto* head = new QHBoxLayout;
    auto* title = label("What do you want to know?", "title");
    title->setWordWrap(false);
    head->addWidget(title);
    head->addStretch();
    search_ = lineEdit("testSearch", "a word: bend, hard, Rp0.2, ISO 527");
    search_->setFixedWidth(320);
    search_->setClearButtonEnabled(true);
    search_->installEventFilter(this);
    head->addWidget(search_);
    column->addLayout(head);
    lead_ = label({}, "quiet");
    lead_->setObjectName("startLead");
    lead_->setWordWrap(true);
    column->addWidget(lead_);
    scroll_ = new QScrollArea;
    scroll_->setWidgetResizable(true);
    scroll_->setFocusPolicy(Qt::NoFocus);
    auto* inside = new QWidget;
    auto* room = new QVBoxLayout(inside);
    room->setContentsMargins(0, 0, 0, 0);
    grid_ = new QGridLayout;
    grid_->setSpacing(cardGap);
    room->addLayout(grid_);
    none_ = label("No test by these words. Esc clears them.", "quiet");
    none_->setObjectName("startNone");
    room->addWidget(none_);
    room->addStretch();
    scroll_->setWidget(inside);
    column->addWidget(scroll_, 1);
    for (const Method& method : methodRegistry()) {
        auto* card = new TestCard(method, inside);
        cards_.push_back(card);
        connect(card, &QAbstractButton::clicked, this, [this, card] { emit chosen(q(card->method().id)); });
        connect(card, &TestCard::steered, this, [this, card](int key) { steer(card, key); });
    }
    other_ = new QWidget;
    auto* row = new QHBoxLayout(other_);
    row->setContentsMargins(0, 4, 0, 0);
    row->setSpacing(10);
    row->addWidget(label("Or", "quiet"));
    auto* import = button("Import a job…", "", "startImport");
    import->setToolTip("A job file with its records. It may be dropped on the window too");
    auto* demo = button("Look around in the demo", "", "startDemo");
    demo->setToolTip("Opens a second window on a logbook of made-up jobs; nothing of it comes into yours");
    row->addWidget(import);
    row->addWidget(demo);
    row->addStretch();
    column->addWidget(other_);
    connect(import, &QPushButton::clicked, this, &StartPage::importAsked);
    connect(demo, &QPushButton::clicked, this, &StartPage::demoAsked);
    connect(search_, &QLineEdit::textChanged, this, &StartPage::arrange);
    connect(search_, &QLineEdit::returnPressed, this, [this] {
        if (const auto cards = fitting(); !cards.empty())
            emit chosen(q(cards.front()->method().id));
    });
}

void StartPage::enter(bool empty)
{
    empty_ = empty;
    lead_->setText(empty
                       ? "This logbook has no job yet. Choose a test: its job opens on Plan, where you say of what and "
                         "how many. A simulated frame can load it, so that you see the whole way first."
                       : "Choose a test: its job opens on Plan, where you say of what and how many.");
    search_->clear();
    arrange();
    search_->setFocus();
}

std::vector<TestCard*> StartPage::fitting() const
{
    std::vector<TestCard*> found;
    std::ranges::copy_if(cards_, std::back_inserter(found),
                         [this](const TestCard* card) { return card->fits(search_->text()) > 0; });
    std::ranges::stable_sort(found, std::ranges::greater(),
                             [this](const TestCard* card) { return card->fits(search_->text()); });
    return found;
}

/// As many beside one another as there is room for; those that fit the words first, the others gone.
void StartPage::arrange()
{
    const auto found = fitting();
    columns_ = std::clamp((width() - 56 + cardGap) / (leastCard + cardGap), 1, 4);
    while (grid_->count() > 0)
        delete grid_->takeAt(0);
    for (TestCard* card : cards_) {
        const auto at = std::ranges::find(found, card);
        card->setVisible(at != found.end());
        card->setFirst(at == found.begin() && at != found.end() && !search_->text().trimmed().isEmpty());
        if (at == found.end())
            continue;
        const auto place = static_cast<int>(at - found.begin());
        card->setMinimumHeight(108);
        grid_->addWidget(card, place / columns_, place % columns_);
    }
    for (int k = 0; k < 4; ++k)
        grid_->setColumnStretch(k, k < columns_ ? 1 : 0);
    none_->setVisible(found.empty());
}

void StartPage::steer(const TestCard* from, int key)
{
    const auto found = fitting();
    const auto here = static_cast<int>(std::ranges::find(found, from) - found.begin());
    const int step = key == Qt::Key_Left ? -1 : key == Qt::Key_Right ? 1 : key == Qt::Key_Up ? -columns_ : columns_;
    const int to = here + step;
    if (to < 0)
        search_->setFocus();
    else if (to < static_cast<int>(found.size())) {
        found[static_cast<size_t>(to)]->setFocus();
        scroll_->ensureWidgetVisible(found[static_cast<size_t>(to)], 0, cardGap);
    }
}

bool StartPage::eventFilter(QObject* watched, QEvent* event)
{
    if (watched == search_ && event->type() == QEvent::KeyPress
        && static_cast<QKeyEvent*>(event)->key() == Qt::Key_Down) {
        if (const auto found = fitting(); !found.empty())
            found.front()->setFocus();
        return true;
    }
    return QWidget::eventFilter(watched, event);
}

void StartPage::keyPressEvent(QKeyEvent* event)
{
    if (event->key() != Qt::Key_Escape)
        return QWidget::keyPressEvent(event);
    if (!search_->text().isEmpty())
        search_->clear();
    else if (!empty_)
        emit left();
}

} // namespace fortitor
