// SPDX-License-Identifier: GPL-3.0-or-later
// The page while indents are read from pictures.
#include "app/bench/indent/indent_page.h"

#include "app/bench/indent/picture_panel.h"
#include "app/widgets/basics.h"
#include "methods/common/figures.h"
#include "sim/indent_camera.h"

#include <QDragEnterEvent>
#include <QDropEvent>
#include <QMimeData>
#include <QShortcut>
#include <QUrl>

#include <algorithm>
#include <numbers>
#include <utility>

namespace fortitor {
namespace {

/// The way in which lengths are keyed one by one: what a picture fills.
bool byLengths(const EntryWay& way)
{
    return !way.filar && !way.names.empty() && way.names.front() != "value" && !way.names.front().starts_with("half");
}

} // namespace

void IndentPage::buildPicture()
{
    picture_ = new PicturePanel(session_);
    picture_->hide();
    setAcceptDrops(true);
    connect(picture_, &PicturePanel::read, this, &IndentPage::pictureRead);
    connect(picture_, &PicturePanel::takeAsked, this, &IndentPage::keep);
    connect(picture_, &PicturePanel::leaveAsked, this, [this] {
        showPicturePanel(false);
        refresh();
        enter();
    });
    auto* key = new QShortcut(QKeySequence("Alt+P"), this);
    key->setContext(Qt::WidgetWithChildrenShortcut);
    connect(key, &QShortcut::activated, this, [this] {
        if (desk_ && picturesWork())
            choosePicture();
    });
}

/// Lengths are read under a lens, and the piece was not begun in another way.
bool IndentPage::picturesWork() const
{
    if (desk_->setting.scale->by == HardnessScale::By::Rockwell)
        return false;
    return desk_->indents.empty() || byLengths(ways_[way_]);
}

void IndentPage::choosePicture()
{
    showPicturePanel(true);
    picture_->ask();
}

void IndentPage::showPicturePanel(bool on)
{
    if (on && !byLengths(ways_[way_]))
        for (size_t i = 0; i < ways_.size(); ++i)
            if (byLengths(ways_[i])) {
                way_ = i;
                buildFields();
                break;
            }
    if (on == byPicture_)
        return;
    byPicture_ = on;
    showsKept_ = false;
    picture_->clear();
    if (on)
        picture_->refreshScales();
    // One goes before the other comes: both at once would make the window grow.
    (on ? static_cast<QWidget*>(map_) : picture_)->hide();
    if (on)
        profile_->hide();
    (on ? static_cast<QWidget*>(picture_) : map_)->setVisible(true);
    for (PadField* field : fields_) {
        field->setReadOnly(on);
        field->setText({});
    }
    say({});
    if (on)
        refresh();
}

/// The lengths as they come about on the picture stand in the fields.
void IndentPage::pictureRead()
{
    if (!byPicture_)
        return;
    for (size_t k = 0; k < fields_.size() && k < 2; ++k) {
        const auto& reading = picture_->reading();
        const PadChannel* column = methodHere().intake.find(ways_[way_].names[k]);
        const Unit* unit = column ? findUnit(column->unit, column->kind) : nullptr;
        if (!reading || !unit) {
            fields_[k]->setText({});
            continue;
        }
        const double micrometres = unit->toBase(1) * 1000; // in one of the column's unit
        fields_[k]->setText(q(formatFixed(unit->fromBase(reading->lengths[k].base), micrometres > 100 ? 5 : 2)));
    }
    showTried();
}

void IndentPage::showPictureOf(std::optional<size_t> indent)
{
    const auto& pictures = session_.specimen().pictures;
    const auto one =
        std::ranges::find_if(pictures, [&](const ReadingPicture& p) { return indent && p.reading == *indent + 1; });
    if (one == pictures.end()) {
        if (std::exchange(showsKept_, false)) {
            picture_->clear();
            if (byPicture_) {
                picture_->reopen();
            } else {
                picture_->hide();
                map_->setVisible(true);
            }
            showAround();
        }
        return;
    }
    showsKept_ = true;
    picture_->showKept(*one,
                       QString("Indent %1, %2").arg(*indent + 1).arg(q(desk_->indents[*indent].reading.notation)));
    map_->hide();
    profile_->hide();
    picture_->show();
    hint_->setText("The picture that this indent was read from, with the ends as they were taken.");
}

/// What the simulated camera sees of the next indent.
void IndentPage::shootTester(double number, size_t n)
{
    const double side = picture_->scale().side;
    if (!(side > 0))
        return say("Choose the scale of the picture first: the simulated camera goes by it.");
    IndentReading sized;
    estimateSize(desk_->setting, number, sized);
    if (!(sized.across > 0))
        return say("The simulated tester can't tell how large the indent is.");
    const bool ball = desk_->setting.scale->by == HardnessScale::By::Brinell;
    IndentShot shot{.shape = shapeOf(desk_->setting.scale->by),
                    .first = sized.across * 1.003,
                    .second = sized.across * (desk_->setting.scale->by == HardnessScale::By::Knoop ? 1 / 7.114 : 0.997),
                    .pixel = side,
                    .angle = ball ? 0.4 : std::numbers::pi / 2 + 0.04 * (static_cast<double>(n % 5) - 2),
                    .offX = static_cast<double>(n * 37 % 31) - 15,
                    .offY = static_cast<double>(n * 53 % 23) - 11,
                    .seed = n + 100};
    const double fits = 0.85 * std::min(shot.width, shot.height) * shot.pixel;
    if (sized.across > fits)
        return say("The indent is larger than the simulated camera sees with this length of a pixel.");
    picture_->openShot(takeShot(shot),
                       QString("%1-%2-%3.png")
                           .arg(q(session_.job().number), q(session_.specimen().label))
                           .arg(n + 1, 2, 10, QChar('0')));
}

void IndentPage::dragEnterEvent(QDragEnterEvent* event)
{
    if (desk_ && picturesWork() && event->mimeData()->hasUrls() && event->mimeData()->urls().first().isLocalFile())
        event->acceptProposedAction();
}

void IndentPage::dropEvent(QDropEvent* event)
{
    const QString file = event->mimeData()->urls().first().toLocalFile();
    if (file.isEmpty())
        return;
    openPicture(file);
    event->acceptProposedAction();
}

void IndentPage::openPicture(const QString& file)
{
    if (!desk_ || !picturesWork())
        return;
    showPicturePanel(true);
    picture_->open(file);
}

} // namespace fortitor
