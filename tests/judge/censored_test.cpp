// SPDX-License-Identifier: GPL-3.0-or-later
// Values of which some are only lower bounds: closed forms, and figures worked out by other means.
#include "judge/censored.h"

#include "judge/statistics.h"
#include "sim/random.h"

#include <gtest/gtest.h>

#include <cmath>
#include <vector>

namespace fortitor::censored_test {
namespace {

TEST(Censored, WithoutBoundsItIsTheUsualMean)
{
    const std::vector<double> values{31.2, 29.8, 30.4, 33.1, 30.9};
    const auto fit = fitNormal(values, {});
    ASSERT_TRUE(fit);
    const SetStatistics plain = setStatistics(values);
    EXPECT_NEAR(fit->mean, plain.mean, 1e-9);
    EXPECT_NEAR(fit->sd, plain.sd, 1e-9);
    // Far from zero no digit is lost.
    std::vector<double> far;
    for (const double v : values)
        far.push_back(1e9 + v);
    EXPECT_NEAR(fitNormal(far, {})->sd, plain.sd, 1e-6);
}

/// The likelihood, written down once more, falls in every direction from where the fit puts it.
double logOf(const std::vector<double>& values, const std::vector<char>& open, double mean, double sd)
{
    double sum = 0;
    for (size_t i = 0; i < values.size(); ++i) {
        const double z = (values[i] - mean) / sd;
        sum += open[i] ? std::log(0.5 * std::erfc(z / std::sqrt(2.0))) : -z * z / 2 - std::log(sd);
    }
    return sum;
}

TEST(Censored, TheFitStandsOnTheTopOfTheLikelihood)
{
    const std::vector<double> values{45, 45, 41.2, 43.5, 45, 38.9};
    const std::vector<char> open{1, 1, 0, 0, 1, 0};
    const auto fit = fitNormal(values, open);
    ASSERT_TRUE(fit);
    const double sd = fit->sd * std::sqrt(5.0 / 6);
    const double top = logOf(values, open, fit->mean, sd);
    for (const double by : {-1e-3, 1e-3}) {
        EXPECT_LT(logOf(values, open, fit->mean + by, sd), top);
        EXPECT_LT(logOf(values, open, fit->mean, sd + by), top);
    }
    EXPECT_GT(fit->mean, 43.1 + 1); // the plain mean takes the bounds for values
    const auto weibull = fitWeibull(values, open);
    ASSERT_TRUE(weibull);
    const auto logWeibull = [&](double shape, double scale) {
        double sum = 0;
        for (size_t i = 0; i < values.size(); ++i) {
            const double t = values[i] / scale;
            sum += -std::pow(t, shape) + (open[i] ? 0 : std::log(shape / scale) + (shape - 1) * std::log(t));
        }
        return sum;
    };
    // By another program's optimiser.
    EXPECT_NEAR(fit->mean, 44.673732, 2e-6);
    EXPECT_NEAR(fit->sd, 4.480203, 2e-6);
    EXPECT_NEAR(weibull->shape, 13.750687, 2e-5);
    EXPECT_NEAR(weibull->scale, 46.000816, 2e-5);
    EXPECT_NEAR(weibull->mean, 44.295574, 2e-5);
    EXPECT_NEAR(weibull->sd, 3.937246, 2e-5);
    EXPECT_NEAR(fit->logLikelihood, -10.657230, 2e-6);
    EXPECT_NEAR(weibull->logLikelihood, -10.878686, 2e-6);
    const double best = logWeibull(weibull->shape, weibull->scale);
    EXPECT_NEAR(best, weibull->logLikelihood, 1e-9);
    for (const double by : {-1e-3, 1e-3}) {
        EXPECT_LT(logWeibull(weibull->shape * (1 + by), weibull->scale), best);
        EXPECT_LT(logWeibull(weibull->shape, weibull->scale * (1 + by)), best);
    }
    EXPECT_EQ(fitCensored(values, open)->logLikelihood, std::max(fit->logLikelihood, weibull->logLikelihood));
}

TEST(Censored, DrawnSamplesGiveTheirLawBack)
{
    Random random(8);
    double mean = 0, sd = 0;
    constexpr int sets = 300, n = 60;
    for (int k = 0; k < sets; ++k) {
        std::vector<double> values;
        std::vector<char> open;
        for (int i = 0; i < n; ++i) {
            const double x = 50 + 4 * random.normal();
            constexpr double limit = 51; // some four of ten reach the fixture's limit
            values.push_back(std::min(x, limit));
            open.push_back(x > limit);
        }
        const auto fit = fitNormal(values, open);
        ASSERT_TRUE(fit);
        mean += fit->mean / sets;
        sd += fit->sd / sets;
    }
    EXPECT_NEAR(mean, 50, 0.15); // the plain mean of such values is 48.9
    EXPECT_NEAR(sd, 4, 0.15);
}

TEST(Censored, NothingOfTooFew)
{
    const std::vector<double> values{45, 45, 41};
    EXPECT_FALSE(fitCensored(values, std::vector<char>{1, 1, 0}));
    EXPECT_FALSE(fitCensored(values, std::vector<char>{1, 1, 1}));
    EXPECT_FALSE(fitCensored(std::vector<double>{3, 3, 5}, std::vector<char>{0, 0, 1})); // no scatter among them
    EXPECT_FALSE(fitCensored(std::vector<double>{3, NAN, 5}, std::vector<char>{0, 0, 1}));
    EXPECT_FALSE(fitWeibull(std::vector<double>{-1, 2, 3}, {}));
    EXPECT_TRUE(fitNormal(std::vector<double>{-1, 2, 3}, {}));
}

} // namespace
} // namespace fortitor::censored_test
