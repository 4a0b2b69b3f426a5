// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "app/bench/page.h"
#include "app/bench/photos.h"
#include "app/bench/strike/look_row.h"
#include "app/widgets/plot_view.h"
#include "draw/plate_drawing.h"

#include <QLabel>
#include <QLineEdit>
#include <QPushButton>
#include <QVBoxLayout>

#include <optional>
#include <vector>

namespace fortitor {

/// The plate from above, as a widget.
class PlatePicture : public QWidget {
    Q_OBJECT
public:
    explicit PlatePicture(QWidget* parent = nullptr);
    void show(const StruckPlate& plate);

protected:
    void paintEvent(QPaintEvent*) override;

private:
    StruckPlate plate_;
};

/// Where a plate is struck: energy of the blow both ways, the force as it comes in, dent and damage on the plate's
/// plan.
class DropPage : public Page {
    Q_OBJECT
public:
    explicit DropPage(Session& session, QWidget* parent = nullptr);
    void refresh() override;
    void enter() override;
    bool goTo(const QString& field) override;
    [[nodiscard]] QStringList keys() const override;

signals:
    void readAsked();
    void importAsked();
    void jobAsked(std::int64_t id, int specimen);

protected:
    void keyPressEvent(QKeyEvent* event) override;

private:
    void build();
    void buildFields();
    void addOption(const std::string& key);
    void addReading(const FieldSpec& field);
    void fill();
    void drop();
    void chain();
    [[nodiscard]] QString chained() const;
    [[nodiscard]] std::optional<std::int64_t> chainedJob() const;
    void say(const QString& words);

    QString builtFor_;
    QLabel *title_ = nullptr, *facts_ = nullptr, *message_ = nullptr, *caution_ = nullptr, *after_ = nullptr;
    PlatePicture* picture_ = nullptr;
    PhotoRow* photos_ = nullptr;
    PlotView* plot_ = nullptr;
    QVBoxLayout* rows_ = nullptr;
    QPushButton *import_ = nullptr, *drop_ = nullptr, *toRead_ = nullptr, *chain_ = nullptr;
    std::vector<std::pair<std::string, QLineEdit*>> options_, readings_;
    std::vector<LookRow*> looks_;
};

} // namespace fortitor
