// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "app/bench/indent/indent_list.h"
#include "app/bench/indent/piece_map.h"
#include "app/bench/load/pad_field.h"
#include "app/bench/page.h"
#include "app/widgets/plot_view.h"
#include "jobs/single_readings.h"

#include <QHBoxLayout>
#include <QLabel>
#include <QPushButton>

namespace fortitor {

class PicturePanel;

/// Where indents are made and read: the piece with its places, the fields of the chosen way of reading, the number as
/// it comes about, the readings so far. Enter takes a reading and goes on; nothing needs the mouse.
class IndentPage : public Page {
    Q_OBJECT
public:
    explicit IndentPage(Session& session, QWidget* parent = nullptr);
    void refresh() override;
    void enter() override;
    /// Reads an indent from the picture in that file.
    void openPicture(const QString& file);
    [[nodiscard]] QStringList keys() const override;

protected:
    void dragEnterEvent(QDragEnterEvent* event) override;
    void dropEvent(QDropEvent* event) override;

signals:
    void readAsked();
    void jobAsked(std::int64_t id, int specimen);

private:
    void build();
    void buildWays(bool otherPiece);
    void putAside();
    [[nodiscard]] std::string draftName() const { return standsAt_ + "/" + std::to_string(way_); }
    void buildFields();
    void buildNotes();
    void buildPicture();
    void choosePicture();
    void showPicturePanel(bool on);
    void pictureRead();
    void showPictureOf(std::optional<size_t> indent);
    [[nodiscard]] bool picturesWork() const;
    void chooseWay(size_t way);
    void take(size_t field);
    void keep();
    void answered(const std::string& whose, const std::map<std::string, QString>& typed, bool kept);
    void setAside();
    void choose(std::optional<size_t> indent);
    void showTried();
    void showAround();
    void lookAtTester();
    void openBlocks();
    void logOut();
    [[nodiscard]] WithReading withFirst();
    void showMean();
    void say(const QString& words, const char* state = "");
    [[nodiscard]] const Method& methodHere() const;
    [[nodiscard]] std::map<std::string, std::string> typed() const;
    [[nodiscard]] QString textsOf(size_t row) const;
    [[nodiscard]] std::optional<Spot> place() const;
    void flash();
    void fromTester();
    void shootTester(double number, size_t n);

    std::optional<Desk> desk_;
    std::vector<IndentPlace> used_; ///< of earlier checks on the same block
    bool refitted_ = false; ///< the tester has to be seated anew
    std::vector<EntryWay> ways_;
    size_t way_ = 0;
    std::string builtFor_, standsAt_, lookedAt_;
    std::optional<size_t> chosen_;
    std::map<std::string, std::vector<QString>> drafts_; ///< half typed, by piece and way
    QString queried_; ///< what was typed when a doubt was told
    std::vector<PadField*> fields_;
    PieceMap* map_ = nullptr;
    PicturePanel* picture_ = nullptr;
    QPushButton* wayPicture_ = nullptr;
    bool byPicture_ = false, showsKept_ = false;
    PlotView* profile_ = nullptr;
    QLabel *title_ = nullptr, *hint_ = nullptr, *head_ = nullptr, *scale_ = nullptr, *tried_ = nullptr,
           *triedWords_ = nullptr;
    QLabel *message_ = nullptr, *mean_ = nullptr, *block_ = nullptr, *trouble_ = nullptr;
    QWidget* side_ = nullptr;
    QVBoxLayout* fieldRows_ = nullptr;
    QHBoxLayout* wayRow_ = nullptr;
    QHBoxLayout* noteRow_ = nullptr; ///< what is noted while indents are made
    std::vector<std::pair<std::string, class NotePicker*>> picks_;
    QLineEdit *why_ = nullptr, *wanted_ = nullptr;
    IndentList* list_ = nullptr;
    QPushButton *take_ = nullptr, *aside_ = nullptr, *toRead_ = nullptr, *blocks_ = nullptr, *log_ = nullptr;
};

} // namespace fortitor
