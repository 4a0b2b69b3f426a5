// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include <cstdint>
#include <functional>
#include <string>
#include <vector>

namespace CLI {
class App;
}

namespace fortitor::cli {

// Exit codes of the contract.
constexpr int done = 0;
constexpr int otherFailure = 1;
constexpr int wrongCommand = 2;
constexpr int wrongInput = 3;
constexpr int noResult = 4;
constexpr int doneInPart = 5;

int analyse(const std::string& jobFile, const std::string& out, bool allowOutside);
int checkLogbook(const std::string& file, const std::vector<std::string>& heads = {});
int simulate(const std::string& specimen, std::uint64_t seed, const std::string& out, const std::string& jobFile,
             double hours = 1);
/// Adds `hardness` with its kinds; what is given back runs the one that was asked for.
std::function<int()> hardnessCommands(CLI::App& app);
/// Adds `spectrum` in the same way.
std::function<int()> spectrumCommand(CLI::App& app);
/// Adds `report`: a job as a PDF, without a display.
std::function<int()> reportCommand(CLI::App& app);
/// Adds `field`: extensometers over a field of displacements.
std::function<int()> fieldCommand(CLI::App& app);

} // namespace fortitor::cli
