// SPDX-License-Identifier: GPL-3.0-or-later
#include "record/text_encoding.h"

#include <algorithm>
#include <cstdint>

namespace fortitor {
namespace {

constexpr size_t lookedAt = 65536;

void appendUtf8(std::string& out, uint32_t code)
{
    const auto put = [&](uint32_t byte) { out += static_cast<char>(byte); };
    if (code < 0x80) {
        put(code);
    } else if (code < 0x800) {
        put(0xC0 | (code >> 6));
        put(0x80 | (code & 0x3F));
    } else if (code < 0x10000) {
        put(0xE0 | (code >> 12));
        put(0x80 | ((code >> 6) & 0x3F));
        put(0x80 | (code & 0x3F));
    } else {
        put(0xF0 | (code >> 18));
        put(0x80 | ((code >> 12) & 0x3F));
        put(0x80 | ((code >> 6) & 0x3F));
        put(0x80 | (code & 0x3F));
    }
}

std::string utf16ToUtf8(std::string_view bytes, bool bigEndian)
{
    std::string out;
    out.reserve(bytes.size() / 2);
    const auto unitAt = [&](size_t i) {
        const auto a = static_cast<unsigned char>(bytes[i]);
        const auto b = static_cast<unsigned char>(bytes[i + 1]);
        return static_cast<uint32_t>(bigEndian ? a << 8 | b : b << 8 | a);
    };
    for (size_t i = 0; i + 1 < bytes.size(); i += 2) {
        uint32_t code = unitAt(i);
        if (code >= 0xD800 && code < 0xDC00 && i + 3 < bytes.size()) {
            const uint32_t low = unitAt(i + 2);
            if (low >= 0xDC00 && low < 0xE000) {
                code = 0x10000 + ((code - 0xD800) << 10) + (low - 0xDC00);
                i += 2;
            }
        }
        appendUtf8(out, code >= 0xD800 && code < 0xE000 ? 0xFFFD : code);
    }
    return out;
}

/// Half the bytes are zero and they stand at one parity: 0 even (big endian), 1 odd, -1 neither.
int zeroParity(std::string_view head)
{
    size_t zeros[2] = {0, 0};
    for (size_t i = 0; i < head.size(); ++i)
        if (head[i] == '\0')
            ++zeros[i % 2];
    const size_t half = head.size() / 2;
    if (zeros[0] > half * 7 / 10 && zeros[1] * 20 < half)
        return 0;
    if (zeros[1] > half * 7 / 10 && zeros[0] * 20 < half)
        return 1;
    return -1;
}

bool looksBinary(std::string_view head)
{
    size_t odd = 0;
    for (const char c : head) {
        const auto byte = static_cast<unsigned char>(c);
        if (byte == 0)
            return true;
        if (byte < 32 && c != '\n' && c != '\r' && c != '\t' && c != '\f' && c != '\x1a')
            ++odd;
    }
    return odd * 100 > head.size();
}

} // namespace

bool isUtf8(std::string_view bytes)
{
    for (size_t i = 0; i < bytes.size();) {
        const auto lead = static_cast<unsigned char>(bytes[i]);
        const size_t length = lead < 0x80 ? 1
            : lead >= 0xF0 && lead < 0xF5 ? 4
            : lead >= 0xE0                ? 3
            : lead >= 0xC2                ? 2
                                          : 0;
        if (length == 0 || lead >= 0xF5)
            return false;
        for (size_t k = 1; k < length; ++k) {
            if (i + k >= bytes.size())
                return i + lookedAt / 2 > lookedAt; // cut inside a letter only where the look itself ended
            if ((static_cast<unsigned char>(bytes[i + k]) & 0xC0) != 0x80)
                return false;
        }
        i += length;
    }
    return true;
}

std::string latin1ToUtf8(std::string_view bytes)
{
    std::string out;
    for (const char c : bytes)
        appendUtf8(out, static_cast<unsigned char>(c));
    return out;
}

Expected<Done> decodeText(std::string_view bytes, DecodedText& out)
{
    if (bytes.find_first_not_of(" \t\r\n") == std::string_view::npos)
        return Problem{{}, "an empty file", "lines of numbers", "Save the record again from the machine."};
    const int parity = zeroParity(bytes.substr(0, std::min(bytes.size(), size_t{4096})));
    if (bytes.starts_with("\xff\xfe") || bytes.starts_with("\xfe\xff") || parity >= 0) {
        const bool marked = bytes.starts_with("\xff\xfe") || bytes.starts_with("\xfe\xff");
        const bool big = marked ? bytes.starts_with("\xfe\xff") : parity == 0;
        out.encoding = big ? "UTF-16 BE" : "UTF-16 LE";
        out.converted = utf16ToUtf8(bytes.substr(marked ? 2 : 0), big);
        out.view = out.converted;
    } else {
        out.encoding = "UTF-8";
        out.view = bytes.starts_with("\xef\xbb\xbf") ? bytes.substr(3) : bytes;
    }
    const std::string_view head = out.view.substr(0, std::min(out.view.size(), lookedAt));
    if (looksBinary(head))
        return Problem{{},
                       "binary data",
                       "a text file with columns of numbers",
                       "Export the record as text (CSV) on the machine."};
    if (!isUtf8(head))
        out.encoding = "Latin-1";
    if (head.find('\n') == std::string_view::npos && head.find('\r') != std::string_view::npos) {
        std::string copy(out.view);
        std::ranges::replace(copy, '\r', '\n');
        out.converted = std::move(copy);
        out.view = out.converted;
    }
    return Done{};
}

} // namespace fortitor
