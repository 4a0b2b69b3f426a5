// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/shell/application.h"

#include <QDateTime>
#include <QDir>
#include <QEvent>
#include <QFile>
#include <QStandardPaths>

#include <cstdio>
#include <exception>

namespace fortitor {

QString Application::writeReport(const QString& where, const QString& what)
{
    const QString folder = QStandardPaths::writableLocation(QStandardPaths::GenericDataLocation) + "/fortitor/reports";
    QDir().mkpath(folder);
    QFile file(folder + "/" + QDateTime::currentDateTime().toString("yyyy-MM-dd-HHmmss-zzz") + ".txt");
    if (!file.open(QIODevice::WriteOnly | QIODevice::NewOnly))
        return {};
    file.write(("Fortitor " FORTITOR_VERSION "\n" + QDateTime::currentDateTime().toString(Qt::ISODate) + "\n" + where
                + "\n" + what + "\n")
                   .toUtf8());
    return file.fileName();
}

bool Application::notify(QObject* receiver, QEvent* event)
{
    QString what;
    // Of what it is only that which costs nothing: this runs for each event there is.
    const char* const kind = receiver->metaObject()->className();
    const int type = event->type();
    try {
        return QApplication::notify(receiver, event);
    } catch (const std::exception& e) {
        what = QString::fromUtf8(e.what());
    } catch (...) {
        what = "an exception of no known kind";
    }
    const QString where = QString("%1, event %2").arg(QString::fromLatin1(kind)).arg(type);
    const QString report = writeReport(where, what);
    std::fprintf(stderr, "fortitor: %s: %s\n", where.toUtf8().constData(), what.toUtf8().constData());
    if (tell)
        tell(what, report);
    return true;
}

} // namespace fortitor
