// SPDX-License-Identifier: GPL-3.0-or-later
#include "methods/cai/cai.h"
#include "methods/compression/compression.h"
#include "methods/crush/crush.h"
#include "methods/drop_weight/drop_weight.h"
#include "methods/fatigue_sn/fatigue_sn.h"
#include "methods/flatwise_tension/flatwise_tension.h"
#include "methods/flexure/flexure.h"
#include "methods/hardness/hardness.h"
#include "methods/impact/impact.h"
#include "methods/method.h"
#include "methods/poisson/poisson.h"
#include "methods/proof_load/proof_load.h"
#include "methods/spectrum/spectrum.h"
#include "methods/tension_composite/tension_composite.h"
#include "methods/tension_metal/tension_metal.h"
#include "methods/tension_plastic/tension_plastic.h"
#include "methods/torsion/torsion.h"

#include <algorithm>
#include <memory>
#include <mutex>

namespace fortitor {

const std::vector<Method>& methodRegistry()
{
    static const std::vector<Method> methods{
        tensionMetal(),
        tensionPlastic(),
        tensionComposite(),
        flatwiseTension(),
        poisson(),
        compression(),
        crush(),
        flexure(),
        torsion(),
        hardness(),
        impact(),
        dropWeight(),
        compressionAfterImpact(),
        proofLoad(),
        fatigueSn(),
        loadSpectrum(),
    };
    return methods;
}

std::vector<Method>& furtherMethods()
{
    static std::vector<Method> methods;
    return methods;
}

const Method* findMethod(std::string_view id)
{
    for (const std::vector<Method>* methods :
         {&methodRegistry(), static_cast<const std::vector<Method>*>(&furtherMethods())})
        if (const auto it = std::ranges::find(*methods, id, &Method::id); it != methods->end())
            return &*it;
    return nullptr;
}

const Method* findMethod(std::string_view id, const std::map<std::string, std::string>& options)
{
    const Method* usual = findMethod(id);
    if (!usual || !usual->byOptions)
        return usual;
    // Kept for good: jobs hold on to their method. There are as many as there are choices.
    static std::mutex mutex;
    static std::map<std::string, std::unique_ptr<const Method>> kept;
    auto made = std::make_unique<const Method>(usual->byOptions(options));
    const std::lock_guard lock(mutex);
    return kept.try_emplace(made->id + "\n" + made->variant, std::move(made)).first->second.get();
}

const Result* Outcome::find(std::string_view symbol) const
{
    const auto it = std::ranges::find(results, symbol, &Result::symbol);
    return it == results.end() ? nullptr : &*it;
}

bool Outcome::remarked(std::string_view code) const
{
    return std::ranges::find(remarks, code, &Remark::code) != remarks.end();
}

const Unit& unitOf(const ResultSpec& spec)
{
    // A share is that of a length or a section, a strain; a temperature in K a difference.
    const Kind kind = spec.unit == "%" ? Kind::Strain : spec.unit == "K" ? Kind::TemperatureDifference : Kind::Number;
    return *findUnit(spec.unit, kind);
}

std::vector<PageSpec> standardPages()
{
    return {{Stage::Plan, "Plan", "plan"},      {Stage::Measure, "Measure", "measure"},
            {Stage::SetUp, "Set up", "set-up"}, {Stage::Load, "Load", "load"},
            {Stage::Read, "Read", "read"},      {Stage::Judge, "Judge", "judge"},
            {Stage::Report, "Report", "report"}};
}

std::string OptionSpec::shown(const std::string& choice) const
{
    const auto it = words.find(choice);
    return it == words.end() ? choice : it->second;
}

bool Intake::has(By way) const
{
    return std::ranges::find(ways, way) != ways.end();
}

const PadChannel* Intake::find(std::string_view name) const
{
    const auto it = std::ranges::find(columns, name, &PadChannel::name);
    return it == columns.end() ? nullptr : &*it;
}

const ResultSpec* Method::findResult(std::string_view symbol) const
{
    const auto it = std::ranges::find(results, symbol, &ResultSpec::symbol);
    return it == results.end() ? nullptr : &*it;
}

const FieldSpec* Method::findField(std::string_view key) const
{
    const auto it = std::ranges::find(fields, key, &FieldSpec::key);
    return it == fields.end() ? nullptr : &*it;
}

const OptionSpec* Method::findOption(std::string_view key) const
{
    const auto it = std::ranges::find(options, key, &OptionSpec::key);
    return it == options.end() ? nullptr : &*it;
}

const NoteSpec* Method::findNote(std::string_view key) const
{
    const auto it = std::ranges::find(notes, key, &NoteSpec::key);
    return it == notes.end() ? nullptr : &*it;
}

const OptionSpec* Method::optionOf(OptionSpec::Role role) const
{
    const auto it = std::ranges::find(options, role, &OptionSpec::role);
    return it == options.end() ? nullptr : &*it;
}

const NoteSpec* Method::noteShownAs(NoteSpec::Shown what) const
{
    const auto it = std::ranges::find(notes, what, &NoteSpec::shownAs);
    return it == notes.end() ? nullptr : &*it;
}

const PageSpec* Method::pageOf(Stage stage) const
{
    const auto it = std::ranges::find(pages, stage, &PageSpec::stage);
    return it == pages.end() ? nullptr : &*it;
}

bool stepApplies(const StepSpec& step, const Method& method, const std::map<std::string, std::string>& options)
{
    const size_t equals = step.onlyIf.find('=');
    if (equals == std::string::npos)
        return true;
    const std::string key = step.onlyIf.substr(0, equals);
    const auto set = options.find(key);
    const OptionSpec* spec = method.findOption(key);
    const std::string chosen = set != options.end() && !set->second.empty() ? set->second
        : spec                                                              ? spec->fallback
                                                                            : std::string();
    return chosen == step.onlyIf.substr(equals + 1);
}

} // namespace fortitor
