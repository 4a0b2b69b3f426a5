// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "app/model/live_frame.h"

#include <QDateTime>

#include <optional>

namespace fortitor {

/// The frame for fatigue runs as it is worked over the machine link: what is to be done next, in the order that keeps
/// hands safe. A run goes on while nobody looks; what it came to is told once the piece's job is open.
class RigWork : public QObject {
    Q_OBJECT
public:
    RigWork(Session& session, LiveFrame& frame, QObject* parent = nullptr);

    /// Of the button that does it; empty while an answer is awaited.
    [[nodiscard]] QString nextStep() const;
    /// What it does now, in words; empty before it was joined for this page.
    [[nodiscard]] QString words() const;
    [[nodiscard]] const RigStatus* status() const;
    /// Does the next step; joins first.
    void step();
    void stop();
    void setPace(double pace);
    /// The specimen of the open job that is in the grips.
    [[nodiscard]] std::optional<size_t> inGrips() const;
    /// When it will have reached so many cycles, by its frequency and pace; invalid while it does not run.
    [[nodiscard]] QDateTime reaches(double cycles) const;

signals:
    void changed();
    void refused(const QString& why);
    /// The piece in the grips came to its end.
    void ended(size_t specimen, double cycles, const QString& outcome, const QString& because);
    /// Its run was stopped, and may go on.
    void paused(size_t specimen, double cycles);

private:
    [[nodiscard]] QString like() const;
    enum class Next { Join, PieceIn, CloseGuard, Start, Stop, TakeOut, Wait };
    [[nodiscard]] Next next() const;
    void tell(const char* command, LinkJson arguments = LinkJson::object(), MachineClient::Answer then = {});
    void pieceIn();
    void told();
    void look();
    [[nodiscard]] std::string labelOf(size_t specimen) const;

    Session& session_;
    LiveFrame& frame_;
    bool wanted_ = false;
    int owed_ = 0;
    double pace_ = 0;
    RigStatus::State before_ = RigStatus::State::Empty;
};

/// "the stiffness fell by what was set".
QString stopWords(RigStatus::Stop stop);

} // namespace fortitor
