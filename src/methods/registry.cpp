// SPDX-License-Identifier: GPL-3.0-or-later
#include "methods/method.h"
#include "methods/tension_metal/tension_metal.h"

#include <algorithm>

namespace fortitor {

const std::vector<Method>& methodRegistry()
{
    static const std::vector<Method> methods{
        tensionMetal(),
    };
    return methods;
}

const Method* findMethod(std::string_view id)
{
    const auto it = std::ranges::find(methodRegistry(), id, &Method::id);
    return it == methodRegistry().end() ? nullptr : &*it;
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

} // namespace fortitor
