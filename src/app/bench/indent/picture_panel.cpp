// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/bench/indent/picture_panel.h"

#include "app/bench/indent/length_text.h"
#include "app/theme/theme.h"
#include "app/widgets/basics.h"
#include "app/widgets/hands.h"
#include "jobs/calibration.h"
#include "jobs/json_at.h"
#include "methods/common/figures.h"
#include "vision/vision.h"

#include <fmt/format.h>

#include <QBuffer>
#include <QDate>
#include <QDir>
#include <QFileDialog>
#include <QFileInfo>
#include <QHBoxLayout>
#include <QSettings>

#include <algorithm>
#include <cmath>

namespace fortitor {
namespace {

const QString noChoice = "choose the scale…", barChoice = "two clicks on a scale bar",
              typedChoice = "length of a pixel, typed";

QString pixelText(double mm)
{
    return q(formatSignificant(mm * 1000, 4)) + " µm";
}

} // namespace

/// What came of opening a picture.
struct PicturePanel::Loaded {
    int asked = 0;
    QString path, name;
    QByteArray bytes;
    std::optional<GreyPicture> grey;
    std::optional<FoundIndent> found;
    std::optional<Problem> problem; ///< no picture, or nothing found on it
    std::optional<ReadingPicture> kept;
};

namespace {

std::span<const std::uint8_t> spanOf(const QByteArray& bytes)
{
    return {reinterpret_cast<const std::uint8_t*>(bytes.constData()), static_cast<size_t>(bytes.size())};
}

} // namespace

PicturePanel::PicturePanel(Session& session, QWidget* parent) : QWidget(parent), session_(session)
{
    setObjectName("picturePanel");
    beside_.setMaxThreadCount(1);
    build();
}

void PicturePanel::build()
{
    auto* column = new QVBoxLayout(this);
    column->setContentsMargins(0, 0, 0, 0);
    column->setSpacing(6);
    view_ = new PictureView;
    column->addWidget(view_, 1);
    caption_ = label({}, "quiet");
    caption_->setObjectName("pictureCaption");
    caption_->setWordWrap(true);
    facts_ = label({}, "quiet");
    facts_->setObjectName("pictureFacts");
    facts_->setWordWrap(true);
    doubts_ = label({}, "quiet");
    doubts_->setObjectName("pictureDoubts");
    doubts_->setWordWrap(true);
    scale_ = new QComboBox;
    scale_->setObjectName("pictureScale");
    scale_->setSizeAdjustPolicy(QComboBox::AdjustToMinimumContentsLengthWithIcon);
    scale_->setMinimumContentsLength(26);
    scale_->setToolTip("How long a pixel is: by a calibrated objective (Instruments), a bar on the picture, or typed");
    length_ = lineEdit("pictureLength", "µm a pixel");
    length_->setFixedWidth(112);
    open_ = button("Open…", "", "pictureOpen");
    next_ = button("Next picture", "", "pictureNext");
    next_->setToolTip("The one behind it in its folder, by name");
    again_ = button("Find again", "link", "pictureFind");
    places_ = button("Places", "link", "picturePlaces");
    places_->setToolTip("Back to the drawing of the piece");
    for (QPushButton* b : {open_, next_, again_, places_})
        b->setFocusPolicy(Qt::TabFocus);
    auto* row = new QHBoxLayout;
    row->setSpacing(8);
    row->addWidget(label("Scale", "quiet"));
    row->addWidget(scale_);
    row->addWidget(length_);
    row->addStretch();
    auto* row2 = new QHBoxLayout;
    row2->setSpacing(8);
    row2->addWidget(open_);
    row2->addWidget(next_);
    row2->addWidget(again_);
    row2->addStretch();
    row2->addWidget(places_);
    column->addWidget(caption_);
    column->addWidget(facts_);
    column->addWidget(doubts_);
    column->addLayout(row);
    column->addLayout(row2);
    connect(open_, &QPushButton::clicked, this, &PicturePanel::ask);
    connect(next_, &QPushButton::clicked, this, [this] {
        if (!openNext())
            say("No other picture stands behind it in its folder.");
    });
    connect(again_, &QPushButton::clicked, this, &PicturePanel::find);
    connect(places_, &QPushButton::clicked, this, &PicturePanel::leaveAsked);
    connect(scale_, &QComboBox::activated, this, &PicturePanel::scaleChosen);
    connect(length_, &QLineEdit::textEdited, this, [this] {
        if (scale_->currentText() == barChoice)
            barMeasured();
        else
            scaleTyped();
    });
    connect(view_, &PictureView::takeAsked, this, &PicturePanel::takeAsked);
    connect(view_, &PictureView::barPlaced, this, &PicturePanel::barPlaced);
    connect(view_, &PictureView::moved, this, [this](size_t end, const PixelPoint& to) {
        if (!marked_ || kept_)
            return;
        const PixelPoint inside{std::clamp(to.x, 0.0, double(grey_->width - 1)),
                                std::clamp(to.y, 0.0, double(grey_->height - 1))};
        placeByHand(*marked_, end, inside);
        unplaced_[end] = false;
        byHand_ = true;
        workOut();
    });
}

std::vector<InstrumentRow> PicturePanel::objectives() const
{
    std::vector<InstrumentRow> all = session_.logbook().instruments();
    std::erase_if(all, [](const InstrumentRow& row) { return row.kind != "objective"; });
    return all;
}

QString PicturePanel::memory(const char* key) const
{
    return QString("picture/%1/%2").arg(q(std::string(setting_.scale->name)), key);
}

void PicturePanel::setSetting(const HardnessSetting& setting)
{
    const bool other = !setting_.scale || setting_.scale != setting.scale;
    setting_ = setting;
    if (other)
        fillScales();
    if (marked_)
        workOut();
}

void PicturePanel::fillScales()
{
    std::vector<hands::Item> items{{noChoice, {}}}; // a scale that nobody chose would be a wrong number
    for (const InstrumentRow& row : objectives())
        items.push_back({row.name, row.name});
    items.push_back({barChoice, {}});
    items.push_back({typedChoice, {}});
    const QString last = QSettings().value(memory("scale"), noChoice).toString();
    int current = 0;
    for (size_t i = 0; i < items.size(); ++i)
        if (items[i].text == last)
            current = static_cast<int>(i);
    hands::fill(scale_, items, current);
    if (!hands::typing(length_))
        length_->setText(last == typedChoice ? QSettings().value(memory("pixel")).toString() : QString());
    scaleChosen();
}

void PicturePanel::scaleChosen()
{
    const QString choice = scale_->currentText();
    if (choice != noChoice)
        QSettings().setValue(memory("scale"), choice);
    pixels_ = {};
    QString trouble;
    length_->setVisible(choice == barChoice || choice == typedChoice);
    for (const InstrumentRow& row : objectives()) {
        if (row.name != scale_->currentData().toString())
            continue;
        const auto side = parseQuantity(textAt(row.body, "pixel"), Kind::Length);
        const std::string error = textAt(row.body, "error");
        const auto off = parseQuantity(error, Kind::Length);
        if (side)
            pixels_ = {side->base, !error.empty() && off ? off->base / std::sqrt(3.0) : 0, "objective " + s(row.name)};
        else
            trouble = "This objective has no length of a pixel: state it on Instruments.";
        if (const auto why = calibrationTrouble(row.body, s(row.due), s(QDate::currentDate().toString(Qt::ISODate)))) {
            trouble = q(why->words);
            pixels_.words += " (" + why->words + ")"; // it stays with the reading
        }
    }
    if (choice == barChoice) {
        length_->setPlaceholderText("its length, µm");
        barEnds_.reset();
        view_->askBar();
        say("Click on both ends of the bar, then type its length.");
    } else if (choice == typedChoice) {
        length_->setPlaceholderText("µm a pixel");
        scaleTyped();
    }
    if (!trouble.isEmpty())
        say(trouble, true);
    workOut();
}

void PicturePanel::scaleTyped()
{
    const QString text = length_->text().trimmed();
    const auto typed = parseQuantity(s(text), Kind::Length, findUnit("um", Kind::Length));
    pixels_ = {};
    if (typed && typed->base > 0) {
        pixels_ = {typed->base, typed->resolution / 2 / std::sqrt(3.0), "as typed"};
        QSettings().setValue(memory("pixel"), text);
        say({});
    } else if (!text.isEmpty()) {
        say(typed ? "A pixel's side is longer than nothing." : q(typed.problem().text()), true);
    }
    workOut();
}

void PicturePanel::barPlaced(const PixelPoint& from, const PixelPoint& to)
{
    barEnds_ = {from, to};
    say(QString("%1 pixels between the clicks. Type the length of the bar.")
            .arg(q(formatFixed(std::hypot(to.x - from.x, to.y - from.y), 1))));
    length_->setFocus();
    barMeasured();
}

void PicturePanel::barMeasured()
{
    const QString text = length_->text().trimmed();
    pixels_ = {};
    if (barEnds_ && !text.isEmpty()) {
        const auto length = parseQuantity(s(text), Kind::Length, findUnit("um", Kind::Length));
        const auto scale = length ? scaleByBar(barEnds_->first, barEnds_->second, length->base)
                                  : Expected<PixelScale>(length.problem());
        if (scale)
            pixels_ = *scale;
        say(scale ? QString() : q(scale.problem().text()), !scale);
    }
    workOut();
}

void PicturePanel::ask()
{
    const QString from = QSettings().value("picture/folder", QDir::homePath()).toString();
    const QString file = QFileDialog::getOpenFileName(this, "A picture of the indent", path_.isEmpty() ? from : path_,
                                                      "Pictures (*.png *.jpg *.jpeg *.tif *.tiff *.bmp)");
    if (!file.isEmpty())
        open(file);
}

void PicturePanel::open(const QString& file)
{
    QSettings().setValue("picture/folder", QFileInfo(file).absolutePath());
    begin(file, QFileInfo(file).fileName(), [file = s(file)] { return pictureBytes(file); });
}

void PicturePanel::openShot(const GreyPicture& shot, const QString& name)
{
    const QImage image =
        QImage(shot.pixels.data(), shot.width, shot.height, shot.width, QImage::Format_Grayscale8).copy();
    begin({}, name, [image]() -> Expected<std::vector<std::uint8_t>> {
        QByteArray bytes;
        QBuffer into(&bytes);
        into.open(QIODevice::WriteOnly);
        image.save(&into, "PNG");
        return std::vector<std::uint8_t>(bytes.begin(), bytes.end());
    });
}

/// Gets, decodes and looks at a picture beside the interface.
void PicturePanel::begin(const QString& path, const QString& name, Source source)
{
    const int asked = ++asked_;
    busy_ = true;
    say("Reading " + name + " …");
    beside_.start([this, path, name, asked, source = std::move(source), shape = shapeOf(setting_.scale->by)] {
        auto loaded = std::make_shared<Loaded>();
        loaded->asked = asked;
        loaded->path = path;
        loaded->name = name;
        const auto reader = vision();
        auto bytes = reader ? source() : Expected<std::vector<std::uint8_t>>(reader.problem());
        auto grey = bytes ? (*reader)->decode(*bytes, s(loaded->name)) : Expected<GreyPicture>(bytes.problem());
        if (!grey) {
            loaded->problem = grey.problem();
        } else {
            loaded->bytes =
                QByteArray(reinterpret_cast<const char*>(bytes->data()), static_cast<qsizetype>(bytes->size()));
            loaded->grey = std::move(*grey);
            auto found = (*reader)->find(*loaded->grey, shape);
            if (found)
                loaded->found = std::move(*found);
            else
                loaded->problem = found.problem();
        }
        QMetaObject::invokeMethod(
            this, [this, loaded] { showLoaded(*loaded); }, Qt::QueuedConnection);
    });
}

bool PicturePanel::openNext()
{
    if (path_.isEmpty())
        return false;
    const QFileInfo now(path_);
    const QStringList names = now.dir().entryList({"*.png", "*.jpg", "*.jpeg", "*.tif", "*.tiff", "*.bmp"}, QDir::Files,
                                                  QDir::Name | QDir::IgnoreCase);
    const auto at = names.indexOf(now.fileName());
    if (at < 0 || at + 1 >= names.size())
        return false;
    open(now.dir().filePath(names[at + 1]));
    return true;
}

void PicturePanel::showKept(const ReadingPicture& kept, const QString& words)
{
    const int asked = ++asked_;
    const auto bytes = session_.logbook().loadPicture(q(kept.sha256));
    auto loaded = Loaded{.asked = asked,
                         .path = path_,
                         .name = q(kept.file),
                         .bytes = {},
                         .grey = {},
                         .found = {},
                         .problem = {},
                         .kept = kept};
    if (bytes) {
        const auto reader = vision();
        auto grey = reader ? (*reader)->decode(spanOf(*bytes), kept.file) : Expected<GreyPicture>(reader.problem());
        if (grey)
            loaded.grey = std::move(*grey);
        else
            loaded.problem = grey.problem();
    } else {
        loaded.problem = bytes.problem();
    }
    showLoaded(loaded);
    if (loaded.grey)
        caption_->setText(words + " · " + q(kept.file) + " · SHA-256 " + q(kept.sha256.substr(0, 12)) + "…");
}

void PicturePanel::showLoaded(const Loaded& loaded)
{
    if (loaded.asked != asked_)
        return;
    busy_ = false;
    kept_ = loaded.kept.has_value();
    byHand_ = false;
    barEnds_.reset();
    if (scale_->currentText() == barChoice && !kept_)
        pixels_ = {};
    found_ = loaded.found;
    marked_.reset();
    unplaced_.fill(false);
    notFound_.clear();
    if (!loaded.grey) {
        grey_.reset();
        bytes_.clear();
        view_->clear();
        reading_.reset();
        facts_->clear();
        doubts_->clear();
        say(q(loaded.problem->text()), true);
        emit read();
        return;
    }
    if (!kept_)
        path_ = loaded.path;
    name_ = loaded.name;
    bytes_ = loaded.bytes;
    grey_ = loaded.grey;
    view_->show(*grey_);
    view_->setFixed(kept_);
    again_->setEnabled(!kept_);
    const IndentShape shape = shapeOf(setting_.scale->by);
    if (kept_ && loaded.kept->placed.size() == 4) {
        marked_.emplace();
        for (size_t k = 0; k < 4; ++k)
            marked_->ends[k] = {loaded.kept->placed[k][0], loaded.kept->placed[k][1]};
    } else if (found_) {
        marked_ = markedBy(*found_);
    } else if (!kept_) {
        // Nothing is taken from a place that nobody has looked at.
        notFound_ = q(loaded.problem->text());
    }
    caption_->setText(name_ + QString(" · %1 × %2 px").arg(grey_->width).arg(grey_->height));
    if (!notFound_.isEmpty())
        say(notFound_ + " Place the ends by hand: Find again puts them on the picture.", true);
    view_->setMarked(marked_, shape);
    if (kept_) {
        reading_.reset();
        view_->setPixel(loaded.kept->pixel.base);
        facts_->setText(QString("%1 a pixel, %2").arg(pixelText(loaded.kept->pixel.base), q(loaded.kept->scale))
                        + (loaded.kept->found.empty()                      ? " · placed by hand"
                               : loaded.kept->found != loaded.kept->placed ? " · found, then moved by hand"
                                                                           : " · as found"));
        doubts_->clear();
        return;
    }
    if (scale_->currentText() == barChoice)
        view_->askBar();
    workOut();
}

/// Finds the ends once more; where they can't be found, puts them in the middle to be placed by hand.
void PicturePanel::find()
{
    if (!grey_ || kept_)
        return;
    const IndentShape shape = shapeOf(setting_.scale->by);
    byHand_ = !found_;
    marked_ = found_ ? markedBy(*found_) : unplaced(shape, grey_->width, grey_->height);
    // Each end that the number stands on has to be put in its place first.
    unplaced_.fill(!found_);
    if (shape == IndentShape::Long)
        unplaced_[1] = unplaced_[3] = false;
    if (!found_)
        say(notFound_ + " Drag each end to its place.", true);
    workOut();
}

void PicturePanel::reopen()
{
    if (!path_.isEmpty())
        open(path_);
}

void PicturePanel::clear()
{
    ++asked_;
    busy_ = kept_ = byHand_ = false;
    grey_.reset();
    found_.reset();
    marked_.reset();
    reading_.reset();
    bytes_.clear();
    view_->clear();
    caption_->clear();
    facts_->clear();
    doubts_->clear();
}

void PicturePanel::workOut()
{
    if (kept_)
        return;
    reading_.reset();
    view_->setPixel(pixels_.side);
    view_->setMarked(marked_, setting_.scale ? shapeOf(setting_.scale->by) : IndentShape::Square);
    facts_->clear();
    doubts_->clear();
    if (marked_ && grey_) {
        Pressed pressed = setting_.pressed;
        pressed.forceDoubt = verifiedForceDoubt(pressed.force);
        const auto waiting = std::ranges::count(unplaced_, true);
        auto reading = waiting > 0
            ? Expected<PictureReading>(Problem{"picture", fmt::format("{} ends that are not placed yet", waiting),
                                               "each on the indent", "Drag it, or choose it by 1 to 4 and nudge it."})
            : readMarked(setting_.scale->by, pressed, *marked_, pixels_);
        if (reading)
            reading_ = std::move(*reading);
        else
            facts_->setText(q(reading.problem().text()));
    }
    if (reading_) {
        QStringList facts{pixelText(pixels_.side) + " a pixel, " + q(pixels_.words)};
        if (byHand_)
            facts << (found_ ? "moved by hand" : "placed by hand");
        else if (found_)
            facts << "rim over " + q(formatFixed(found_->edgeWidth, 1)) + " px"
                  << "within " + q(formatFixed(found_->straightness, 1)) + " px of its line"
                  << (std::abs(found_->bow) < 0.004
                          ? QString("sides straight")
                          : QString("sides bowed %1 by %2 %")
                                .arg(found_->bow > 0 ? "out" : "in", q(formatFixed(std::abs(found_->bow) * 100, 1))));
        facts_->setText(facts.join(" · "));
        QStringList parts;
        for (const Contribution& one : reading_->budget.ranked)
            parts << q(one.source.words).section(',', 0, 0) + QString(" %1 %").arg(qRound(one.share * 100));
        if (reading_->budget.expanded > 0)
            doubts_->setText("± " + q(formatSignificant(reading_->budget.expanded, 2))
                             + " (k = 2): " + parts.join(", "));
    }
    emit read();
}

PictureTaken PicturePanel::taken(const std::vector<std::string>& names) const
{
    const auto list = [](const std::array<PixelPoint, 4>& ends) {
        std::vector<std::array<double, 2>> all;
        for (const PixelPoint& p : ends)
            all.push_back({p.x, p.y});
        return all;
    };
    PictureTaken taken{.sha256 = s(Logbook::pictureDigest(bytes_)),
                       .file = s(name_),
                       .pixel = formatSignificant(pixels_.side * 1000, 8) + " um",
                       .scale = pixels_.words};
    if (found_)
        taken.found = list(markedBy(*found_).ends);
    taken.placed = list(marked_->ends);
    for (size_t k = 0; k < names.size() && k < 2; ++k)
        taken.doubts[names[k]] = formatSignificant(reading_->lengths[k].resolution / std::sqrt(12.0) * 1000, 4) + " um";
    return taken;
}

void PicturePanel::remember(const QString& notation)
{
    view_->setLast(view_->image().scaled(224, 168, Qt::KeepAspectRatio, Qt::SmoothTransformation), notation);
}

void PicturePanel::say(const QString& words, bool wrong)
{
    caption_->setText(words);
    caption_->setStyleSheet(wrong ? "color: " + pal().stop.name() : QString());
}

} // namespace fortitor
