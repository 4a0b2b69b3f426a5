// SPDX-License-Identifier: GPL-3.0-or-later
// The job file both ways, commands with undo, analysis of a set.
#include "jobs/analysis.h"
#include "jobs/document.h"
#include "jobs/edits.h"
#include "jobs/exchange.h"

#include "sim/catalogue.h"
#include "sim/random.h"

#include <gtest/gtest.h>

#include <sys/resource.h>
#include <unistd.h>

#include <csignal>
#include <filesystem>
#include <fstream>
#include <sstream>

namespace fortitor {
namespace {

std::vector<std::string> textsOf(const Job& job, const JobOutcome& outcome)
{
    std::vector<std::string> texts;
    for (const SpecimenOutcome& s : outcome.specimens)
        texts.push_back(specimenText(s, job));
    return texts;
}

namespace fs = std::filesystem;

const char* const contractExample = R"({
  "fortitor_job": 1,
  "job": { "number": "J-0101", "title": "Rigger tube, incoming lot" },
  "method": "tension-metal",
  "material": { "name": "6082-T6", "published": { "E": "70 GPa" } },
  "options": { "yield_offset": "0.2 %" },
  "requirements": [ { "symbol": "Rm", "min": "290 MPa" } ],
  "specimens": [
    { "label": "A1",
      "dimensions": {
        "shape": "round",
        "diameter": ["10.02 mm", "10.01 mm", "0.3945 in"],
        "gauge_length": "50 mm",
        "extensometer_gauge_length": "50 mm",
        "final_gauge_length": "56.4 mm",
        "final_diameter": ["7.31 mm", "7.29 mm"] },
      "record": { "file": "A1.csv" } }
  ]
})";

Json exampleJson()
{
    return *parseJson(contractExample, "example");
}

std::string whyNot(const std::string& text)
{
    auto json = parseJson(text, "job.json");
    if (!json)
        return json.problem().text();
    auto job = readJob(*json);
    EXPECT_FALSE(job) << text;
    return job ? "" : job.problem().text();
}

std::string changed(const std::string& from, const std::string& to)
{
    std::string text = contractExample;
    const auto at = text.find(from);
    EXPECT_NE(at, std::string::npos) << from;
    return text.replace(at, from.size(), to);
}

struct Folder {
    Folder()
        : path(fs::temp_directory_path()
               / ("fortitor-job-" + std::to_string(::getpid()) + "-" + std::to_string(counter++)))
    {
        fs::create_directories(path);
    }
    ~Folder() { fs::remove_all(path); }
    [[nodiscard]] std::string file(const std::string& name) const { return (path / name).string(); }
    fs::path path;
    static inline int counter = 0;
};

std::string contents(const std::string& path)
{
    std::ifstream in(path, std::ios::binary);
    std::ostringstream text;
    text << in.rdbuf();
    return text.str();
}

TEST(Job, ReadsTheExample)
{
    auto job = readJob(exampleJson());
    ASSERT_TRUE(job) << job.problem().text();
    EXPECT_EQ(job->number, "J-0101");
    EXPECT_EQ(job->method->id, "tension-metal");
    ASSERT_EQ(job->specimens.size(), 1u);
    const SpecimenInput& in = job->specimens[0].input;
    EXPECT_NEAR(in.dimensions.at("diameter")[2].base, 0.3945 * 25.4, 1e-12);
    EXPECT_EQ(in.published.at("E"), 70000);
    EXPECT_EQ(job->requirements[0].min, 290);
    EXPECT_TRUE(job->notes.empty());
}

TEST(Job, EachMistakeIsNamedWithItsPlace)
{
    const std::pair<std::string, std::string> cases[] = {
        {changed("\"10.02 mm\"", "10.02"), "diameter"},
        {changed("\"50 mm\"", "\"50\""), "gauge_length"},
        {changed("\"50 mm\"", "\"50 kN\""), "force"},
        {changed("\"50 mm\"", "\"1,234.5 mm\""), "1,234.5"},
        {changed("\"tension-metal\"", "\"tension-cheese\""), "tension-cheese"},
        {changed("\"290 MPa\"", "\"290 mm\""), "requirements"},
        {changed("\"Rm\"", "\"Rq\""), "Rq"},
        {changed("\"label\": \"A1\",", ""), "label"},
        {changed("\"round\"", "\"oval\""), "oval"},
        {changed("\"fortitor_job\": 1", "\"fortitor_job\": 2"), "fortitor_job"},
        {changed("\"specimens\": [", "\"specimen\": ["), "specimens"},
        {changed("\"record\": { \"file\": \"A1.csv\" }",
                 "\"record\": { \"file\": \"A1.csv\" }, \"readings\": {\"force\": [\"1 N\"]}"),
         "both"},
        {changed("\"label\": \"A1\",", "\"label\": \"A1\", \"label\": \"A2\","), "twice"},
        {changed("\"yield_offset\": \"0.2 %\"", "\"yield_offset\": 0.2"), "yield_offset"},
        {"{", "line"},
        {"[1, 2]", "fortitor_job"},
        {"", "JSON"},
    };
    for (const auto& [text, word] : cases) {
        const std::string why = whyNot(text);
        EXPECT_NE(why.find(word), std::string::npos) << word << " not in: " << why;
    }
}

