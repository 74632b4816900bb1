#include "vet/collector.hpp"

#include <algorithm>
#include <utility>

namespace vast_turn::vetting {

Collector::Collector(const Plan& plan, const VetAgainst& against, VetReport& report)
    : plan_(plan), against_(against), report_(report), reached_(plan.checked().blocks.size(), false) {
    const lang::CallGraph graph(plan.checked());
    for (std::size_t i = 0; i < reached_.size(); ++i) {
        const int block = static_cast<int>(i);
        reached_[i] = graph.leads_to(0, block) ||
                      std::any_of(graph.entries().begin(), graph.entries().end(), [&](const lang::Entry& entry) {
                          return entry.from == lang::no_slot && graph.leads_to(entry.to, block);
                      });
    }
}

void Collector::add(const char* code, lang::Span span, std::string message, std::string cure, std::string new_line) {
    const FindingKind* kind = find_kind(code);
    constexpr std::size_t long_line = 120; // its place may show a part of it, which cannot be replaced
    new_line = new_line.size() > long_line ? std::string{} : std::move(new_line);
    report_.findings.push_back(
        {kind, text().source.place(span), std::move(message), std::move(cure), std::move(new_line), kind->grade});
}

void Collector::add_whole(const char* code, std::string message, std::string cure) {
    const FindingKind* kind = find_kind(code);
    Place place;
    place.file = plan_.file();
    report_.findings.push_back({kind, place, std::move(message), std::move(cure), {}, kind->grade});
}

void Collector::at_most(Grade grade) {
    Finding& last = report_.findings.back();
    last.grade = std::max(last.grade, grade); // grades stand from the worst on
}

lang::Span Collector::span_of(RuleId rule) const {
    std::size_t number = 0;
    lang::Span found;
    const auto look = [&](const auto& list) {
        if (rule.index() >= number && rule.index() < number + list.size()) {
            found = list[rule.index() - number].span;
        }
        number += list.size();
    };
    look(text().guards);
    for (const lang::LaidBlock& block : text().blocks) {
        look(block.guards);
        look(block.rules);
    }
    for (const lang::LaidBlock& block : text().blocks) {
        look(block.items);
    }
    return found;
}

void Collector::fact(std::string what, std::string value) {
    report_.facts.push_back({std::move(what), std::move(value)});
}

void Collector::undecided(std::string what) { report_.undecided.push_back(std::move(what)); }

std::string Collector::line_with(lang::Span span, const std::string& replacement) const {
    const std::string_view whole = text().source.text();
    const std::size_t before = whole.rfind('\n', span.from);
    const std::size_t start = before == std::string_view::npos ? 0 : before + 1;
    const std::size_t end = std::min(whole.find('\n', span.from), whole.size());
    if (span.to > end) {
        return {}; // over several lines
    }
    std::string line(whole.substr(start, span.from - start));
    line += replacement;
    line += whole.substr(span.to, end - span.to);
    return line;
}

const lang::Act* motion_among(const std::vector<lang::Act>& acts) {
    const auto at =
        std::find_if(acts.begin(), acts.end(), [](const lang::Act& a) { return a.kind == lang::ActKind::motion; });
    return at == acts.end() ? nullptr : &*at;
}

int turn_of(const Wheels& wheels) {
    constexpr double straight = 4.0;
    const double turn = wheels.right_pct - wheels.left_pct;
    return turn > straight ? 1 : turn < -straight ? -1 : 0;
}

} // namespace vast_turn::vetting
