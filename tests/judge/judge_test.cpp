// SPDX-License-Identifier: GPL-3.0-or-later
#include "judge/uncertainty.h"
#include "judge/requirement.h"
#include "judge/statistics.h"

#include "sim/random.h"
#include "units/quantity.h"

#include <gtest/gtest.h>

#include <cmath>
#include <limits>

namespace fortitor {
namespace {

const Unit& mm()
{
    return *findUnit("mm");
}

const Unit& newton()
{
    return *findUnit("N");
}

TEST(Statistics, MeanAndSpreadByHand)
{
    const SetStatistics s = setStatistics(std::vector<double>{312, 310.6, 313, 311.9});
    EXPECT_EQ(s.n, 4u);
    EXPECT_NEAR(s.mean, 311.875, 1e-12);
    EXPECT_NEAR(s.sd, 0.98446, 1e-5);
    EXPECT_NEAR(s.cvPercent, 0.31566, 1e-5);
    EXPECT_EQ(s.min, 310.6);
    EXPECT_EQ(s.max, 313);
    // t(0.975, 3) = 3.18245
    EXPECT_NEAR(s.ciHalfWidth, 3.182446 * s.sd / 2, 1e-5);
}

TEST(Statistics, KeepsDigitsOnASmallSpread)
{
    std::vector<double> v;
    for (int i = 0; i < 5; ++i)
        v.push_back(1e9 + i * 0x1p-10); // exact in a double
    EXPECT_NEAR(setStatistics(v).sd, 1.5811388300841898 * 0x1p-10, 1e-15);
}

TEST(Statistics, OneAndNone)
{
    EXPECT_EQ(setStatistics({}).n, 0u);
    const SetStatistics one = setStatistics(std::vector<double>{7});
    EXPECT_EQ(one.mean, 7);
    EXPECT_EQ(one.sd, 0);
    EXPECT_EQ(one.ciHalfWidth, 0);
}

TEST(Statistics, GrubbsCriticalValuesAsPublished)
{
    EXPECT_NEAR(grubbsCritical(5), 1.715, 6e-4);
    EXPECT_NEAR(grubbsCritical(10), 2.290, 6e-4);
    EXPECT_NEAR(grubbsCritical(20), 2.708, 6e-4);
    EXPECT_NEAR(grubbsCritical(4), 1.481, 6e-4);
}

TEST(Statistics, GrubbsFindsTheOneApart)
{
    const std::vector<double> v{10.1, 10.2, 10.0, 10.1, 9.9, 12.4};
    const auto g = grubbsTest(v);
    ASSERT_TRUE(g);
    EXPECT_EQ(g->index, 5u);
    EXPECT_TRUE(g->outlier());
    const auto calm = grubbsTest(std::vector<double>{10.1, 10.2, 10.0, 10.1, 9.9});
    ASSERT_TRUE(calm);
    EXPECT_FALSE(calm->outlier());
}

TEST(Statistics, GrubbsCannotTellBelowFourOrWithoutSpread)
{
    EXPECT_FALSE(grubbsTest(std::vector<double>{1, 2, 300}));
    EXPECT_FALSE(grubbsTest(std::vector<double>{2, 2, 2, 2, 2}));
}

TEST(Statistics, GrubbsFiresInFivePerCentOfCleanSets)
{
    Random random(77);
    int fired = 0;
    for (int set = 0; set < 4000; ++set) {
        std::vector<double> v;
        for (int i = 0; i < 8; ++i)
            v.push_back(random.normal());
        fired += grubbsTest(v)->outlier();
    }
    EXPECT_NEAR(fired / 4000.0, 0.05, 0.012);
}

TEST(Requirement, LimitsAreMetExactly)
{
    const Requirement r{"Rm", 290, 340};
    EXPECT_EQ(checkRequirement(r, 290).verdict, Verdict::Pass);
    EXPECT_EQ(checkRequirement(r, 340).verdict, Verdict::Pass);
    EXPECT_EQ(checkRequirement(r, 289.999).verdict, Verdict::Fail);
    EXPECT_EQ(checkRequirement(r, 340.001).verdict, Verdict::Fail);
    EXPECT_EQ(checkRequirement(r, std::nullopt).verdict, Verdict::Open);
    EXPECT_EQ(checkRequirement(r, std::nan("")).verdict, Verdict::Open);
}

TEST(Requirement, VerdictOfASpecimen)
{
    const Check pass{{"Rm", 290, {}}, 300, Verdict::Pass};
    const Check fail{{"A", 8, {}}, 7, Verdict::Fail};
    const Check open{{"Z", 8, {}}, {}, Verdict::Open};
    const Remark reject{"adhesive-failure", Severity::Reject, {}, "", "", ""};
    const Remark caution{"zero-offset", Severity::Caution, {}, "", "", ""};
    const auto verdict = [](std::vector<Check> checks, std::vector<Remark> remarks) {
        return verdictOf(checks, remarks);
    };
    EXPECT_EQ(verdict({pass}, {}), Verdict::Pass);
    EXPECT_EQ(verdict({pass}, {caution}), Verdict::Pass);
    EXPECT_EQ(verdict({pass, fail}, {}), Verdict::Fail);
    EXPECT_EQ(verdict({pass, open}, {}), Verdict::Open);
    EXPECT_EQ(verdict({pass, fail, open}, {}), Verdict::Fail);
    EXPECT_EQ(verdict({}, {}), Verdict::Open);
    EXPECT_EQ(verdict({pass}, {reject}), Verdict::Open);
    EXPECT_EQ(verdict({fail}, {reject}), Verdict::Open);
}

TEST(Derivation, SaysFormulaAndNumbers)
{
    const Term F = Term::leaf("Fm", 24600, *findUnit("kN"), 0, {}, "greatest force");
    const Term S = Term::leaf("So", 78.8, *findUnit("mm²"));
    const Term Rm = (F / S).named("Rm", *findUnit("MPa"), "strength", "ISO 6892-1");
    EXPECT_EQ(formulaText(Rm), "Fm / So");
    EXPECT_EQ(workingText(Rm), "24.60 kN / 78.80 mm² = 312.2 MPa");
    EXPECT_NEAR(Rm.value(), 24600 / 78.8, 1e-12);
}

TEST(Derivation, NegativeNumbersStandInBrackets)
{
    const Term a = Term::leaf("a", 2, mm());
    const Term b = Term::leaf("b", -3, mm());
    EXPECT_EQ(workingText((a - b).named("c", mm())), "2.000 mm − (-3.000 mm) = 5.000 mm");
}

TEST(Derivation, BracketsOnlyWhereNeeded)
{
    const Term a = Term::leaf("a", 2, mm());
    const Term b = Term::leaf("b", 3, mm());
    const Term c = Term::leaf("c", 4, mm());
    EXPECT_EQ(formulaText(((a - b) / c).named("x", mm())), "(a − b) / c");
    EXPECT_EQ(formulaText((a - (b - c)).named("x", mm())), "a − (b − c)");
    EXPECT_EQ(formulaText((a - b - c).named("x", mm())), "a − b − c");
    EXPECT_EQ(formulaText((a / (b * c)).named("x", mm())), "a / (b · c)");
    EXPECT_EQ(formulaText((square(a) + root(b)).named("x", mm())), "a² + √(b)");
    EXPECT_EQ(formulaText(Term::mean({a, b, c}).named("x", mm())), "mean(a, b, c)");
}

/// Central differences through a function of two inputs, to hold the propagation against.
double numericUncertainty(double (*f)(double, double), double a, double ua, double b, double ub)
{
    const double da = (f(a + 1e-6 * a, b) - f(a - 1e-6 * a, b)) / (2e-6 * a);
    const double db = (f(a, b + 1e-6 * b) - f(a, b - 1e-6 * b)) / (2e-6 * b);
    return 2 * std::hypot(da * ua, db * ub);
}

TEST(Uncertainty, FirstOrderLikeNumericalDerivatives)
{
    const auto a = [] { return Term::leaf("a", 7.2, mm(), 0.02, "calliper"); };
    const auto b = [] { return Term::leaf("b", 3.1, newton(), 0.05, "cell"); };
    const auto check = [&](const Term& t, double (*f)(double, double)) {
        EXPECT_NEAR(uncertaintyBudget(t).expanded, numericUncertainty(f, 7.2, 0.02, 3.1, 0.05), 1e-6);
    };
    check(a() + b(), [](double x, double y) { return x + y; });
    check(a() * b(), [](double x, double y) { return x * y; });
    check(a() / b(), [](double x, double y) { return x / y; });
    check(square(a()) * root(b()), [](double x, double y) { return x * x * std::sqrt(y); });
    check(log(a()) - b(), [](double x, double y) { return std::log(x) - y; });
}

TEST(Uncertainty, OneInputUsedTwiceIsOneDoubt)
{
    const Term a = Term::leaf("a", 10, mm(), 0.1, "calliper");
    EXPECT_NEAR(uncertaintyBudget(a / a).expanded, 0, 1e-12);
    EXPECT_NEAR(uncertaintyBudget(a + a).expanded, 2 * 0.2, 1e-12);
    const Term other = Term::leaf("b", 10, mm(), 0.1, "another calliper");
    EXPECT_NEAR(uncertaintyBudget(a + other).expanded, 2 * std::hypot(0.1, 0.1), 1e-12);
}

TEST(Uncertainty, BudgetIsRankedAndAddsUp)
{
    const Term a = Term::leaf("a", 10, mm(), 0.3, "big");
    const Term b = Term::leaf("b", 10, mm(), 0.1, "small");
    const Budget budget = uncertaintyBudget(a + b);
    ASSERT_EQ(budget.ranked.size(), 2u);
    EXPECT_EQ(budget.ranked[0].source.words, "big");
    EXPECT_NEAR(budget.ranked[0].share, 0.9, 1e-12);
    EXPECT_NEAR(budget.ranked[0].share + budget.ranked[1].share, 1, 1e-12);
}

TEST(Uncertainty, MonteCarloAgrees)
{
    // Stress of a round bar: F, d with their doubts; 40 000 draws.
    Random random(21);
    double sum = 0;
    double squares = 0;
    constexpr int n = 40000;
    for (int i = 0; i < n; ++i) {
        const double F = 24600 + 140 * random.normal();
        const double d = 10.0167 + 0.012 * random.normal();
        const double s = F / (3.14159265358979 / 4 * d * d);
        sum += s;
        squares += s * s;
    }
    const double sd = std::sqrt(squares / n - sum / n * (sum / n));
    const Term F = Term::leaf("F", 24600, newton(), 140, "cell");
    const Term d = Term::leaf("d", 10.0167, mm(), 0.012, "calliper");
    const Term s = F / (Term::constant(3.14159265358979) * square(d) / Term::constant(4));
    EXPECT_NEAR(uncertaintyBudget(s).expanded / 2 / sd, 1, 0.02);
}

TEST(Derivation, WorkingLinesBeginWithInputs)
{
    const Term F = Term::leaf("Fm", 24600, *findUnit("kN"), 100, "cell", "greatest force");
    const Term d = Term::leaf("d", 10, mm());
    const Term S = (Term::constant(3.14159265358979, "π") * square(d) / Term::constant(4))
                       .named("So", *findUnit("mm²"), "mean section");
    const auto lines = workingLines((F / S).named("Rm", *findUnit("MPa"), "strength"));
    ASSERT_GE(lines.size(), 3u);
    EXPECT_EQ(lines.back().symbol, "Rm");
    EXPECT_EQ(lines[lines.size() - 2].symbol, "So");
    EXPECT_EQ(lines[lines.size() - 2].formula, "π · d² / 4");
}

} // namespace
} // namespace fortitor