TEST(Job, ARepeatedLabelIsRefused)
{
    Json json = exampleJson();
    json["specimens"].push_back(json["specimens"][0]);
    const auto job = readJob(json);
    ASSERT_FALSE(job);
    EXPECT_NE(job.problem().text().find("A1"), std::string::npos);
}

TEST(Job, UnknownKeysAreKeptAndNoted)
{
    Json json = exampleJson();
    json["colour"] = "blue";
    json["specimens"][0]["mood"] = {{"today", 3}};
    auto document = JobDocument::fromJson(json);
    ASSERT_TRUE(document);
    EXPECT_EQ(document->job().notes.size(), 2u);
    ASSERT_TRUE(document->apply(edits::head(*document, "title", "Another")));
    EXPECT_EQ(document->json()["colour"], "blue");
    EXPECT_EQ(document->json()["specimens"][0]["mood"]["today"], 3);
}

TEST(Job, ReadingsKeyedByHandWithAGap)
{
    Json json = exampleJson();
    json["specimens"][0].erase("record");
    json["specimens"][0]["readings"] = {{"force", {"500 N", nullptr, "1500 N", "2000 N"}},
                                        {"strain", {"118 ue", "236 ue", "354 ue", "472 ue"}}};
    auto job = readJob(json);
    ASSERT_TRUE(job) << job.problem().text();
    ASSERT_TRUE(job->specimens[0].readings);
    EXPECT_EQ(job->specimens[0].readings->rows(), 4u);
    EXPECT_TRUE(std::isnan(job->specimens[0].readings->find("force")->values[1]));
    json["specimens"][0]["readings"]["strain"].push_back("590 ue");
    EXPECT_FALSE(readJob(json));
}

TEST(Job, MutatedFilesNeverCrash)
{
    Random random(99);
    size_t read = 0;
    size_t refused = 0;
    for (int round = 0; round < 4000; ++round) {
        std::string text = contractExample;
        for (int h = 0; h < 1 + static_cast<int>(random.between(0, 5)); ++h) {
            const auto at = static_cast<size_t>(random.between(0, static_cast<double>(text.size())));
            if (random.even() < 0.5)
                text[at] = static_cast<char>(random.between(1, 256));
            else
                text.erase(at, static_cast<size_t>(random.between(1, 12)));
        }
        auto json = parseJson(text, "mutated");
        if (json) {
            auto job = readJob(*json);
            ++(job ? read : refused);
            if (!job) {
                EXPECT_FALSE(job.problem().text().empty());
            }
        }
    }
    // Neither may stand for all: what is only a changed letter in a title still reads.
    EXPECT_GT(read, 100u);
    EXPECT_GT(refused, 100u);
}

TEST(Document, UndoTakesEverythingBackInTurn)
{
    auto document = JobDocument::fromJson(exampleJson());
    ASSERT_TRUE(document);
    const Json start = document->json();
    std::vector<Json> states{start};
    const auto act = [&](const Command& command) {
        ASSERT_TRUE(document->apply(command)) << command.words;
        states.push_back(document->json());
    };
    const Method& method = *document->job().method;
    act(edits::head(*document, "title", "New title"));
    act(edits::material(*document, "steel S355"));
    act(*edits::reading(*document, 0, *method.findField("diameter"), 1, "10.03"));
    act(*edits::reading(*document, 0, *method.findField("grip_distance"), 0, "3 1/2 in"));
    act(edits::addSpecimen(*document));
    act(edits::option(*document, "yield", "offset"));
    act(edits::specimenOption(*document, 0, "slope", "manual 40 MPa 150 MPa", ""));
    act(*edits::requirement(*document, "A", "8 %", ""));
    act(edits::settle(*document, 0, "nominal-dimension", "operator A", "measured again", "2026-11-24"));
    act(edits::exclude(*document, 1, "grip slipped"));
    act(edits::note(*document, 0, "fracture", "slant"));
    act(edits::step(*document, 0, "Zero", true));
    act(edits::removeSpecimen(*document, 1, "never cut"));
    for (size_t i = states.size() - 1; i-- > 0;) {
        ASSERT_TRUE(document->undo());
        EXPECT_EQ(document->json(), states[i]) << i;
    }
    EXPECT_FALSE(document->undo());
    for (size_t i = 1; i < states.size(); ++i) {
        ASSERT_TRUE(document->redo());
        EXPECT_EQ(document->json(), states[i]) << i;
    }
    EXPECT_FALSE(document->redo());
}

