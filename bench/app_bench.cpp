// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/disk.h"
#include "app/bench/read/curve_plot.h"
#include "app/model/demo.h"
#include "app/widgets/plot_view.h"
#include "app/shell/main_window.h"
#include "app/theme/theme.h"
#include "jobs/edits.h"
#include "jobs/pad.h"
#include "sim/catalogue.h"

#include <benchmark/benchmark.h>
#include <fmt/format.h>

#include <QApplication>
#include <QElapsedTimer>
#include <QKeyEvent>
#include <QMouseEvent>
#include <QProcess>
#include <QTemporaryDir>

#include <QThread>
#include <QTimer>

#include <malloc.h>

#include <filesystem>
#include <sys/resource.h>
#include <sys/wait.h>
#include <unistd.h>

#include <fstream>

namespace {

using namespace fortitor;

/// A window with one specimen of about so many readings on Read.
struct Fixture {
    explicit Fixture(double points)
    {
        book = *Logbook::open(folder.filePath("book.sqlite"));
        const CatalogueEntry& entry = *findCatalogueEntry("rigger-tube");
        auto run = simulateRun(entry, 5, points);
        Json job = edits::newJob("J-1", "bench", *findMethod("tension-metal"), 0);
        Json specimen{{"label", "A1"}, {"dimensions", {{"shape", "round"}}}};
        for (const auto& [key, values] : run.specimen.dimensions)
            specimen["dimensions"][key] = values;
        job["specimens"].push_back(specimen);
        id = *book->addJob(job, "operator A", "bench");
        window = std::make_unique<MainWindow>(*book);
        window->resize(1280, 800);
        window->show();
        window->openJob(id, 0, 4);
        window->session().attach(0, run.record);
        QApplication::processEvents();
    }
    QTemporaryDir folder;
    std::unique_ptr<Logbook> book;
    std::int64_t id = 0;
    std::unique_ptr<MainWindow> window;
};

/// Counts the pictures of a plot.
class Pictures : public QObject {
public:
    explicit Pictures(QObject* of) : QObject(of) { of->installEventFilter(this); }
    bool eventFilter(QObject*, QEvent* event) override
    {
        count += event->type() == QEvent::Paint;
        return false;
    }
    int count = 0;
};

/// One picture while a handle is dragged, the mouse moving all the time: the record read anew and whole, curve and
/// figures painted. Also the longest turn of the interface meanwhile.
void dragHandle(benchmark::State& state)
{
    Fixture f(static_cast<double>(state.range(0)) * 1.09);
    auto* plot = f.window->findChild<CurvePlot*>("curvePlot");
    QElapsedTimer settled; // what the opening itself asked for is not the drag's
    settled.start();
    while (settled.elapsed() < 3000)
        QApplication::processEvents(QEventLoop::AllEvents, 20);
    Pictures pictures(plot);
    int step = 0;
    double longest = 0;
    QElapsedTimer turn;
    for (auto _ : state) {
        const int before = pictures.count;
        while (pictures.count == before) {
            turn.start();
            emit plot->moved("slope", QString("manual 40 MPa %1 MPa").arg(170 + step++ % 30), false);
            QApplication::processEvents();
            longest = std::max(longest, 1e-6 * static_cast<double>(turn.nsecsElapsed()));
            if (pictures.count == before)
                QThread::msleep(1); // as a mouse does
        }
    }
    state.counters["longest_turn_ms"] = longest;
}
BENCHMARK(dragHandle)->Arg(10'000)->Arg(100'000)->Arg(1'000'000)->UseRealTime()->Unit(benchmark::kMillisecond);

/// From choosing a specimen to its page being painted, record read from the logbook.
void openSpecimen(benchmark::State& state)
{
    Fixture f(4000);
    for (auto _ : state) {
        f.window->session().close();
        f.window->openJob(f.id, 0, 4);
        QApplication::processEvents();
        while (f.window->session().working() > 0)
            QApplication::processEvents(QEventLoop::WaitForMoreEvents);
        QApplication::processEvents();
    }
}
BENCHMARK(openSpecimen)->Unit(benchmark::kMillisecond);

/// A job of 200 specimens of 20 000 readings: how long the window stands still, and until all figures are there.
void openLargeJob(benchmark::State& state)
{
    QTemporaryDir folder;
    auto book = *Logbook::open(folder.filePath("book.sqlite"));
    const CatalogueEntry& entry = *findCatalogueEntry("rigger-tube");
    Json job = edits::newJob("J-1", "bench", *findMethod("tension-metal"), 0);
    for (int i = 0; i < 200; ++i) {
        const SimulatedRun run = simulateRun(entry, static_cast<std::uint64_t>(i % 5), 20000);
        Json one{{"label", "A" + std::to_string(i)}, {"dimensions", {{"shape", "round"}}}};
        for (const auto& [key, values] : run.specimen.dimensions)
            one["dimensions"][key] = values;
        one["record"] = Json{{"id", book->addRecord(1, "A", run.record, "operator A")->toStdString()}};
        job["specimens"].push_back(one);
    }
    const auto id = *book->addJob(job, "operator A", "bench");
    const auto other =
        *book->addJob(edits::newJob("J-2", "empty", *findMethod("tension-metal"), 1), "operator A", "bench");
    MainWindow window(*book);
    window.resize(1280, 800);
    window.show();
    double longest = 0;
    double figures = 0;
    // What a person would wait for: how far apart the beats of a timer come.
    QElapsedTimer sinceBeat;
    QTimer beat;
    QObject::connect(&beat, &QTimer::timeout, [&] {
        longest = std::max(longest, 1e-6 * static_cast<double>(sinceBeat.nsecsElapsed()));
        sinceBeat.start();
    });
    for (auto _ : state) {
        window.openJob(other, 0, 4);
        QApplication::processEvents();
        QElapsedTimer whole;
        whole.start();
        sinceBeat.start();
        beat.start(1);
        window.openJob(id, 0, 4);
        while (window.session().working() > 0)
            QApplication::processEvents(QEventLoop::WaitForMoreEvents);
        QApplication::processEvents();
        beat.stop();
        figures = 1e-6 * static_cast<double>(whole.nsecsElapsed());
    }
    state.counters["longest_turn_ms"] = longest;
    state.counters["all_figures_ms"] = figures;
}
BENCHMARK(openLargeJob)->Unit(benchmark::kMillisecond)->UseRealTime()->Iterations(3);

/// Memory of this process, MB: now, and the most so far.
std::pair<double, double> memory()
{
    double now = 0;
    double most = 0;
    std::ifstream in("/proc/self/status");
    for (std::string line; std::getline(in, line);) {
        if (line.starts_with("VmRSS:"))
            now = std::stod(line.substr(6)) / 1024;
        if (line.starts_with("VmHWM:"))
            most = std::stod(line.substr(6)) / 1024;
    }
    return {now, most};
}

/// The application with a record of 10 000 000 rows open on Read, over that record. Best run alone.
void longRecordMemory(benchmark::State& state)
{
    QTemporaryDir folder;
    const QString file = folder.filePath("book.sqlite");
    if (fork() == 0) { // made by another process: its memory does not count
        auto book = *Logbook::open(file);
        auto run = simulateRun(*findCatalogueEntry("rigger-tube"), 5, 1.09e7);
        Json job = edits::newJob("J-1", "bench", *findMethod("tension-metal"), 0);
        Json one{{"label", "A1"}, {"dimensions", {{"shape", "round"}}}};
        for (const auto& [key, values] : run.specimen.dimensions)
            one["dimensions"][key] = values;
        one["record"] = Json{{"id", book->addRecord(1, "A", run.record, "operator A")->toStdString()}};
        job["specimens"].push_back(one);
        const bool kept = book->addJob(job, "operator A", "bench").operator bool();
        book.reset();
        _exit(kept ? 0 : 1);
    }
    wait(nullptr);
    auto book = *Logbook::open(file);
    MainWindow window(*book);
    window.resize(1280, 800);
    window.show();
    QApplication::processEvents();
    const double before = memory().first;
    for (auto _ : state) {
        window.openJob(book->jobs().front().id, 0, 4);
        while (window.session().working() > 0)
            QApplication::processEvents(QEventLoop::WaitForMoreEvents);
        QElapsedTimer settled;
        settled.start();
        while (settled.elapsed() < 8000)
            QApplication::processEvents(QEventLoop::AllEvents, 50);
    }
    const auto record = window.session().record(0);
    const double bytes = record ? 8e-6 / 1.048576 * static_cast<double>(record->rows() * record->channels.size()) : 1;
    const auto [now, most] = memory();
    state.counters["record_MB"] = bytes;
    state.counters["over_record"] = (now - before) / bytes;
    state.counters["most_over_record"] = (most - before) / bytes;
}
BENCHMARK(longRecordMemory)->Unit(benchmark::kMillisecond)->Iterations(1);

/// One picture of the live page behind a whole run.
void liveCurvePicture(benchmark::State& state)
{
    QTemporaryDir folder;
    auto book = *Logbook::open(folder.filePath("book.sqlite"));
    if (!fillDemo(*book))
        return state.SkipWithError("no demo");
    MainWindow window(*book);
    window.resize(1280, 800);
    window.show();
    for (const JobRow& row : book->jobs())
        if (row.number == "J-0101")
            window.openJob(row.id, 3, 2);
    LiveFrame& frame = window.frame();
    const auto wait = [&](auto done) {
        QElapsedTimer clock;
        clock.start();
        while (!done() && clock.elapsed() < 60000)
            QApplication::processEvents(QEventLoop::AllEvents, 10);
    };
    const auto settled = [&] { return !frame.waits(); };
    wait(settled);
    frame.zeroForce();
    frame.closeTopGrip();
    frame.closeBottomGrip();
    frame.easeToZero();
    wait([&] { return frame.shows("grip-second"); });
    frame.putExtensometerOn();
    frame.setGuard(true);
    frame.setPace(100);
    wait(settled);
    window.session().setStage(3);
    frame.start();
    wait([&] { return frame.state() == LiveFrame::State::Prompt; });
    frame.answerPrompt();
    wait([&] { return frame.travel() > 5 || !frame.running(); });
    auto* page = window.bench().page(3);
    for (auto _ : state)
        page->repaint();
    state.counters["points"] = static_cast<double>(frame.curve().strain().size());
    frame.stop();
    wait([&] { return !frame.running(); });
}
BENCHMARK(liveCurvePicture)->Unit(benchmark::kMillisecond);

/// A logbook of 10 000 specimens in 500 jobs.
struct LargeLogbook {
    LargeLogbook()
    {
        book = *Logbook::open(folder.filePath("large.sqlite"));
        for (int j = 0; j < 500; ++j) {
            const std::string number = "J-" + std::to_string(1000 + j);
            const auto id =
                *book->addJob(edits::newJob(number, "Lot " + std::to_string(j % 37), *findMethod("tension-metal"), 20),
                              "operator A", "new");
            std::vector<SpecimenRow> rows;
            for (int i = 0; i < 20; ++i)
                rows.push_back(
                    {id, i, {}, {}, QString("L%1-%2").arg(j).arg(i), i % 5 ? "pass" : "open", "Rm 312 MPa", 4});
            (void)book->keepOverview(id, rows);
        }
    }
    QTemporaryDir folder;
    std::unique_ptr<Logbook> book;
};

void listLogbook(benchmark::State& state)
{
    static LargeLogbook large;
    for (auto _ : state)
        benchmark::DoNotOptimize(large.book->jobs());
}
BENCHMARK(listLogbook)->Unit(benchmark::kMillisecond);

void searchLogbook(benchmark::State& state)
{
    static LargeLogbook large;
    for (auto _ : state) {
        benchmark::DoNotOptimize(large.book->jobs("L321-7"));
        benchmark::DoNotOptimize(large.book->specimens("L321-7"));
    }
}
BENCHMARK(searchLogbook)->Unit(benchmark::kMillisecond);

/// One picture of 40 curves of 20 000 points while they are panned.
void panOverlay(benchmark::State& state)
{
    static std::vector<CurveView> views;
    if (views.empty())
        for (int k = 0; k < 40; ++k) {
            CurveView v;
            for (int i = 0; i < 20000; ++i) {
                v.x.push_back(0.12 * i / 20000);
                v.y.push_back((250 + 3 * k) * (1 - std::exp(-200 * v.x.back())) + 0.5 * std::sin(i * 1.7 + k));
            }
            views.push_back(std::move(v));
        }
    PlotView plot;
    plot.resize(880, 420);
    plot.QWidget::show();
    Plot lines;
    for (size_t k = 0; k < views.size(); ++k)
        lines.series.push_back({.x = views[k].x,
                                .y = views[k].y,
                                .label = QString::number(k % 4),
                                .kind = k % 4,
                                .tree = std::make_shared<ExtentTree>(views[k].x, views[k].y)});
    lines.fit();
    plot.show(std::move(lines));
    QApplication::processEvents();
    for (const auto& [type, x] : {std::pair(QEvent::MouseButtonPress, 300.0), {QEvent::MouseMove, 310.0}}) {
        QMouseEvent move(type, QPointF(x, 200), QPointF(x, 200), Qt::LeftButton, Qt::LeftButton, {});
        QApplication::sendEvent(&plot, &move);
    }
    double step = 1;
    for (auto _ : state) {
        plot.panBy({step, 0});
        step = -step;
        plot.repaint();
    }
}
BENCHMARK(panOverlay)->Unit(benchmark::kMillisecond);

/// One picture of a curve of so many points while it is panned, zoomed in a hundredfold.
void panLong(benchmark::State& state)
{
    static CurveView v;
    const auto n = static_cast<size_t>(state.range(0));
    if (v.x.size() != n) {
        v.x.resize(n);
        v.y.resize(n);
        for (size_t i = 0; i < n; ++i) {
            v.x[i] = 1e-3 * static_cast<double>(i);
            v.y[i] = std::sin(3e-4 * v.x[i]) + 0.2 * std::sin(1.7 * static_cast<double>(i));
        }
    }
    PlotView plot;
    plot.resize(1100, 500);
    plot.QWidget::show();
    Plot lines;
    lines.series.push_back({.x = v.x, .y = v.y, .tree = std::make_shared<ExtentTree>(v.x, v.y)});
    lines.fit();
    plot.show(std::move(lines));
    QApplication::processEvents();
    for (int i = 0; i < state.range(1); ++i)
        plot.zoomAt({500, 250}, 0.8);
    for (const auto& [type, x] : {std::pair(QEvent::MouseButtonPress, 300.0), {QEvent::MouseMove, 310.0}}) {
        QMouseEvent move(type, QPointF(x, 200), QPointF(x, 200), Qt::LeftButton, Qt::LeftButton, {});
        QApplication::sendEvent(&plot, &move);
    }
    double step = 7;
    for (auto _ : state) {
        plot.panBy({step, 0});
        step = -step;
        plot.repaint();
    }
}
BENCHMARK(panLong)->Args({20000000, 0})->Args({20000000, 10})->Args({20000000, 40})->Unit(benchmark::kMillisecond);

/// Statistics of a set of 10 000 specimens, every figure of a metal.
void setStatistics10000(benchmark::State& state)
{
    Job job;
    job.method = findMethod("tension-metal");
    JobOutcome outcome;
    for (int i = 0; i < 10000; ++i) {
        Specimen specimen;
        specimen.label = "A" + std::to_string(i);
        specimen.input.notes = {{"operator", i % 2 ? "operator A" : "operator B"}, {"batch", std::to_string(i % 7)}};
        job.specimens.push_back(specimen);
        SpecimenOutcome one;
        one.label = specimen.label;
        one.outcome.emplace();
        for (const ResultSpec& spec : job.method->results)
            one.outcome->results.push_back(
                {.symbol = spec.symbol, .unit = &unitOf(spec), .value = 100 + std::sin(i * 12.9898) * 3});
        outcome.specimens.push_back(std::move(one));
    }
    for (auto _ : state)
        analyseSet(job, outcome);
}
BENCHMARK(setStatistics10000)->Unit(benchmark::kMillisecond);

/// The whole process on a job of one 2 000-point record.
void analyseProcess(benchmark::State& state)
{
    QTemporaryDir folder;
    const CatalogueEntry& entry = *findCatalogueEntry("rigger-tube");
    auto run = simulateRun(entry, 5, 2150);
    std::ofstream(folder.filePath("A.csv").toStdString()) << recordCsv(run.record);
    Json job = edits::newJob("J-1", "bench", *findMethod("tension-metal"), 0);
    Json specimen{{"label", "A1"}, {"dimensions", {{"shape", "round"}}}, {"record", {{"file", "A.csv"}}}};
    for (const auto& [key, values] : run.specimen.dimensions)
        specimen["dimensions"][key] = values;
    job["specimens"].push_back(specimen);
    std::ofstream(folder.filePath("job.json").toStdString()) << job.dump();
    for (auto _ : state) {
        const int code =
            QProcess::execute(CLI_PROGRAM,
                              {"analyse", folder.filePath("job.json"), "--out", folder.filePath("r.json")});
        if (code != 0)
            state.SkipWithError("analyse failed");
    }
}
BENCHMARK(analyseProcess)->Unit(benchmark::kMillisecond)->UseRealTime();

/// The same on a job of 2 000 specimens of 140 kB each: time, and the most memory the process ever had.
void analyseMany(benchmark::State& state)
{
    QTemporaryDir folder;
    const CatalogueEntry& entry = *findCatalogueEntry("rigger-tube");
    auto run = simulateRun(entry, 5, 4020);
    const std::string csv = recordCsv(run.record);
    Json job = edits::newJob("J-1", "bench", *findMethod("tension-metal"), 0);
    for (int i = 0; i < 2000; ++i) {
        const std::string name = "A" + std::to_string(i) + ".csv";
        std::ofstream(folder.filePath(QString::fromStdString(name)).toStdString()) << csv;
        Json specimen{
            {"label", "A" + std::to_string(i)}, {"dimensions", {{"shape", "round"}}}, {"record", {{"file", name}}}};
        for (const auto& [key, values] : run.specimen.dimensions)
            specimen["dimensions"][key] = values;
        job["specimens"].push_back(specimen);
    }
    std::ofstream(folder.filePath("job.json").toStdString()) << job.dump();
    for (auto _ : state)
        if (QProcess::execute(CLI_PROGRAM, {"analyse", folder.filePath("job.json"), "--out", folder.filePath("r.json")})
            != 0)
            state.SkipWithError("analyse failed");
    rusage used{};
    getrusage(RUSAGE_CHILDREN, &used);
    state.counters["MB"] = static_cast<double>(used.ru_maxrss) / 1024;
    state.counters["kB_each"] = static_cast<double>(csv.size()) / 1000;
}
BENCHMARK(analyseMany)->Unit(benchmark::kMillisecond)->UseRealTime()->Iterations(3);

/// Keying a reading on the pad: each figure and Enter, to what it does being painted. Worst of all keystrokes of
/// a sheet of fourteen steps, told as a counter.
/// On the disk as it is, or one whose fsync takes that many ms.
void padKeystroke(benchmark::State& state)
{
    test::Disk disk;
    disk.slow(static_cast<int>(state.range(0)));
    double worst = 0;
    for (auto _ : state) {
        QTemporaryDir folder;
        auto book = *Logbook::open(folder.filePath("book.sqlite"));
        Json job = edits::newJob("J-1", "bench", *findMethod("flexure"), 8);
        for (Json& specimen : job["specimens"])
            specimen["dimensions"] = {
                {"shape", "rectangular"}, {"width", "20 mm"}, {"depth", "20 mm"}, {"span", "300 mm"}};
        MainWindow window(*book);
        window.resize(1280, 800);
        window.show();
        window.openJob(*book->addJob(job, "operator A", "bench"), 0, 3);
        window.activateWindow();
        QApplication::processEvents();
        const auto press = [&](int key, const QString& text) {
            QElapsedTimer clock;
            clock.start();
            QKeyEvent down(QEvent::KeyPress, key, Qt::NoModifier, text);
            if (QWidget* at = QApplication::focusWidget())
                QApplication::sendEvent(at, &down);
            QApplication::processEvents();
            worst = std::max(worst, static_cast<double>(clock.nsecsElapsed()) / 1e6);
        };
        for (int i = 0; i < 14; ++i)
            for (const QString& text : {QString::number(100 * i), QString::number(0.4 * i, 'f', 2)}) {
                for (const QChar c : text)
                    press(c.unicode(), c);
                press(Qt::Key_Return, "\r");
            }
        disk.slow(0);
        window.session().finish();
        disk.slow(static_cast<int>(state.range(0)));
        const auto& readings = window.session().job().specimens[0].readings;
        if (!readings || readings->rows() != 14)
            return state.SkipWithError("the readings did not arrive");
    }
    state.counters["worst_ms"] = worst;
}
BENCHMARK(padKeystroke)->Arg(0)->Arg(150)->Unit(benchmark::kMillisecond)->Iterations(3);

/// 3 000 cells keyed one after another into one sheet: what the journal grows by.
void keyedJournal(benchmark::State& state)
{
    QTemporaryDir folder;
    const QString file = folder.filePath("book.sqlite");
    auto book = *Logbook::open(file);
    Json job = edits::newJob("J-1", "bench", *findMethod("flexure"), 1);
    job["specimens"][0]["dimensions"] = {
        {"shape", "rectangular"}, {"width", "20 mm"}, {"depth", "20 mm"}, {"span", "300 mm"}};
    Session session(*book);
    if (!session.open(*book->addJob(job, "operator A", "bench")))
        return state.SkipWithError("the job does not open");
    session.finish();
    book->checkpoint();
    const auto before = std::filesystem::file_size(file.toStdString());
    for (auto _ : state)
        for (int k = 0; k < 3000; ++k) {
            const PadTable table = padTable(session.document(), 0);
            const std::string text =
                k % 2 == 0 ? std::to_string(10 * (k / 2)) + " N" : fmt::format("{:.2f} mm", 0.01 * k);
            if (!session.apply(edits::padReading(session.document(), 0, table, static_cast<size_t>(k % 2),
                                                 static_cast<size_t>(k / 2), text)))
                return state.SkipWithError("a reading was refused");
        }
    session.finish();
    book->checkpoint();
    state.counters["grown_MB"] = 1e-6 * static_cast<double>(std::filesystem::file_size(file.toStdString()) - before);
    state.counters["rows"] = static_cast<double>(session.job().specimens[0].readings->rows());
}
BENCHMARK(keyedJournal)->Unit(benchmark::kMillisecond)->Iterations(1);

/// Program start to a window that can be used, on the demo logbook.
void programStart(benchmark::State& state)
{
    QTemporaryDir folder;
    const QString book = folder.filePath("demo.sqlite");
    const QStringList arguments{"--demo", "--logbook", book, "--start-time"};
    QProcess::execute(APP_PROGRAM, arguments);
    for (auto _ : state)
        QProcess::execute(APP_PROGRAM, arguments);
}
BENCHMARK(programStart)->Unit(benchmark::kMillisecond)->UseRealTime();

} // namespace

int main(int argc, char** argv)
{
    if (qEnvironmentVariableIsEmpty("QT_QPA_PLATFORM"))
        qputenv("QT_QPA_PLATFORM", "offscreen");
    mallopt(M_MMAP_THRESHOLD, 32 << 20); // as the program does
    mallopt(M_TRIM_THRESHOLD, 256 << 20);
    QApplication app(argc, argv);
    Theme::instance().install();
    benchmark::Initialize(&argc, argv);
    benchmark::RunSpecifiedBenchmarks();
    return 0;
}
