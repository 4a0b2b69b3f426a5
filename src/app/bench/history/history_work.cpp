// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/bench/history/history_work.h"

#include "app/widgets/basics.h"
#include "methods/spectrum/spectrum.h"

#include <QMetaObject>

#include <utility>

namespace fortitor {
namespace {

QString keyOf(const HistorySaid& said)
{
    QStringList all{q(said.format), q(said.dataset), q(said.channel), q(said.unit), q(said.rate)};
    for (const std::string& file : said.files)
        all << q(file);
    return all.join('\n');
}

struct Opened {
    std::shared_ptr<const HistoryFile> file;
    std::shared_ptr<const Pyramid> pyramid;
    std::optional<Problem> problem;
    QString notKept;
};

Opened openSaid(const HistorySaid& said, const Progress& goOn)
{
    Opened out;
    const auto request = historyRequest(said);
    if (!request) {
        out.problem = request.problem();
        return out;
    }
    auto file = keptHistory(said.files, *request);
    if (!file) {
        out.problem = file.problem();
        return out;
    }
    out.file = *file;
    auto kept = keptPyramid(*out.file->source, said.files, goOn);
    if (!kept)
        out.problem = kept.problem();
    else if (*kept) {
        out.notKept = q((*kept)->notKept);
        out.pyramid = std::make_shared<const Pyramid>(std::move((*kept)->pyramid));
    }
    return out;
}

} // namespace

HistoryWork::HistoryWork(Session& session, QObject* parent) : QObject(parent), session_(session)
{
    for (QThreadPool* pool : {&opener_, &stretcher_, &trier_})
        pool->setMaxThreadCount(1);
    ticks_.setInterval(120);
    connect(&ticks_, &QTimer::timeout, this, &HistoryWork::progressed);
}

HistoryWork::~HistoryWork()
{
    ++*trialTurn_;
    ++*openTurn_;
    stop();
    for (QThreadPool* pool : {&opener_, &stretcher_, &trier_})
        pool->waitForDone(); // they answer to this
}

void HistoryWork::look()
{
    const auto* said =
        session_.hasSpecimen() && session_.specimen().input.history ? &*session_.specimen().input.history : nullptr;
    if (said && session_.worksOn(session_.current()))
        ticks_.start();
    else if (trials_.empty() || trials_.back().done)
        ticks_.stop();
    const QString key = said ? keyOf(*said) : QString();
    if (std::exchange(key_, key) == key)
        return;
    const int turn = ++*openTurn_;
    file_.reset();
    pyramid_.reset();
    problem_.reset();
    notKept_.clear();
    dropTrials();
    ++stretchTurn_;
    opening_ = said != nullptr;
    emit changed();
    if (!said)
        return;
    opener_.start([this, said = *said, turn, now = openTurn_] {
        auto opened = std::make_shared<Opened>(openSaid(said, [now, turn](double) { return *now == turn; }));
        QMetaObject::invokeMethod(
            this,
            [this, opened, turn] {
                if (turn != *openTurn_)
                    return;
                opening_ = false;
                file_ = opened->file;
                pyramid_ = opened->pyramid;
                problem_ = opened->problem;
                notKept_ = opened->notKept;
                emit changed();
            },
            Qt::QueuedConnection);
    });
}

std::shared_ptr<const HistoryFigures> HistoryWork::figures() const
{
    if (!session_.hasSpecimen() || !session_.specimenOutcome().outcome)
        return nullptr;
    return session_.specimenOutcome().outcome->history;
}

double HistoryWork::share() const
{
    return file_ ? watchHistory(*file_).share : -1;
}

void HistoryWork::stop()
{
    if (file_)
        stopHistory(*file_);
}

void HistoryWork::askStretch(std::uint64_t from, size_t count)
{
    const auto whole = figures();
    if (!file_ || !whole)
        return;
    const int turn = ++stretchTurn_;
    const auto settings = spectrumSettings(session_.specimen().input.options);
    if (!settings)
        return;
    stretcher_.clear();
    stretcher_.start([this, file = file_, whole, s = *settings, from, count, turn] {
        auto seen = std::make_shared<Expected<SeenStretch>>(seenStretch(*file, *whole, s, from, count));
        QMetaObject::invokeMethod(
            this,
            [this, seen, turn] {
                if (turn != stretchTurn_)
                    return;
                if (*seen)
                    emit stretchReady(std::make_shared<const SeenStretch>(std::move(**seen)));
                else
                    emit stretchRefused(q(seen->problem().text()));
            },
            Qt::QueuedConnection);
    });
}

void HistoryWork::askTrials(const std::vector<std::pair<std::string, std::string>>& settings,
                            const std::vector<std::string>& words)
{
    const int turn = ++*trialTurn_;
    trials_.clear();
    trier_.clear();
    for (size_t k = 0; k < settings.size(); ++k) {
        trials_.push_back({words[k], {}, {}, false});
        trier_.start([this, work = session_.previewOf(session_.current(), settings[k].first, settings[k].second), k,
                      turn, now = trialTurn_] {
            if (*now != turn)
                return;
            const auto outcome = std::make_shared<std::optional<Outcome>>(work());
            QMetaObject::invokeMethod(
                this,
                [this, outcome, k, turn] {
                    if (turn != *trialTurn_ || k >= trials_.size())
                        return;
                    trials_[k].done = true;
                    const auto valueOf = [&](const char* symbol) -> std::optional<double> {
                        const Result* r = *outcome ? (*outcome)->find(symbol) : nullptr;
                        return r ? r->value : std::nullopt;
                    };
                    trials_[k].damage = valueOf(spectrumKeys::damage);
                    trials_[k].equivalent = valueOf(spectrumKeys::equivalent);
                    emit tried();
                },
                Qt::QueuedConnection);
        });
    }
    ticks_.start();
    emit tried();
}

void HistoryWork::dropTrials()
{
    ++*trialTurn_;
    trier_.clear();
    trials_.clear();
    emit tried();
}

} // namespace fortitor
