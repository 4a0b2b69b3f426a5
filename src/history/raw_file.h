// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "history/source.h"

#include <cstddef>

namespace fortitor {

enum class RawKind { F32, F64 };

/// Numbers as a machine holds them, little-endian, one channel, no head. Refused: a file that ends in mid-sample.
Expected<HistoryFile> openRawHistory(const std::string& path, RawKind kind);

/// Figures put down in a file of their own, beside the system's temporary ones; it has no name and goes with what reads
/// it.
class Spill {
public:
    static Expected<Spill> make();
    Spill(Spill&& other) noexcept;
    Spill& operator=(Spill&&) = delete;
    ~Spill();
    /// Refused where the disk is full.
    Expected<Done> append(std::span<const std::byte> bytes);
    Expected<Done> append(std::span<const double> values) { return append(std::as_bytes(values)); }
    /// Bytes that were put down; false where the disk does not give them.
    [[nodiscard]] bool read(std::uint64_t at, std::span<std::byte> into) const;
    [[nodiscard]] std::shared_ptr<const HistorySource> source() &&;

private:
    explicit Spill(int file) : file_(file) { }
    int file_ = -1;
};

} // namespace fortitor
