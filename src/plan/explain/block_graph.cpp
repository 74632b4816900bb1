#include "vast_turn/plan/explain/block_graph.hpp"

#include <algorithm>
#include <map>
#include <tuple>
#include <vector>

#include <fmt/format.h>

#include "vast_turn/base/visible.hpp"
#include <fmt/ranges.h>

#include "plan/check/checked.hpp"

namespace vast_turn {

namespace {

using lang::Act;
using lang::ActKind;

constexpr std::size_t longest_label = 38;
constexpr std::size_t most_labels = 4;
constexpr std::size_t most_lines = 14;

std::string escaped(const std::string& text) {
    std::string out;
    for (const char c : visible(text)) {
        out += c == '"' || c == '\\' ? std::string{'\\', c} : std::string{c};
    }
    return out;
}

std::string shortened(const std::string& text) {
    return text.size() <= longest_label ? text : text.substr(0, longest_label - 3) + "...";
}

/// An arrow with all the reasons to take it.
struct Arrow {
    std::vector<std::string> when;
};

enum class Way { calls, becomes, halts, borrows };

class GraphWriter {
public:
    explicit GraphWriter(const Plan& plan) : plan_(plan), checked_(plan.checked()) {}

    std::string write() {
        text_ = fmt::format("digraph \"{}\" {{\n", escaped(plan_.name()));
        text_ += "  graph [rankdir=TB, nodesep=0.4, ranksep=0.55, fontname=\"DejaVu Sans\", bgcolor=\"#FBFBF7\", "
                 "pad=0.25]\n"
                 "  node [shape=box, style=\"rounded,filled\", fillcolor=\"white\", color=\"#8A938B\", "
                 "fontname=\"DejaVu Sans Mono\", fontsize=10.5, margin=\"0.16,0.1\"]\n"
                 "  edge [fontname=\"DejaVu Sans Mono\", fontsize=9.5, color=\"#46524A\", fontcolor=\"#46524A\"]\n"
                 "  start [shape=circle, label=\"\", width=0.16, style=filled, fillcolor=\"#247044\", "
                 "color=\"#247044\"]\n"
                 "  start -> b0 [color=\"#247044\", penwidth=1.6]\n";
        for (std::size_t i = 0; i < checked_.blocks.size(); ++i) {
            block(i);
        }
        if (!checked_.guards.empty()) {
            text_ += "  plan [shape=note, style=filled, fillcolor=\"#F6EBD9\", label=\"" +
                     label_of("guards of the whole plan", lines_of(checked_.guards, "")) + "\"]\n";
            rules(checked_.guards, "plan", true);
        }
        arrows();
        if (halts_) {
            text_ += "  halt [shape=doublecircle, label=\"halt\", fillcolor=\"#F7E3E3\", color=\"#B8272F\", "
                     "margin=\"0.02\"]\n";
        }
        return text_ + "}\n";
    }

private:
    static std::string block_node(std::size_t number) { return fmt::format("b{}", number); }

    void block(std::size_t number) {
        const lang::LaidBlock& block = checked_.blocks[number];
        std::vector<std::string> params;
        for (const lang::Param& param : block.params) {
            params.push_back(param.name);
        }
        const std::string title = fmt::format("{} {}{}", block.is_errand ? "errand" : "habit", block.name,
                                              params.empty() ? "" : fmt::format("({})", fmt::join(params, ", ")));
        const std::string node = block_node(number);
        std::vector<std::string> lines = lines_of(block.guards, block.name);
        const std::vector<std::string> own = block.is_errand ? items_of(block) : lines_of(block.rules, block.name);
        lines.insert(lines.end(), own.begin(), own.end());
        const std::string label = label_of(title, lines);
        text_ += fmt::format("  {} [label=\"{}\"{}]\n", node, label,
                             block.is_errand ? ", fillcolor=\"#EEF3F8\", style=\"filled\"" : "");
        rules(block.guards, node, true);
        rules(block.rules, node, false, block.name);
        for (const lang::LaidItem& item : block.items) {
            act(item.act, node, false, lang::to_text(item.limit));
        }
    }

    /// What a block does itself; ways into others are told at the arrows, the rules of another habit there.
    static std::vector<std::string> lines_of(const std::vector<lang::Rule>& rules, const std::string& block) {
        std::vector<std::string> lines;
        for (const lang::Rule& rule : rules) {
            const ActKind last = rule.acts.back().kind;
            const bool leaves = last == ActKind::call || last == ActKind::become || last == ActKind::halt;
            if (rule.written_in != block) {
                const std::string line = "as " + rule.written_in;
                if (std::find(lines.begin(), lines.end(), line) == lines.end()) {
                    lines.push_back(line);
                }
            } else if (!leaves && !rule.is_twin) {
                lines.push_back(fmt::format("{}{}{} -> {}", rule.is_guard ? "guard " : "",
                                            rule.is_else ? "else" : lang::to_text(rule.condition),
                                            rule.is_mirrored ? " mirrored" : "", lang::to_text(rule.acts)));
            }
        }
        return lines;
    }

