// SPDX-License-Identifier: GPL-3.0-or-later
#include "history/raw_file.h"
#include "history/sound_file.h"

#include <fmt/format.h>
#include <hdf5.h>

#include <algorithm>
#include <array>

namespace fortitor {

namespace {

/// A handle of the library, closed by its own function.
struct Handle {
    Handle(hid_t made, herr_t (*with)(hid_t)) : id(made), close(with) { }
    ~Handle()
    {
        if (id >= 0)
            close(id);
    }
    Handle(const Handle&) = delete;
    Handle& operator=(const Handle&) = delete;
    explicit operator bool() const { return id >= 0; }
    hid_t id;
    herr_t (*close)(hid_t);
};

} // namespace

Expected<HistoryFile> openHdf5History(const std::string& path, const HistoryRequest& request)
{
    H5Eset_auto2(H5E_DEFAULT, nullptr, nullptr); // it is told here
    if (request.dataset.empty())
        return Problem{path, "no data set named", "its path in the file, such as /day1/strain",
                       "Give the path of the data set."};
    const Handle file(H5Fopen(path.c_str(), H5F_ACC_RDONLY, H5P_DEFAULT), H5Fclose);
    if (!file)
        return Problem{path, "no HDF5 file that can be read", "one", {}};
    const Handle set(H5Dopen2(file.id, request.dataset.c_str(), H5P_DEFAULT), H5Dclose);
    if (!set)
        return Problem{path, "no data set \"" + request.dataset + '"', "one that is in the file", {}};
    const Handle space(H5Dget_space(set.id), H5Sclose), type(H5Dget_type(set.id), H5Tclose);
    const int ranks = H5Sget_simple_extent_ndims(space.id);
    std::array<hsize_t, 2> size{1, 1};
    if (ranks < 1 || ranks > 2 || H5Sget_simple_extent_dims(space.id, size.data(), nullptr) < 0)
        return Problem{path, fmt::format("a data set of {} dimensions", ranks), "a row, or a table of columns", {}};
    const H5T_class_t kind = H5Tget_class(type.id);
    if (kind != H5T_FLOAT && kind != H5T_INTEGER)
        return Problem{path, '"' + request.dataset + "\" is no data set of numbers", "numbers", {}};
    const auto channel = numberedChannel(path, request.channel, static_cast<size_t>(size[1]));
    if (!channel)
        return channel.problem();
    auto spill = Spill::make();
    if (!spill)
        return spill.problem();
    constexpr hsize_t rows = 1 << 16;
    std::vector<double> values;
    for (hsize_t from = 0; from < size[0]; from += rows) {
        const hsize_t take = std::min(rows, size[0] - from);
        const std::array<hsize_t, 2> start{from, *channel}, count{take, 1};
        values.resize(take);
        const Handle memory(H5Screate_simple(1, &take, nullptr), H5Sclose);
        if (H5Sselect_hyperslab(space.id, H5S_SELECT_SET, start.data(), nullptr, count.data(), nullptr) < 0
            || H5Dread(set.id, H5T_NATIVE_DOUBLE, memory.id, space.id, H5P_DEFAULT, values.data()) < 0)
            return Problem{path, fmt::format("readings from {} on that can't be read", from), "the whole data set",
                           "Was the copy cut short? Get the whole file."};
        if (auto ok = spill->append(values); !ok)
            return ok.problem();
    }
    return HistoryFile{.source = std::move(*spill).source()};
}

} // namespace fortitor
