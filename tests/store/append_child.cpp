// SPDX-License-Identifier: GPL-3.0-or-later
// Appends chunks to a record without end, and says after each one that it is committed.
#include "store/logbook.h"

#include <QCoreApplication>

#include <cmath>
#include <cstdio>

int main(int argc, char** argv)
{
    using namespace fortitor;
    QCoreApplication app(argc, argv);
    auto book = Logbook::open(QString::fromLocal8Bit(argv[1]));
    if (!book || !(*book)->readOnlyBecause().isEmpty())
        return 3;
    Record record;
    record.channels.reserve(2);
    record.add("time");
    record.add("force");
    record.source = "append child";
    const auto id = (*book)->beginRecord(1, "A1", record, "operator A");
    if (!id)
        return 4;
    std::printf("begun %s\n", id->toStdString().c_str());
    std::fflush(stdout);
    size_t from = 0;
    for (int seq = 0;; ++seq) {
        for (int i = 0; i < 400; ++i) {
            const double t = 0.02 * static_cast<double>(record.rows());
            record.channels[0].values.append(t);
            record.channels[1].values.append(1000 * std::sin(t) + t);
        }
        if (!(*book)->appendChunk(*id, seq, record, from, record.rows()))
            return 5;
        from = record.rows();
        std::printf("%zu\n", from);
        std::fflush(stdout);
    }
}
