// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "units/expected.h"

#include <cstdint>
#include <optional>
#include <span>
#include <string>
#include <string_view>
#include <vector>

namespace fortitor {

/// What travels on the machine link (docs/machine-link.md), JSON as text and batches of samples: a header of 16
/// bytes, then the payload.
///   "FLNK" · u8 version 1 · u8 kind · u16 0 · u32 length · u32 CRC-32 of the payload, all little-endian.
enum class FrameKind : std::uint8_t { Text = 1, Samples = 2 };

struct LinkFrame {
    FrameKind kind = FrameKind::Text;
    std::string payload;
};

constexpr std::uint64_t linkProtocol = 2; ///< what frame and client have to agree on
constexpr std::size_t linkHeader = 16;
constexpr std::size_t longestPayload = 1 << 20;

/// One frame as bytes. The payload is at most `longestPayload` long.
std::string encodeFrame(FrameKind kind, std::string_view payload);

/// Takes bytes as they come, in any pieces, and gives whole frames. The first thing that is no frame ends
/// it: a stream that has lost its place is not to be guessed at, the link is joined anew.
class FrameDecoder {
public:
    void take(std::string_view bytes);
    /// The next whole frame, nothing while it is not all there, or what is wrong.
    Expected<std::optional<LinkFrame>> next();

private:
    std::string buffer_;
    std::size_t at_ = 0;
    std::optional<Problem> broken_;
};

/// A batch of samples: `channels` values a row, row by row. Row k has the number `first` + k and stands at
/// `time` + k·`step` seconds of the frame's clock. NaN: no reading.
struct SampleBatch {
    std::uint64_t first = 0;
    std::uint16_t channels = 0;
    double time = 0;
    double step = 0;
    std::vector<double> values;

    [[nodiscard]] std::size_t rows() const { return channels == 0 ? 0 : values.size() / channels; }
    [[nodiscard]] std::uint64_t next() const { return first + rows(); }
    [[nodiscard]] double at(std::size_t row, std::size_t channel) const { return values[row * channels + channel]; }
};

/// u64 first · u32 rows · u16 channels · u16 0 · f64 time · f64 step · f64 values, little-endian.
std::string packSamples(const SampleBatch& batch);
Expected<SampleBatch> unpackSamples(std::string_view payload);

} // namespace fortitor
