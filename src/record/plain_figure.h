// SPDX-License-Identifier: GPL-3.0-or-later
// Figures as most files hold them, digits and one decimal mark, read sixteen letters at a time where the processor can.
#pragma once

#include <array>
#include <bit>
#include <cstddef>
#include <cstdint>

#ifdef __x86_64__
#include <immintrin.h>
#define FORTITOR_LETTERS __attribute__((target("sse4.1")))
#else
#define FORTITOR_LETTERS
#endif

namespace fortitor {

/// How many letters must lie between a figure's first and the end of the text for plainFigure.
constexpr std::ptrdiff_t plainRoom = 18;

#ifdef __x86_64__

inline bool readsPlainFigures()
{
    return __builtin_cpu_supports("sse4.1") != 0;
}

using Letters = std::array<char, 16>;

/// Where the digits of a figure go, so that they end at the sixteenth place: [of the mark][of its end].
inline constexpr auto digitPlaces = [] {
    std::array<std::array<Letters, 16>, 16> places{};
    for (size_t mark = 0; mark < 16; ++mark)
        for (size_t end = 0; end < 16; ++end) {
            size_t to = 16;
            for (size_t from = end; from-- > 0;)
                if (from != mark)
                    places[mark][end][--to] = static_cast<char>(from);
            while (to > 0)
                places[mark][end][--to] = static_cast<char>(0x80); // nought
        }
    return places;
}();

/// Reads [-]digits[mark digits] of at most 15 letters to the nearest double: the digits make a whole number that a
/// double holds exactly, and so is the power of ten that it is divided by. Where it ends; nullptr for any other figure.
FORTITOR_LETTERS inline const char* plainFigure(const char* at, char decimal, double& value)
{
    static constexpr std::array<double, 16> powers{1,   1e1, 1e2,  1e3,  1e4,  1e5,  1e6,  1e7,
                                                   1e8, 1e9, 1e10, 1e11, 1e12, 1e13, 1e14, 1e15};
    const bool negative = *at == '-';
    at += negative;
    const __m128i digits = _mm_sub_epi8(_mm_loadu_si128(reinterpret_cast<const __m128i*>(at)), _mm_set1_epi8('0'));
    const __m128i others = _mm_cmpeq_epi8(_mm_max_epu8(digits, _mm_set1_epi8(10)), digits);
    unsigned stops = static_cast<unsigned>(_mm_movemask_epi8(others)) | 0x10000U;
    const auto mark = static_cast<size_t>(std::countr_zero(stops));
    size_t end = mark, behind = 0;
    if (mark < 16 && at[mark] == decimal) {
        stops &= stops - 1;
        stops |= 0x10000U;
        end = static_cast<size_t>(std::countr_zero(stops));
        behind = end - mark - 1;
        if (behind == 0)
            return nullptr;
    }
    if (mark == 0 || end >= 16)
        return nullptr;
    const __m128i places = _mm_loadu_si128(reinterpret_cast<const __m128i*>(digitPlaces[mark][end].data()));
    const __m128i right = _mm_shuffle_epi8(digits, places);
    const __m128i twos = _mm_maddubs_epi16(right, _mm_set1_epi16(1 << 8 | 10));
    const __m128i fours = _mm_madd_epi16(twos, _mm_set1_epi32(1 << 16 | 100));
    const __m128i eights = _mm_madd_epi16(_mm_packus_epi32(fours, fours), _mm_set1_epi32(1 << 16 | 10000));
    const auto both = static_cast<std::uint64_t>(_mm_cvtsi128_si64(eights));
    const std::uint64_t number = (both & 0xFFFFFFFFU) * 100'000'000 + (both >> 32);
    const double size = static_cast<double>(static_cast<std::int64_t>(number)) / powers[behind];
    value = negative ? -size : size;
    return at + end;
}

#else

inline bool readsPlainFigures()
{
    return false;
}

inline const char* plainFigure(const char*, char, double&)
{
    return nullptr;
}

#endif

} // namespace fortitor
