// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include <QDialog>
#include <QLabel>
#include <QLineEdit>
#include <QPushButton>

#include <optional>

namespace fortitor {

/// The shear share of a fracture face from the sides of its bright patch (ISO 148-1, annex).
class PatchDialog : public QDialog {
    Q_OBJECT
public:
    /// Width and height under the notch, mm.
    PatchDialog(double width, double ligament, QWidget* parent = nullptr);
    /// 0 to 1; nothing while the sides don't give one.
    [[nodiscard]] std::optional<double> share() const { return share_; }

protected:
    void paintEvent(QPaintEvent*) override;

private:
    void work();
    double width_, ligament_;
    std::optional<double> share_;
    double a_ = 0, b_ = 0; ///< mm
    QLineEdit *patchWidth_ = nullptr, *patchHeight_ = nullptr;
    QLabel* result_ = nullptr;
    QPushButton* take_ = nullptr;
};

} // namespace fortitor
