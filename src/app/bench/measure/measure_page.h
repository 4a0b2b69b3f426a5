// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "app/bench/measure/cure_row.h"
#include "app/bench/page.h"
#include "app/widgets/quantity_field.h"
#include "draw/specimen_drawing.h"

#include <QComboBox>
#include <QHBoxLayout>
#include <QLabel>
#include <QTimer>
#include <QPushButton>

#include <map>
#include <memory>

namespace fortitor {

/// A scaled drawing of the specimen with the fields standing where the calliper goes. Enter jumps to
/// the next place, then to the next specimen.
class MeasurePage : public Page {
    Q_OBJECT
public:
    MeasurePage(Session& session, QWidget* parent = nullptr);
    void refresh() override;
    void enter() override;
    bool goTo(const QString& field) override;
    [[nodiscard]] QStringList keys() const override;

protected:
    void paintEvent(QPaintEvent*) override;
    void resizeEvent(QResizeEvent*) override;
    bool eventFilter(QObject* watched, QEvent* event) override;

private:
    static constexpr int lowPage = 610; ///< px: below it drawing and fields move closer
    struct Place {
        FieldSpec field;
        size_t index = 0;
        QuantityField* edit = nullptr;
        bool onDrawing = false;
        int row = 0; ///< of the drawing: above or below
    };
    void build();
    void dropPlaces();
    void buildNotes();
    void fillNotes();
    [[nodiscard]] static QString noteName(const NoteSpec& note);
    [[nodiscard]] double drawnAcross() const;
    void tellMessage();
    [[nodiscard]] QString headText() const;
    void arrange();
    void fill();
    void advance(size_t from);
    [[nodiscard]] QString suspicion(const Place& place, const Quantity& typed) const;
    [[nodiscard]] QString placeName(const Place& place) const;
    [[nodiscard]] QString rawText(const FieldSpec& field, size_t index) const;
    [[nodiscard]] SpecimenDrawing drawing() const;
    void paintSpecimen(QPainter& painter, const SpecimenDrawing& d, int active) const;
    void paintPlaces(QPainter& painter, const SpecimenDrawing& d, int active) const;
    void paintSummary(QPainter& painter) const;
    void paintSection(QPainter& painter, int y) const;
    void paintSpread(QPainter& painter, int y) const;

    std::vector<Place> places_;
    QString builtFor_;
    bool after_ = false;
    QPushButton* before_ = nullptr;
    QPushButton* afterButton_ = nullptr;
    QComboBox* shape_ = nullptr;
    QWidget* notes_ = nullptr;
    QHBoxLayout* noteRow_ = nullptr;
    QString notesFor_;
    QWidget* afterNotes_ = nullptr; ///< of the broken pieces
    QHBoxLayout* afterRow_ = nullptr;
    CureRow* cure_ = nullptr;
    std::shared_ptr<QuantityField::Drafts> drafts_ = std::make_shared<QuantityField::Drafts>();
    std::map<QuantityField*, QString> messages_; ///< what each field has to say
    QLabel* head_ = nullptr;
    QLabel* hint_ = nullptr;
    bool tight_ = false; ///< no room for the hint
    QLabel* message_ = nullptr;
};

} // namespace fortitor
