// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include <cmath>
#include <compare>

namespace fortitor {

/// A number in newtons^F · millimetres^L · seconds^T. Adding a force to a length does not compile.
template <int F, int L, int T> struct Measure {
    double value = 0;

    friend constexpr Measure operator+(Measure a, Measure b) { return {a.value + b.value}; }
    friend constexpr Measure operator-(Measure a, Measure b) { return {a.value - b.value}; }
    friend constexpr Measure operator*(Measure a, double k) { return {a.value * k}; }
    friend constexpr Measure operator*(double k, Measure a) { return {a.value * k}; }
    friend constexpr Measure operator/(Measure a, double k) { return {a.value / k}; }
    friend constexpr auto operator<=>(Measure, Measure) = default;
};

template <int F1, int L1, int T1, int F2, int L2, int T2>
constexpr Measure<F1 + F2, L1 + L2, T1 + T2> operator*(Measure<F1, L1, T1> a, Measure<F2, L2, T2> b)
{
    return {a.value * b.value};
}

template <int F1, int L1, int T1, int F2, int L2, int T2>
constexpr Measure<F1 - F2, L1 - L2, T1 - T2> operator/(Measure<F1, L1, T1> a, Measure<F2, L2, T2> b)
{
    return {a.value / b.value};
}

/// The names stand in a room of their own: `Kind` has enumerators of the same names.
namespace si {

using Ratio = Measure<0, 0, 0>; ///< strain and other pure numbers
using Force = Measure<1, 0, 0>; ///< N
using Length = Measure<0, 1, 0>; ///< mm
using Area = Measure<0, 2, 0>; ///< mm²
using Stress = Measure<1, -2, 0>; ///< MPa
using Time = Measure<0, 0, 1>; ///< s
using Speed = Measure<0, 1, -1>; ///< mm/s
using StrainRate = Measure<0, 0, -1>; ///< 1/s
using StressRate = Measure<1, -2, -1>; ///< MPa/s
using Compliance = Measure<-1, 1, 0>; ///< mm/N

} // namespace si

} // namespace fortitor
