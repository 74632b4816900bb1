#pragma once

/// Expressions as code of the runtime.

#include <cstddef>
#include <map>
#include <vector>

#include "plan/compile/memory.hpp"
#include "vast_turn/runtime/program.hpp"

namespace vast_turn::lang {

/// Writes the code of checked expressions to which memory has been given.
class ExpressionCode {
public:
    ExpressionCode(std::vector<runtime::Instruction>& code, std::vector<double>& constants, const MemoryMap& memory,
                   bool own_weights)
        : code_(code), constants_(constants), memory_(memory), own_weights_(own_weights) {}

    /// Appends the code of one expression; returns how deep a stack it needs.
    int append(const Expr& e);

private:
    void emit(runtime::Op op, std::uint16_t b = 0, std::uint8_t a = 0) { code_.push_back({op, a, b}); }
    void value(const Expr& e);
    void leaf(const Expr& e);
    std::uint16_t constant(double x);
    std::uint16_t gains(const Expr& pid);

    std::vector<runtime::Instruction>& code_;
    std::vector<double>& constants_;
    const MemoryMap& memory_;
    std::map<double, std::size_t> constant_numbers_; // where each stands; 0 and -0 are one
    bool own_weights_;
    int depth_ = 0;
    int deepest_ = 0;
};

/// The parts of one kind, inner ones first.
template <class Node> void list_parts(const Expr& e, std::vector<const Expr*>& list) {
    for (const Expr& arg : e.args) {
        list_parts<Node>(arg, list);
    }
    if (e.is<Node>()) {
        list.push_back(&e);
    }
}

} // namespace vast_turn::lang
