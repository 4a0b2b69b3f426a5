// SPDX-License-Identifier: GPL-3.0-or-later
#include "vision/slender.h"

#include <algorithm>
#include <cmath>
#include <numbers>
#include <numeric>
#include <vector>

namespace fortitor {
namespace {

constexpr size_t shapes = 11; // numbers of the form
constexpr size_t ground = 6, faces = 8; // numbers of the light
constexpr size_t lights = ground + faces;
constexpr size_t all = shapes + lights;
constexpr size_t roughPixels = 2000, finePixels = 7000; // where it lies, and what it measures

/// Tips x y x y, half widths 2, bulges 2, ln blur, bends 2.
enum Number : size_t { Tips = 0, Widths = 4, Bulges = 6, Blur = 8, Bends = 9 };
using Form = std::array<double, shapes>;
using Lights = std::array<double, lights>;

struct Share {
    double below, density;
};

/// The normal distribution by a table, good to 2·10⁻⁶.
class Normal {
public:
    Normal()
    {
        for (size_t i = 0; i < table_.size(); ++i) {
            const double z = static_cast<double>(i) / perUnit - reach;
            table_[i] = {0.5 * std::erfc(-z / std::sqrt(2.0)), std::exp(-z * z / 2) / std::sqrt(2 * std::numbers::pi)};
        }
    }
    [[nodiscard]] Share at(double z) const
    {
        if (!(z > -reach))
            return {0, 0};
        if (z >= reach)
            return {1, 0};
        const double place = (z + reach) * perUnit;
        const auto i = static_cast<size_t>(place);
        const double part = place - static_cast<double>(i);
        const Share &low = table_[i], &high = table_[i + 1];
        return {low.below + part * (high.below - low.below), low.density + part * (high.density - low.density)};
    }

private:
    static constexpr double reach = 4.5, perUnit = 128;
    std::array<Share, 1154> table_{};
};

struct Pixel {
    double x, y, light;
    double s, t; ///< along and across, from where the form was thought to be: the ground is told by them
};

Form formOf(const Slender& s)
{
    return {s.tips[0].x, s.tips[0].y, s.tips[1].x,      s.tips[1].y, s.halfWidths[0], s.halfWidths[1],
            s.bulges[0], s.bulges[1], std::log(s.blur), s.bends[0],  s.bends[1]};
}

/// A form made ready for its pixels.
struct Drawn {
    cv::Point2d middle, along, across;
    double half = 0, blur = 1;
    std::array<double, 2> width, bulge;
    std::array<double, 2> bends;

