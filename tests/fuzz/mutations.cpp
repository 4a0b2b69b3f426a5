// SPDX-License-Identifier: GPL-3.0-or-later
#include "fuzz/mutations.h"

#include "units/json_bounds.h"

namespace fortitor::test {
namespace {

const char* tension = R"({
  "fortitor_job": 1, "job": {"number": "J-1", "title": "Rigger tube"}, "method": "tension-metal",
  "material": {"name": "6082-T6", "direction": "along", "temperature": "23 degC", "moisture": "8 %",
    "conditioning": "none", "published": {"E": "70 GPa", "Rm": "310 MPa", "A": "10 %"}},
  "options": {"yield_offset": "0.2 %", "yield": "auto", "slope": "auto", "force_zero": "auto", "area_from": "mean"},
  "requirements": [{"symbol": "Rm", "min": "290 MPa", "max": "400 MPa", "mean_min": "295 MPa",
    "lower_bound_min": "280 MPa", "source": "drawing"}],
  "instruments": {"force": {"name": "K-50", "class": "1", "capacity": "50 kN"}, "grips": {"name": "G-40",
    "capacity": "40 kN"}, "extensometer": {"name": "X-50", "class": "1", "travel": "25 mm"},
    "calliper": {"name": "C-07", "error": "0.02 mm"}},
  "limits": {"force": "30 kN", "travel": "40 mm", "force_drop": "40 %", "time": "20 min"},
  "judged": {"who": "operator A", "when": "2027-01-01 10:00"}, "importing": {"file": "J-1.json"},
    "truth": {"Rm": {"value": 310, "unit": "MPa"}},
  "specimens": [
    {"label": "A1", "dimensions": {"shape": "round", "diameter": ["10.02 mm", "10.01 mm", "0.3945 in"],
      "gauge_length": "50 mm", "extensometer_gauge_length": "50 mm", "parallel_length": "60 mm",
      "final_gauge_length": "56.4 mm", "final_diameter": ["7.31 mm", "7.29 mm"]},
     "options": {"slope": "manual 20 MPa 150 MPa"}, "notes": {"fracture": "cup and cone", "batch": "7"},
     "settled": [{"code": "nominal-dimension", "who": "operator A", "why": "measured twice",
       "when": "2027-01-01 10:00"}], "excluded": "",
     "done": ["Close the guard."], "checks": [],
     "rehearsal": {"date": "2027-01-01", "axis": "strain", "value": "stress", "x": [0, 0.01], "low": [0, 1],
       "middle": [0, 2], "high": [0, 3], "words": ["fine"]},
     "record": {"id": "0a", "source": "simulated frame", "sha256": "ab", "incomplete": "stopped",
       "events": [{"time": 1.5, "code": "start", "text": "Start"}], "columns": {"force": {"column": 2, "unit": "kN"}}}},
    {"label": "A2", "dimensions": {"shape": "rectangular", "width": ["12 mm"], "thickness": ["3 mm"]}}]})";

const char* flexure = R"({
  "fortitor_job": 1, "job": {"number": "J-2", "title": "Battens"}, "method": "flexure",
    "material": {"name": "Sitka spruce"}, "options": {"loading": "four-point", "limit": "auto"},
  "requirements": [{"symbol": "MOR", "min": "60 MPa"}],
  "specimens": [{"label": "B1", "dimensions": {"width": ["20 mm", "20.1 mm"], "depth": ["20 mm"], "span": "300 mm",
    "load_span": "100 mm", "mass_wet": "60 g", "mass_dry": "54 g"},
    "readings": {"force": ["0 N", "100 N", "200 N", "300 N", "400 N", "500 N", "560 N"], "deflection": ["0 mm",
      "0.4 mm", "0.8 mm", "1.2 mm", "1.62 mm", null, "2.6 mm"]},
    "corrections": [{"step": 3, "channel": "deflection", "was": "8 mm", "now": "0.8 mm", "why": "misread",
      "who": "operator A", "when": "2027-01-01"}]}]})";

