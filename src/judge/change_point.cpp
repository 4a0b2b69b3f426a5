// SPDX-License-Identifier: GPL-3.0-or-later
#include "judge/change_point.h"

#include <algorithm>
#include <cmath>
#include <cstdint>
#include <numbers>
#include <vector>

namespace fortitor {
namespace {

using Vector = std::vector<double>;

double dot(std::span<const double> a, std::span<const double> b)
{
    double sums[4]{}; // side by side, for the processor
    const size_t whole = a.size() - a.size() % 4;
    for (size_t i = 0; i < whole; i += 4)
        for (size_t k = 0; k < 4; ++k)
            sums[k] += a[i + k] * b[i + k];
    for (size_t i = whole; i < a.size(); ++i)
        sums[0] += a[i] * b[i];
    return (sums[0] + sums[1]) + (sums[2] + sums[3]);
}

/// Takes off what lies along vectors of length one; twice, for what rounding left.
void takeOff(Vector& v, const std::vector<Vector>& basis)
{
    for (int time = 0; time < 2; ++time)
        for (const Vector& b : basis) {
            const double along = dot(v, b);
            for (size_t i = 0; i < v.size(); ++i)
                v[i] -= along * b[i];
        }
}

bool toLengthOne(Vector& v)
{
    const double length = std::sqrt(dot(v, v));
    if (!(length > 1e-9 * std::sqrt(static_cast<double>(v.size()))))
        return false;
    for (double& value : v)
        value /= length;
    return true;
}

/// Steps, then 1, x, x², made right-angled: the last is the highest power.
std::vector<Vector> courseOf(const Vector& x, int degree, const Vector& jumps)
{
    std::vector<Vector> basis;
    for (const double jump : jumps) {
        Vector v(x.size());
        for (size_t i = 0; i < x.size(); ++i)
            v[i] = x[i] >= jump ? 1 : 0;
        takeOff(v, basis);
        if (toLengthOne(v))
            basis.push_back(std::move(v));
    }
    for (int power = 0; power <= degree; ++power) {
        Vector v(x.size());
        for (size_t i = 0; i < x.size(); ++i)
            v[i] = std::pow(x[i], power);
        takeOff(v, basis);
        if (toLengthOne(v))
            basis.push_back(std::move(v));
    }
    return basis;
}

struct Candidate {
    size_t at = 0; ///< the last reading before
    Vector along{}; ///< length one, at right angles to the course
};

std::vector<Candidate> candidatesOf(const Vector& x, const std::vector<Vector>& basis)
{
    const size_t n = x.size(), edge = std::max<size_t>(3, n / 25);
    std::vector<Candidate> all;
    for (size_t k = edge; k + edge < n; ++k) {
        Candidate c{.at = k, .along = Vector(n, 0.0)};
        for (size_t i = k + 1; i < n; ++i)
            c.along[i] = x[i] - x[k];
        takeOff(c.along, basis);
        if (toLengthOne(c.along))
            all.push_back(std::move(c));
    }
    return all;
}

/// Two numbers of the normal distribution at a time, the same on every machine.
class Normals {
public:
    double next()
    {
        if (spare_) {
            const double value = *spare_;
            spare_.reset();
            return value;
        }
        const double r = std::sqrt(-2 * std::log(even())), angle = 2 * std::numbers::pi * even();
        spare_ = r * std::sin(angle);
        return r * std::cos(angle);
    }

private:
    double even()
    {
        state_ += 0x9E3779B97F4A7C15U;
        std::uint64_t z = state_;
        z = (z ^ (z >> 30)) * 0xBF58476D1CE4E5B9U;
        z = (z ^ (z >> 27)) * 0x94D049BB133111EBU;
        return (static_cast<double>((z ^ (z >> 31)) >> 11) + 0.5) / 9007199254740992.0;
    }
    std::uint64_t state_ = 20110101;
    std::optional<double> spare_;
};

struct Greatest {
    size_t which = 0;
    double taken = 0; ///< of the sum of squares
};

Greatest greatestOf(const std::vector<Candidate>& candidates, std::span<const double> rest)
{
    Greatest found;
    for (size_t k = 0; k < candidates.size(); ++k)
        if (const double along = dot(candidates[k].along, rest); along * along > found.taken)
            found = {k, along * along};
    return found;
}

double ratio(double taken, double whole)
{
    return taken / std::max(1e-300, whole - taken);
}

/// Of neighbours among the residuals.
double besideOf(std::span<const double> rest)
{
    const double whole = dot(rest, rest);
    return whole > 0 ? dot(rest.first(rest.size() - 1), rest.subspan(1)) / whole : 0;
}

/// What is fitted, and noise without a change that it is fitted to.
struct Course {
    const std::vector<Vector>& basis;
    const std::vector<Candidate>& candidates;

