// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "units/expected.h"

#include <QByteArray>

#include <span>
#include <vector>

namespace fortitor {

/// A stretch of a channel as it lies in the logbook: the bytes of its doubles sorted by place (all
/// first bytes, then all second …, little-endian), as one zstd frame with its checksum. Exact.
QByteArray packChunk(std::span<const double> values);

/// Refuses bytes that are damaged or hold another number of values than `rows`.
Expected<std::vector<double>> unpackChunk(const QByteArray& bytes, size_t rows);

} // namespace fortitor
