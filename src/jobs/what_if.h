// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "jobs/analysis.h"
#include "jobs/document.h"
#include "jobs/pad.h"

#include <string>
#include <vector>

namespace fortitor {

/// One thing of a specimen that may be otherwise: a reading, a dimension, a choice.
struct WhatIfItem {
    enum class Sort { Option, Reading, Dimension } sort = Sort::Option;
    std::string key; ///< of the option, the channel or the dimension
    size_t place = 0; ///< of the step or of the repeat reading, from 0
    std::string label; ///< "limit at reading", "dial, reading 5", "width b 2"
    std::string now; ///< what stands: "auto", "3.42 mm"; empty: nothing
    std::vector<std::pair<std::string, std::string>> choices{}; ///< where it is one of a few: key and words
};

/// Everything that may be asked about, choices first.
std::vector<WhatIfItem> whatIfItems(const JobDocument& document, size_t index);

/// A side copy of one specimen with what was changed in it. Nothing of the job is touched until it is kept.
class WhatIf {
public:
    struct Change {
        WhatIfItem item;
        std::string now;
    };

    WhatIf(const JobDocument& document, size_t index);
    /// Puts a text in the place of what stands; the same as what stands takes the change back. Refuses what does
    /// not read there; then nothing changes.
    Expected<Done> change(const WhatIfItem& item, const std::string& text, UnitSystem system = UnitSystem::SI);
    /// The same changes on the document as it stands now; what has no place there any more is left out.
    [[nodiscard]] WhatIf onto(const JobDocument& document, UnitSystem system = UnitSystem::SI) const;
    [[nodiscard]] const std::vector<Change>& changes() const { return changes_; }
    /// The figures of the copy; `record` is what the specimen has where it was not keyed.
    [[nodiscard]] Expected<SpecimenOutcome> outcome(const std::shared_ptr<const Record>& record) const;
    /// All changes as one command. Readings that are replaced stay in the list of corrections.
    [[nodiscard]] Expected<Command> keep(const std::string& who, const std::string& when, const std::string& why) const;

private:
    [[nodiscard]] Expected<Json> changed() const;
    JobDocument document_;
    size_t index_;
    std::vector<Change> changes_;
};

} // namespace fortitor
