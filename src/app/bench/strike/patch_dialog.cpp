// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/bench/strike/patch_dialog.h"

#include "app/theme/theme.h"
#include "app/widgets/basics.h"
#include "methods/impact/impact.h"
#include "units/quantity.h"

#include <QHBoxLayout>
#include <QPainter>
#include <QVBoxLayout>

#include <algorithm>

namespace fortitor {
namespace {

constexpr int pictureHigh = 170;

double millimetres(const QLineEdit* edit)
{
    const auto read = parseQuantity(s(edit->text()), Kind::Length, &baseUnit(Kind::Length));
    return read ? read->base : 0;
}

} // namespace

PatchDialog::PatchDialog(double width, double ligament, QWidget* parent)
    : QDialog(parent), width_(width), ligament_(ligament)
{
    setWindowTitle("Shear share from the bright patch");
    setObjectName("patchDialog");
    setMinimumWidth(340);
    auto* rows = new QVBoxLayout(this);
    rows->setContentsMargins(20, pictureHigh + 24, 20, 16);
    rows->setSpacing(8);
    auto* sides = new QHBoxLayout;
    patchWidth_ = lineEdit("patchWidth", {});
    patchHeight_ = lineEdit("patchHeight", {});
    for (const auto& [words, edit] :
         {std::pair("Patch, along the notch", patchWidth_), {"Patch, down from it", patchHeight_}}) {
        auto* cell = new QVBoxLayout;
        cell->addWidget(label(words, "quiet"));
        edit->setPlaceholderText("mm");
        cell->addWidget(edit);
        sides->addLayout(cell);
        connect(edit, &QLineEdit::textChanged, this, &PatchDialog::work);
    }
    rows->addLayout(sides);
    result_ = label({});
    result_->setObjectName("patchResult");
    result_->setWordWrap(true);
    rows->addWidget(result_);
    auto* ends = new QHBoxLayout;
    take_ = button("Keep it", "primary", "patchTake");
    take_->setDefault(true);
    auto* leave = button("Leave", "", "patchLeave");
    ends->addWidget(take_);
    ends->addWidget(leave);
    ends->addStretch();
    rows->addLayout(ends);
    connect(take_, &QPushButton::clicked, this, &QDialog::accept);
    connect(leave, &QPushButton::clicked, this, &QDialog::reject);
    work();
    patchWidth_->setFocus();
}

void PatchDialog::work()
{
    a_ = millimetres(patchWidth_);
    b_ = millimetres(patchHeight_);
    share_.reset();
    const bool typed = !patchWidth_->text().trimmed().isEmpty() && !patchHeight_->text().trimmed().isEmpty();
    if (!typed) {
        result_->setText(QString("The face under the notch is %1 × %2 mm.").arg(width_).arg(ligament_));
    } else if (const auto read = shearShare(width_, ligament_, a_, b_)) {
        share_ = *read;
        result_->setText(QString("shear share %1 %: 1 − %2·%3 / (%4·%5)")
                             .arg(100 * *read, 0, 'f', 0)
                             .arg(a_)
                             .arg(b_)
                             .arg(width_)
                             .arg(ligament_));
    } else {
        result_->setText(q(read.problem().text()));
    }
    take_->setEnabled(share_.has_value());
    update();
}

/// The fracture face with its patch, to scale.
void PatchDialog::paintEvent(QPaintEvent*)
{
    QPainter painter(this);
    painter.setRenderHint(QPainter::Antialiasing);
    painter.fillRect(rect(), pal().surface);
    const double scale = std::min((width() - 80) / width_, (pictureHigh - 20) / ligament_);
    if (!(scale > 0))
        return;
    const QRectF face(width() / 2.0 - width_ * scale / 2, 18, width_ * scale, ligament_ * scale);
    painter.setPen(QPen(pal().ink, 1.4));
    painter.setBrush(pal().metal);
    painter.drawRect(face);
    painter.setPen(QPen(pal().ink, 3));
    painter.drawLine(face.topLeft(), face.topRight()); // the notch
    if (a_ > 0 && b_ > 0 && a_ <= width_ && b_ <= ligament_) {
        painter.setPen(QPen(pal().quiet, 1));
        painter.setBrush(pal().surface);
        painter.drawRect(QRectF(face.center().x() - a_ * scale / 2, face.top() + 0.12 * (face.height() - b_ * scale),
                                a_ * scale, b_ * scale));
    }
    painter.setPen(pal().quiet);
    painter.setFont(wordFont(11));
    painter.drawText(QPointF(face.left(), face.top() - 5), "notch");
}

} // namespace fortitor