    static std::string indent_of(const lang::LaidBlock& block, const lang::LaidItem& item) {
        std::string indent;
        int loop = item.loop;
        loop = item.kind == lang::LaidItem::Kind::loop ? block.loops[static_cast<std::size_t>(loop)].outer : loop;
        for (; loop != lang::no_slot; loop = block.loops[static_cast<std::size_t>(loop)].outer) {
            indent += "  ";
        }
        return indent;
    }

    static std::vector<std::string> items_of(const lang::LaidBlock& block) {
        std::vector<std::string> lines;
        for (const lang::LaidItem& item : block.items) {
            const std::string limit = lang::to_text(item.limit);
            const std::string indent = indent_of(block, item);
            switch (item.kind) {
            case lang::LaidItem::Kind::move:
            case lang::LaidItem::Kind::call:
            case lang::LaidItem::Kind::act:
                lines.push_back(indent + lang::to_text(item.act) + (limit.empty() ? "" : " " + limit));
                break;
            case lang::LaidItem::Kind::loop:
                lines.push_back(fmt::format("{}loop{}{}", indent, item.count ? " " + lang::to_text(*item.count) : "",
                                            item.widening ? " widening " + lang::to_text(*item.widening) : ""));
                break;
            case lang::LaidItem::Kind::branch: lines.push_back(indent + "if " + lang::to_text(item.condition)); break;
            default: break;
            }
        }
        return lines;
    }

    static std::string label_of(const std::string& title, std::vector<std::string> lines) {
        if (lines.size() > most_lines) {
            const std::size_t more = lines.size() - most_lines + 1;
            lines.resize(most_lines - 1);
            lines.push_back(fmt::format("... and {} more", more));
        }
        std::string text = escaped(title) + "\\l";
        for (const std::string& line : lines) {
            text += "  " + escaped(shortened(line)) + "\\l";
        }
        return text;
    }

    void rules(const std::vector<lang::Rule>& rules, const std::string& node, bool guard,
               const std::string& block = {}) {
        for (const lang::Rule& rule : rules) {
            if (!guard && rule.written_in != block) {
                arrows_[{node, block_node(checked_.block_number(rule.written_in)), false, Way::borrows}];
                continue; // told at the habit in which it is written
            }
            const std::string when = rule.is_else ? "else" : lang::to_text(rule.condition);
            for (const Act& a : rule.acts) {
                act(a, node, guard, when);
            }
        }
    }

    void act(const Act& act, const std::string& node, bool guard, const std::string& when) {
        if (act.kind != ActKind::call && act.kind != ActKind::become && act.kind != ActKind::halt) {
            return;
        }
        const bool halts = act.kind == ActKind::halt;
        halts_ = halts_ || halts;
        const std::string to = halts ? "halt" : block_node(checked_.block_number(act.name));
        const Way way = halts ? Way::halts : act.kind == ActKind::call ? Way::calls : Way::becomes;
        Arrow& arrow = arrows_[{node, to, guard, way}];
        const std::string label = shortened(when);
        if (!label.empty() && std::find(arrow.when.begin(), arrow.when.end(), label) == arrow.when.end()) {
            arrow.when.push_back(label);
        }
    }

    void arrows() {
        for (const auto& [key, arrow] : arrows_) {
            const auto& [from, to, guard, way] = key;
            std::string label;
            for (std::size_t i = 0; i < arrow.when.size() && i < most_labels; ++i) {
                label += " " + escaped(arrow.when[i]) + " \\l";
            }
            if (arrow.when.size() > most_labels) {
                label += fmt::format(" and {} more \\l", arrow.when.size() - most_labels);
            }
            text_ += fmt::format("  {} -> {} [label=\"{}\"{}{}]\n", from, to, label,
                                 way == Way::becomes   ? ", penwidth=2.6"
                                 : way == Way::halts   ? ", color=\"#B8272F\""
                                 : way == Way::borrows ? ", style=dotted, arrowhead=none"
                                                       : "",
                                 guard ? ", style=dashed" : "");
        }
    }

    const Plan& plan_;
    const lang::CheckedPlan& checked_;
    std::map<std::tuple<std::string, std::string, bool, Way>, Arrow> arrows_;
    std::string text_;
    bool halts_ = false;
};

} // namespace

std::string block_graph(const Plan& plan) { return GraphWriter(plan).write(); }

} // namespace vast_turn
