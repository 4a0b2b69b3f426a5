// SPDX-License-Identifier: GPL-3.0-or-later
// A long signal to look at: least and greatest readings at every scale.
#pragma once

#include "history/source.h"

#include <span>
#include <string>
#include <vector>

namespace fortitor {

/// Least and greatest of some readings, in single precision: for the eye, not for figures. A gap has low above high.
struct Extent {
    float low = 1, high = -1;
    [[nodiscard]] bool empty() const { return low > high; }
    void take(const Extent& other);
};

/// About a sixteenth of a byte a reading, built in one pass over the signal, on all cores.
class Pyramid {
public:
    static constexpr std::uint64_t leaf = 128; ///< readings in the lowest extent
    static constexpr std::uint64_t fan = 8; ///< extents in the one above

    /// Nothing where `goOn` stopped it. Refused: a source in trouble.
    static Expected<std::optional<Pyramid>> build(const HistorySource& source, const Progress& goOn = {},
                                                  size_t threads = 0);
    [[nodiscard]] std::uint64_t size() const { return size_; }

    /// Extents of as many equal columns of readings [from, to). Columns narrower than a leaf are read from the source;
    /// of wider ones each leaf goes to the column it begins in.
    void extents(const HistorySource& source, double from, double to, std::span<Extent> columns) const;
    [[nodiscard]] Extent whole() const;

    /// The pyramid as bytes, with what it belongs to; and back: nothing where they are of another signal, or damaged.
    [[nodiscard]] std::string bytes(const std::string& stamp) const;
    static std::optional<Pyramid> fromBytes(std::string_view bytes, const std::string& stamp);

private:
    void raise();
    [[nodiscard]] Extent over(std::uint64_t first, std::uint64_t last) const;
    std::uint64_t size_ = 0;
    std::vector<std::vector<Extent>> levels_; ///< from the leaves up
};

/// Where it is kept: beside the first file.
std::string pyramidPath(const std::vector<std::string>& files);
/// Names, sizes and times of files, as they are now: what was made of them is of use while this stays.
/// Refused: a file that is not there.
Expected<std::string> stampOf(const std::vector<std::string>& files);

struct KeptPyramid {
    Pyramid pyramid{};
    bool built = false; ///< now; else it was there
    std::string notKept{}; ///< why it could not be written beside the file; it serves all the same
};
/// The one beside the file where it is of this age, else a new one that is put there. Nothing where it was stopped.
Expected<std::optional<KeptPyramid>> keptPyramid(const HistorySource& source, const std::vector<std::string>& files,
                                                 const Progress& goOn = {});

} // namespace fortitor
