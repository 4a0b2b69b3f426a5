// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "units/unit.h"

#include <array>
#include <cstddef>
#include <memory>
#include <memory_resource>
#include <numbers>
#include <string>
#include <unordered_map>
#include <utility>
#include <vector>

namespace fortitor {

enum class SourceKind {
    Other,
    LengthTool,
    Extensometer,
    Crosshead,
    Gauges,
    Digits,
    Dial,
    Fit,
    Noise,
    Cell,
    Steps,
    Rate,
    Pieces
};

/// Where the uncertainty of an input comes from: in words ("force cell, class 1"), and what kind of thing that is.
struct UncertaintySource {
    UncertaintySource() = default;
    UncertaintySource(std::string said, SourceKind of = SourceKind::Other) : words(std::move(said)), kind(of) { }
    UncertaintySource(const char* said, SourceKind of = SourceKind::Other) : words(said), kind(of) { }

    std::string words;
    SourceKind kind = SourceKind::Other;
};

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
        UncertaintySource source; ///< Leaf only
        std::string points; ///< readings it stands on
        int digits = 4;
    };

    /// A measured or stated input; with an empty symbol it carries doubt only and is left out of print.
    /// Two uses of one leaf are one input: their doubts go together.
    static Term leaf(std::string symbol, double value, const Unit& unit, double standardUncertainty = 0,
                     UncertaintySource source = {}, std::string description = {});
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

/// The nodes below a term, each once, inputs before what uses them. A tree of a few dozen takes no heap.
class TermOrder {
public:
    explicit TermOrder(const Term& term);
    [[nodiscard]] const std::pmr::vector<const Term::Node*>& nodes() const { return nodes_; }
    [[nodiscard]] size_t place(const Term& term) const { return place_.find(&term.node())->second; }

private:
    static constexpr size_t usual = 64;
    void add(const Term::Node& node);

    std::array<std::byte, 80 * usual> room_;
    std::pmr::monotonic_buffer_resource memory_{room_.data(), room_.size()};
    std::pmr::unordered_map<const Term::Node*, size_t> place_{&memory_};
    std::pmr::vector<const Term::Node*> nodes_{&memory_};
};

/// The named steps below a term, inputs first, the term itself last.
std::vector<WorkingLine> workingLines(const Term& term);

} // namespace fortitor
