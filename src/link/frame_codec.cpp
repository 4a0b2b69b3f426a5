// SPDX-License-Identifier: GPL-3.0-or-later
#include "link/frame_codec.h"

#include <boost/crc.hpp>

#include <algorithm>
#include <bit>
#include <cmath>
#include <cstring>
#include <type_traits>

namespace fortitor {
namespace {

static_assert(std::endian::native == std::endian::little, "the link is little-endian and copies as it is");
constexpr std::string_view magic = "FLNK";
constexpr std::uint8_t version = 1;
constexpr std::size_t batchHeader = 32;

template <class T> void put(std::string& out, T value)
{
    static_assert(std::is_trivially_copyable_v<T>);
    char bytes[sizeof value];
    std::memcpy(bytes, &value, sizeof value);
    out.append(bytes, sizeof value);
}

template <class T> T get(std::string_view bytes, std::size_t at)
{
    T value{};
    std::memcpy(&value, bytes.data() + at, sizeof value);
    return value;
}

std::uint32_t checksum(std::string_view bytes)
{
    boost::crc_32_type crc;
    crc.process_bytes(bytes.data(), bytes.size());
    return crc.checksum();
}

} // namespace

std::string encodeFrame(FrameKind kind, std::string_view payload)
{
    std::string out;
    out.reserve(linkHeader + payload.size());
    out += magic;
    put(out, version);
    put(out, static_cast<std::uint8_t>(kind));
    put(out, std::uint16_t{0});
    put(out, static_cast<std::uint32_t>(payload.size()));
    put(out, checksum(payload));
    out += payload;
    return out;
}

void FrameDecoder::take(std::string_view bytes)
{
    if (broken_)
        return;
    // What is read is thrown away once it is worth the move.
    if (at_ > 65536 && at_ > buffer_.size() / 2) {
        buffer_.erase(0, at_);
        at_ = 0;
    }
    buffer_ += bytes;
}

Expected<std::optional<LinkFrame>> FrameDecoder::next()
{
    const auto fail = [this](std::string found, std::string wanted) {
        broken_ = Problem{"machine link", std::move(found), std::move(wanted), {}};
        buffer_.clear();
        buffer_.shrink_to_fit();
        return *broken_;
    };
    if (broken_)
        return *broken_;
    const std::string_view bytes = std::string_view(buffer_).substr(at_);
    // A wrong beginning shows at once, not only when a header's worth has come.
    const std::size_t seen = std::min(bytes.size(), magic.size());
    if (bytes.substr(0, seen) != magic.substr(0, seen))
        return fail("bytes that begin no frame", "\"FLNK\"");
    if (bytes.size() < linkHeader)
        return std::optional<LinkFrame>();
    const auto itsVersion = get<std::uint8_t>(bytes, 4);
    if (itsVersion != version)
        return fail("version " + std::to_string(itsVersion), "version 1");
    const auto kind = get<std::uint8_t>(bytes, 5);
    if (kind != 1 && kind != 2)
        return fail("kind " + std::to_string(kind), "1 or 2");
    if (get<std::uint16_t>(bytes, 6) != 0)
        return fail("reserved bytes that are set", "0");
    const std::size_t length = get<std::uint32_t>(bytes, 8);
    if (length > longestPayload)
        return fail("a payload of " + std::to_string(length) + " bytes", "at most " + std::to_string(longestPayload));
    if (bytes.size() < linkHeader + length)
        return std::optional<LinkFrame>();
    const std::string_view payload = bytes.substr(linkHeader, length);
    if (checksum(payload) != get<std::uint32_t>(bytes, 12))
        return fail("a checksum that does not fit", "the CRC-32 of the payload");
    LinkFrame frame{static_cast<FrameKind>(kind), std::string(payload)};
    at_ += linkHeader + length;
    if (at_ == buffer_.size()) {
        buffer_.clear();
        at_ = 0;
    }
    return std::optional(std::move(frame));
}

std::string packSamples(const SampleBatch& batch)
{
    std::string out;
    out.reserve(batchHeader + 8 * batch.values.size());
    put(out, batch.first);
    put(out, static_cast<std::uint32_t>(batch.rows()));
    put(out, batch.channels);
    put(out, std::uint16_t{0});
    put(out, batch.time);
    put(out, batch.step);
    out.append(reinterpret_cast<const char*>(batch.values.data()), 8 * batch.values.size());
    return out;
}

Expected<SampleBatch> unpackSamples(std::string_view payload)
{
    const auto fail = [](std::string found, std::string wanted) {
        return Problem{"machine link, samples", std::move(found), std::move(wanted), {}};
    };
    if (payload.size() < batchHeader)
        return fail(std::to_string(payload.size()) + " bytes", "a header of 32");
    SampleBatch batch;
    batch.first = get<std::uint64_t>(payload, 0);
    const std::size_t rows = get<std::uint32_t>(payload, 8);
    batch.channels = get<std::uint16_t>(payload, 12);
    batch.time = get<double>(payload, 16);
    batch.step = get<double>(payload, 24);
    if (batch.channels == 0 || batch.channels > 64)
        return fail(std::to_string(batch.channels) + " channels", "1 to 64");
    if (get<std::uint16_t>(payload, 14) != 0)
        return fail("reserved bytes that are set", "0");
    // Divided, not multiplied: a count from outside may not overflow.
    if (rows != (payload.size() - batchHeader) / 8 / batch.channels
        || (payload.size() - batchHeader) % (8 * std::size_t{batch.channels}) != 0)
        return fail(std::to_string(rows) + " rows in " + std::to_string(payload.size()) + " bytes", "as many as fit");
    if (!std::isfinite(batch.time) || !(batch.step > 0) || !std::isfinite(batch.step))
        return fail("a time that is none", "seconds");
    if (batch.first > (std::uint64_t{1} << 62))
        return fail("a row number beyond all counting", "less than 2^62");
    batch.values.resize(rows * batch.channels);
    std::memcpy(batch.values.data(), payload.data() + batchHeader, 8 * batch.values.size());
    return batch;
}

} // namespace fortitor
