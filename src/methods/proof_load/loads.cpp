// SPDX-License-Identifier: GPL-3.0-or-later
// Working load and proof load: never one for the other.
#include "methods/proof_load/proof_load.h"

#include "methods/common/figures.h"
#include "units/gravity.h"

#include <fmt/format.h>

#include <cctype>
#include <cmath>

namespace fortitor {

Expected<double> loadIn(const std::string& text, const std::string& place)
{
    if (const auto force = parseQuantity(text, Kind::Force)) {
        if (force->base > 0)
            return force->base;
    } else if (const auto mass = parseQuantity(text, Kind::Mass); mass && mass->base > 0) {
        return mass->base * standardGravity;
    }
    // "2 ton" is three things.
    std::string word;
    for (const char c : text)
        if (std::isalpha(static_cast<unsigned char>(c)))
            word += static_cast<char>(std::tolower(static_cast<unsigned char>(c)));
    if (word == "ton" || word == "tons" || word == "tonne" || word == "tonnes" || word == "shortton"
        || word == "longton")
        return Problem{
            place, '"' + text + '"', "a unit that says which ton",
            "A metric one is 1 t (9.807 kN), a short one 2000 lb (8.896 kN), a long one 2240 lb (9.964 kN)."};
    return Problem{
        place, '"' + text + '"', "a load above zero with its unit, such as 7.85 kN; 0.8 t stands for its weight", {}};
}

Expected<ProofLoads> proofLoadsOf(const SpecimenInput& input)
{
    ProofLoads loads;
    for (const auto& [key, out] :
         {std::pair("working_load", &loads.working), {"proof_load", &loads.proof}, {"fixture_limit", &loads.fixture}})
        if (const std::string text = optionOr(input, key, ""); !text.empty()) {
            const auto load = loadIn(text, std::string("options.") + key);
            if (!load)
                return load.problem();
            *out = *load;
        }
    const std::string factor = optionOr(input, "proof_factor", "");
    const auto times = parseNumber(factor.empty() ? "1" : factor);
    if (!times || !(*times >= 1) || *times > 20)
        return Problem{"options.proof_factor", '"' + factor + '"', "a number from 1 to 20, such as 2",
                       "Below 1 the part would be tested at less than it is used with."};
    if (!loads.proof && loads.working)
        loads.proof = *times * *loads.working;
    const std::string cycles = optionOr(input, "cycles", "2");
    const auto count = parseNumber(cycles);
    if (!count || *count < 1 || *count > 20 || *count != std::floor(*count))
        return Problem{"options.cycles", '"' + cycles + '"', "a whole number from 1 to 20", {}};
    loads.cycles = static_cast<int>(*count);
    if (loads.fixture && loads.proof && *loads.fixture < *loads.proof)
        return Problem{"options.fixture_limit", formatQuantity(*loads.fixture, baseUnit(Kind::Force), 4),
                       "no less than the proof load of " + formatQuantity(*loads.proof, baseUnit(Kind::Force), 4),
                       "Use a stronger fixture."};
    return loads;
}

} // namespace fortitor
