// SPDX-License-Identifier: GPL-3.0-or-later
// Records and sizes that no figure may come from in silence.
#include "jobs/analysis.h"
#include "jobs/record_check.h"
#include "methods/tension_metal/proof_symbol.h"
#include "methods/support.h"
#include "sim/catalogue.h"

#include <gtest/gtest.h>

#include <cmath>

namespace fortitor {
namespace {

Json jobOf(const char* method, const Json& dimensions)
{
    return {{"fortitor_job", 1},
            {"method", method},
            {"specimens", Json::array({{{"label", "A1"}, {"dimensions", dimensions}}})}};
}

Job read(const Json& json)
{
    auto job = readJob(json);
    EXPECT_TRUE(job) << job.problem().text();
    return *job;
}

const Json roundBar{
    {"shape", "round"}, {"diameter", "10 mm"}, {"gauge_length", "50 mm"}, {"extensometer_gauge_length", "50 mm"}};

Record tensile(std::uint64_t seed = 3)
{
    return simulateRun(*findCatalogueEntry("rigger-tube"), seed, 2000).record;
}

SpecimenOutcome analysed(const Json& json, const Record& record)
{
    const Job job = read(json);
    return analyseSpecimen(job.specimens[0], job, std::make_shared<const Record>(record));
}

bool remarked(const SpecimenOutcome& s, const char* code)
{
    return s.outcome && s.outcome->remarked(code);
}

TEST(RecordCheck, AClippedForceGivesNoStrengthAndStillAModulus)
{
    Record record = tensile();
    const SpecimenOutcome sound = analysed(jobOf("tension-metal", roundBar), record);
    EXPECT_FALSE(remarked(sound, "force-clipped"));
    Channel& force = *std::ranges::find(record.channels, "force", &Channel::name);
    double greatest = 0;
    for (const double v : force.values.gather())
        greatest = std::max(greatest, v);
    Column cut;
    for (const double v : force.values.gather())
        cut.append(std::min(v, 0.93 * greatest));
    force.values = std::move(cut);
    const SpecimenOutcome s = analysed(jobOf("tension-metal", roundBar), record);
    ASSERT_TRUE(remarked(s, "force-clipped"));
    for (const char* symbol : {"Rm", "Agt", "Ag", "n", "Ut"})
        EXPECT_FALSE(s.outcome->find(symbol)->value) << symbol;
    ASSERT_TRUE(s.outcome->find("E")->value);
    EXPECT_NEAR(*s.outcome->find("E")->value / *sound.outcome->find("E")->value, 1, 0.002);
    EXPECT_EQ(s.verdict, Verdict::Open);
}

TEST(RecordCheck, NoSoundSimulatedRecordIsTouched)
{
    int records = 0;
    for (const CatalogueEntry& entry : catalogue()) {
        if (!findMethod(entry.method))
            continue;
        for (std::uint64_t seed = 1; seed <= 6; ++seed) {
            const auto record = std::make_shared<const Record>(simulateRun(entry, seed).record);
            const CheckedRecord checked = checkRecord(*findMethod(entry.method), record, false);
            EXPECT_TRUE(checked.remarks.empty()) << entry.name << " " << seed << ": " << checked.remarks.front().text;
            EXPECT_EQ(checked.record, record);
            ++records;
        }
    }
    EXPECT_GT(records, 50);
}

TEST(RecordCheck, ReadingsThatAreMissingAtTheTopAreSaid)
{
    auto in = test::simulatedInput("rigger-tube", 4);
    Record cut = *in.record;
    auto force = std::ranges::find(cut.channels, "force", &Channel::name);
    const auto values = force->values.gather();
    const double top = *std::ranges::max_element(values);
    Column gaps;
    for (const double v : values)
        gaps.append(v > 0.985 * top ? std::nan("") : v);
    force->values = std::move(gaps);
    const Method& method = *findMethod("tension-metal");
    const auto checked = checkRecord(method, std::make_shared<const Record>(cut), false);
    const auto remark = std::ranges::find(checked.remarks, "gap-at-maximum", &Remark::code);
    ASSERT_NE(remark, checked.remarks.end());
    EXPECT_NE(std::ranges::find(remark->symbols, "Rm"), remark->symbols.end());
    EXPECT_TRUE(checkRecord(method, in.record, false).remarks.empty());
}

TEST(RecordCheck, ALoadThatNeverChangesGivesNothing)
{
    Record record = tensile();
    for (const double value : {0.0, 217.5}) {
        Channel& force = *std::ranges::find(record.channels, "force", &Channel::name);
        const size_t rows = record.rows();
        force.values = Column();
        for (size_t i = 0; i < rows; ++i)
            force.values.append(i % 9 == 4 ? std::nan("") : value);
        const SpecimenOutcome s = analysed(jobOf("tension-metal", roundBar), record);
        ASSERT_TRUE(remarked(s, "load-constant"));
        EXPECT_FALSE(remarked(s, "no-record"));
        for (const Result& r : s.outcome->results)
            EXPECT_FALSE(r.value) << r.symbol;
    }
    Json keyed = jobOf("poisson", {{"shape", "rectangular"}, {"width", "20 mm"}, {"thickness", "3 mm"}});
    keyed["specimens"][0]["readings"] = {{"force", {"0 N", "0 N", "0 N"}},
                                         {"strain", {"0 ue", "5 ue", "9 ue"}},
                                         {"transverse_strain", {"0 ue", "-2 ue", "-3 ue"}}};
    const Job job = read(keyed);
    const SpecimenOutcome s =
        analyseSpecimen(job.specimens[0], job, std::make_shared<const Record>(*job.specimens[0].readings));
    EXPECT_TRUE(remarked(s, "load-constant"));
}

TEST(RecordCheck, TimeInDisorderGivesNoRates)
{
    Record record = tensile();
    const SpecimenOutcome sound = analysed(jobOf("tension-metal", roundBar), record);
    Channel& time = *std::ranges::find(record.channels, "time", &Channel::name);
    Column restarted;
    for (size_t i = 0; i < record.rows(); ++i)
        restarted.append(time.values[i % (record.rows() / 2)]);
    time.values = std::move(restarted);
    const SpecimenOutcome s = analysed(jobOf("tension-metal", roundBar), record);
    ASSERT_TRUE(remarked(s, "time-disorder"));
    EXPECT_TRUE(s.outcome->find("Rm")->value);
    for (const Remark& r : s.outcome->remarks)
        EXPECT_FALSE(r.code.starts_with("rate")) << r.text;
    EXPECT_FALSE(remarked(sound, "time-disorder"));
}

TEST(RecordCheck, ImpossibleSizesAreRefusedByName)
{
    for (const auto& [key, value] : std::map<std::string, Json>{{"gauge_length", "0 mm"},
                                                                {"extensometer_gauge_length", "0 mm"},
                                                                {"diameter", {"10 mm", "0 mm"}},
                                                                {"final_gauge_length", "0 in"}}) {
        Json dimensions = roundBar;
        dimensions[key] = value;
        const SpecimenOutcome s = analysed(jobOf("tension-metal", dimensions), tensile());
        ASSERT_TRUE(s.problem) << key;
        EXPECT_NE(s.problem->text().find(key), std::string::npos) << s.problem->text();
    }
    const auto tube = [](const char* wall) {
        return jobOf(
            "tension-metal",
            {{"shape", "tube"}, {"outer_diameter", "20 mm"}, {"wall", wall}, {"extensometer_gauge_length", "50 mm"}});
    };
    EXPECT_TRUE(analysed(tube("10.01 mm"), tensile()).problem);
    EXPECT_TRUE(analysed(tube("16 mm"), tensile()).problem);
    EXPECT_FALSE(analysed(tube("10 mm"), tensile()).problem) << "a tube without a bore is a bar";
    EXPECT_FALSE(analysed(tube("2 mm"), tensile()).problem);
}

TEST(RecordCheck, AnyProofStrengthIsJudgedAndNonsenseRefused)
{
    EXPECT_DOUBLE_EQ(*proofOffset("Rp1.0"), 0.01);
    EXPECT_DOUBLE_EQ(*proofOffset("Rp0.05"), 0.0005);
    for (const char* no : {"Rp", "Rpfoo", "Rp0", "Rp-1", "Rp1e3", "Rp9", "Rm", "Rp0,2", "Rp 1"})
        EXPECT_FALSE(proofOffset(no)) << no;
    Json json = jobOf("tension-metal", roundBar);
    json["requirements"] =
        Json::array({{{"symbol", "Rp1.0"}, {"min", "1 MPa"}}, {{"symbol", "Rp0.1"}, {"min", "9000 MPa"}}});
    const SpecimenOutcome s = analysed(json, tensile());
    ASSERT_TRUE(s.outcome->find("Rp1.0") && s.outcome->find("Rp1.0")->value);
    ASSERT_TRUE(s.outcome->find("Rp0.1") && s.outcome->find("Rp0.1")->value);
    EXPECT_LT(*s.outcome->find("Rp0.1")->value, *s.outcome->find("Rp0.2")->value);
    EXPECT_GT(*s.outcome->find("Rp1.0")->value, *s.outcome->find("Rp0.2")->value);
    EXPECT_EQ(s.checks[0].verdict, Verdict::Pass);
    EXPECT_EQ(s.checks[1].verdict, Verdict::Fail);
    // The same figure as when that offset is the job's own.
    Json own = jobOf("tension-metal", roundBar);
    own["options"] = {{"yield_offset", "1 %"}};
    EXPECT_DOUBLE_EQ(*analysed(own, tensile()).outcome->find("Rp1")->value, *s.outcome->find("Rp1.0")->value);
    for (const auto& [method, symbol] :
         {std::pair("tension-metal", "Rpfoo"), {"crush", "Rp0.2"}, {"tension-metal", "Rn"}}) {
        Json bad = jobOf(method, Json::object());
        bad["requirements"] = Json::array({{{"symbol", symbol}, {"min", "1 MPa"}}});
        const auto refused = readJob(bad);
        ASSERT_FALSE(refused) << symbol;
        EXPECT_NE(refused.problem().text().find(symbol), std::string::npos);
    }
}

TEST(RecordCheck, ABuckledPieceLeavesTheSet)
{
    ASSERT_TRUE(std::ranges::find(findMethod("compression")->leavesSet, "buckled")
                != findMethod("compression")->leavesSet.end());
}

TEST(SetRemarks, BoundsOfAnOddSpreadCarryACaution)
{
    Job job;
    job.method = findMethod("tension-metal");
    const auto set = [&](const std::vector<double>& values) {
        JobOutcome out;
        for (const double v : values) {
            SpecimenOutcome s;
            s.label = std::to_string(out.specimens.size());
            s.outcome.emplace();
            s.outcome->results.push_back({"Rm", findUnit("MPa", Kind::Stress), v, {}, {}});
            out.specimens.push_back(std::move(s));
        }
        analyseSet(job, out);
        return std::ranges::any_of(out.remarks, [](const Remark& r) { return r.code == "bounds-doubted"; });
    };
    EXPECT_TRUE(set({300, 300.1, 300.2, 299.9, 300, 300.1, 340, 340.2, 339.8, 340.1, 340, 339.9, 300, 340}));
    EXPECT_FALSE(set({301, 304, 307, 309, 311, 313, 316, 319, 305, 310, 312, 308}));
}

TEST(SetRemarks, AMissingOperatorNoteIsSaidOnce)
{
    Job job;
    job.method = findMethod("tension-metal");
    JobOutcome out;
    for (int i = 0; i < 6; ++i) {
        Specimen one;
        one.label = std::to_string(i);
        if (i != 3)
            one.input.notes["operator"] = i % 2 ? "operator A" : "operator B";
        job.specimens.push_back(one);
        SpecimenOutcome s;
        s.label = one.label;
        s.outcome.emplace();
        for (const char* symbol : {"Rm", "E"})
            s.outcome->results.push_back({symbol, findUnit("MPa", Kind::Stress), 300.0 + i * i, {}, {}});
        out.specimens.push_back(std::move(s));
    }
    analyseSet(job, out);
    const auto said = std::ranges::count(out.remarks, "note-missing", &Remark::code);
    EXPECT_EQ(said, 1) << "operators are noted for some; batches for none, which says nothing";
    EXPECT_TRUE(out.batch.front().sources.empty());
    for (Specimen& one : job.specimens)
        one.input.notes["operator"] = one.label < "3" ? "operator A" : "operator B";
    analyseSet(job, out);
    EXPECT_EQ(std::ranges::count(out.remarks, "note-missing", &Remark::code), 0);
    EXPECT_FALSE(out.batch.front().sources.empty());
}

TEST(Readings, AFractionIsReadToItsStepAndACalliperToItsOwn)
{
    EXPECT_NEAR(parseQuantity("1 1/2 in", Kind::Length)->resolution, 12.7, 1e-9);
    EXPECT_NEAR(parseQuantity("3/16 in", Kind::Length)->resolution, 25.4 / 16, 1e-9);
    EXPECT_NEAR(parseQuantity("2 in", Kind::Length)->resolution, 25.4, 1e-9);
    const auto uncertainty = [](bool calliper) {
        Json json =
            jobOf("tension-metal", {{"shape", "round"}, {"diameter", "2 in"}, {"extensometer_gauge_length", "50 mm"}});
        if (calliper)
            json["instruments"] = {{"calliper", {{"name", "C-07"}, {"error", "0.02 mm"}}}};
        return analysed(json, tensile()).outcome->find("Rm")->budget.expanded
            / *analysed(json, tensile()).outcome->find("Rm")->value;
    };
    EXPECT_GT(uncertainty(false), 0.2) << "2 in as typed is anything from 1.5 to 2.5";
    EXPECT_LT(uncertainty(true), 0.05);
}

TEST(Readings, AWholeNumberOfMicrometresIsNoNominalSize)
{
    const auto nominal = [](const char* diameter) {
        return remarked(
            analysed(jobOf("tension-metal",
                           {{"shape", "round"}, {"diameter", diameter}, {"extensometer_gauge_length", "50 mm"}}),
                     tensile()),
            "nominal-dimension");
    };
    EXPECT_TRUE(nominal("10 mm"));
    EXPECT_TRUE(nominal("10000 um"));
    EXPECT_FALSE(nominal("10017 um"));
    EXPECT_FALSE(nominal("10.02 mm"));
    EXPECT_TRUE(nominal("500 mil"));
    EXPECT_FALSE(nominal("394 mil"));
}

} // namespace
} // namespace fortitor
