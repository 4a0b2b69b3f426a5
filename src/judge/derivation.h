// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "units/unit.h"

#include <memory>
#include <numbers>
#include <string>
#include <vector>

namespace fortitor {

/// How a number came about, as data: a tree of values and operations that can be printed with
/// symbols, printed with numbers, and differentiated for the uncertainty. Values are in base units.
class Term {
public:
    enum class Op { Leaf, Constant, Named, Add, Subtract, Multiply, Divide, Square, Root, Log, Mean, Least };

    struct Node {
        Op op = Op::Constant;
        std::vector<Term> args;
        double value = 0;
        std::string symbol; ///< Leaf and Named
        std::string description; ///< in words: "greatest force"
        std::string rule; ///< where the formula comes from
        const Unit* unit = nullptr; ///< for showing; base values inside
        double standardUncertainty = 0; ///< Leaf only
        std::string source; ///< where a leaf's doubt comes from: "force cell, class 1"
        std::string points; ///< readings it stands on
        int digits = 4;
    };

    /// A measured or stated input; with an empty symbol it carries doubt only and is left out of print.
    /// Two uses of one leaf are one input: their doubts go together.
    static Term leaf(std::string symbol, double value, const Unit& unit, double standardUncertainty = 0,
                     std::string source = {}, std::string description = {});
    static Term constant(double value, std::string symbol = {});
    static Term pi() { return constant(std::numbers::pi, "π"); }
    static Term mean(const std::vector<Term>& terms);
    static Term least(const std::vector<Term>& terms);

    /// The same value under a name; formulas above it stop at this name.
    [[nodiscard]] Term named(std::string symbol, const Unit& unit, std::string description = {}, std::string rule = {},
                             int digits = 4) const;
    /// The same, with the readings it stands on.
    [[nodiscard]] Term on(std::string points) const;

    [[nodiscard]] double value() const { return node_->value; }
    [[nodiscard]] const Node& node() const { return *node_; }

    friend Term operator+(const Term& a, const Term& b);
    friend Term operator-(const Term& a, const Term& b);
    friend Term operator*(const Term& a, const Term& b);
    friend Term operator/(const Term& a, const Term& b);
    friend Term square(const Term& a);
    friend Term root(const Term& a);
    friend Term log(const Term& a);

private:
    explicit Term(std::shared_ptr<const Node> node) : node_(std::move(node)) { }
    static Term make(Op op, std::vector<Term> args, double value);
    std::shared_ptr<const Node> node_;
};

/// One contributor to a result's doubt.
struct Contribution {
    std::string symbol;
    std::string source;
    double standard = 0; ///< |sensitivity|·u, in the result's base unit
    double share = 0; ///< of the variance, 0…1
};

struct Budget {
    double expanded = 0; ///< k = 2, base unit; 0 when no input carries a doubt
    std::vector<Contribution> ranked;
};

/// First-order propagation through the tree (exact derivatives), contributions of one source added
/// in squares, ranked.
Budget uncertaintyBudget(const Term& term);

/// "Fm / So"
std::string formulaText(const Term& term);

/// "24.60 kN / 78.80 mm² = 312.2 MPa"
std::string workingText(const Term& term);

/// One line of the Working drawer.
struct WorkingLine {
    std::string symbol;
    std::string description;
    std::string formula;
    std::string numbers;
    std::string rule;
    std::string points;
};

/// The named steps below a term, inputs first, the term itself last.
std::vector<WorkingLine> workingLines(const Term& term);

} // namespace fortitor
