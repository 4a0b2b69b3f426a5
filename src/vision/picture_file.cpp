// SPDX-License-Identifier: GPL-3.0-or-later
// Kind, size and end of a picture file, before any library touches it.
#include "vision/picture_file.h"

#include <algorithm>
#include <array>
#include <optional>

namespace fortitor {
namespace {

using Bytes = std::span<const std::uint8_t>;

std::uint64_t big(Bytes b, size_t at, size_t count)
{
    std::uint64_t v = 0;
    for (size_t i = 0; i < count; ++i)
        v = v << 8 | b[at + i];
    return v;
}

std::uint64_t little(Bytes b, size_t at, size_t count)
{
    std::uint64_t v = 0;
    for (size_t i = count; i-- > 0;)
        v = v << 8 | b[at + i];
    return v;
}

bool begins(Bytes b, std::initializer_list<std::uint8_t> with)
{
    return b.size() >= with.size() && std::equal(with.begin(), with.end(), b.begin());
}

/// The head, or nothing when the file ends before it should.
using Head = std::optional<PictureHead>;

/// Chunk by chunk to the last.
Head png(Bytes b)
{
    PictureHead head{"PNG", 0, 0};
    for (size_t at = 8; at + 12 <= b.size();) {
        const std::uint64_t length = big(b, at, 4);
        const std::string kind(b.begin() + static_cast<std::ptrdiff_t>(at) + 4,
                               b.begin() + static_cast<std::ptrdiff_t>(at) + 8);
        if (length > b.size() - at - 12)
            return std::nullopt;
        if (kind == "IHDR" && length >= 8) {
            head.width = big(b, at + 8, 4);
            head.height = big(b, at + 12, 4);
        }
        if (kind == "IEND")
            return head;
        at += 12 + static_cast<size_t>(length);
    }
    return std::nullopt;
}

/// Segment by segment to the picture's own data, which ends with a mark.
Head jpeg(Bytes b)
{
    PictureHead head{"JPEG", 0, 0};
    size_t at = 2;
    while (at + 4 <= b.size() && b[at] == 0xFF) {
        const std::uint8_t mark = b[at + 1];
        if (mark == 0xFF) {
            ++at;
            continue;
        }
        const std::uint64_t length = big(b, at + 2, 2);
        if (length < 2 || at + 2 + length > b.size())
            return std::nullopt;
        const bool frame = mark >= 0xC0 && mark <= 0xCF && mark != 0xC4 && mark != 0xC8 && mark != 0xCC;
        if (frame && length >= 7) {
            head.height = big(b, at + 5, 2);
            head.width = big(b, at + 7, 2);
        }
        if (mark == 0xDA) { // the data; nothing but padding may follow its end
            size_t end = b.size();
            while (end > at && b[end - 1] == 0)
                --end;
            return end >= 2 && b[end - 2] == 0xFF && b[end - 1] == 0xD9 ? Head(head) : std::nullopt;
        }
        at += 2 + static_cast<size_t>(length);
    }
    return std::nullopt;
}

Head bmp(Bytes b)
{
    if (b.size() < 54)
        return std::nullopt;
    const auto height = static_cast<std::int32_t>(little(b, 22, 4));
    const PictureHead head{"BMP", little(b, 18, 4),
                           static_cast<std::uint64_t>(height < 0 ? -std::int64_t(height) : height)};
    const std::uint64_t from = little(b, 10, 4);
    const bool packed = little(b, 30, 4) == 1 || little(b, 30, 4) == 2;
    const std::uint64_t row = (head.width * little(b, 28, 2) + 31) / 32 * 4;
    if (head.width > mostPixels || head.height > mostPixels)
        return head; // refused for its size
    const std::uint64_t needed = packed ? from + little(b, 34, 4) : from + row * head.height;
    return needed <= b.size() ? Head(head) : std::nullopt;
}

/// The first directory: its size, and that all strips or tiles lie in the file.
Head tiff(Bytes b)
{
    if (b.size() < 8)
        return std::nullopt;
    const bool intel = b[0] == 'I';
    const auto number = [&](size_t at, size_t count) { return intel ? little(b, at, count) : big(b, at, count); };
    const std::uint64_t directory = number(4, 4);
    if (directory + 2 > b.size())
        return std::nullopt;
    const std::uint64_t entries = number(directory, 2);
    if (directory + 2 + 12 * entries > b.size())
        return std::nullopt;
    PictureHead head{"TIFF", 0, 0};
    std::array<std::uint64_t, 2> places{}, placesCount{}, placesSize{4, 4}; // offsets, then lengths
    for (std::uint64_t k = 0; k < entries; ++k) {
        const size_t at = directory + 2 + 12 * k;
        const std::uint64_t tag = number(at, 2);
        const size_t size = number(at + 2, 2) == 3 ? 2 : 4;
        const std::uint64_t count = number(at + 4, 4);
        const std::uint64_t value = number(at + 8, size);
        if (tag == 256)
            head.width = value;
        if (tag == 257)
            head.height = value;
        const bool offsets = tag == 273 || tag == 324, lengths = tag == 279 || tag == 325;
        if (offsets || lengths) {
            const size_t which = lengths ? 1 : 0;
            placesCount[which] = count;
            placesSize[which] = size;
            places[which] = count * size <= 4 ? at + 8 : number(at + 8, 4);
        }
    }
    if (placesCount[0] == 0 || placesCount[0] != placesCount[1])
        return std::nullopt;
    for (size_t which = 0; which < 2; ++which)
        if (placesCount[which] > b.size() || places[which] + placesCount[which] * placesSize[which] > b.size())
            return std::nullopt;
    for (std::uint64_t k = 0; k < placesCount[0]; ++k)
        if (number(places[0] + k * placesSize[0], placesSize[0]) + number(places[1] + k * placesSize[1], placesSize[1])
            > b.size())
            return std::nullopt;
    return head;
}

} // namespace

Expected<PictureHead> pictureHead(std::span<const std::uint8_t> bytes, const std::string& place)
{
    Head head;
    if (begins(bytes, {0x89, 'P', 'N', 'G', 0x0D, 0x0A, 0x1A, 0x0A}))
        head = png(bytes);
    else if (begins(bytes, {0xFF, 0xD8}))
        head = jpeg(bytes);
    else if (begins(bytes, {'B', 'M'}))
        head = bmp(bytes);
    else if (begins(bytes, {'I', 'I', 42, 0}) || begins(bytes, {'M', 'M', 0, 42}))
        head = tiff(bytes);
    else
        return Problem{
            place, bytes.empty() ? "an empty file" : "a file of another kind", "a PNG, JPEG, TIFF or BMP picture", {}};
    if (!head)
        return Problem{place, "a picture that is cut short", "a whole one", "Copy it again from the camera."};
    if (head->width == 0 || head->height == 0)
        return Problem{place, "a picture without a size", "one with rows and columns", {}};
    if (head->width > mostPixels / head->height)
        return Problem{place, std::to_string(head->width) + " × " + std::to_string(head->height) + " pixels",
                       "at most " + std::to_string(mostPixels / 1'000'000) + " million",
                       "Save it smaller, or cut the indent out."};
    return *head;
}

} // namespace fortitor
