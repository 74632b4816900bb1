#include "vet/allowed.hpp"

#include <algorithm>

#include <fmt/format.h>

#include "plan/text/parser.hpp"
#include "plan/text/token.hpp"

namespace vast_turn::vetting {

namespace {

struct Allowance {
    std::string code;
    std::string because;
    lang::Span span;
    int line = 0;       ///< of the comment
    int for_line = 0;   ///< of the findings
    bool whole = false; ///< findings about the whole plan too
    bool used = false;
};

std::string_view trimmed(std::string_view text) {
    const std::size_t from = text.find_first_not_of(" \t\r");
    if (from == std::string_view::npos) {
        return {};
    }
    return text.substr(from, text.find_last_not_of(" \t\r") - from + 1);
}

/// Where the comment of a line begins; npos for none. A string may hold two slashes.
std::size_t comment_in(std::string_view line) {
    bool in_string = false;
    for (std::size_t i = 0; i < line.size(); ++i) {
        in_string = in_string != (line[i] == '"');
        if (!in_string && line.substr(i, 2) == "//") {
            return i;
        }
    }
    return std::string_view::npos;
}

class AllowanceReader {
public:
    explicit AllowanceReader(Collector& out) : out_(out) {}

    std::vector<Allowance> run() {
        const std::string_view text = out_.text().source.text();
        std::size_t begin = 0;
        for (int line = 1; begin <= text.size(); ++line) {
            const std::size_t end = std::min(text.find('\n', begin), text.size());
            const std::string_view words = text.substr(begin, end - begin);
            const std::size_t comment = comment_in(words);
            const bool has_words = !trimmed(words.substr(0, comment)).empty();
            if (comment != std::string_view::npos) {
                read(words.substr(comment + 2), {begin + comment, end}, line);
            }
            if (has_words) { // what waits for a line is for this one
                for (Allowance& waiting : list_) {
                    waiting.for_line = waiting.for_line == 0 ? line : waiting.for_line;
                    waiting.whole = waiting.whole || (!seen_words_ && waiting.for_line == line);
                }
                seen_words_ = true;
            }
            begin = end + 1;
        }
        return std::move(list_);
    }

private:
    void read(std::string_view words, lang::Span span, int line) {
        words = trimmed(words);
        if (words.substr(0, 4) != "vet:") {
            return;
        }
        words = trimmed(words.substr(4));
        const std::string form = "write // vet: allow CODE because REASON";
        if (words.substr(0, 6) != "allow ") {
            out_.add("allow-unclear", span, "this comment speaks to vet but allows nothing", form);
            return;
        }
        words = trimmed(words.substr(6));
        const std::size_t because = words.find(" because ");
        const std::string code(trimmed(words.substr(0, because)));
        if (find_kind(code) == nullptr) {
            std::vector<std::string> codes;
            for (const FindingKind& kind : finding_kinds()) {
                codes.emplace_back(kind.code);
            }
            out_.add("allow-unclear", span, fmt::format("there is no finding `{}`{}", code, did_you_mean(code, codes)),
                     form + "; docs/findings.md lists the codes");
            return;
        }
        if (because == std::string_view::npos || trimmed(words.substr(because + 9)).empty()) {
            out_.add("allow-unclear", span, fmt::format("this allows `{}` without a reason", code), form);
            return;
        }
        list_.push_back({code, std::string(trimmed(words.substr(because + 9))), span, line, 0, false, false});
    }

    Collector& out_;
    std::vector<Allowance> list_;
    bool seen_words_ = false;
};

} // namespace

void take_allowed(Collector& out, VetReport& report, const std::function<bool(const FindingKind&)>& looked_for) {
    std::vector<Allowance> allowances = AllowanceReader(out).run();
    std::vector<Finding> left;
    for (Finding& finding : report.findings) {
        const auto by = std::find_if(allowances.begin(), allowances.end(), [&](const Allowance& a) {
            const bool here = finding.place.line == 0 ? a.whole : a.for_line == finding.place.line;
            return here && finding.kind->code == a.code;
        });
        if (by == allowances.end()) {
            left.push_back(std::move(finding));
        } else {
            by->used = true;
            report.allowed.push_back({std::move(finding), by->because, by->line});
        }
    }
    report.findings = std::move(left);
    for (const Allowance& allowance : allowances) {
        if (!allowance.used && looked_for(*find_kind(allowance.code))) {
            out.add("allow-idle", allowance.span,
                    fmt::format("this allows `{}`, which is not found here", allowance.code), "remove the comment");
        }
    }
}

} // namespace vast_turn::vetting
