// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/model/own_frame.h"

#include <QCoreApplication>
#include <QFile>
#include <QRandomGenerator>
#include <QStandardPaths>
#include <QUuid>

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
            emit failed("The simulated frame can't be started: " + process_.errorString()
                        + ". It belongs beside the program, as fortitor-machine.");
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
    if (!socket_.isEmpty())
        QFile::remove(socket_);
}

void OwnFrame::start()
{
    if (running())
        return;
    address_.clear();
    if (!socket_.isEmpty())
        QFile::remove(socket_); // of one that was killed
    socket_ = QStandardPaths::writableLocation(QStandardPaths::RuntimeLocation) + "/fortitor-frame-"
        + QUuid::createUuid().toString(QUuid::WithoutBraces);
    token_.clear();
    for (int i = 0; i < 4; ++i)
        token_ += QString::number(QRandomGenerator::system()->generate64(), 16);
    process_.start(QCoreApplication::applicationDirPath() + "/fortitor-machine",
                   {"--while-parent", "--socket", socket_, "--token-stdin"});
    process_.write(token_.toUtf8() + '\n'); // on its standard input: no list of processes shows it
}

} // namespace fortitor
