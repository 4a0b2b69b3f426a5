// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include <cstddef>
#include <span>
#include <vector>

namespace fortitor {

/// The width of a channel's noise: robust standard deviation of second differences over at most
/// 1500 places, never under the quantisation step's own scatter (step/√12). Straight trends and
/// slow curves do not count as noise. 0 for fewer than 30 points, where
/// the two can't be told apart.
double noiseOf(std::span<const double> y);

/// The noise of a channel that runs one way for most of the record, also when it is read at uneven times: where
/// hardly a
/// reading goes back (one in fifty), what moves is motion, and only the steps of the channel are left.
double noiseOfDrive(std::span<const double> y);

/// The noise of y over an x that is read at uneven steps: robust deviation of each reading from the line between its
/// neighbours, at most 1500 places; never under the quantisation's own. Places where x does not rise are left out;
/// the plain noise where fewer than thirty are left.
double noiseAlong(std::span<const double> x, std::span<const double> y);

struct Extremes {
    double least = 0;
    double greatest = 0;
};

/// Least and greatest of the values in one pass; 0 for none. No NaN among them.
Extremes extremesOf(std::span<const double> y);

/// Index of the greatest value, the first of equals; 0 for none. No NaN among them. `ends`: the extremes of all, found
/// on the way, where they are asked for.
size_t indexOfGreatest(std::span<const double> y, Extremes* ends = nullptr);

/// How many values lie above the one before them.
size_t risesIn(std::span<const double> y);

/// (y − less)/by of all values, in one pass over them.
std::vector<double> scaled(std::span<const double> y, double less, double by);

/// The first index from `from` on with y[i] − base ≥ level; the size of `y` when there is none.
size_t firstAtLeast(std::span<const double> y, size_t from, double level, double base = 0);

/// The extremes of y[i + width] − y[i] for i in [from, to): one pair a block of 512, so that a search
/// can pass over quiet blocks. to + width may not go past the end.
constexpr size_t blockOfSteps = 512;
std::vector<Extremes> greatestSteps(std::span<const double> y, size_t from, size_t to, size_t width);

/// The first index from `from` on whose value lies under `share` of the greatest so far less `clear`, once that is
/// above `least`; the size of `y` when there is none.
size_t firstDip(std::span<const double> y, size_t from, double least, double share, double clear);

/// The middle of the values (an even count takes the mean of the two); NaN for none.
double medianOf(std::vector<double> values);
/// The same, without a copy: the values change places.
double medianIn(std::span<double> values);

/// Centred moving mean over 2·half+1 points, shorter at both ends so that it stays centred.
std::vector<double> smoothed(std::span<const double> y, size_t half);

/// The quiet stretch before the load begins.
struct QuietStart {
    double top = 0; ///< greatest value of all
    size_t onset = 0; ///< first index with load clear of noise
    size_t quiet = 0; ///< number of points in the quiet stretch; 0 when the record starts on the climb
    double level = 0; ///< mean of the quiet stretch; 0 without one
    double scatter = 0; ///< its standard deviation
};

/// Looks for the first load clear of noise: beyond 5 noise widths or 0.2 % of the range above the
/// start, for five readings in a row. `top`: the greatest of y.
QuietStart findQuietStart(std::span<const double> y, double noise, double top);

} // namespace fortitor
