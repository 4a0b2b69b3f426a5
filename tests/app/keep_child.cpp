// SPDX-License-Identifier: GPL-3.0-or-later
// Keys readings, or imports records, into a logbook and tells after each what was kept. Killed by a test at
// any moment.
#include "app/model/session.h"

#include "jobs/edits.h"
#include "jobs/exchange.h"
#include "sim/catalogue.h"

#include <QCoreApplication>

#include <cstdio>
#include <cstring>

using namespace fortitor;

namespace {

void told(int kept)
{
    std::printf("%d\n", kept);
    std::fflush(stdout);
}

constexpr size_t atOnce = 3; ///< changes with the writer

/// 10.00, 10.01 … into the first diameter of the first specimen, one after the other.
int key(Session& session, int from)
{
    const FieldSpec* field = session.job().method->findField("diameter");
    bool lost = false;
    for (int i = from; !lost; ++i) {
        const auto answered = [&lost, i](bool kept) { kept ? told(i) : void(lost = true); };
        if (!session.apply(edits::reading(session.document(), 0, *field, 0, std::to_string(1000 + i) + " um"),
                           answered))
            return 5;
        if (session.beingKept() >= atOnce)
            session.finish();
    }
    return 5;
}

/// A job with a record for each of its specimens, as an import brings them.
int import(Logbook& book, Session& session)
{
    const Method& method = *findMethod("tension-metal");
    Json body = edits::newJob("J-7000", "imported", method, 40);
    body["importing"] = {{"file", "lot.json"}};
    const auto id = book.addJob(body, "operator A", "taken in from lot.json");
    if (!id || !session.open(*id))
        return 5;
    const auto run = simulateRun(*findCatalogueEntry("rigger-tube"), 3, 400);
    for (int i = 0; i < 40; ++i) {
        if (!session.attach(static_cast<size_t>(i), run.record))
            return 5;
        told(i + 1);
    }
    return session.apply(CommandBuilder(session.document(), "all in").set("/importing", std::nullopt).take()) ? 0 : 5;
}

} // namespace

/// keep_child key LOGBOOK JOB FROM | keep_child import LOGBOOK
int main(int argc, char** argv)
{
    QCoreApplication app(argc, argv);
    if (argc < 3)
        return 2;
    auto book = Logbook::open(QString::fromUtf8(argv[2]));
    if (!book)
        return 3;
    Session session(**book);
    if (std::strcmp(argv[1], "import") == 0)
        return import(**book, session);
    if (argc < 5 || !session.open(std::atoll(argv[3])))
        return 3;
    return key(session, std::atoi(argv[4]));
}
