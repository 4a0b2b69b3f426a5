// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include <QObject>
#include <QProcess>

namespace fortitor {

/// The simulated frame that the application starts for itself: a process that ends with it, on a local
/// socket of this user, led with a token that only the two of them know.
class OwnFrame : public QObject {
    Q_OBJECT
public:
    explicit OwnFrame(QObject* parent = nullptr);
    ~OwnFrame() override;
    /// Starts it when it is not running; `listening` follows.
    void start();
    [[nodiscard]] bool running() const { return process_.state() != QProcess::NotRunning; }
    /// Where it listens; empty until it has said so.
    [[nodiscard]] QString address() const { return running() ? address_ : QString(); }
    [[nodiscard]] QString token() const { return token_; }
    [[nodiscard]] qint64 processId() const { return process_.processId(); }

signals:
    void listening(const QString& address);
    void failed(const QString& why);
    void ended();

private:
    QProcess process_;
    QString address_;
    QString socket_;
    QString token_;
    bool leaving_ = false;
};

} // namespace fortitor
