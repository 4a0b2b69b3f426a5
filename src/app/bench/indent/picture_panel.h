// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "app/bench/indent/picture_view.h"
#include "app/model/session.h"
#include "jobs/single_readings.h"
#include "methods/hardness/setting.h"

#include <QByteArray>
#include <QComboBox>
#include <QLabel>
#include <QLineEdit>
#include <QPushButton>
#include <QThreadPool>

#include <array>
#include <functional>

namespace fortitor {

/// An indent read from its picture: the file, the scale, the ends as they were found or placed, and what it comes to.
class PicturePanel : public QWidget {
    Q_OBJECT
public:
    PicturePanel(Session& session, QWidget* parent = nullptr);
    /// How the indents of the piece are pressed in.
    void setSetting(const HardnessSetting& setting);
    /// Asks for a file.
    void ask();
    /// Reads it beside the interface; `read` is told of what it comes to.
    void open(const QString& file);
    /// As a camera gives it: kept as the PNG that it is written as.
    void openShot(const GreyPicture& shot, const QString& name);
    /// The one behind it in its folder, by name; false where there is none.
    bool openNext();
    /// A picture that a reading of the piece was taken from.
    void showKept(const ReadingPicture& kept, const QString& words);
    void clear();
    /// The file that was looked at before a kept one was shown.
    void reopen();
    /// The objectives as Instruments has them now.
    void refreshScales() { fillScales(); }
    [[nodiscard]] bool fromFile() const { return !path_.isEmpty(); }
    /// A picture that is not taken yet stands in it.
    [[nodiscard]] bool ready() const { return reading_.has_value() && !kept_; }
    [[nodiscard]] bool busy() const { return busy_; }
    [[nodiscard]] const std::optional<PictureReading>& reading() const { return reading_; }
    /// As it is kept beside the reading; `names`: the readings that its lengths go to.
    [[nodiscard]] PictureTaken taken(const std::vector<std::string>& names) const;
    [[nodiscard]] const QByteArray& bytes() const { return bytes_; }
    [[nodiscard]] QString fileName() const { return name_; }
    /// The picture that was just taken stands small beside the next.
    void remember(const QString& notation);
    [[nodiscard]] PictureView* view() const { return view_; }
    [[nodiscard]] const PixelScale& scale() const { return pixels_; }

signals:
    void read(); ///< anew, after every change
    void takeAsked();
    void leaveAsked();

private:
    struct Loaded;
    using Source = std::function<Expected<std::vector<std::uint8_t>>()>;
    void begin(const QString& path, const QString& name, Source source);
    void build();
    void fillScales();
    void scaleChosen();
    void scaleTyped();
    void barPlaced(const PixelPoint& from, const PixelPoint& to);
    void barMeasured();
    void showLoaded(const Loaded& loaded);
    void find();
    void workOut();
    void say(const QString& words, bool wrong = false);
    [[nodiscard]] std::vector<InstrumentRow> objectives() const;
    [[nodiscard]] QString memory(const char* key) const;

    Session& session_;
    HardnessSetting setting_;
    QString path_, name_;
    QByteArray bytes_;
    std::optional<GreyPicture> grey_;
    std::optional<FoundIndent> found_;
    std::optional<MarkedIndent> marked_;
    std::array<bool, 4> unplaced_{}; ///< wait to be placed
    std::optional<PictureReading> reading_;
    std::optional<std::pair<PixelPoint, PixelPoint>> barEnds_;
    PixelScale pixels_;
    QString notFound_;
    int asked_ = 0; ///< counts what was opened: what comes late is not shown
    bool kept_ = false, busy_ = false, byHand_ = false;

    PictureView* view_ = nullptr;
    QLabel *caption_ = nullptr, *facts_ = nullptr, *doubts_ = nullptr;
    QComboBox* scale_ = nullptr;
    QLineEdit* length_ = nullptr;
    QPushButton *open_ = nullptr, *next_ = nullptr, *again_ = nullptr, *places_ = nullptr;
    QThreadPool beside_; ///< last: it ends before what its work tells is gone
};

} // namespace fortitor
