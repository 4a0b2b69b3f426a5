// SPDX-License-Identifier: GPL-3.0-or-later
#include "cli/commands.h"
#include "store/logbook.h"

#include <fmt/format.h>

#include <QCoreApplication>
#include <QFile>

namespace fortitor::cli {

int checkLogbook(const std::string& file, const std::vector<std::string>& heads)
{
    int count = 1;
    char name[] = "fortitor-cli";
    char* arguments[] = {name, nullptr};
    const QCoreApplication qt(count, arguments); // SQL drivers are plugins
    const QString path = QString::fromLocal8Bit(file.c_str());
    if (!QFile::exists(path)) {
        fmt::print(stderr, "fortitor-cli: {}: found nothing, wanted a logbook. Check the name\n", file);
        return wrongInput;
    }
    auto book = Logbook::open(path, true);
    if (!book) {
        fmt::print(stderr, "fortitor-cli: {}\n", book.problem().text());
        return wrongInput;
    }
    auto findings = (*book)->check();
    for (const std::string& headName : heads) {
        const auto head = headFromFile(QString::fromLocal8Bit(headName.c_str()));
        if (!head) {
            fmt::print(stderr, "fortitor-cli: {}\n", head.problem().text());
            return wrongInput;
        }
        for (LogbookFinding& f : (*book)->checkAgainst(*head))
            findings.push_back(std::move(f));
    }
    for (const LogbookFinding& f : findings)
        fmt::print("{}: {}\n", f.place.toStdString(), f.words.toStdString());
    fmt::print("{}: {}\n", file,
               findings.empty() ? "whole: file, journal and every record"
                                : fmt::format("{} findings", findings.size()));
    return findings.empty() ? done : wrongInput;
}

} // namespace fortitor::cli
