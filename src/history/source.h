// SPDX-License-Identifier: GPL-3.0-or-later
// A long signal of one channel: read in stretches, from any thread, never held whole.
#pragma once

#include "record/text_import.h"
#include "units/expected.h"
#include "units/unit.h"

#include <cstdint>
#include <memory>
#include <span>
#include <string>
#include <vector>

namespace fortitor {

/// Readings at an even rate. A gap is NaN.
class HistorySource {
public:
    virtual ~HistorySource() = default;
    [[nodiscard]] virtual std::uint64_t size() const = 0;
    /// Readings [from, from + out.size()), all there; any thread.
    virtual void read(std::uint64_t from, std::span<double> out) const = 0;
    /// What went wrong while it was read (a file that changed or shrank); nothing while all is well.
    [[nodiscard]] virtual std::optional<Problem> trouble() const { return std::nullopt; }
};

/// How a file is to be read.
struct HistoryRequest {
    std::string format = "auto"; ///< auto, text, f32, f64, wav, hdf5
    std::string dataset{}; ///< of an HDF5 file
    std::string channel{}; ///< header or number from 1, of a text file; empty: the only one
    std::string unit{}; ///< of the readings; empty: as the file says, else microstrain
    double rate = 0; ///< Hz; 0: from the file's own time
    Progress progress{};
};

struct HistoryFile {
    std::shared_ptr<const HistorySource> source{};
    const Unit* unit = nullptr; ///< of its readings
    double rate = 0; ///< Hz that the file tells of itself; 0: it does not
    std::vector<std::string> notes{}; ///< what the reader of the source should know
};

/// Opens one file. Refused: a unit that is neither of strain nor of stress, a size that ends in mid-sample, no rate, a channel that is not there, no readings, a clock
/// that does not run evenly.
Expected<HistoryFile> openHistory(const std::string& path, const HistoryRequest& request);
/// Several files as one, in the order given. Refused: rates or units that differ.
Expected<HistoryFile> openHistories(const std::vector<std::string>& paths, const HistoryRequest& request);
/// One behind the other; all there.
std::shared_ptr<const HistorySource> joined(std::vector<std::shared_ptr<const HistorySource>> parts);
/// Readings [from, from + count) of another, all there.
std::shared_ptr<const HistorySource> partOf(std::shared_ptr<const HistorySource> source, std::uint64_t from,
                                            std::uint64_t count);
/// Figures in memory, for a stretch or a test.
std::shared_ptr<const HistorySource> historyOf(std::vector<double> values);

} // namespace fortitor
