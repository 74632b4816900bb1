#include <algorithm>
#include <set>

#include <fmt/format.h>

#include "plan/check/check_types.hpp"
#include "plan/text/parser.hpp"
#include "plan/text/token.hpp"
#include "vet/collector.hpp"

namespace vast_turn::vetting {

namespace {

/// Names that stand in the text outside of the heads that declare them, with where.
struct Word {
    std::string text;
    lang::Span span;
};

class NameChecker {
public:
    explicit NameChecker(Collector& out) : out_(out) {
        lang::Problems unheard(out.text().source);
        tree_ = lang::parse(out.text().source, unheard);
        for (const lang::Token& token : lang::tokenize(out.text().source, unheard)) {
            if (token.kind == lang::TokenKind::word) {
                words_.push_back({token.text, token.span});
            }
        }
    }

    void run() {
        blocks();
        lets();
        vars();
        markers();
    }

private:
    void blocks() {
        for (std::size_t i = 0; i < out_.text().blocks.size(); ++i) {
            const lang::LaidBlock& block = out_.text().blocks[i];
            const bool brought_in = std::any_of(tree_.blocks.begin(), tree_.blocks.end(), [&](const lang::Block& b) {
                return std::any_of(b.rules.begin(), b.rules.end(),
                                   [&](const lang::Rule& rule) { return rule.is_as && rule.as_habit == block.name; });
            });
            if (!out_.is_reached(i) && !brought_in) {
                out_.add("block-unused", block.name_span,
                         fmt::format("nothing ever comes to {} `{}`", block.is_errand ? "errand" : "habit", block.name),
                         "do or become it somewhere, or remove it");
            }
        }
    }

    /// Where a let's value stands, other names in it are used only if it is.
    void lets() {
        std::set<std::string> used;
        for (bool changed = true; changed;) {
            changed = false;
            for (const Word& word : words_) {
                if (used.contains(word.text)) {
                    continue;
                }
                const auto inside = std::find_if(tree_.lets.begin(), tree_.lets.end(), [&](const lang::Let& let) {
                    return word.span.from >= let.name_span.from && word.span.to <= let.value.span.to;
                });
                if (inside == tree_.lets.end() || (used.contains(inside->name) && word.text != inside->name)) {
                    changed = used.insert(word.text).second || changed;
                }
            }
        }
        for (const lang::Let& let : tree_.lets) {
            if (!used.contains(let.name)) {
                out_.add("let-unused", let.name_span, fmt::format("nothing uses the let `{}`", let.name),
                         "use it where its number is written out, or remove it");
            }
        }
    }

    void vars() {
        std::set<int> read;
        lang::for_each_expression(out_.text(), [&](const lang::Expr& whole) {
            lang::any_part(whole, [&](const lang::Expr& part) {
                if (const auto* var = part.as<lang::Variable>()) {
                    read.insert(var->number);
                }
                return false;
            });
        });
        for (std::size_t i = 0; i < tree_.vars.size() && i < out_.text().vars.size(); ++i) {
            const lang::Let& var = tree_.vars[i];
            const bool is_read = read.contains(static_cast<int>(i));
            const bool is_set = sets(var.name);
            if (!is_read) {
                out_.add("var-unused", var.name_span, fmt::format("nothing asks for the var `{}`", var.name),
                         "use it in a condition or a motion, or remove it");
            } else if (!is_set) {
                out_.add("var-unused", var.name_span, fmt::format("the var `{}` never changes", var.name),
                         "set it somewhere, or make it a let");
            }
        }
    }

    bool sets(const std::string& var) const {
        const auto acts = [&](const std::vector<lang::Act>& list) {
            return std::any_of(list.begin(), list.end(), [&](const lang::Act& act) {
                return (act.kind == lang::ActKind::set || act.kind == lang::ActKind::track) && act.name == var;
            });
        };
        const auto rules = [&](const std::vector<lang::Rule>& list) {
            return std::any_of(list.begin(), list.end(), [&](const lang::Rule& rule) { return acts(rule.acts); });
        };
        return rules(out_.text().guards) ||
               std::any_of(out_.text().blocks.begin(), out_.text().blocks.end(), [&](const lang::LaidBlock& block) {
                   return rules(block.guards) || rules(block.rules) ||
                          std::any_of(block.items.begin(), block.items.end(),
                                      [&](const lang::LaidItem& item) { return acts({item.act}); });
               });
    }

    void markers() {
        for (const lang::MarkerName& marker : tree_.markers) {
            const auto uses =
                std::count_if(words_.begin(), words_.end(), [&](const Word& word) { return word.text == marker.name; });
            if (uses < 2) { // the first declares it
                out_.add("marker-unused", marker.span, fmt::format("no rule asks for the marker `{}`", marker.name),
                         "write a rule for it, or leave it out");
            }
        }
    }

    Collector& out_;
    lang::PlanTree tree_;
    std::vector<Word> words_;
};

} // namespace

void check_names(Collector& out) { NameChecker(out).run(); }

} // namespace vast_turn::vetting
