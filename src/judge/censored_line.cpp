// SPDX-License-Identifier: GPL-3.0-or-later
#include "judge/censored_line.h"

#include "judge/normal_tail.h"

#include <Eigen/Dense>

#include <cmath>
#include <numbers>

namespace fortitor {
namespace {

using Eigen::Index;
using Eigen::MatrixXd;
using Eigen::VectorXd;

/// The likelihood in b/sigma and 1/sigma, in which it is concave.
struct Likelihood {
    const MatrixXd& x;
    const VectorXd& y;
    std::span<const char> open;

    [[nodiscard]] double at(const VectorXd& p) const
    {
        const Index k = x.cols();
        if (!(p(k) > 0))
            return -std::numeric_limits<double>::infinity();
        double sum = 0;
        for (Index i = 0; i < x.rows(); ++i) {
            const double u = p(k) * y(i) - x.row(i).dot(p.head(k));
            sum += open[static_cast<size_t>(i)] ? logAbove(u)
                                                : std::log(p(k)) - 0.5 * u * u - 0.5 * std::log(2 * std::numbers::pi);
        }
        return sum;
    }
    /// Gradient, and the information: the curvature with its sign changed.
    void bend(const VectorXd& p, VectorXd& gradient, MatrixXd& information) const
    {
        const Index k = x.cols();
        gradient = VectorXd::Zero(k + 1);
        information = MatrixXd::Zero(k + 1, k + 1);
        VectorXd row(k + 1);
        for (Index i = 0; i < x.rows(); ++i) {
            row << x.row(i).transpose(), -y(i);
            const double u = -row.dot(p);
            const bool bound = open[static_cast<size_t>(i)] != 0;
            const double h = bound ? hazard(u) : u;
            gradient += h * row;
            information += (bound ? h * (h - u) : 1.0) * row * row.transpose();
            if (!bound) {
                gradient(k) += 1 / p(k);
                information(k, k) += 1 / (p(k) * p(k));
            }
        }
    }
};

/// Newton's steps, halved while they lead down.
std::optional<VectorXd> topOf(const Likelihood& of, VectorXd p)
{
    VectorXd gradient;
    MatrixXd information;
    double now = of.at(p);
    constexpr int most = 100;
    for (int round = 0; round < most; ++round) {
        of.bend(p, gradient, information);
        const Eigen::LDLT<MatrixXd> solver(information);
        if (solver.info() != Eigen::Success || !(solver.rcond() > 1e-14))
            return std::nullopt;
        VectorXd step = solver.solve(gradient);
        const double promised = gradient.dot(step);
        double next = of.at(p + step);
        for (int half = 0; half < 60 && !(next >= now - 1e-12 * std::abs(now)); ++half) {
            step /= 2;
            next = of.at(p + step);
        }
        p += step;
        now = next;
        if (!p.allFinite())
            return std::nullopt;
        if (promised < 1e-22)
            return p;
    }
    return gradient.squaredNorm() < 1e-12 ? std::optional(p) : std::nullopt;
}

} // namespace

std::optional<CensoredLine> fitCensoredLine(const MatrixXd& x, const VectorXd& y, std::span<const char> open)
{
    const Index k = x.cols();
    std::vector<Index> exact;
    for (Index i = 0; i < x.rows(); ++i)
        if (!open[static_cast<size_t>(i)])
            exact.push_back(i);
    const auto r = static_cast<Index>(exact.size());
    if (r <= k || !x.allFinite() || !y.allFinite())
        return std::nullopt;
    const MatrixXd xs = x(exact, Eigen::all);
    const VectorXd ys = y(exact);
    const Eigen::ColPivHouseholderQR<MatrixXd> qr(xs);
    if (qr.rank() < k)
        return std::nullopt;
    // Counted from the least-squares line of the exact values, in its scatter: near the top from the start.
    const VectorXd start = qr.solve(ys);
    const double scatter = std::sqrt((ys - xs * start).squaredNorm() / static_cast<double>(r));
    if (!(scatter > 1e-10 * (1 + ys.cwiseAbs().maxCoeff())))
        return std::nullopt;
    const VectorXd reduced = (y - x * start) / scatter;
    const Likelihood likelihood{x, reduced, open};
    VectorXd p = VectorXd::Zero(k + 1);
    p(k) = 1;
    const auto top = topOf(likelihood, p);
    if (!top)
        return std::nullopt;
    VectorXd gradient;
    MatrixXd information;
    likelihood.bend(*top, gradient, information);
    const double theta = (*top)(k);
    CensoredLine line;
    line.sigma = scatter / theta;
    line.coefficients = start + top->head(k) * line.sigma;
    line.logLikelihood = likelihood.at(*top) - static_cast<double>(r) * std::log(scatter);
    MatrixXd turn = MatrixXd::Zero(k + 1, k + 1); // from b/sigma and 1/sigma to b and sigma
    turn.topLeftCorner(k, k).diagonal().setConstant(line.sigma);
    turn.col(k).head(k) = -top->head(k) * (scatter / (theta * theta));
    turn(k, k) = -scatter / (theta * theta);
    line.covariance = turn * information.inverse() * turn.transpose();
    return line;
}

} // namespace fortitor
