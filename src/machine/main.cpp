// SPDX-License-Identifier: GPL-3.0-or-later
// fortitor-machine: a simulated test frame as a process of its own.
#include "machine/service.h"

#include <CLI/CLI.hpp>

#include <QCoreApplication>
#include <QRandomGenerator>
#include <QSocketNotifier>

#include <cerrno>
#include <cstdio>
#include <cstring>
#include <fcntl.h>
#include <unistd.h>

using namespace fortitor;

namespace {

struct Arguments {
    int port = -1;
    std::string socket;
    std::string specimen;
    std::uint64_t seed = 1;
    std::vector<std::string> faults;
    bool list = false;
    bool whileParent = false;
    bool tokenFromInput = false;
    std::string tokenFile;
    bool anybody = false;
};

void declare(CLI::App& app, Arguments& a, ServiceOptions& o)
{
    app.set_version_flag("--version", "fortitor-machine " FORTITOR_VERSION);
    app.add_option("--port", a.port, "TCP port on this machine only; 0: any that is free (the default)")
        ->check(CLI::Range(0, 65535));
    app.add_option("--socket", a.socket, "a local socket of that name, in place of a port");
    app.add_option("--specimen", a.specimen, "mounts one of the catalogue; --list names them");
    app.add_option("--seed", a.seed, "decides the specimen and every instrument's noise");
    app.add_option("--speed", o.speed, "how much faster than life, 0.01 to 200")->check(CLI::Range(0.01, 200.0));
    app.add_option("--rate", o.frame.rate, "samples a second, 5 to 5000")->check(CLI::Range(5.0, 5000.0));
    app.add_option("--cell", o.frame.cell, "capacity of the load cell in N (N mm with a torsion head)")
        ->check(CLI::PositiveNumber);
    app.add_option("--fixture", o.frame.fixture, "grips, platens, bending or torsion")
        ->check(CLI::IsMember({"grips", "platens", "bending", "torsion"}));
    app.add_flag("--hydraulic", o.frame.hydraulic, "a hydraulic drive, which creeps while it is held");
    app.add_option(
        "--fault", a.faults,
        "NAME[:CHANNEL][@SECONDS][=VALUE]: stuck, spike, slip, guard, specimen-out, overload, power, link-drop, "
        "late, packet; may be given again");
    app.add_option("--watchdog", o.watchdog, "seconds of silence on the link before the frame looks after itself")
        ->check(CLI::Range(0.2, 60.0));
    app.add_flag("--watchdog-stops", o.watchdogStops, "it stops then; else it holds");
    app.add_flag("--list", a.list, "names the specimens and goes");
    app.add_flag("--token-stdin", a.tokenFromInput,
                 "the token that whoever leads the frame has to know is the first line of the standard input");
    app.add_option("--token-file", a.tokenFile, "the token is the first line of that file");
    app.add_flag("--anybody", a.anybody, "a port without a token: any user of this machine may lead the frame");
    app.add_flag("--while-parent", a.whileParent, "ends when its standard input ends");
}

/// The first line that comes, at most so long; without a buffer, so that what follows stays where it is.
std::string firstLine(int from)
{
    constexpr size_t longest = 256;
    std::string line;
    char c = 0;
    while (line.size() < longest && ::read(from, &c, 1) == 1 && c != '\n')
        line += c;
    return line;
}

/// The token as asked for. A port without one gets one of its own, which is printed.
Expected<std::string> tokenOf(const Arguments& a)
{
    if (a.tokenFromInput || !a.tokenFile.empty()) {
        const int from = a.tokenFile.empty() ? STDIN_FILENO : ::open(a.tokenFile.c_str(), O_RDONLY | O_CLOEXEC);
        if (from < 0)
            return Problem{a.tokenFile, std::strerror(errno), "a file with the token", {}};
        std::string token = firstLine(from);
        if (from != STDIN_FILENO)
            ::close(from);
        if (token.size() < 8)
            return Problem{"token", std::to_string(token.size()) + " characters", "8 or more", {}};
        return token;
    }
    if (a.anybody || !a.socket.empty())
        return std::string();
    return std::to_string(QRandomGenerator::system()->generate64())
        + std::to_string(QRandomGenerator::system()->generate64());
}

int complain(const Problem& problem)
{
    std::fprintf(stderr, "fortitor-machine: %s\n", problem.text().c_str());
    return 3;
}

} // namespace

int main(int argc, char** argv)
{
    QCoreApplication qt(argc, argv);
    CLI::App app{"A simulated test frame, behind the machine link."};
    Arguments a;
    ServiceOptions o;
    o.frame.creep = 2e-4;
    declare(app, a, o);
    try {
        app.parse(argc, argv);
    } catch (const CLI::ParseError& e) {
        return app.exit(e) == 0 ? 0 : 2;
    }
    if (a.list) {
        for (const CatalogueEntry& entry : catalogue())
            std::printf("%-22s %s\n", entry.name.c_str(), entry.words.c_str());
        return 0;
    }
    if (!a.specimen.empty()) {
        if (!findCatalogueEntry(a.specimen))
            return complain({"--specimen", a.specimen, "a name from --list", {}});
        o.specimen = MountSpec{.specimen = a.specimen, .seed = a.seed};
    }
    for (const std::string& text : a.faults) {
        auto fault = parseFault(text);
        if (!fault)
            return complain(fault.problem());
        o.faults.push_back(*fault);
    }
    const auto token = tokenOf(a);
    if (!token)
        return complain(token.problem());
    o.token = *token;
    MachineService service(o);
    const auto address = a.socket.empty() ? service.listenTcp(static_cast<quint16>(std::max(0, a.port)))
                                          : service.listenLocal(QString::fromStdString(a.socket));
    if (!address)
        return complain(address.problem());
    std::printf("listening on %s\n", address->toUtf8().constData());
    if (!token->empty() && !a.tokenFromInput && a.tokenFile.empty())
        std::printf("token %s\n", token->c_str());
    std::fflush(stdout);
    QObject::connect(&service, &MachineService::powerCut, [] { std::_Exit(1); });
    QSocketNotifier parent(STDIN_FILENO, QSocketNotifier::Read);
    parent.setEnabled(a.whileParent);
    QObject::connect(&parent, &QSocketNotifier::activated, [] {
        char bytes[64];
        if (::read(STDIN_FILENO, bytes, sizeof bytes) <= 0)
            QCoreApplication::quit();
    });
    return QCoreApplication::exec();
}
