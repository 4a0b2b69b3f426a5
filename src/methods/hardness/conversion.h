// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "judge/remark.h"
#include "methods/hardness/scales.h"
#include "units/expected.h"

#include <optional>
#include <span>
#include <string>
#include <string_view>
#include <vector>

namespace fortitor {

/// Numbers of several scales that were found side by side on one kind of material. Rows fall in every column.
struct ConversionTable {
    std::string name; ///< "steel, hard range"
    std::string material; ///< "steel"
    std::vector<std::string> scales; ///< as they are printed
    std::vector<std::vector<std::optional<double>>> rows; ///< a cell a scale
};

/// Those that come with the program: non-austenitic steels, hard and soft range (ASTM E140 kind).
const std::vector<ConversionTable>& conversionTables();

/// A number that was looked up, not measured.
struct Converted {
    double value = 0;
    std::string table; ///< where it comes from, "…, then …" where by way of HV
    std::vector<Remark> remarks{}; ///< `converted`, `tables-disagree`, `converted-twice`
};

/// A table that a laboratory brings along, as comma- or semicolon-separated text: lines "# name: …" and "# material:
/// …", a line of scales, then rows of numbers with blanks where a scale has none. All columns fall, or all rise, from row
/// to row. Problems name line and column.
Expected<ConversionTable> readConversionTable(std::string_view text, const std::string& file);

/// By one table alone, whatever its material; the same limits hold.
Expected<Converted> convertByTable(double value, const HardnessScale& from, const HardnessScale& to,
                                   const ConversionTable& table);

/// What one number is worth in strength, for plain steels, ±10 %.
struct StrengthFactor {
    std::string_view symbol, scale;
    double factor; ///< MPa
    std::string_view written;
};
std::span<const StrengthFactor> strengthFactors();

/// Interpolates between neighbouring rows; never outside a table, from a number out of its scale's own band, or for
/// another material. To and from HRC and HRA by the hard table, to and from HRB by the soft one, between HV and HBW
/// by the hard one from 240 on. HRC to HRB and back by way of HV only, where both tables hold it.
Expected<Converted> convertHardness(double value, const HardnessScale& from, const HardnessScale& to,
                                    std::string_view material = "steel");

} // namespace fortitor
