// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "jobs/document.h"
#include "plan/load_train.h"

#include <string_view>

namespace fortitor::edits {

/// What people do to a job, as commands. `index` counts specimens from 0, `place` readings from 0.
/// None of them changes the document.

/// A new job of a method with one specimen row for each label.
Json newJob(const std::string& number, const std::string& title, const Method& method, int specimens);

Command head(const JobDocument& document, const std::string& key, const std::string& value);
/// Another test method; options and shapes that it does not know are taken out.
Command method(const JobDocument& document, const Method& chosen);
Command material(const JobDocument& document, const std::string& name);
Command option(const JobDocument& document, const std::string& key, const std::string& value,
               const std::string& why = {});
/// For one specimen only; an empty value goes back to the job's.
Command specimenOption(const JobDocument& document, size_t index, const std::string& key, const std::string& value,
                       const std::string& why);

/// A reading keyed at a place. The text is kept as typed, with the unit of the field added where
/// none was typed. Empty text takes the reading out. Refuses what can't be read.
Expected<Command> reading(const JobDocument& document, size_t index, const FieldSpec& field, size_t place,
                          const std::string& text);
Command shape(const JobDocument& document, size_t index, const std::string& shape);
Command note(const JobDocument& document, size_t index, const std::string& key, const std::string& value);

Command addSpecimen(const JobDocument& document);
/// The label after the last one: A5 → A6, 12 → 13.
std::string nextLabel(const Job& job);
Command removeSpecimen(const JobDocument& document, size_t index, const std::string& why);
Command relabel(const JobDocument& document, size_t index, const std::string& label);

/// Sets or takes out the limits of a symbol. Limits with unit; empty: none.
Expected<Command> requirement(const JobDocument& document, const std::string& symbol, const std::string& min,
                              const std::string& max);

/// What is wanted of the lot: its mean, and the bound that 90 % of all lie above (95 % confidence).
Expected<Command> lotRequirement(const JobDocument& document, const std::string& symbol, const std::string& mean,
                                 const std::string& bound);

/// Nothing is wanted of a symbol any more, of a specimen or of the lot.
Expected<Command> noRequirement(const JobDocument& document, const std::string& symbol);
/// The job is held against a rule of the book; it keeps it as it is now. Again by the same name: in its place.
Command cite(const JobDocument& document, const AcceptanceRule& rule);
Command uncite(const JobDocument& document, size_t index);
Command settle(const JobDocument& document, size_t index, const std::string& code, const std::string& who,
               const std::string& why, const std::string& when);
Command unsettle(const JobDocument& document, size_t index, const std::string& code);
/// A person stands behind the verdict of the set from here on; changing a reading asks for a reason.
Command judge(const JobDocument& document, const std::string& who, const std::string& when);
Command unjudge(const JobDocument& document);
Command exclude(const JobDocument& document, size_t index, const std::string& why);
Command include(const JobDocument& document, size_t index);

/// A record kept in the logbook takes the place of what the specimen had.
Command attachRecord(const JobDocument& document, size_t index, const std::string& id, const std::string& source,
                     const ColumnChoices& columns);
/// An instrument of the load train: kind "force", "extensometer", "calliper", "grips".
Command instrument(const JobDocument& document, const std::string& kind, const Json& description);
/// A stop limit of the job, "force", "extension", "travel", "force_drop" or "time", as a quantity; empty:
/// as proposed. Refused when it can't be read, is not above zero, or lies above `most`.
Expected<Command> limit(const JobDocument& document, const std::string& key, const std::string& text, double most = 0);
/// Puts the job's own limits in place of the proposed ones; never a force above what was proposed.
void applyLimits(const Json& job, Kind load, StopLimits& limits);
/// What a stop limit is a figure of, where the train carries such a load.
Kind limitKind(std::string_view key, Kind load);
/// Keeps what a rehearsal showed beside the specimen.
Command rehearsal(const JobDocument& document, size_t index, const Json& body);
/// A step of the method ticked by a person.
Command step(const JobDocument& document, size_t index, const std::string& text, bool done);
[[nodiscard]] bool stepDone(const JobDocument& document, size_t index, const std::string& text);

} // namespace fortitor::edits