    Vector noise(Normals& normals, double correlation, size_t n) const
    {
        Vector drawn(n);
        drawn[0] = normals.next() / std::sqrt(1 - correlation * correlation);
        for (size_t i = 1; i < n; ++i)
            drawn[i] = correlation * drawn[i - 1] + normals.next();
        takeOff(drawn, basis);
        return drawn;
    }
};

/// The correlation of the noise from what is left after the greatest change was taken out, which is less. Of those that
/// could have left as much, one towards the greater, so that the chance is not told too small.
double correlationOf(double left, const Course& course, size_t n)
{
    constexpr int courses = 40, below = 8;
    constexpr double step = 0.06, most = 0.96;
    for (double correlation = 0; correlation < most; correlation += step) {
        Normals normals;
        std::vector<double> found;
        for (int k = 0; k < courses; ++k) {
            Vector drawn = course.noise(normals, correlation, n);
            takeOff(drawn, {course.candidates[greatestOf(course.candidates, drawn).which].along});
            found.push_back(besideOf(drawn));
        }
        std::ranges::nth_element(found, found.begin() + below);
        if (found[below] >= left)
            return correlation;
    }
    return most;
}

double falseAlarmOf(double seen, double correlation, const Course& course, size_t n)
{
    constexpr int courses = 999;
    Normals normals;
    int asMuch = 0;
    for (int k = 0; k < courses; ++k) {
        const Vector drawn = course.noise(normals, correlation, n);
        if (ratio(greatestOf(course.candidates, drawn).taken, dot(drawn, drawn)) >= seen)
            ++asMuch;
    }
    return (asMuch + 1.0) / (courses + 1.0);
}

/// Slopes on either side of a bend, by least squares with a common point there.
void setSlopes(ChangePoint& found, std::span<const double> x, std::span<const double> y, size_t at, const Vector& jumps)
{
    const size_t n = x.size();
    Vector scaled(x.begin(), x.end());
    const double span = x.back() - x.front();
    for (double& v : scaled)
        v = (v - x.front()) / span;
    const std::vector<Vector> basis = courseOf(scaled, 1, jumps);
    Vector hinge(n, 0.0);
    for (size_t i = at + 1; i < n; ++i)
        hinge[i] = scaled[i] - scaled[at];
    Vector right = hinge, free(y.begin(), y.end());
    takeOff(right, basis);
    const double bend = dot(right, y) / std::max(1e-300, dot(right, right));
    for (size_t i = 0; i < n; ++i)
        free[i] -= bend * hinge[i];
    const double rise = dot(basis.back(), free) / dot(basis.back(), scaled);
    found.before = rise / span;
    found.after = (rise + bend) / span;
}

} // namespace

std::optional<ChangePoint> greatestChange(std::span<const double> x, std::span<const double> y, int degree,
                                          std::span<const double> jumps)
{
    const size_t n = x.size();
    if (n < 12 || n > 512 || y.size() != n || !(x.back() > x.front()))
        return std::nullopt;
    Vector scaled(n), rest(y.begin(), y.end());
    double size = 0;
    for (size_t i = 0; i < n; ++i) {
        scaled[i] = (x[i] - x.front()) / (x.back() - x.front());
        size = std::max(size, std::abs(y[i]));
    }
    Vector steps;
    for (const double jump : jumps)
        if (jump > x.front() && jump <= x.back())
            steps.push_back((jump - x.front()) / (x.back() - x.front()));
    const auto basis = courseOf(scaled, degree, steps);
    takeOff(rest, basis);
    const double whole = dot(rest, rest);
    if (!(std::sqrt(whole / static_cast<double>(n)) > 1e-12 * size))
        return std::nullopt;
    const auto candidates = candidatesOf(scaled, basis);
    const Greatest greatest = greatestOf(candidates, rest);
    if (candidates.empty() || !(greatest.taken > 0))
        return std::nullopt;
    const Candidate& best = candidates[greatest.which];
    Vector after = rest;
    takeOff(after, {best.along});
    const double left = dot(after, after);
    const Course course{basis, candidates};
    const double correlation = correlationOf(besideOf(after), course, n);
    ChangePoint found{.at = x[best.at]};
    found.noise = std::sqrt(left / static_cast<double>(n - basis.size() - 1));
    found.falseAlarm = falseAlarmOf(ratio(greatest.taken, whole), correlation, course, n);
    setSlopes(found, x, y, best.at, steps);
    // Places that are hardly worse, by as many readings as are free of each other.
    constexpr double chiSquare = 3.84;
    const double freeOnes = static_cast<double>(n) * (1 - correlation) / (1 + correlation);
    const double worst = left * (1 + chiSquare / std::max(3.0, freeOnes));
    found.within = {found.at, found.at};
    for (const Candidate& c : candidates) {
        const double along = dot(c.along, rest);
        if (whole - along * along <= worst)
            found.within = {std::min(found.within.first, x[c.at]), std::max(found.within.second, x[c.at])};
    }
    return found;
}

} // namespace fortitor