TEST(Document, ACommandThatWouldBreakTheJobChangesNothing)
{
    auto document = JobDocument::fromJson(exampleJson());
    const Json before = document->json();
    EXPECT_FALSE(document->apply(
        CommandBuilder(*document, "nonsense").set("/specimens/0/dimensions/diameter", Json::array({"ten"})).take()));
    EXPECT_FALSE(document->apply(CommandBuilder(*document, "no label").set("/specimens/0/label", std::nullopt).take()));
    EXPECT_EQ(document->json(), before);
    EXPECT_FALSE(document->canUndo());
}

TEST(Document, ANewCommandEndsTheRedo)
{
    auto document = JobDocument::fromJson(exampleJson());
    ASSERT_TRUE(document->apply(edits::head(*document, "title", "One")));
    document->undo();
    EXPECT_TRUE(document->canRedo());
    ASSERT_TRUE(document->apply(edits::head(*document, "title", "Two")));
    EXPECT_FALSE(document->canRedo());
}

TEST(Edits, ReadingsKeepWhatWasTyped)
{
    auto document = JobDocument::fromJson(edits::newJob("J-1", "t", *findMethod("tension-metal"), 2));
    ASSERT_TRUE(document);
    const FieldSpec& diameter = *document->job().method->findField("diameter");
    const auto key = [&](size_t place, const std::string& text) {
        auto command = edits::reading(*document, 0, diameter, place, text);
        ASSERT_TRUE(command) << command.problem().text();
        ASSERT_TRUE(document->apply(*command));
    };
    key(2, "10,02");
    key(0, "0.3945 in");
    key(1, "10.01");
    const Json& list = document->json()["specimens"][0]["dimensions"]["diameter"];
    EXPECT_EQ(list, Json::array({"0.3945 in", "10.01 mm", "10,02 mm"}));
    EXPECT_NEAR(document->job().specimens[0].input.dimensions.at("diameter")[2].base, 10.02, 1e-12);
    key(1, "");
    EXPECT_EQ(document->job().specimens[0].input.dimensions.at("diameter").size(), 2u);
    key(2, "");
    key(0, "");
    EXPECT_FALSE(document->json()["specimens"][0]["dimensions"].contains("diameter"));
    EXPECT_FALSE(edits::reading(*document, 0, diameter, 0, "ten"));
    EXPECT_FALSE(edits::reading(*document, 0, diameter, 0, "10 kN"));
}

TEST(Edits, NewSpecimensTakeTheLengthsOfTheLotButNoReadings)
{
    auto document = JobDocument::fromJson(exampleJson());
    ASSERT_TRUE(document->apply(edits::addSpecimen(*document)));
    const Json& added = document->json()["specimens"][1];
    EXPECT_EQ(added["label"], "A2");
    EXPECT_EQ(added["dimensions"]["gauge_length"], "50 mm");
    EXPECT_FALSE(added["dimensions"].contains("diameter"));
    EXPECT_FALSE(added["dimensions"].contains("final_gauge_length"));
}

TEST(Edits, LabelsCountOn)
{
    Job job;
    const auto next = [&](const std::string& label) {
        job.specimens.resize(1);
        job.specimens[0].label = label;
        return edits::nextLabel(job);
    };
    EXPECT_EQ(next("A5"), "A6");
    EXPECT_EQ(next("12"), "13");
    EXPECT_EQ(next("left"), "left-2");
    EXPECT_EQ(next("B9"), "B10");
    EXPECT_FALSE(next("99999999999999999999").empty());
}

TEST(Edits, RequirementsWithOrWithoutUnit)
{
    auto document = JobDocument::fromJson(exampleJson());
    ASSERT_TRUE(document->apply(*edits::requirement(*document, "A", "8", "")));
    EXPECT_EQ(document->json()["requirements"][1]["min"], "8 %");
    ASSERT_TRUE(document->apply(*edits::requirement(*document, "Rm", "290 MPa", "340 MPa")));
    EXPECT_EQ(document->job().requirements[0].max, 340);
    ASSERT_TRUE(document->apply(*edits::requirement(*document, "Rm", "", "")));
    EXPECT_EQ(document->job().requirements.size(), 1u);
    EXPECT_FALSE(edits::requirement(*document, "A", "8 kN", ""));
    EXPECT_FALSE(edits::requirement(*document, "none", "8", ""));
}

