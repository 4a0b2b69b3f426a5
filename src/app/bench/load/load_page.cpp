// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/bench/load/load_page.h"

#include "app/theme/theme.h"
#include "app/theme/units.h"
#include "app/widgets/basics.h"
#include "draw/plot.h"

#include <QKeyEvent>

#include <algorithm>
#include <cmath>
#include <numbers>

namespace fortitor {
namespace {

} // namespace

LoadPage::LoadPage(Session& session, LiveFrame& frame, QWidget* parent) : Page(session, parent), frame_(frame)
{
    setFocusPolicy(Qt::StrongFocus);
    start_ = button("Start", "primary", "loadStart", this);
    hold_ = button("Hold\nSpace", "big", "loadHold", this);
    stop_ = button("STOP\nEsc", "stop", "loadStop", this);
    answer_ = button("It is off, go on", "primary", "promptAnswer", this);
    toRead_ = button("Read the curve", "primary", "loadToRead", this);
    next_ = button("Next piece\nN", "primary", "loadNext", this);
    next_->setToolTip("Chooses the next piece, zeroes with nothing between, and waits for it to be centred (N)");
    connect(next_, &QPushButton::clicked, this, &LoadPage::nextPiece);
    centred_ = button("Centred  C", "", "loadCentred", this);
    centred_->setToolTip("The piece stands centred by the ring, a gap above it; hands are out");
    guard_ = button("Close guard  G", "", "loadGuard", this);
    connect(centred_, &QPushButton::clicked, this, [this] {
        frame_.setCentred();
        setFocus();
    });
    connect(guard_, &QPushButton::clicked, this, [this] {
        frame_.setGuard(!frame_.shows("guard-closed"));
        setFocus();
    });
    check_ = new CheckPanel(session, frame, this);
    handSet_ = new HandSet(frame, this);
    import_ = button("Import…", "", "loadImport", this);
    import_->setToolTip("A text record of another machine (Ctrl+O)");
    pace_ = new QComboBox(this);
    pace_->setObjectName("loadPace");
    for (int factor : {1, 5, 20, 50, 100})
        pace_->addItem(factor == 1 ? QString("life speed") : QString("%1 × life").arg(factor), factor);
    pace_->setCurrentIndex(1);
    pace_->setToolTip("How fast the simulated frame's time runs");
    connect(pace_, &QComboBox::activated, this, [this] { frame_.setPace(pace_->currentData().toDouble()); });
    connect(start_, &QPushButton::clicked, this, [this] {
        frame_.start();
        setFocus();
    });
    connect(hold_, &QPushButton::clicked, this, [this] {
        frame_.holdOrGoOn();
        setFocus();
    });
    connect(stop_, &QPushButton::clicked, &frame, &LiveFrame::stop);
    connect(answer_, &QPushButton::clicked, this, [this] {
        frame_.answerPrompt();
        setFocus();
    });
    connect(toRead_, &QPushButton::clicked, this, &LoadPage::readAsked);
    connect(import_, &QPushButton::clicked, this, &LoadPage::importAsked);
    pad_ = new ReadingPad(session, this);
    pad_->hide();
    byHand_ = button("By hand", "link", "loadByHand", this);
    byHand_->setToolTip("Read the instruments yourself: the reading pad");
    connect(byHand_, &QPushButton::clicked, this, [this] {
        frame_.setByHand(true);
        refresh();
        enter();
    });
    connect(pad_, &ReadingPad::frameAsked, this, [this] {
        frame_.setByHand(false);
        refresh();
        enter();
    });
    connect(pad_, &ReadingPad::readAsked, this, &LoadPage::readAsked);
    connect(pad_, &ReadingPad::nextAsked, this, [this] {
        session_.setCurrent(session_.current() + 1);
        enter();
    });
    connect(&frame, &LiveFrame::updated, this, [this] {
        if (isVisible())
            follow();
    });
}

void LoadPage::refresh()
{
    rehearsed_ = session_.hasSpecimen() ? rehearsedOf(session_.document().json()["specimens"][session_.current()])
                                        : std::nullopt;
    if (padShown())
        return showPad();
    pad_->hide();
    if (!frame_.running() && !frame_.ready() && session_.hasSpecimen() && !frame_.hasRun(session_.current()))
        Q_UNUSED(frame_.prepare());
    follow();
}

/// A test that is read step by step: by hand, unless the frame was asked for or runs.
bool LoadPage::padShown() const
{
    return session_.hasSpecimen() && session_.job().method->intake.keyed() && !frame_.running() && frame_.byHand();
}

void LoadPage::showPad()
{
    for (QWidget* w : std::initializer_list<QWidget*>{start_, hold_, stop_, answer_, toRead_, next_, centred_, guard_,
                                                      import_, pace_, handSet_, byHand_, check_})
        w->hide();
    pad_->setGeometry(rect());
    pad_->show();
    pad_->refresh();
    emit pageRemarks({});
}

void LoadPage::enter()
{
    if (padShown())
        pad_->enter();
    else if (check_->isVisible())
        check_->enter();
    else
        setFocus();
}

void LoadPage::follow()
{
    if (padShown())
        return;
    using State = LiveFrame::State;
    const State state = frame_.state();
    const bool running = frame_.running();
    byHand_->setVisible(!running && session_.hasSpecimen() && session_.job().method->intake.has(Intake::By::Steps));
    const bool loaded = !running && session_.hasSpecimen() && session_.hasRecord(session_.current());
    const QStringList waits = frame_.holdBacks();
    start_->setVisible(!running && state == State::Idle && (!loaded || waits.isEmpty()));
    start_->setEnabled(waits.isEmpty());
    start_->setToolTip(waits.isEmpty() ? "Starts the run (Enter)" : plain("Not ready: " + waits.join("; ")));
    hold_->setVisible(running);
    hold_->setText(state == State::Holding ? "Go on\nSpace" : "Hold\nSpace");
    hold_->setEnabled(state == State::Running || state == State::Holding);
    stop_->setVisible(running || frame_.moves());
    const bool checks = check_->follow();
    answer_->setVisible(state == State::Prompt && !checks);
    answer_->setText(frame_.status().disabled ? "Given free, go on" : "It is off, go on");
    const bool oneMore = loaded && session_.current() + 1 < session_.job().specimens.size() && state != State::Idle;
    toRead_->setVisible(loaded);
    next_->setVisible(oneMore);
    place();
    import_->setVisible(!running);
    handSet_->setVisible(!running);
    handSet_->follow();
    pace_->setVisible(!frame_.client().hello().is_object() || frame_.simulated());
    const bool pressing = frame_.ready() && frame_.pressed() && !running && state == State::Idle;
    centred_->setVisible(pressing && !frame_.shows("centred"));
    guard_->setVisible(pressing);
    guard_->setText(frame_.shows("guard-closed") ? "Open guard  G" : "Close guard  G");
    if (const int at = pace_->findData(static_cast<int>(frame_.pace())); at >= 0 && at != pace_->currentIndex())
        pace_->setCurrentIndex(at);
    std::vector<Remark> remarks;
    if (!running && state == State::Idle)
        for (const QString& words : waits)
            remarks.push_back(
                {s("hold-" + words), Severity::Caution, {}, "Start waits: " + s(words) + ".", "See Set up.", {}});
    emit pageRemarks(remarks);
    update();
}

/// One key to the next piece: chosen, zeroed while nothing stands there yet. A piece that is pressed
/// then only has to be put in its place and the guard closed; a bar goes through its grips on Set up.
void LoadPage::nextPiece()
{
    if (frame_.running() || !session_.hasSpecimen() || session_.current() + 1 >= session_.job().specimens.size())
        return;
    session_.setCurrent(session_.current() + 1);
    if (const QString why = frame_.prepare(); !why.isEmpty()) {
        emit session_.failed(why);
        return;
    }
    frame_.zeroForce();
    if (!frame_.pressed())
        emit setUpAsked();
    setFocus();
    follow();
}

void LoadPage::resizeEvent(QResizeEvent*)
{
    place();
}

void LoadPage::place()
{
    pad_->setGeometry(rect());
    byHand_->setGeometry(width() - 110, 6, 92, 28);
    const int x = width() - side + 4;
    const int y = height() - 118;
    start_->setGeometry(x, y, side - 28, 56);
    hold_->setGeometry(x, y, (side - 36) / 2, 58);
    stop_->setGeometry(x + (side - 36) / 2 + 8, y, (side - 36) / 2, 58);
    const bool both = next_->isVisibleTo(this);
    const int above = start_->isVisibleTo(this) ? 52 : 4; // a piece loaded before may be loaded again
    toRead_->setGeometry(x, y - above, both ? (side - 36) / 2 : side - 28, both ? 58 : 44);
    toRead_->setText(both ? "Read\nthe curve" : "Read the curve");
    next_->setGeometry(x + (side - 36) / 2 + 8, y - 4, (side - 36) / 2, 58);
    centred_->setGeometry(x, y - 50, (side - 36) / 2, 40);
    guard_->setGeometry(x + (side - 36) / 2 + 8, y - 50, (side - 36) / 2, 40);
    import_->setGeometry(24, height() - 44, 96, 32);
    handSet_->setGeometry(132, height() - 44, std::max(120, x - 24 - 132), 32);
    pace_->setGeometry(x, height() - 44, 120, 30);
    answer_->setGeometry(width() - 210, 8, 186, 36);
    check_->move(std::max(24, (width() - side - check_->width()) / 2), std::max(66, height() / 2 - check_->height()));
    check_->raise();
}

void LoadPage::keyPressEvent(QKeyEvent* event)
{
    if (padShown())
        return Page::keyPressEvent(event);
    if (event->key() == Qt::Key_Space && frame_.running()) {
        frame_.holdOrGoOn();
    } else if (event->key() == Qt::Key_Z && !frame_.running()) {
        frame_.zeroForce();
    } else if (event->key() == Qt::Key_B && !frame_.running()) {
        frame_.putExtensometerOn();
    } else if (event->key() == Qt::Key_N && !frame_.running()) {
        nextPiece();
    } else if (event->key() == Qt::Key_C && frame_.pressed() && !frame_.running()) {
        frame_.setCentred();
    } else if (event->key() == Qt::Key_G && !frame_.running()) {
        frame_.setGuard(!frame_.shows("guard-closed"));
    } else if (event->key() == Qt::Key_Return || event->key() == Qt::Key_Enter) {
        if (frame_.state() == LiveFrame::State::Prompt && !check_->isVisible())
            frame_.answerPrompt();
        else if (!frame_.running())
            frame_.start();
    } else {
        Page::keyPressEvent(event);
    }
}

QStringList LoadPage::keys() const
{
    if (padShown())
        return ReadingPad::keys();
    return {"Enter|start, or answer the prompt",
            "Space|hold, go on",
            "1 2 3, Enter|what a check found; give free",
            "Z|zero force (not while running)",
            "B|balance the extensometer",
            "N|the next piece",
            "C, G|centred, guard (pieces between platens)",
            "Esc|STOP at once, from any page"};
}

} // namespace fortitor
