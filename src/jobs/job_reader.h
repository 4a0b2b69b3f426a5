// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "jobs/job.h"

#include <initializer_list>
#include <map>
#include <optional>
#include <set>
#include <string>
#include <vector>

namespace fortitor {

/// "a, b, c"
std::string listed(const std::vector<std::string>& words);

/// That member of each: the keys or symbols there are.
template <class Spec> std::vector<std::string> names(const std::vector<Spec>& specs, std::string Spec::*name)
{
    std::vector<std::string> all;
    for (const Spec& spec : specs)
        all.push_back(spec.*name);
    return all;
}

/// Reads one job; the first Problem ends it.
class JobReader {
public:
    explicit JobReader(const Json& json) : json_(json) { }
    Expected<Job> read();

private:
    void fail(Problem p);
    void unknown(const Json& object, const std::set<std::string>& known, const std::string& path);
    /// Something that is not understood: told with the name that is nearest, and kept.
    void kept(const std::string& words, const std::string& found, const std::vector<std::string>& known);
    std::string text(const Json& object, const std::string& key, const std::string& path);
    /// `scale`: the one that a number of hardness must be of.
    std::optional<Quantity> quantity(const Json& value, Kind kind, const std::string& path,
                                     const Unit* scale = nullptr);
    /// Something is there under the key, and is not null.
    static bool has(const Json& object, const std::string& key);
    /// The members that are texts: each is one or null.
    void texts(const Json& object, std::initializer_list<const char*> keys, const std::string& path);
    const Json& object(const char* key);
    void head();
    void options() { readOptions(object("options"), base_.options, "options."); }
    /// Options of the job, or of one specimen where it stands apart from the others.
    void readOptions(const Json& list, std::map<std::string, std::string>& out, const std::string& path);
    void instruments();
    void requirements();
    /// What the method checks once a day: { "at", "value" }.
    void daily();
    void rules();
    /// What people have said and set in the application.
    void people();
    void specimens();
    void dimensions(const Json& item, Specimen& s, const std::string& path);
    void notes(const Json& item, Specimen& s, const std::string& path);
    void record(const Json& item, Specimen& s, const std::string& path);
    /// What happened in a record that came from a logbook: its file holds only the channels.
    /// Files of a long signal.
    void history(const Json& item, Specimen& s, const std::string& path);
    void recordEvents(const Json& r, Specimen& s, const std::string& path);
    void readings(const Json& list, Specimen& s, const std::string& path);
    void singleReadings(const Json& list, Specimen& s, const std::string& path);
    std::optional<Quantity> readingOf(const PadChannel& column, const Json& value, const std::string& path);
    void places(const Json& item, Specimen& s, const std::string& path);
    void zones(const Json& item, Specimen& s, const std::string& path);
    void pictures(const Json& item, Specimen& s, const std::string& path);
    std::vector<std::array<double, 2>> pixels(const Json& one, const char* key, const std::string& at);
    void person(const Json& item, Specimen& s, const std::string& path);
    const Json& json_;
    Job job_;
    SpecimenInput base_;
    std::optional<Problem> problem_;
};

} // namespace fortitor
