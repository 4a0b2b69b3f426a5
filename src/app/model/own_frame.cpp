// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/model/own_frame.h"

#include <QCoreApplication>

namespace fortitor {

OwnFrame::OwnFrame(QObject* parent) : QObject(parent)
{
    process_.setProcessChannelMode(QProcess::ForwardedErrorChannel);
    connect(&process_, &QProcess::readyReadStandardOutput, this, [this] {
        while (process_.canReadLine()) {
            const QString line = QString::fromUtf8(process_.readLine()).trimmed();
            if (!line.startsWith("listening on "))
                continue;
            address_ = line.mid(13);
            emit listening(address_);
        }
    });
    connect(&process_, &QProcess::errorOccurred, this, [this](QProcess::ProcessError error) {
        if (error == QProcess::FailedToStart)
            emit failed("The simulated frame can't be started: " + process_.errorString() + ". It belongs beside the program, as fortitor-machine.");
    });
    connect(&process_, &QProcess::finished, this, [this] {
        if (!leaving_)
            emit ended();
    });
}

OwnFrame::~OwnFrame()
{
    leaving_ = true;
    process_.closeWriteChannel();
    if (process_.state() != QProcess::NotRunning && !process_.waitForFinished(500)) {
        process_.kill();
        process_.waitForFinished(500);
    }
}

void OwnFrame::start()
{
    if (running())
        return;
    address_.clear();
    process_.start(QCoreApplication::applicationDirPath() + "/fortitor-machine", {"--while-parent"});
}

} // namespace fortitor
