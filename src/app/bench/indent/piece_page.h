// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "app/bench/indent/piece_map.h"
#include "app/bench/measure/note_picker.h"
#include "app/bench/page.h"
#include "app/widgets/quantity_field.h"

#include <QComboBox>
#include <QHBoxLayout>
#include <QLabel>
#include <QPushButton>
#include <QVBoxLayout>

#include <map>

namespace fortitor {

/// A piece that indents are made on: its sizes, what it is, and where the indents shall stand. A place too near is
/// refused with the reason before anything is pressed in.
class PiecePage : public Page {
    Q_OBJECT
public:
    explicit PiecePage(Session& session, QWidget* parent = nullptr);
    void refresh() override;
    void enter() override;
    bool goTo(const QString& field) override;
    [[nodiscard]] QStringList keys() const override;

signals:
    void indentAsked();

private:
    void build();
    void buildSizes();
    void buildPlans(QVBoxLayout* under);
    void fill();
    void proposeTraverse();
    void planRow();
    void planGridNow();
    void addPlace(double x, double y);
    void takePlaceOut(size_t place);
    void keepPlaces(std::vector<Spot> places, const QString& words);
    void say(const QString& words);
    /// A length typed in a field of the plan, mm.
    [[nodiscard]] std::optional<double> lengthIn(const QLineEdit* edit, const char* what);
    [[nodiscard]] std::optional<size_t> countIn(const QLineEdit* edit, const char* what);
    [[nodiscard]] QString storedText(const std::string& key) const;

    std::optional<Desk> desk_;
    QString builtFor_, standsAt_;
    std::map<std::string, QuantityField*> sizes_;
    std::map<std::string, NotePicker*> picks_;
    std::map<std::string, QLineEdit*> words_;
    QComboBox* shape_ = nullptr;
    QVBoxLayout* sizeRows_ = nullptr;
    PieceMap* map_ = nullptr;
    QLabel *title_ = nullptr, *message_ = nullptr, *rule_ = nullptr;
    QLineEdit *first_ = nullptr, *step_ = nullptr, *count_ = nullptr;
    QLineEdit *columns_ = nullptr, *rows_ = nullptr, *pitch_ = nullptr;
    QHBoxLayout* head_ = nullptr;
    QPushButton *clear_ = nullptr, *free_ = nullptr, *next_ = nullptr;
};

} // namespace fortitor
