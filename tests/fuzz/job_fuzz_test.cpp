// SPDX-License-Identifier: GPL-3.0-or-later
// Job files that are wrong in every way: the command line, the jobs and the logbook stand, and say what is
// wrong. FORTITOR_FUZZ times as many in a longer run.
#include "fuzz/mutations.h"

#include "cli/commands.h"
#include "jobs/analysis.h"
#include "jobs/document.h"
#include "jobs/edits.h"
#include "jobs/exchange.h"
#include "jobs/pad.h"
#include "jobs/rehearsed.h"
#include "jobs/what_if.h"
#include "store/logbook.h"
#include "units/json_bounds.h"

#include <QCoreApplication>
#include <QTemporaryDir>

#include <gtest/gtest.h>

#include <chrono>
#include <cmath>
#include <cstdlib>
#include <fstream>

namespace fortitor {
namespace {

int rounds(int usual)
{
    const char* more = std::getenv("FORTITOR_FUZZ");
    return usual * std::max(1, more ? std::atoi(more) : 1);
}

std::shared_ptr<const Record> pulled()
{
    Record record;
    for (const char* name : {"time", "force", "extension", "displacement"})
        record.add(name);
    for (int i = 0; i < 160; ++i) {
        const double e = 0.0001 * i;
        const double stress = e < 0.003 ? 70000 * e : 210 + 4000 * (e - 0.003);
        for (const auto& [c, v] : {std::pair{0, 0.1 * i}, {1, 78.8 * stress}, {2, 50 * e}, {3, 80 * e}})
            record.channels[static_cast<size_t>(c)].values.append(v);
    }
    return std::make_shared<const Record>(std::move(record));
}

/// All that is done with a job when it is opened, short of the window.
bool tried(const Json& json)
{
    const auto job = readJob(json);
    if (!job) {
        EXPECT_FALSE(job.problem().place.empty());
        EXPECT_FALSE(job.problem().wanted.empty()) << job.problem().text();
        EXPECT_LT(job.problem().text().size(), 60000u);
        return false;
    }
    static const auto record = pulled();
    JobOutcome outcome;
    for (const Specimen& s : job->specimens)
        outcome.specimens.push_back(
            analyseSpecimen(s, *job, s.readings ? std::make_shared<const Record>(*s.readings) : record));
    analyseSet(*job, outcome);
    EXPECT_FALSE(resultsJson(*job, outcome).dump().empty());
    for (const SpecimenOutcome& s : outcome.specimens)
        if (s.outcome)
            for (const Result& r : s.outcome->results) {
                EXPECT_TRUE(std::isfinite(r.value.value_or(0))) << r.symbol << " of " << json.dump();
            }
    auto document = JobDocument::fromJson(json);
    EXPECT_TRUE(document);
    for (size_t i = 0; document && i < document->job().specimens.size(); ++i) {
        (void)whatIfItems(*document, i);
        (void)padTable(*document, i);
        (void)rehearsedOf(json["specimens"][i]);
        (void)edits::stepDone(*document, i, "x");
        for (const Command& command :
             {edits::note(*document, i, "fracture", "flat"), edits::settle(*document, i, "c", "a", "b", "d"),
              edits::unsettle(*document, i, "c"), edits::exclude(*document, i, "why"),
              edits::step(*document, i, "x", true)})
            if (document->apply(command))
                document->undo();
    }
    (void)withoutRecordFiles(json);
    return true;
}

TEST(JobFuzz, EachKeyOfEachKind)
{
    int read = 0;
    int refused = 0;
    for (const Json& job : test::everyKeyJobs()) {
        ASSERT_TRUE(readJob(job)) << readJob(job).problem().text();
        for (const std::string& place : test::placesOf(job))
            for (size_t kind = 0; kind < test::mutationKinds; ++kind) {
                SCOPED_TRACE(place + " kind " + std::to_string(kind));
                try {
                    ++(tried(test::mutated(job, place, kind)) ? read : refused);
                } catch (const std::exception& e) {
                    ADD_FAILURE() << e.what();
                }
                if (testing::Test::HasFatalFailure())
                    return;
            }
    }
    EXPECT_GT(read, 300);
    EXPECT_GT(refused, 1000);
}

TEST(JobFuzz, SeveralAtOnce)
{
    Random random(11);
    const auto jobs = test::everyKeyJobs();
    for (int i = 0; i < rounds(1500); ++i) {
        const Json job = test::mutatedAtRandom(jobs[static_cast<size_t>(i) % jobs.size()], random);
        try {
            (void)tried(job);
        } catch (const std::exception& e) {
            ADD_FAILURE() << e.what() << " by " << job.dump().substr(0, 4000);
        }
    }
}

TEST(JobFuzz, CommandLineAndLogbook)
{
    QTemporaryDir folder;
    auto book = Logbook::open(folder.filePath("book.sqlite"));
    ASSERT_TRUE(book);
    Random random(12);
    const auto jobs = test::everyKeyJobs();
    const std::string file = folder.filePath("job.json").toStdString();
    for (int i = 0; i < rounds(200); ++i) {
        const Json job = test::mutatedAtRandom(jobs[static_cast<size_t>(i) % jobs.size()], random);
        try {
            std::ofstream(file) << job.dump(-1, ' ', false, Json::error_handler_t::replace);
            const int code = cli::analyse(file, folder.filePath("out.json").toStdString(), false);
            EXPECT_TRUE(code == 0 || (code >= 3 && code <= 5)) << code << " by " << job.dump();
            auto id = (*book)->addJob(job, "operator A", "fuzz");
            // Deep on top of deep is refused; what is taken can be read back.
            EXPECT_EQ(static_cast<bool>(id), !jsonBeyondBounds(job.dump(), "job"));
            if (!id)
                continue;
            const auto back = (*book)->loadJob(*id);
            ASSERT_TRUE(back) << back.problem().text();
            EXPECT_EQ(*back, job);
        } catch (const std::exception& e) {
            ADD_FAILURE() << e.what() << " by " << job.dump().substr(0, 4000);
        }
    }
    EXPECT_TRUE((*book)->journal(0, 10).size() == 10);
    // A job as deep as may be is one the journal can be replayed for.
    Json deep = 1;
    for (size_t i = 0; i + 2 < deepestJson; ++i)
        deep = Json::array({deep});
    Json job = jobs.back();
    job["job"]["number"] = "J-deep";
    job["truth"] = {{"deep", deep}};
    ASSERT_TRUE((*book)->addJob(job, "operator A", "deep"));
    for (const LogbookFinding& f : (*book)->check())
        EXPECT_FALSE(f.place.contains("J-deep") || f.words.contains("can't be carried out"))
            << f.place.toStdString() << f.words.toStdString();
}

TEST(JobFuzz, CutShortAndStruckThrough)
{
    Random random(13);
    for (const Json& job : test::everyKeyJobs()) {
        const std::string text = job.dump();
        for (int i = 0; i < rounds(250); ++i) {
            std::string bytes = text;
            const int hits = 1 + static_cast<int>(random.between(0, 6));
            for (int k = 0; k < hits; ++k)
                bytes[std::min(bytes.size() - 1,
                               static_cast<size_t>(random.between(0, static_cast<double>(bytes.size()))))] =
                    static_cast<char>(random.between(0, 255.9));
            if (i % 3 == 0)
                bytes.resize(
                    std::min(bytes.size(), static_cast<size_t>(random.between(0, static_cast<double>(bytes.size())))));
            try {
                if (const auto json = parseJson(bytes, "job"))
                    (void)tried(*json);
            } catch (const std::exception& e) {
                ADD_FAILURE() << e.what();
            }
        }
    }
}

TEST(DeepJson, IsRefusedByNameWhereverItStands)
{
    for (const char* place : {"title", "specimens", "requirements", "option"}) {
        for (const size_t depth : {deepestJson + 1, size_t{100000}, size_t{1000000}}) {
            const std::string brackets = std::string(depth, '[') + std::string(depth, ']');
            const std::string value = R"({"fortitor_job": 1, "method": "tension-metal", )"
                + (std::string(place) == "title"        ? R"("job": {"title": )" + brackets + "}"
                       : std::string(place) == "option" ? R"("options": {"yield": )" + brackets + "}"
                                                        : "\"" + std::string(place) + "\": " + brackets)
                + "}";
            const auto json = parseJson(value, "job");
            ASSERT_FALSE(json) << place << depth;
            EXPECT_NE(json.problem().text().find("nested deeper than 64"), std::string::npos) << json.problem().text();
        }
    }
    // Brackets inside quotes are no nesting, and 64 levels are.
    EXPECT_TRUE(parseJson("{\"a\": \"" + std::string(1000, '[') + "\\\"[[[\"}", "job"));
    EXPECT_TRUE(parseJson(std::string(64, '[') + std::string(64, ']'), "job"));
    EXPECT_FALSE(parseJson(std::string(65, '[') + std::string(65, ']'), "job"));
    EXPECT_TRUE(jsonBeyondBounds(std::string(longestJson + 1, ' '), "job"));
    EXPECT_FALSE(jsonBeyondBounds(std::string(longestJson, ' '), "job"));
}

} // namespace
} // namespace fortitor

int main(int argc, char** argv)
{
    QCoreApplication app(argc, argv);
    testing::InitGoogleTest(&argc, argv);
    return RUN_ALL_TESTS();
}
