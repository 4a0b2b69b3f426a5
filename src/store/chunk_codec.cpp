// SPDX-License-Identifier: GPL-3.0-or-later
#include "store/chunk_codec.h"

#include <zstd.h>

#include <bit>
#include <cstring>
#include <memory>

namespace fortitor {
namespace {

static_assert(std::endian::native == std::endian::little, "chunks are little-endian");

} // namespace

QByteArray packChunk(std::span<const double> values)
{
    const size_t n = values.size();
    std::vector<char> sorted(n * sizeof(double));
    const char* raw = reinterpret_cast<const char*>(values.data());
    for (size_t i = 0; i < n; ++i)
        for (size_t b = 0; b < sizeof(double); ++b)
            sorted[b * n + i] = raw[i * sizeof(double) + b];
    std::unique_ptr<ZSTD_CCtx, size_t (*)(ZSTD_CCtx*)> context(ZSTD_createCCtx(), ZSTD_freeCCtx);
    ZSTD_CCtx_setParameter(context.get(), ZSTD_c_compressionLevel, 3);
    ZSTD_CCtx_setParameter(context.get(), ZSTD_c_checksumFlag, 1);
    QByteArray out(static_cast<qsizetype>(ZSTD_compressBound(sorted.size())), Qt::Uninitialized);
    const size_t size =
        ZSTD_compress2(context.get(), out.data(), static_cast<size_t>(out.size()), sorted.data(), sorted.size());
    out.resize(ZSTD_isError(size) ? 0 : static_cast<qsizetype>(size));
    return out;
}

Expected<std::vector<double>> unpackChunk(const QByteArray& bytes, size_t rows)
{
    std::vector<char> sorted(rows * sizeof(double));
    const size_t size =
        ZSTD_decompress(sorted.data(), sorted.size(), bytes.constData(), static_cast<size_t>(bytes.size()));
    if (ZSTD_isError(size))
        return Problem{"record chunk", ZSTD_getErrorName(size), "a whole chunk",
                       "This stretch of the record is damaged; restore the logbook from a backup copy."};
    if (size != sorted.size())
        return Problem{"record chunk", std::to_string(size / sizeof(double)) + " values", std::to_string(rows),
                       "This stretch of the record is damaged; restore the logbook from a backup copy."};
    std::vector<double> values(rows);
    char* raw = reinterpret_cast<char*>(values.data());
    for (size_t i = 0; i < rows; ++i)
        for (size_t b = 0; b < sizeof(double); ++b)
            raw[i * sizeof(double) + b] = sorted[b * rows + i];
    return values;
}

} // namespace fortitor
