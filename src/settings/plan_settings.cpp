// Numbers of a plan's text set to other values.
#include <charconv>
#include <optional>
#include <utility>

#include <fmt/format.h>

#include "plan/text/source.hpp"
#include "plan/text/token.hpp"
#include "vast_turn/base/problem.hpp"
#include "vast_turn/settings/setting.hpp"

namespace vast_turn {

namespace {

using lang::Token;
using lang::TokenKind;

/// A stretch of the text and what takes its place.
struct Change {
    lang::Span span;
    std::string now;
};

/// A line and which of its numbers, from 1; 0 when that is not said.
struct LineNumber {
    int line = 0;
    std::size_t which = 0;
};

/// "line12", "line12.2"; nothing for other names.
std::optional<LineNumber> line_number_in(std::string_view name) {
    if (!name.starts_with("line") || name.size() < 5 || name[4] < '0' || name[4] > '9') {
        return std::nullopt;
    }
    LineNumber out;
    const char* end = name.data() + name.size();
    auto [rest, fault] = std::from_chars(name.data() + 4, end, out.line);
    if (fault == std::errc{} && rest != end && *rest == '.') {
        const auto [last, other_fault] = std::from_chars(rest + 1, end, out.which);
        rest = last;
        fault = out.which == 0 ? std::errc::invalid_argument : other_fault;
    }
    return fault == std::errc{} && rest == end ? std::optional(out) : std::nullopt;
}

class PlanSetter {
public:
    PlanSetter(const std::string& text, const std::string& file) : source_(text, file) {
        lang::Problems unheard(source_);
        tokens_ = lang::tokenize(source_, unheard);
    }

    std::vector<std::string> lets() const {
        std::vector<std::string> names;
        for (std::size_t i = 1; i < tokens_.size(); ++i) {
            if (is_let(i)) {
                names.push_back(tokens_[i].text);
            }
        }
        return names;
    }

    /// Lets whose comments say so, and over what: "cruise=36..84".
    std::vector<std::string> movable() const {
        constexpr std::string_view words = "may be ";
        std::vector<std::string> list;
        for (std::size_t i = 1; i + 2 < tokens_.size(); ++i) {
            if (!is_let(i)) {
                continue;
            }
            const std::string_view text = source_.text();
            const std::string_view line =
                text.substr(tokens_[i].span.to, text.find('\n', tokens_[i].span.to) - tokens_[i].span.to);
            const std::size_t comment = line.find("//");
            const std::size_t said = comment == std::string_view::npos ? comment : line.find(words, comment);
            if (said != std::string_view::npos) {
                const std::string_view range = line.substr(said + words.size());
                const std::string_view word = range.substr(0, range.find_first_of(" \t\r,;"));
                if (word.find("..") != std::string_view::npos) { // else it is said of something else
                    list.push_back(fmt::format("{}={}", tokens_[i].text, word));
                }
            }
        }
        return list;
    }

    std::string_view text_of(const Change& change) const { return source_.text(change.span); }

    /// What a setting changes; nothing when the plan has no such let.
    std::optional<Change> change(const Setting& setting) const {
        if (const auto number = line_number_in(setting.name)) {
            return at_line(setting, *number);
        }
        for (std::size_t i = 1; i + 2 < tokens_.size(); ++i) {
            if (is_let(i) && tokens_[i].text == setting.name) {
                return of_let(setting, i + 2);
            }
        }
        return std::nullopt;
    }

private:
    bool begins_line(std::size_t i) const { return i == 0 || tokens_[i - 1].kind == TokenKind::line_end; }
    bool is_let(std::size_t i) const {
        return tokens_[i].kind == TokenKind::word && tokens_[i - 1].text == "let" && begins_line(i - 1);
    }

    /// All that stands behind the `=`, a whole expression too.
    Change of_let(const Setting& setting, std::size_t first) const {
        std::size_t last = first;
        while (last + 1 < tokens_.size() && tokens_[last + 1].kind != TokenKind::line_end &&
               tokens_[last + 1].kind != TokenKind::text_end) {
            ++last;
        }
        const bool is_number = tokens_[last].kind == TokenKind::number && last - first <= 1;
        return {{tokens_[first].span.from, tokens_[last].span.to},
                setting.value + (is_number ? unit_for(setting, tokens_[last]) : "")};
    }