    explicit Drawn(const Form& f)
        : width{f[Widths], f[Widths + 1]}, bulge{f[Bulges], f[Bulges + 1]}, bends{f[Bends], f[Bends + 1]}
    {
        const cv::Point2d a(f[0], f[1]), b(f[2], f[3]);
        middle = (a + b) / 2;
        half = std::max(1e-9, cv::norm(b - a) / 2);
        along = (b - a) / (2 * half);
        across = {-along.y, along.x};
        blur = std::exp(f[Blur]);
    }
    /// At `s` of the way from the middle to a tip, and how it changes with `s`.
    [[nodiscard]] std::array<double, 2> halfWidth(size_t side, double s) const
    {
        const double bent = bulge[side] + s * (bends[0] + s * bends[1]);
        const double inner = width[side] + 4 * s * bent;
        return {(1 - s) * inner, -inner + (1 - s) * 4 * (bent + s * (bends[0] + 2 * s * bends[1]))};
    }
};

/// How the light of a pixel hangs on everything.
struct Look {
    std::array<double, faces> covered{}; ///< of each face, and that times the way along it
    Form slope{};
    bool face = false;
};

/// The blur across is exact for sides that are nearly along; along, it is taken at three places (Gauss and Hermite).
/// `slopes`: the light of the faces, where the change with the form is wanted.
Look lookAt(const Drawn& d, const Pixel& p, const Normal& normal, const double* bright)
{
    Look look;
    const cv::Point2d from(p.x - d.middle.x, p.y - d.middle.y);
    const double u = from.dot(d.along), v = from.dot(d.across);
    const double rest = std::abs(p.s) - 0.4;
    constexpr std::array<std::array<double, 2>, 3> places{
        {{-1.7320508075688772, 1.0 / 6}, {0, 2.0 / 3}, {1.7320508075688772, 1.0 / 6}}};
    const Share ridge = normal.at(-v / d.blur);
    double byU = 0, byV = 0, byHalf = 0; // change of the light with u, v, half
    for (const auto& [z, share] : places) {
        const double at = (u + d.blur * z) / d.half;
        const double out = std::min(1.0, std::abs(at));
        const auto [rightWidth, rightSlope] = d.halfWidth(0, out);
        const auto [leftWidth, leftSlope] = d.halfWidth(1, out);
        const double rightPlace = (rightWidth - v) / d.blur, leftPlace = (-leftWidth - v) / d.blur;
        const Share right = normal.at(rightPlace), left = normal.at(leftPlace);
        const size_t end = at > 0 ? 0 : 4;
        look.covered[end] += share * (right.below - ridge.below);
        look.covered[end + 2] += share * (ridge.below - left.below);
        if (!bright)
            continue;
        const double r = share * (bright[end] + rest * bright[end + 1]) / d.blur;
        const double l = share * (bright[end + 2] + rest * bright[end + 3]) / d.blur;
        const double byRight = r * right.density, byLeft = l * left.density, byRidge = (r - l) * ridge.density;
        const double in = 1 - out;
        look.slope[Widths] += byRight * in;
        look.slope[Widths + 1] += byLeft * in;
        look.slope[Bulges] += byRight * 4 * out * in;
        look.slope[Bulges + 1] += byLeft * 4 * out * in;
        look.slope[Bends] += (byRight + byLeft) * 4 * out * out * in;
        look.slope[Bends + 1] += (byRight + byLeft) * 4 * out * out * out * in;
        byV += byLeft - byRight + byRidge;
        const double byAt = out < 1 ? (byRight * rightSlope + byLeft * leftSlope) * (at > 0 ? 1 : -1) : 0;
        byU += byAt / d.half;
        byHalf -= byAt * at / d.half;
        // By the logarithm of the blur.
        look.slope[Blur] +=
            byAt * z * d.blur / d.half - byRight * (rightWidth - v) - byRidge * v + byLeft * (-leftWidth - v);
    }
    for (size_t k = 0; k < faces; k += 2) {
        look.covered[k + 1] = look.covered[k] * rest;
        look.face = look.face || look.covered[k] != 0;
    }
    if (!bright)
        return look;
    // A tip moved by one px along takes the middle half as far and changes half the length; across, it turns the whole.
    const double turned = 1 / (2 * d.half);
    for (const size_t tip : {size_t{0}, size_t{1}}) {
        const double way = tip == 0 ? -1 : 1;
        const double byAlong = -0.5 * byU + 0.5 * way * byHalf;
        const double byAcross = -0.5 * byV + way * turned * (v * byU - u * byV);
        look.slope[Tips + 2 * tip] = byAlong * d.along.x + byAcross * d.across.x;
        look.slope[Tips + 2 * tip + 1] = byAlong * d.along.y + byAcross * d.across.y;
    }
    return look;
}

std::array<double, ground> groundAt(const Pixel& p)
{
    return {1, p.s, p.t, p.s * p.s, p.s * p.t, p.t * p.t};
}

/// The light alone: ground and faces.
Lights rowOf(const Pixel& p, const Look& look)
{
    Lights row;
    std::ranges::copy(groundAt(p), row.begin());
    std::ranges::copy(look.covered, row.begin() + ground);
    return row;
}

double dot(const Lights& row, const Lights& c)
{
    return std::inner_product(row.begin(), row.end(), c.begin(), 0.0);
}

/// The pixels of the indent and a strip of ground round it; of more than enough every so many. The ridge across the
/// middle is left out: where it lies is no matter of the length.
std::vector<Pixel> pixelsRound(const cv::Mat& grey, const Drawn& d, size_t most)
{
    const double wide = std::max(d.width[0], d.width[1]);
    const cv::Point2d reach = d.along * (d.half * 1.06 + 8);
    const double strip = 1.3 * wide + 10;
    const double farX = std::abs(reach.x) + strip, farY = std::abs(reach.y) + strip;
    std::vector<Pixel> pixels;
    for (int y = std::max(0, static_cast<int>(d.middle.y - farY));
         y < std::min(grey.rows, static_cast<int>(d.middle.y + farY)); ++y)
        for (int x = std::max(0, static_cast<int>(d.middle.x - farX));
             x < std::min(grey.cols, static_cast<int>(d.middle.x + farX)); ++x) {
            const double dx = x - d.middle.x, dy = y - d.middle.y;
            const double u = dx * d.along.x + dy * d.along.y, v = -dx * d.along.y + dy * d.along.x;
            const double out = std::abs(u);
            if (out < std::max(4.0, 3 * d.blur) || out > d.half * 1.06 + 8
                || std::abs(v) > wide * std::clamp(1 - out / d.half, 0.0, 1.0) + 10 + 0.25 * wide)
                continue;
            const double light = grey.at<std::uint8_t>(y, x);
            pixels.push_back({static_cast<double>(x), static_cast<double>(y), light, u / d.half, 7 * v / d.half});
        }
    if (pixels.size() <= most)
        return pixels;
    std::vector<Pixel> some;
    for (size_t i = 0; i < most; ++i)
        some.push_back(pixels[i * pixels.size() / most]);
    return some;
}

/// What is believed beforehand, each with its standard deviation: both sides alike, hardly bulged, a rim of about a
/// pixel.
struct Belief {
    std::array<double, shapes> weights{}; // of one number of the form
    double off = 0;
};

std::vector<Belief> beliefsOf(const Form& f, double bent)
{
    const double wide = (f[4] + f[5]) / 2, half = std::hypot(f[2] - f[0], f[3] - f[1]) / 2;
    const auto alike = [&](size_t i, size_t j, double scatter) {
        Belief b;
        b.weights[i] = 1 / scatter;
        b.weights[j] = -1 / scatter;
        b.off = (f[i] - f[j]) / scatter;
        return b;
    };
    const auto about = [&](size_t i, double value, double scatter) {
        Belief b;
        b.weights[i] = 1 / scatter;
        b.off = (f[i] - value) / scatter;
        return b;
    };
    Belief bulged;
    bulged.weights[6] = bulged.weights[7] = 0.5 / (0.012 * bent * half);
    bulged.off = (f[6] + f[7]) / 2 / (0.012 * bent * half);
    return {alike(4, 5, 0.03 * wide),       alike(6, 7, 0.004 * bent * half), bulged,
            about(9, 0, 0.1 * bent * wide), about(10, 0, 0.1 * bent * wide),  about(8, std::log(1.2), 0.7)};
}

double medianOf(std::vector<double> values)
{
    const auto half = values.begin() + static_cast<std::ptrdiff_t>(values.size() / 2);
    std::ranges::nth_element(values, half);
    return *half;
}

/// A matrix of squares that grows by one row at a time; of rows that are nothing but ground, by that alone.
template <size_t N> struct Squares {
    std::array<std::array<double, N>, N> matrix{};
    std::array<double, N> right{};

    void add(const std::array<double, N>& row, double value, double weight, size_t first, size_t last)
    {
        for (size_t p = first; p < last; ++p) {
            const double w = weight * row[p];
            right[p] += w * value;
            for (size_t q = first; q <= p; ++q)
                matrix[p][q] += w * row[q];
        }
    }
    void mirror()
    {
        for (size_t p = 0; p < N; ++p)
            for (size_t q = 0; q < p; ++q)
                matrix[q][p] = matrix[p][q];
    }
    [[nodiscard]] bool solve(double damping, std::array<double, N>& out) const
    {
        cv::Mat a(N, N, CV_64F), b(N, 1, CV_64F), x;
        for (size_t p = 0; p < N; ++p) {
            b.at<double>(static_cast<int>(p)) = right[p];
            for (size_t q = 0; q < N; ++q)
                a.at<double>(static_cast<int>(p), static_cast<int>(q)) = matrix[p][q] * (p == q ? 1 + damping : 1);
        }
        if (!cv::solve(a, b, x, cv::DECOMP_CHOLESKY))
            return false;
        std::copy(x.ptr<double>(), x.ptr<double>() + N, out.begin());
        return true;
    }
};

struct Step {
    Form by{};
    Squares<all> squares;
    double explained = 0, contrast = 0;
};

double contrastOf(const Lights& c, double sigma)
{
    const bool darker = c[ground] < 0;
    double least = std::abs(c[ground]);
    for (size_t k = ground; k < lights; k += 2) {
        if ((c[k] < 0) != darker)
            return 0;
        least = std::min(least, std::abs(c[k]));
    }
    return least / sigma;
}

/// The light that fits best, and each pixel's weight by how it fits. The scatter of those that do; 0: none fits.
double fitLights(const Drawn& drawn, const std::vector<Pixel>& pixels, std::vector<double>& weights,
                 std::vector<double>& off, Lights& c, const Normal& normal)
{
    Squares<lights> squares;
    std::vector<Lights> rows;
    rows.reserve(pixels.size());
    for (size_t i = 0; i < pixels.size(); ++i) {
        const Look look = lookAt(drawn, pixels[i], normal, nullptr);
        rows.push_back(rowOf(pixels[i], look));
        squares.add(rows.back(), pixels[i].light, weights[i], 0, look.face ? lights : ground);
    }
    squares.mirror();
    if (!squares.solve(0, c))
        return 0;
    off.resize(pixels.size());
    std::vector<double> size(pixels.size());
    for (size_t i = 0; i < pixels.size(); ++i) {
        off[i] = pixels[i].light - dot(rows[i], c);
        size[i] = std::abs(off[i]);
    }
    const double sigma = std::max(0.5, 1.4826 * medianOf(std::move(size)));
    for (size_t i = 0; i < off.size(); ++i) {
        const double r = off[i] / (4.685 * sigma);
        weights[i] = std::abs(r) < 1 ? (1 - r * r) * (1 - r * r) : 0;
    }
    return sigma;
}

/// One step of Gauss and Newton over the ground, the form and the faces together, in this order.
std::optional<Step> stepFrom(const Form& form, const std::vector<Pixel>& pixels, std::vector<double>& weights,
                             double bent, double damping, const Normal& normal)
{
    const Drawn drawn(form);
    Lights c{};
    std::vector<double> off;
    const double sigma = fitLights(drawn, pixels, weights, off, c, normal);
    if (!(sigma > 0))
        return std::nullopt;
    Squares<all> squares;
    std::array<double, all> row{};
    for (size_t i = 0; i < pixels.size(); ++i) {
        if (weights[i] <= 0)
            continue;
        const Look look = lookAt(drawn, pixels[i], normal, c.data() + ground);
        std::ranges::copy(groundAt(pixels[i]), row.begin());
        std::ranges::copy(look.slope, row.begin() + ground);
        std::ranges::copy(look.covered, row.begin() + ground + shapes);
        squares.add(row, off[i], weights[i] / (sigma * sigma), 0, look.face ? all : ground);
    }
    squares.mirror();
    for (const Belief& belief : beliefsOf(form, bent))
        for (size_t p = 0; p < shapes; ++p) {
            squares.right[ground + p] -= belief.weights[p] * belief.off;
            for (size_t q = 0; q < shapes; ++q)
                squares.matrix[ground + p][ground + q] += belief.weights[p] * belief.weights[q];
        }
    Step step;
    std::array<double, all> by{};
    if (!squares.solve(damping, by))
        return std::nullopt;
    std::copy_n(by.begin() + ground, shapes, step.by.begin());
    step.squares = squares;
    step.contrast = contrastOf(c, sigma);
    step.explained = std::accumulate(weights.begin(), weights.end(), 0.0) / static_cast<double>(weights.size());
    return step;
}

/// No step of a number further than where the slopes still hold.
double moveBy(Form& form, const Form& by)
{
    const Drawn d(form);
    const double far = 0.1 * d.half, wide = 0.3 * std::max(d.width[0], d.width[1]);
    const Form most{far, far, far, far, wide, wide, wide, wide, 0.5, wide, wide};
    double part = 1;
    for (size_t k = 0; k < shapes; ++k)
        part = std::min(part, most[k] / std::max(1e-12, std::abs(by[k])));
    for (size_t k = 0; k < shapes; ++k)
        form[k] += part * by[k];
    form[4] = std::max(2.0, form[4]);
    form[5] = std::max(2.0, form[5]);
    form[8] = std::clamp(form[8], std::log(0.35), std::log(12.0));
    return std::max({std::abs(by[0]), std::abs(by[1]), std::abs(by[2]), std::abs(by[3])});
}

/// Of a sum of the form's numbers.
double varianceOf(Step step, const Form& pull)
{
    step.squares.right = {};
    std::ranges::copy(pull, step.squares.right.begin() + ground);
    std::array<double, all> by{};
    if (!step.squares.solve(0, by))
        return std::nan("");
    return std::inner_product(pull.begin(), pull.end(), by.begin() + ground, 0.0);
}

/// Steps until the tips stay. `bent`: how freely the sides may bulge, against what is usual.
std::optional<Step> settle(const cv::Mat& grey, Form& form, double bent, const Normal& normal)
{
    const std::vector<Pixel> pixels = pixelsRound(grey, Drawn(form), bent < 1 ? roughPixels : finePixels);
    if (pixels.size() < 10 * all)
        return std::nullopt;
    std::vector<double> weights(pixels.size(), 1);
    double damping = 0.01;
    std::optional<Step> step;
    constexpr int mostRounds = 12, leastRounds = 4;
    for (int round = 0; round < mostRounds; ++round, damping *= 0.1) {
        step = stepFrom(form, pixels, weights, bent, damping, normal);
        if (!step || !std::ranges::all_of(step->by, [](double d) { return std::isfinite(d); }))
            return std::nullopt;
        if (moveBy(form, step->by) < (bent < 1 ? 0.1 : 0.01) && round >= leastRounds)
            break;
    }
    return step;
}

} // namespace

std::optional<Slender> fitSlender(const cv::Mat& grey, const Slender& begin)
{
    static const Normal normal;
    Form form = formOf(begin);
    std::optional<Step> step;
    // With straight sides first, until it lies about right; then again on the pixels round where it lies.
    for (const double bent : {0.1, 0.1, 1.0}) {
        step = settle(grey, form, bent, normal);
        if (!step)
            return std::nullopt;
    }
    const Drawn d(form);
    const Drawn first(formOf(begin));
    if (cv::norm(d.middle - first.middle) > 0.2 * first.half || std::abs(d.half / first.half - 1) > 0.3)
        return std::nullopt;
    Slender found{{cv::Point2d(form[0], form[1]), cv::Point2d(form[2], form[3])}, d.width, d.bulge, d.bends, d.blur};
    std::array<double, shapes> pull{-d.along.x, -d.along.y, d.along.x, d.along.y}, both{};
    both[Widths] = both[Widths + 1] = 1;
    const double length = varianceOf(*step, pull), width = varianceOf(*step, both);
    constexpr double together = 2; // neighbouring pixels share what is no noise
    // Bulges of other forms, fitted by this one, gave a length off by up to 0.09 of the square of the bulge's share.
    const double bulge = 2 * (d.bulge[0] + d.bulge[1]) / std::max(1.0, (d.width[0] + d.width[1]) / 2);
    const double unknown = (0.01 * bulge * bulge + 0.0004) * 2 * d.half;
    found.lengthDoubt = std::hypot(together * std::sqrt(length), unknown);
    found.widthDoubt = std::hypot(together * std::sqrt(width), 0.01 * (d.width[0] + d.width[1]));
    found.contrast = step->contrast;
    found.explained = step->explained;
    return found;
}

} // namespace fortitor
