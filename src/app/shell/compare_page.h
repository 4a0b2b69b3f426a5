// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "app/widgets/plot_view.h"
#include "app/model/session.h"
#include "jobs/comparison.h"

#include <QComboBox>
#include <QLabel>
#include <QLineEdit>
#include <QListWidget>
#include <QPushButton>
#include <QTableWidget>
#include <QWidget>

#include <map>
#include <memory>

namespace fortitor {

/// Curves of any specimens of any jobs, with the differences of their figures.
class ComparePage : public QWidget {
    Q_OBJECT
public:
    ComparePage(Session& session, QWidget* parent = nullptr);
    void refresh();
    [[nodiscard]] const Comparison& comparison() const { return comparison_; }
    bool savePicture(const QString& path);
    bool saveData(const QString& path);

protected:
    void paintEvent(QPaintEvent*) override;

private:
    using Key = std::pair<std::int64_t, int>;
    struct Picked {
        QString label;
        std::map<std::string, std::string> by; ///< "job", "batch" … → group
        Outcome outcome;
        const Method* method = nullptr;
    };
    void pick(QListWidgetItem* item);
    void rebuild();
    void fillTable();
    [[nodiscard]] Plot plotOfPicked(const std::vector<ComparedSpecimen>& specimens, bool byGroup) const;
    [[nodiscard]] std::vector<ComparedSpecimen> compared() const;
    Session& session_;
    QLineEdit* search_ = nullptr;
    QListWidget* list_ = nullptr;
    PlotView* plot_ = nullptr; ///< curves from their corrected origins; groups differ by colour, dash and shape
    QTableWidget* table_ = nullptr;
    QComboBox* by_ = nullptr;
    QLabel* words_ = nullptr;
    QPushButton* savePicture_ = nullptr;
    QPushButton* saveData_ = nullptr;
    std::map<Key, Picked> picked_;
    std::vector<Key> order_;
    Comparison comparison_;
};

} // namespace fortitor
