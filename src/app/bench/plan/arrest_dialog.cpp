// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/bench/plan/arrest_dialog.h"

#include "app/theme/theme.h"
#include "app/widgets/basics.h"
#include "methods/common/load_said.h"
#include "methods/proof_load/proof_load.h"
#include "units/quantity.h"

#include <QGridLayout>
#include <QHBoxLayout>
#include <QPainter>
#include <QVBoxLayout>

#include <algorithm>

namespace fortitor {

ArrestPicture::ArrestPicture(QWidget* parent) : QWidget(parent)
{
    setObjectName("arrestPicture");
    setMinimumHeight(190);
}

void ArrestPicture::show(const ArrestCase& given, const std::optional<ArrestForce>& force)
{
    given_ = given;
    force_ = force;
    update();
}

/// The mass, its free way, and the spring that stops it.
void ArrestPicture::paintScene(QPainter& painter, const QRectF& room) const
{
    const Palette& p = pal();
    painter.save();
    QRectF scene = room;
    if (given_.vertical) { // the same picture, hanging: it falls away from what holds it
        painter.translate(room.center());
        painter.rotate(90);
        scene = QRectF(-room.height() / 2, -room.width() / 2, room.height(), room.width());
    }
    const double y = scene.center().y(), left = scene.left() + 6;
    painter.setPen(QPen(p.ink, 2));
    painter.drawLine(QPointF(left, y - 26), QPointF(left, y + 26)); // what holds
    QPolygonF line{QPointF(left, y)};
    const double spring = left + 0.42 * scene.width();
    for (int i = 0; i <= 12; ++i)
        line << QPointF(left + 8 + (spring - left - 8) * i / 12.0, y + (i == 0 || i == 12 ? 0 : i % 2 ? -9 : 9));
    painter.setPen(QPen(p.data[0], 1.8));
    painter.setBrush(Qt::NoBrush);
    painter.drawPolyline(line);
    const double slack = given_.slack > 0 ? 0.14 * scene.width() : 0;
    painter.setPen(QPen(p.quiet, 1.4, Qt::DashLine));
    painter.drawLine(QPointF(spring, y), QPointF(spring + slack + 8, y));
    const QRectF block(spring + slack + 8, y - 20, 40, 40);
    painter.setPen(QPen(p.ink, 1.6));
    painter.setBrush(p.metal);
    painter.drawRect(block);
    painter.setPen(QPen(p.accent, 2.2));
    const QPointF tip(std::min(block.right() + 34, scene.right() - 2), y);
    painter.drawLine(QPointF(block.right() + 6, y), tip);
    painter.drawLine(tip, tip + QPointF(-8, -5));
    painter.drawLine(tip, tip + QPointF(-8, 5));
    painter.restore();
}

/// The force over the way of the stop: it climbs like that of a spring; the mean lies at half of it.
void ArrestPicture::paintForce(QPainter& painter, const QRectF& room) const
{
    const Palette& p = pal();
    const QPointF origin(room.left() + 8, room.bottom() - 20);
    const QRectF area(origin.x(), room.top() + 18, room.width() - 76, origin.y() - room.top() - 18);
    painter.setPen(QPen(p.ink, 1.4));
    painter.drawLine(origin, area.topLeft());
    painter.drawLine(origin, origin + QPointF(area.width() + 8, 0));
    painter.setFont(wordFont(11));
    painter.setPen(p.quiet);
    painter.drawText(area.topLeft() + QPointF(6, -4), "force");
    painter.drawText(origin + QPointF(0, 16),
                     force_ ? "way of the stop, " + q(formatQuantity(force_->distance * 1000, *findUnit("mm"), 3))
                            : QString("way of the stop"));
    if (!force_)
        return;
    const double mean = area.height() * std::clamp(force_->mean / force_->peak, 0.0, 1.0);
    QColor tint = p.data[0];
    tint.setAlpha(36);
    painter.setPen(Qt::NoPen);
    painter.setBrush(tint);
    painter.drawPolygon(QPolygonF{origin, area.topRight(), area.bottomRight()});
    painter.setPen(QPen(p.data[0], 2));
    painter.drawLine(origin, area.topRight());
    painter.setPen(QPen(p.quiet, 1.2, Qt::DashLine));
    painter.drawLine(QPointF(area.left(), area.bottom() - mean), QPointF(area.right(), area.bottom() - mean));
    painter.setPen(p.ink);
    painter.drawText(area.topRight() + QPointF(6, 8), "peak force");
    painter.setPen(p.quiet);
    painter.drawText(QPointF(area.right() + 6, area.bottom() - mean + 4), "mean");
}

void ArrestPicture::paintEvent(QPaintEvent*)
{
    QPainter painter(this);
    painter.setRenderHint(QPainter::Antialiasing);
    painter.fillRect(rect(), pal().surface);
    const double half = width() * 0.46;
    paintScene(painter, QRectF(4, 8, half - 12, height() - 16));
    paintForce(painter, QRectF(half, 8, width() - half - 6, height() - 16));
}

ArrestDialog::ArrestDialog(Session& session, QWidget* parent) : QDialog(parent), session_(session)
{
    setObjectName("arrestDialog");
    setWindowTitle("Force of an arrest");
    resize(640, 560);
    build();
    const auto stiffness = session.hasSpecimen() && session.specimenOutcome().outcome
        ? stiffnessOf(*session.specimenOutcome().outcome)
        : std::nullopt;
    if (stiffness) {
        stiffness_->setText(q(formatQuantity(*stiffness / 1000, *findUnit("N/mm"), 4)));
        stiffness_->setToolTip(q("As the test of " + session.specimen().label + " showed it"));
    }
    work();
}

void ArrestDialog::build()
{
    auto* outer = new QVBoxLayout(this);
    outer->setContentsMargins(20, 16, 20, 16);
    outer->setSpacing(10);
    auto* form = new QGridLayout;
    form->setHorizontalSpacing(14);
    form->setVerticalSpacing(6);
    int at = 0;
    const auto row = [&](QLineEdit*& edit, const char* name, const char* words, const char* hint, const char* help) {
        edit = lineEdit(name, hint);
        edit->setToolTip(help);
        form->addWidget(label(words, "quiet"), at / 2, at % 2 * 2);
        form->addWidget(edit, at / 2, at % 2 * 2 + 1);
        ++at;
        connect(edit, &QLineEdit::textChanged, this, &ArrestDialog::work);
    };
    row(mass_, "arrestMass", "mass", "850 kg", "What is stopped");
    row(speed_, "arrestSpeed", "speed", "1.2 m/s", "Where the slack begins");
    row(distance_, "arrestDistance", "stopped within", "20 mm", "Or by the stiffness of what stops it");
    row(stiffness_, "arrestStiffness", "or stiffness", "16000 N/mm", "Of rope, chain or part: the way follows from it");
    row(slack_, "arrestSlack", "slack before", "0 mm", "Free way that it gathers speed on");
    row(drive_, "arrestDrive", "driven by, level", "0 m/s²",
        "Acceleration while it goes through the slack, on a level");
    way_ = new QComboBox;
    way_->setObjectName("arrestWay");
    way_->addItems({"level", "vertical, falling"});
    form->addWidget(label("it moves", "quiet"), at / 2, 0);
    form->addWidget(way_, at / 2, 1);
    connect(way_, &QComboBox::currentIndexChanged, this, &ArrestDialog::work);
    outer->addLayout(form);
    picture_ = new ArrestPicture;
    outer->addWidget(picture_, 1);
    peak_ = label({}, "title");
    peak_->setObjectName("arrestPeak");
    mean_ = label({});
    mean_->setObjectName("arrestMean");
    message_ = label({}, "quiet");
    message_->setObjectName("arrestMessage");
    message_->setWordWrap(true);
    outer->addWidget(peak_);
    outer->addWidget(mean_);
    outer->addWidget(message_);
    auto* caution = label("A stop is seldom as soft as it is thought of: ropes and chains store energy, so that nobody "
                          "stands in their line. A competent person and local rules decide.",
                          "warn");
    caution->setWordWrap(true);
    outer->addWidget(caution);
    auto* close = button("Close", "", "arrestClose");
    connect(close, &QPushButton::clicked, this, &QDialog::accept);
    outer->addWidget(close, 0, Qt::AlignRight);
}

Expected<ArrestCase> ArrestDialog::given() const
{
    ArrestCase one;
    one.vertical = way_->currentIndex() == 1;
    std::optional<Problem> wrong;
    const auto read = [&](const QLineEdit* edit, const char* place, Kind kind,
                          const char* unit) -> std::optional<double> {
        const QString text = edit->text().trimmed();
        if (text.isEmpty())
            return std::nullopt;
        const auto figure = parseQuantity(s(text), kind, findUnit(unit, kind));
        if (!figure) {
            if (!wrong) {
                wrong = figure.problem();
                wrong->place = place;
            }
            return std::nullopt;
        }
        return figure->base;
    };
    constexpr double mm = 1e-3;
    const auto mass = read(mass_, "mass", Kind::Mass, "kg");
    const auto speed = read(speed_, "speed", Kind::Speed, "m/s");
    const auto distance = read(distance_, "stopped within", Kind::Length, "mm");
    const auto stiffness = read(stiffness_, "stiffness", Kind::Stiffness, "N/mm");
    const auto slack = read(slack_, "slack before", Kind::Length, "mm");
    QString drive = drive_->text().trimmed();
    drive.remove("m/s²").remove("m/s2");
    const auto driven = drive.trimmed().isEmpty() ? std::optional<double>(0) : parseNumber(s(drive.trimmed()));
    if (wrong)
        return *wrong;
    if (!driven || *driven < 0)
        return Problem{"driven by", s(drive_->text()), "m/s², such as 2", {}};
    one.mass = mass.value_or(0);
    one.speed = speed.value_or(0) * mm;
    if (distance)
        one.distance = *distance * mm;
    else if (stiffness)
        one.stiffness = *stiffness * 1000;
    one.slack = slack.value_or(0) * mm;
    one.drive = *driven;
    return one;
}

void ArrestDialog::work()
{
    const auto one = given();
    const bool begun = !mass_->text().trimmed().isEmpty() && !speed_->text().trimmed().isEmpty();
    const auto force = one ? arrestForce(*one) : Expected<ArrestForce>(one.problem());
    picture_->show(one ? *one : ArrestCase{}, force ? std::optional(*force) : std::nullopt);
    const double working = [&] {
        const auto loads =
            session_.hasSpecimen() ? proofLoadsOf(session_.specimen().input) : Expected<ProofLoads>(ProofLoads{});
        return loads ? loads->working.value_or(0) : 0.0;
    }();
    peak_->setText(force ? "Peak " + q(loadSaid(force->peak, working)) : QString("Peak –"));
    mean_->setText(force ? "Mean " + q(loadSaid(force->mean, working)) : QString("Mean –"));
    message_->setText(force
                          ? QString("Stopped within %1 from %2; spring-like, so that the peak is about twice the mean.")
                                .arg(q(formatQuantity(force->distance * 1000, *findUnit("mm"), 3)),
                                     q(formatSignificant(force->speed, 3)) + " m/s")
                          : !begun ? QString("State mass and speed, and a way or a stiffness.")
                                   : q(force.problem().text()));
}

} // namespace fortitor