/// A job of simulated bars in a folder of its own.
Json simulatedJob(const Folder& folder, const char* name, int count)
{
    const CatalogueEntry& entry = *findCatalogueEntry(name);
    Json job = edits::newJob("J-7", "simulated", *findMethod(entry.method), 0);
    job["material"] = {{"name", entry.material}};
    for (int i = 1; i <= count; ++i) {
        auto run = simulateRun(entry, static_cast<std::uint64_t>(i), 2000);
        const std::string file = "S" + std::to_string(i) + ".csv";
        EXPECT_TRUE(writeFileWhole(folder.file(file), recordCsv(run.record)));
        Json specimen{{"label", "S" + std::to_string(i)}, {"record", {{"file", file}}}};
        specimen["dimensions"]["shape"] = "round";
        for (const auto& [key, values] : run.specimen.dimensions)
            specimen["dimensions"][key] = values;
        job["specimens"].push_back(specimen);
    }
    return job;
}

TEST(Analysis, ASetOfBars)
{
    const Folder folder;
    Json json = simulatedJob(folder, "rigger-tube", 4);
    json["requirements"] = Json::array({{{"symbol", "Rm"}, {"min", "250 MPa"}}});
    auto job = readJob(json);
    ASSERT_TRUE(job);
    const JobOutcome outcome = analyseJob(*job, folder.path.string(), false);
    ASSERT_EQ(outcome.specimens.size(), 4u);
    for (const auto& s : outcome.specimens) {
        ASSERT_TRUE(s.outcome);
        EXPECT_EQ(s.verdict, Verdict::Pass);
    }
    const auto Rm = std::ranges::find(outcome.batch, "Rm", &SetFigure::symbol);
    ASSERT_NE(Rm, outcome.batch.end());
    EXPECT_EQ(Rm->statistics.n, 4u);
    EXPECT_TRUE(Rm->grubbs);
}

TEST(Analysis, ExcludedSpecimensLeaveTheStatisticsAndStayInTheList)
{
    const Folder folder;
    Json json = simulatedJob(folder, "rigger-tube", 4);
    json["specimens"][1]["excluded"] = "grip slipped";
    auto job = readJob(json);
    const JobOutcome outcome = analyseJob(*job, folder.path.string(), false);
    EXPECT_EQ(outcome.specimens.size(), 4u);
    EXPECT_EQ(std::ranges::find(outcome.batch, "Rm", &SetFigure::symbol)->statistics.n, 3u);
    const Json results = resultsJson(*job, outcome);
    EXPECT_EQ(resultsText(*job, outcome, textsOf(*job, outcome)), results.dump(2) + "\n")
        << "put together piece by piece, to the byte";
    EXPECT_EQ(results["specimens"][1]["excluded"], "grip slipped");
    EXPECT_FALSE(results["specimens"][1]["results"]["Rm"].is_null());
}

TEST(Analysis, ARecordThatIsGoneIsOneProblemAmongOthers)
{
    const Folder folder;
    Json json = simulatedJob(folder, "rigger-tube", 3);
    fs::remove(folder.path / "S2.csv");
    auto job = readJob(json);
    const JobOutcome outcome = analyseJob(*job, folder.path.string(), false);
    EXPECT_TRUE(outcome.specimens[0].outcome);
    ASSERT_TRUE(outcome.specimens[1].problem);
    EXPECT_NE(outcome.specimens[1].problem->text().find("S2.csv"), std::string::npos);
    const Json results = resultsJson(*job, outcome);
    EXPECT_EQ(resultsText(*job, outcome, textsOf(*job, outcome)), results.dump(2) + "\n")
        << "put together piece by piece, to the byte";
    EXPECT_TRUE(results["specimens"][1].contains("problem"));
    EXPECT_TRUE(results["specimens"][1]["results"]["Rm"].is_null());
}

TEST(Analysis, PathsOutsideTheFolderAreRefused)
{
    const Folder folder;
    Json json = simulatedJob(folder, "rigger-tube", 1);
    for (const char* path : {"/etc/hostname", "../elsewhere.csv", "sub/../../up.csv"}) {
        json["specimens"][0]["record"]["file"] = path;
        auto job = readJob(json);
        const auto record = loadRecord(job->specimens[0], *job->method, folder.path.string(), false);
        ASSERT_FALSE(record) << path;
        EXPECT_NE(record.problem().text().find("--allow-outside"), std::string::npos) << record.problem().text();
    }
}