    Change at_line(const Setting& setting, const LineNumber& number) const {
        std::vector<std::size_t> there;
        for (std::size_t i = 0; i < tokens_.size(); ++i) {
            if (tokens_[i].kind == TokenKind::number && source_.line_of(tokens_[i].span.from) == number.line) {
                there.push_back(i);
            }
        }
        if (there.empty() || number.which > there.size()) {
            throw InputError(source_.file(),
                             there.empty() ? fmt::format("there is no number at line {}", number.line)
                                           : fmt::format("line {} has {} {}", number.line, there.size(),
                                                         there.size() == 1 ? "number" : "numbers"),
                             fmt::format("--set {}: name a line that has one", setting.name));
        }
        if (number.which == 0 && there.size() > 1) {
            std::string list;
            for (std::size_t k = 0; k < there.size(); ++k) {
                list += fmt::format("{}line{}.{} is {}", k == 0 ? "" : ", ", number.line, k + 1,
                                    source_.text(tokens_[there[k]].span));
            }
            throw InputError(source_.file(), fmt::format("line {} has {} numbers", number.line, there.size()),
                             fmt::format("say which: {}", list));
        }
        const std::size_t at = there[number.which == 0 ? 0 : number.which - 1];
        const bool has_sign = is_sign(at);
        return {{tokens_[has_sign ? at - 1 : at].span.from, tokens_[at].span.to},
                setting.value + unit_for(setting, tokens_[at])};
    }

    /// Whether a minus before a number is its sign and takes nothing from what stands before it.
    bool is_sign(std::size_t at) const {
        if (at == 0 || tokens_[at - 1].text != "-") {
            return false;
        }
        const bool first = at == 1;
        const Token* before = first ? nullptr : &tokens_[at - 2];
        return before == nullptr ||
               (before->kind != TokenKind::number && before->kind != TokenKind::word && before->text != ")");
    }

    static std::string unit_for(const Setting& setting, const Token& was) {
        return setting.value.find_first_of("abcdefghijklmnopqrstuvwxyz") == std::string::npos ? was.unit : "";
    }

    lang::Source source_;
    std::vector<Token> tokens_;
};

} // namespace

WrittenNumber plan_number(const std::string& text, const std::string& file, const Setting& setting) {
    const PlanSetter plan(text, file);
    const auto change = plan.change(setting);
    if (!change) {
        check_all_taken({setting}, {false}, plan.lets());
    }
    const auto number = parse_number(plan.text_of(*change));
    if (!number) {
        throw InputError(
            file, fmt::format("`{}` is `{}`, which is reckoned from others", setting.name, plan.text_of(*change)),
            "name a number that is written as one");
    }
    return *number;
}

std::vector<std::string> movable_lets(const std::string& text, const std::string& file) {
    return PlanSetter(text, file).movable();
}

std::vector<std::string> lets_of(const std::string& text, const std::string& file) {
    return PlanSetter(text, file).lets();
}

std::string plan_text_with(const std::string& text, const std::string& file, const std::vector<Setting>& settings,
                           SettingsTaken& taken) {
    taken.resize(settings.size());
    std::string changed = text;
    for (std::size_t i = 0; i < settings.size(); ++i) {
        if (settings[i].of != Setting::Of::plan) {
            continue;
        }
        if (const auto change = PlanSetter(changed, file).change(settings[i])) {
            changed.replace(change->span.from, change->span.to - change->span.from, change->now);
            taken[i] = true;
        }
    }
    return changed;
}

void check_all_taken(const std::vector<Setting>& settings, const SettingsTaken& taken,
                     const std::vector<std::string>& lets) {
    for (std::size_t i = 0; i < settings.size(); ++i) {
        if (settings[i].of == Setting::Of::plan && (i >= taken.size() || !taken[i])) {
            throw InputError(
                "",
                fmt::format("no plan has a let called `{}`{}", settings[i].name, did_you_mean(settings[i].name, lets)),
                lets.empty()
                    ? "name a number by its line: line12=48"
                    : fmt::format("its lets are {}; a number can be named by its line: line12=48", one_of(lets)));
        }
    }
}

} // namespace vast_turn
