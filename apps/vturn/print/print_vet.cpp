#include "print/print_vet.hpp"

#include <algorithm>
#include <string_view>

#include <fmt/format.h>

#include "findings_page.hpp"
#include "print/print.hpp"

namespace vturn {

using namespace vast_turn;

namespace {

std::string graded(const Paint& paint, Grade grade) {
    switch (grade) {
    case Grade::fault: return paint.bad("fault");
    case Grade::risk: return paint.strong("risk ");
    case Grade::hint: return "hint ";
    }
    return "";
}

std::string underlined(const Place& place) {
    return std::string(static_cast<std::size_t>(std::max(0, place.column - 1)), ' ') +
           std::string(static_cast<std::size_t>(place.length), '^');
}

void print_finding(const Streams& streams, const Finding& finding) {
    const Paint paint(streams.colour);
    const std::string where = finding.place.line > 0 ? fmt::format("line {}", finding.place.line) : "the plan";
    streams.out << fmt::format("\n  {} {}: {} {}\n", graded(paint, finding.grade), where, finding.message,
                               paint.faint(fmt::format("({})", finding.kind->code)));
    if (finding.place.line > 0) {
        streams.out << fmt::format("  {:>5} | {}\n", finding.place.line, finding.place.source_line);
        streams.out << fmt::format("        | {}\n", underlined(finding.place));
    }
    streams.out << fmt::format("    why:  {}\n    do:   {}\n", finding.kind->why, finding.cure);
    if (!finding.new_line.empty()) {
        const std::size_t from = finding.new_line.find_first_not_of(' ');
        streams.out << fmt::format("    so:   {}\n", finding.new_line.substr(from == std::string::npos ? 0 : from));
    }
}

std::string counted(int count, const char* what) { return fmt::format("{} {}{}", count, what, count == 1 ? "" : "s"); }

} // namespace

void print_vetted(const Streams& streams, const VettedPlan& vetted) {
    const Paint paint(streams.colour);
    const VetReport& report = vetted.report;
    std::string result;
    for (const auto& [grade, word] : {std::pair{Grade::fault, "fault"}, {Grade::risk, "risk"}, {Grade::hint, "hint"}}) {
        if (const int count = report.count(grade); count > 0) {
            result += (result.empty() ? "" : ", ") + counted(count, word);
        }
    }
    const bool clean = report.count(Grade::fault) + report.count(Grade::risk) == 0;
    streams.out << paint.strong(vetted.plan.file()) << ": "
                << (result.empty() ? paint.good("nothing found")
                    : clean        ? result
                                   : paint.bad(result))
                << "\n";
    std::vector<const Finding*> worst_first;
    for (const Finding& finding : report.findings) {
        worst_first.push_back(&finding);
    }
    std::stable_sort(worst_first.begin(), worst_first.end(),
                     [](const Finding* a, const Finding* b) { return a->grade < b->grade; });
    for (const Finding* finding : worst_first) {
        print_finding(streams, *finding);
    }
    if (!report.findings.empty()) {
        streams.out << "\n";
    }
    for (const AllowedFinding& one : report.allowed) {
        streams.out << fmt::format("  allowed at line {}: {} because {}\n", one.line, one.finding.kind->code,
                                   one.because);
    }
    for (const std::string& question : report.undecided) {
        streams.out << fmt::format("  not decided: {}\n", question);
    }
    std::vector<std::vector<std::string>> rows;
    for (const VetFact& fact : report.facts) {
        rows.push_back({fact.what, fact.value});
    }
    print_columns(streams.out, rows);
}

std::string explained(const std::string& code) {
    const FindingKind* kind = find_kind(code);
    if (kind == nullptr) {
        std::vector<std::string> codes;
        for (const FindingKind& known : finding_kinds()) {
            codes.emplace_back(known.code);
        }
        throw InputError("", fmt::format("there is no finding `{}`{}", code, did_you_mean(code, codes)),
                         fmt::format("codes are {}", one_of(codes)));
    }
    const std::string_view page = findings_page;
    const std::size_t from = page.find(fmt::format("\n## {}\n", code));
    if (from == std::string_view::npos) {
        throw InputError("docs/findings.md", fmt::format("it has no section about `{}`", code), "report this");
    }
    const std::size_t to = std::min(page.find("\n## ", from + 1), page.size());
    return std::string(page.substr(from + 1, to - from - 1)) + "\n";
}

} // namespace vturn
