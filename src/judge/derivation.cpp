// SPDX-License-Identifier: GPL-3.0-or-later
#include "judge/derivation.h"

#include "units/quantity.h"

#include <algorithm>
#include <cmath>
#include <vector>

namespace fortitor {
namespace {

using Op = Term::Op;
using Node = Term::Node;

int strength(Op op)
{
    switch (op) {
    case Op::Add:
    case Op::Subtract: return 1;
    case Op::Multiply:
    case Op::Divide: return 2;
    default: return 3;
    }
}

bool isName(const Node& node)
{
    return node.op == Op::Named || node.op == Op::Leaf || node.op == Op::Constant;
}

enum class Style { Symbols, Numbers };

std::string nameText(const Node& node, Style style)
{
    if (node.op == Op::Constant)
        return node.symbol.empty() || style == Style::Numbers
            ? (node.symbol == "π" ? "π" : formatFixed(node.value, node.value == std::round(node.value) ? 0 : 3))
            : node.symbol;
    return style == Style::Symbols ? node.symbol : formatQuantity(node.value, *node.unit, node.digits);
}

std::string print(const Node& node, Style style);

std::string inner(const Node& node, Style style, int outer, bool rightSide)
{
    const std::string text = print(node, style);
    const bool negative = isName(node) && style == Style::Numbers && node.value < 0;
    const bool loose =
        negative || (!isName(node) && (strength(node.op) < outer || (rightSide && strength(node.op) == outer)));
    return loose ? "(" + text + ")" : text;
}

std::string print(const Node& node, Style style)
{
    if (isName(node))
        return nameText(node, style);
    const auto list = [&] {
        std::string text;
        for (const Term& arg : node.args)
            text += (text.empty() ? "" : ", ") + print(arg.node(), style);
        return text;
    };
    const auto two = [&](const char* sign) {
        // An input without a symbol is a doubt about the other one: a zero added, a factor of one.
        for (size_t k = 0; k < 2; ++k)
            if (node.args[k].node().op == Op::Leaf && node.args[k].node().symbol.empty())
                return print(node.args[1 - k].node(), style);
        const int s = strength(node.op);
        const bool order = node.op == Op::Subtract || node.op == Op::Divide;
        return inner(node.args[0].node(), style, s, false) + sign + inner(node.args[1].node(), style, s, order);
    };
    switch (node.op) {
    case Op::Add: return two(" + ");
    case Op::Subtract: return two(" − ");
    case Op::Multiply: return two(" · ");
    case Op::Divide: return two(" / ");
    case Op::Square:
        return style == Style::Numbers || !isName(node.args[0].node()) ? "(" + print(node.args[0].node(), style) + ")²"
                                                                       : print(node.args[0].node(), style) + "²";
    case Op::Root: return "√(" + print(node.args[0].node(), style) + ")";
    case Op::Log: return "ln(" + print(node.args[0].node(), style) + ")";
    case Op::Mean: return "mean(" + list() + ")";
    case Op::Least: return "least(" + list() + ")";
    default: return {};
    }
}

bool isDoubt(const Node& node)
{
    return node.op == Op::Leaf && node.symbol.empty();
}

/// What stands under a name, with doubts that are not printed taken off.
const Node& bare(const Node& node)
{
    if ((node.op == Op::Add || node.op == Op::Multiply) && isDoubt(node.args[1].node()))
        return bare(node.args[0].node());
    return node;
}

const Node& body(const Term& term)
{
    return term.node().op == Op::Named ? bare(term.node().args[0].node()) : term.node();
}

} // namespace

Term Term::make(Op op, std::vector<Term> args, double value)
{
    auto node = std::make_shared<Node>();
    node->op = op;
    node->args = std::move(args);
    node->value = value;
    return Term(std::move(node));
}

Term Term::leaf(std::string symbol, double value, const Unit& unit, double standardUncertainty,
                UncertaintySource source, std::string description)
{
    auto node = std::make_shared<Node>();
    node->op = Op::Leaf;
    node->value = value;
    node->symbol = std::move(symbol);
    node->unit = &unit;
    node->standardUncertainty = standardUncertainty;
    node->source = std::move(source);
    node->description = std::move(description);
    return Term(std::move(node));
}

Term Term::constant(double value, std::string symbol)
{
    auto node = std::make_shared<Node>();
    node->value = value;
    node->symbol = std::move(symbol);
    return Term(std::move(node));
}

Term Term::mean(const std::vector<Term>& terms)
{
    double sum = 0;
    for (const Term& t : terms)
        sum += t.value();
    return make(Op::Mean, terms, sum / static_cast<double>(terms.size()));
}

Term Term::least(const std::vector<Term>& terms)
{
    double low = terms.front().value();
    for (const Term& t : terms)
        low = std::min(low, t.value());
    return make(Op::Least, terms, low);
}

Term Term::named(std::string symbol, const Unit& unit, std::string description, std::string rule, int digits) const
{
    auto node = std::make_shared<Node>();
    node->op = Op::Named;
    node->args = {*this};
    node->value = value();
    node->symbol = std::move(symbol);
    node->unit = &unit;
    node->description = std::move(description);
    node->rule = std::move(rule);
    node->digits = digits;
    return Term(std::move(node));
}

Term Term::on(std::string points) const
{
    auto node = std::make_shared<Node>(*node_);
    node->points = std::move(points);
    return Term(std::move(node));
}

Term operator+(const Term& a, const Term& b)
{
    return Term::make(Op::Add, {a, b}, a.value() + b.value());
}
Term operator-(const Term& a, const Term& b)
{
    return Term::make(Op::Subtract, {a, b}, a.value() - b.value());
}
Term operator*(const Term& a, const Term& b)
{
    return Term::make(Op::Multiply, {a, b}, a.value() * b.value());
}
Term operator/(const Term& a, const Term& b)
{
    return Term::make(Op::Divide, {a, b}, a.value() / b.value());
}
Term square(const Term& a)
{
    return Term::make(Op::Square, {a}, a.value() * a.value());
}
Term root(const Term& a)
{
    return Term::make(Op::Root, {a}, std::sqrt(a.value()));
}
Term log(const Term& a)
{
    return Term::make(Op::Log, {a}, std::log(a.value()));
}

TermOrder::TermOrder(const Term& term)
{
    place_.reserve(usual);
    nodes_.reserve(usual);
    add(term.node());
}

void TermOrder::add(const Node& node)
{
    if (!place_.try_emplace(&node, 0).second)
        return;
    for (const Term& arg : node.args)
        add(arg.node());
    place_[&node] = nodes_.size();
    nodes_.push_back(&node);
}

std::string formulaText(const Term& term)
{
    return print(body(term), Style::Symbols);
}

std::string workingText(const Term& term)
{
    const Node& node = term.node();
    const std::string value =
        node.unit ? formatQuantity(node.value, *node.unit, node.digits) : formatSignificant(node.value, 4);
    const Node& inside = body(term);
    if (isName(inside))
        return (!node.description.empty()        ? node.description
                    : inside.description.empty() ? inside.symbol
                                                 : inside.description)
            + " = " + value;
    return print(inside, Style::Numbers) + " = " + value;
}

std::vector<WorkingLine> workingLines(const Term& term)
{
    std::vector<WorkingLine> lines;
    const TermOrder order(term);
    for (const Node* node : order.nodes()) {
        if (node->op == Op::Named) {
            const Node& inside = bare(node->args[0].node());
            if (node->description.empty() && isName(inside))
                continue; // a plain reading: it stands in the formulas that use it
            const std::string value = formatQuantity(node->value, *node->unit, node->digits);
            const bool leafInside = isName(inside);
            lines.push_back(
                {node->symbol, node->description, leafInside ? std::string() : print(inside, Style::Symbols),
                 leafInside ? value : print(inside, Style::Numbers) + " = " + value, node->rule, node->points});
        } else if (node->op == Op::Leaf && !node->description.empty()) {
            lines.push_back({node->symbol,
                             node->description,
                             {},
                             formatQuantity(node->value, *node->unit, node->digits),
                             node->source.words,
                             node->points});
        }
    }
    return lines;
}

} // namespace fortitor