const char* torsion = R"({
  "fortitor_job": 1, "job": {"number": "J-3"}, "method": "torsion", "material": {"name": "steel S355"},
    "options": {"shear_offset": "0.2 %"},
  "specimens": [{"label": "T1", "dimensions": {"shape": "round", "diameter": ["10 mm"], "gauge_length": "100 mm"},
    "readings": {"torque": ["0 Nm", "10 Nm", "20 Nm", "30 Nm", "40 Nm", "45 Nm"], "twist": ["0 deg", "0.7 deg",
      "1.4 deg", "2.1 deg", "2.9 deg", "9 deg"]}}]})";

const char* poisson = R"({
  "fortitor_job": 1, "job": {"number": "J-4"}, "method": "poisson", "options": {"gauge_factor": "2.1",
    "gauge_factor_set": "2.0", "transverse_sensitivity": "0.4 %"},
  "specimens": [{"label": "P1", "dimensions": {"shape": "rectangular", "width": "20 mm", "thickness": "2 mm"},
    "readings": {"force": ["500 N", "1000 N", "1500 N", "2000 N", "2500 N"], "strain": ["118 ue", "236 ue", "354 ue",
      "472 ue", null], "transverse_strain": ["-35 ue", "-71 ue", "-106 ue", "-142 ue", "-177 ue"]}}]})";

const char* crush = R"({
  "fortitor_job": 1, "job": {"number": "J-5"}, "method": "crush", "material": {"name": ""},
  "specimens": [{"label": "C1", "dimensions": {"shape": "tube", "outer_diameter": ["40 mm"], "wall": ["0.5 mm"],
    "height": "60 mm"}, "notes": {"operator": "operator B"}, "excluded": "dented"}]})";

Json deep()
{
    Json value = 1;
    for (size_t i = 0; i + 8 < deepestJson; ++i)
        value = Json::array({value});
    return value;
}

Json replacement(size_t kind)
{
    switch (kind) {
    case 0: return nullptr;
    case 1: return true;
    case 2: return 0;
    case 3: return -7;
    case 4: return 1e308;
    case 5: return -1e-308;
    case 6: return "";
    case 7: return "x";
    case 8: return "-3 mm";
    case 9: return "1e308 MPa";
    case 10: return Json::array();
    case 11: return Json::array({nullptr});
    case 12: return Json::array({"10 mm", 5});
    case 13: return Json::object();
    case 14: return Json{{"a", {{"b", nullptr}}}};
    case 15: return std::string(20000, 'A');
    default: return deep();
    }
}

} // namespace

std::vector<Json> everyKeyJobs()
{
    std::vector<Json> jobs;
    for (const char* text : {tension, flexure, torsion, poisson, crush})
        jobs.push_back(*parseJson(text, "job"));
    return jobs;
}

std::vector<std::string> placesOf(const Json& job)
{
    std::vector<std::string> places;
    const auto walk = [&](auto self, const Json& at, const std::string& path) -> void {
        if (!path.empty())
            places.push_back(path);
        if (at.is_object())
            for (const auto& [key, value] : at.items())
                self(self, value, path + "/" + key);
        else if (at.is_array())
            for (size_t i = 0; i < at.size(); ++i)
                self(self, at[i], path + "/" + std::to_string(i));
    };
    walk(walk, job, "");
    return places;
}

Json mutated(const Json& job, const std::string& place, size_t kind)
{
    Json out = job;
    const Json::json_pointer pointer(place);
    if (!out.contains(pointer))
        return out;
    if (kind + 1 < mutationKinds) {
        out[pointer] = replacement(kind);
        return out;
    }
    Json& parent = out[pointer.parent_pointer()];
    if (parent.is_object())
        parent.erase(pointer.back());
    else
        parent.erase(std::stoul(pointer.back()));
    return out;
}

Json mutatedAtRandom(const Json& job, Random& random)
{
    Json out = job;
    const int times = 1 + static_cast<int>(random.between(0, 3));
    for (int i = 0; i < times; ++i) {
        const auto places = placesOf(out);
        if (places.empty())
            break;
        const auto pick = [&](size_t n) {
            return std::min(n - 1, static_cast<size_t>(random.between(0, static_cast<double>(n))));
        };
        const std::string place = places[pick(places.size())];
        out = mutated(out, place, pick(mutationKinds));
    }
    return out;
}

} // namespace fortitor::test