TEST(Analysis, SettledRejectsNoLongerHoldTheVerdictOpen)
{
    const Folder folder;
    Json json = simulatedJob(folder, "rigger-tube", 1);
    json["requirements"] = Json::array({{{"symbol", "Rm"}, {"min", "250 MPa"}}});
    json["specimens"][0]["dimensions"]["final_diameter"] = {"12 mm"};
    auto open = readJob(json);
    EXPECT_EQ(analyseJob(*open, folder.path.string(), false).specimens[0].verdict, Verdict::Open);
    json["specimens"][0]["settled"] =
        Json::array({{{"code", "neck-larger"}, {"who", "operator A"}, {"why", "neck not measured, Z not asked"}}});
    auto settled = readJob(json);
    EXPECT_EQ(analyseJob(*settled, folder.path.string(), false).specimens[0].verdict, Verdict::Pass);
}

TEST(Analysis, OneSpecimenMayStandApartFromTheOptionsOfTheJob)
{
    const Folder folder;
    Json json = simulatedJob(folder, "rigger-tube", 2);
    json["specimens"][1]["options"] = {{"peak", "raw"}};
    auto job = readJob(json);
    EXPECT_FALSE(job->specimens[0].input.options.contains("peak"));
    EXPECT_EQ(job->specimens[1].input.options.at("peak"), "raw");
}

TEST(Analysis, AlternativesSayWhatOtherOptionsGive)
{
    const Folder folder;
    auto job = readJob(simulatedJob(folder, "rigger-tube", 1));
    const auto record = loadRecord(job->specimens[0], *job->method, folder.path.string(), false);
    ASSERT_TRUE(record);
    const auto list = alternatives(job->specimens[0], *job, *record, "Rm");
    EXPECT_TRUE(std::ranges::any_of(list, [](const Alternative& a) { return a.option == "force_zero"; }));
    for (const Alternative& a : list)
        EXPECT_GT(a.value, 0);
    EXPECT_TRUE(alternatives(job->specimens[0], *job, nullptr, "Rm").empty());
}

TEST(Exchange, ALogbookJobGoesOutAndComesBack)
{
    const Folder folder;
    const Json json = simulatedJob(folder, "backstay-twin", 2);
    auto job = readJob(json);
    std::vector<std::shared_ptr<const Record>> records;
    for (const Specimen& s : job->specimens)
        records.push_back(*loadRecord(s, *job->method, folder.path.string(), false));
    const JobOutcome before = analyseJob(*job, folder.path.string(), false);
    const Folder out;
    Json withExtra = json;
    withExtra["colour"] = "green";
    ASSERT_TRUE(writeExchange(out.file("job.json"), withExtra, *job, [&](size_t i) { return records[i]; }));
    auto back = readJsonFile(out.file("job.json"));
    ASSERT_TRUE(back);
    EXPECT_EQ((*back)["colour"], "green");
    auto again = readJob(*back);
    ASSERT_TRUE(again) << again.problem().text();
    const JobOutcome after = analyseJob(*again, out.path.string(), false);
    for (size_t i = 0; i < 2; ++i)
        for (const Result& r : before.specimens[i].outcome->results) {
            const Result* other = after.specimens[i].outcome->find(r.symbol);
            ASSERT_EQ(r.value.has_value(), other->value.has_value()) << r.symbol;
            if (r.value) {
                EXPECT_DOUBLE_EQ(*r.value, *other->value) << r.symbol;
            }
        }
}

TEST(WriteFile, WholeOrNotAtAll)
{
    const Folder folder;
    ASSERT_TRUE(writeFileWhole(folder.file("a.json"), "first"));
    EXPECT_EQ(contents(folder.file("a.json")), "first");
    EXPECT_FALSE(writeFileWhole(folder.file("no/such/folder/a.json"), "x"));
    // A disk that is full, as the system says it: no file may grow.
    std::signal(SIGXFSZ, SIG_IGN);
    rlimit before{};
    getrlimit(RLIMIT_FSIZE, &before);
    rlimit small = before;
    small.rlim_cur = 1000;
    setrlimit(RLIMIT_FSIZE, &small);
    const auto full = writeFileWhole(folder.file("a.json"), std::string(100000, 'x'));
    setrlimit(RLIMIT_FSIZE, &before);
    ASSERT_FALSE(full);
    EXPECT_NE(full.problem().text().find("unchanged"), std::string::npos);
    EXPECT_EQ(contents(folder.file("a.json")), "first");
    EXPECT_EQ(std::distance(fs::directory_iterator(folder.path), fs::directory_iterator()), 1);
}

} // namespace
} // namespace fortitor
