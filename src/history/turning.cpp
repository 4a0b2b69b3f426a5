// SPDX-License-Identifier: GPL-3.0-or-later
#include "history/turning.h"

#include "curve/wide.h"

namespace fortitor {
namespace {

constexpr size_t eight = 8;

/// The first row from `row` on in which a lane does not go on the way it came, or `rows`.
FORTITOR_WIDE size_t nextEvent(const double* data, size_t row, size_t rows)
{
    Four a, b, beforeA, beforeB, wayA, wayB;
    loadFour(beforeA, data + (row - 1) * eight);
    loadFour(beforeB, data + (row - 1) * eight + 4);
    loadFour(a, data + (row - 2) * eight);
    loadFour(b, data + (row - 2) * eight + 4);
    wayA = beforeA - a;
    wayB = beforeB - b;
    for (; row < rows; ++row) {
        loadFour(a, data + row * eight);
        loadFour(b, data + row * eight + 4);
        const Four stepA = a - beforeA, stepB = b - beforeB;
        const auto on = (stepA * wayA > 0) & (stepB * wayB > 0);
        if (!(on[0] & on[1] & on[2] & on[3]))
            return row;
        wayA = stepA;
        wayB = stepB;
        beforeA = a;
        beforeB = b;
    }
    return rows;
}

} // namespace

void findTurningOfLanes(std::span<Turning, 8> into, std::span<const double> interleaved, std::uint32_t first)
{
    const size_t rows = interleaved.size() / eight;
    if (rows == 0)
        return;
    std::vector<TurningFinder<>> finders;
    for (Turning& lane : into)
        finders.emplace_back(lane);
    const auto take = [&](size_t row) {
        for (size_t lane = 0; lane < eight; ++lane)
            finders[lane].take(interleaved[row * eight + lane], first + static_cast<std::uint32_t>(lane * rows + row));
    };
    take(0);
    if (rows > 1)
        take(1);
    // Between events each reading only goes on: the last one before an event stands for them.
    for (size_t row = 2; row < rows;) {
        row = nextEvent(interleaved.data(), row, rows);
        take(row - 1);
        if (row < rows)
            take(row++);
    }
    for (TurningFinder<>& finder : finders)
        finder.end();
}

} // namespace fortitor
