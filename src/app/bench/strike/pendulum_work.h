// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "app/model/live_frame.h"

#include <map>

namespace fortitor {

/// The simulated pendulum as it is worked over the machine link: what is to be done next, in the order that keeps hands
/// safe. Each step is a command of its own; the pendulum refuses what is out of order.
class PendulumWork : public QObject {
    Q_OBJECT
public:
    /// `free`: a swing without a piece, for its loss.
    PendulumWork(Session& session, LiveFrame& frame, bool free, QObject* parent = nullptr);

    /// Of the button that does it; empty while it moves by itself.
    [[nodiscard]] QString nextStep() const;
    /// Hammer, guard, pointer, in words; empty before it was joined for this page.
    [[nodiscard]] QString words() const;
    [[nodiscard]] const PendulumStatus* status() const;
    /// Does the next step; joins first.
    void step();
    void setGuard(bool closed);
    /// The hammer is raised, or moves.
    [[nodiscard]] bool busy() const;

signals:
    void changed();
    void refused(const QString& why);
    /// J as the pointer shows, of the piece with that label (empty: a free swing), and what is seen of its halves.
    void swung(double reading, const QString& label, const std::map<std::string, std::string>& notes);

private:
    enum class Next { Join, Raise, PieceIn, CloseGuard, Release, Brake, Wait };
    [[nodiscard]] Next next() const;
    void tell(const char* command, LinkJson arguments = LinkJson::object(), MachineClient::Answer then = {});
    void putUp();
    void pieceIn();
    void told();
    void pickUp(double reading);

    Session& session_;
    LiveFrame& frame_;
    bool free_, wanted_ = false, waiting_ = false; ///< a swing that was released here
    int owed_ = 0;
    QString label_;
    std::int64_t job_ = 0;
};

} // namespace fortitor
