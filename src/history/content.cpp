// SPDX-License-Identifier: GPL-3.0-or-later
#include "history/content.h"

#include "history/repair.h"

#include <fmt/format.h>
#include <unsupported/Eigen/FFT>

#include <algorithm>
#include <bit>
#include <cmath>
#include <complex>
#include <limits>
#include <numbers>

namespace fortitor {

double powerShare(const HistorySource& source, double rate, double spikeLimit, double low, double high)
{
    constexpr std::uint64_t windows = 48;
    constexpr size_t longest = 1 << 15;
    // Long enough to tell the band's edges apart.
    const auto wanted = static_cast<std::uint64_t>(16 * rate / low);
    const auto size =
        static_cast<size_t>(std::min<std::uint64_t>({longest, std::bit_ceil(wanted), std::bit_floor(source.size())}));
    if (size < 16)
        return 0;
    const Repaired repaired(source, spikeLimit);
    const std::uint64_t count = std::min(windows, source.size() / size);
    std::vector<double> values(size);
    std::vector<std::complex<double>> spectrum;
    Eigen::FFT<double> fft;
    double near = 0, all = 0;
    for (std::uint64_t k = 0; k < count; ++k) {
        const std::uint64_t room = source.size() - size;
        repaired.read(count > 1 ? room / (count - 1) * k : room / 2, values);
        const double first = values.front(), slope = (values.back() - first) / static_cast<double>(size - 1);
        for (size_t i = 0; i < size; ++i) {
            const double share = static_cast<double>(i) / static_cast<double>(size - 1);
            values[i] -= first + slope * static_cast<double>(i);
            values[i] *= 0.5 - 0.5 * std::cos(2 * std::numbers::pi * share);
        }
        fft.fwd(spectrum, values);
        for (size_t i = 2; i < size / 2; ++i) {
            const double power = std::norm(spectrum[i]);
            const double hertz = static_cast<double>(i) * rate / static_cast<double>(size);
            all += power;
            near += hertz >= low && hertz <= high ? power : 0;
        }
    }
    return all > 0 ? near / all : 0;
}

namespace {

constexpr double nearBelow = 0.75, nearAbove = 1.25; // of the low-pass

} // namespace

double nearFilter(const HistoryFile& file, const ChainSettings& s, const ChainFound& chain)
{
    if (!(s.lowPass > 0))
        return 0;
    const double limit =
        chain.spikeLimit > 0 ? chain.spikeLimit / std::abs(s.scale) : std::numeric_limits<double>::infinity();
    return powerShare(*file.source, file.rate, limit, nearBelow * s.lowPass, nearAbove * s.lowPass);
}

void tellContent(Spectrum& spectrum, double share, const SpectrumSettings& s)
{
    const ChainFound& chain = spectrum.chain;
    constexpr double much = 0.03;
    if (s.chain.lowPass > 0 && share > much)
        spectrum.remarks.push_back(
            {"content-near-filter",
             Severity::Caution,
             {},
             fmt::format(
                 "{:.2g} % of the power lies between {:.3g} and {:.3g} Hz: the low-pass at {:.3g} Hz lowers real "
                 "peaks.",
                 100 * share, nearBelow * s.chain.lowPass, nearAbove * s.chain.lowPass, s.chain.lowPass),
             fmt::format("Try {:.3g} Hz, and see what changes.", 2 * s.chain.lowPass),
             "--low-pass"});
    for (const auto& [end, words] : {std::pair(chain.top, "greatest"), {chain.bottom, "least"}}) {
        constexpr std::uint64_t several = 20, times = 5;
        if (end.count < several || end.count < times * std::max<std::uint64_t>(1, end.next))
            continue;
        spectrum.remarks.push_back(
            {"clipped",
             Severity::Caution,
             {},
             fmt::format("{} readings stand at the {} value, {:.4g} {}: the amplifier was at its end.", end.count,
                         words, end.value, spectrum.unit->symbol),
             "The true peaks lie beyond: ranges and damage are too small. Measure again with a wider range.",
             {}});
    }
}

} // namespace fortitor
