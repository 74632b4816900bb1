#include "emit/c_work.hpp"

#include <algorithm>
#include <cctype>
#include <regex>
#include <set>
#include <utility>

#include "emit/c_function.hpp"

namespace vast_turn::emit {

namespace {

bool in_name(char c) { return std::isalnum(static_cast<unsigned char>(c)) != 0 || c == '_'; }

/// What a call of one of the helpers counts as.
WorkKind kind_of_call(std::string_view function) {
    static const std::vector<std::pair<std::string_view, WorkKind>> known = {
        {"settled", WorkKind::settled},
        {"divided", WorkKind::divide},
        {"clamped", WorkKind::settled},
        {"within_power", WorkKind::settled},
        {"progress", WorkKind::divide},
        {"ramp", WorkKind::settled},
        {"size", WorkKind::small},
        {"smaller", WorkKind::small},
        {"larger", WorkKind::small},
        {"rolled", WorkKind::small},
        {"matches", WorkKind::bits},
        {"has", WorkKind::bits},
        {"bits_of", WorkKind::bits},
        {"pid", WorkKind::pid},
        {"say", WorkKind::say},
        {"lasts_looks", WorkKind::watch},
        {"lasts_time", WorkKind::timed},
        {"news", WorkKind::news},
        {"takes", WorkKind::takes},
        {"reading", WorkKind::reading},
        {"pass_time", WorkKind::clock},
        {"enter", WorkKind::transfer},
        {"become", WorkKind::transfer},
        {"end_block", WorkKind::transfer},
        {"begin_block", WorkKind::transfer},
        {"refresh_arguments", WorkKind::arguments}};
    const auto found = std::find_if(known.begin(), known.end(), [&](const auto& k) { return k.first == function; });
    return found == known.end() ? WorkKind::call : found->second;
}

/// The kinds of work in text without loops and left-out bodies.
class Scanner {
public:
    Scanner(std::string_view text, const std::string& prefix) : text_(text), prefix_(prefix) {}

    Work run() {
        while (at_ < text_.size()) {
            const char c = text_[at_];
            if (text_.substr(at_, 2) == "/*") {
                at_ = std::min(text_.find("*/", at_), text_.size() - 2) + 2;
            } else if (c == '"') {
                skip_text();
            } else if (std::isdigit(static_cast<unsigned char>(c)) != 0) {
                number();
            } else if (in_name(c)) {
                name();
            } else if (c == '(' && known_group()) {
                continue; // the compiler keeps what it has worked out
            } else {
                sign(c);
            }
        }
        return work_;
    }

private:
    /// Whether what stands in these brackets stood in others before; it is then passed over.
    bool known_group() {
        int depth = 0;
        std::size_t end = at_;
        for (; end < text_.size(); ++end) {
            depth += text_[end] == '(' ? 1 : (text_[end] == ')' ? -1 : 0);
            if (depth == 0) {
                break;
            }
        }
        const std::string_view group = text_.substr(at_, end - at_ + 1);
        const bool reckons = group.find(" * ") != std::string_view::npos ||
                             group.find(" / ") != std::string_view::npos ||
                             group.find(" - ") != std::string_view::npos || group.find(" + ") != std::string_view::npos;
        if (!reckons || groups_.insert(group).second) {
            return false;
        }
        at_ = end + 1;
        return true;
    }

    /// Whether both sides of an operator at `at_` are written numbers, which the compiler works out.
    bool is_constant() const {
        static const std::regex before(R"((.*[ (=]|)-?[0-9]+\.[0-9eE+-]*f? |.*\(-[0-9]+\.[0-9eE+-]*f?\) )");
        static const std::regex behind(R"((-?[0-9]+\.[0-9eE+-]*f?|\(-[0-9]+\.[0-9eE+-]*f?\))[;,) ].*)");
        const std::size_t from = at_ < 40 ? 0 : at_ - 40;
        std::string left(text_.substr(from, at_ - from));
        std::string right(text_.substr(at_ + 2, 40));
        left = left.substr(left.rfind('\n') == std::string::npos ? 0 : left.rfind('\n') + 1);
        right = right.substr(0, right.find('\n'));
        return std::regex_match(left, before) && std::regex_match(right, behind);
    }

    void skip_text() {
        for (++at_; at_ < text_.size() && text_[at_] != '"'; ++at_) {
            at_ += text_[at_] == '\\' ? 1 : 0;
        }
        ++at_;
    }

    void number() {
        const std::size_t from = at_;
        while (at_ < text_.size() && (in_name(text_[at_]) || text_[at_] == '.')) {
            ++at_;
        }
        const std::string_view digits = text_.substr(from, at_ - from);
        work_[WorkKind::constant] += digits.find('.') != std::string_view::npos ? 1.0 : 0.0;
        work_[WorkKind::bits] += digits.starts_with("0x") ? 0.5 : 0.0; // the mask and what is under it
    }

    void name() {
        const std::size_t from = at_;
        while (at_ < text_.size() && in_name(text_[at_])) {
            ++at_;
        }
        std::string_view word = text_.substr(from, at_ - from);
        const char next = at_ < text_.size() ? text_[at_] : ' ';
        if (word.starts_with(prefix_)) {
            word.remove_prefix(prefix_.size());
            if (next == '(') {
                work_[kind_of_call(word)] += 1.0;
            } else if (word == "number" && next == ')') {
                work_[text_.substr(at_).starts_with(")now->counts") ? WorkKind::raw : WorkKind::convert] += 1.0;
            }
        } else if (word == "if" || word == "switch" || word == "while") {
            work_[WorkKind::branch] += 1.0;
        }
    }

    /// Whether an operator at `at_` is about whole numbers: what counts looks, rests in small types or is a set.
    bool is_whole() const {
        const std::size_t begin = text_.rfind('\n', at_) == std::string_view::npos ? 0 : text_.rfind('\n', at_) + 1;
        const std::string_view before = text_.substr(begin, at_ - begin);
        std::string_view behind = text_.substr(at_, 40);
        behind.remove_prefix(std::min(behind.find_first_not_of("<>=!+-*/ "), behind.size()));
        const std::size_t digits = behind.find_first_not_of("0123456789");
        const bool by_whole = digits != 0 && digits < behind.size() && behind[digits] != '.' && behind[digits] != 'e';
        return by_whole || before.find("int8_t)") != std::string_view::npos ||
               before.find("int16_t)") != std::string_view::npos || before.ends_with("look ") ||
               before.ends_with("depth ") || before.ends_with("i ") || before.ends_with("outcome ") ||
               behind.starts_with("s->") ||
               (!behind.empty() && std::isupper(static_cast<unsigned char>(behind[0])) != 0);
    }

    void sign(char c) {
        const bool spaced = at_ > 0 && text_[at_ - 1] == ' ';
        const std::string_view two = text_.substr(at_, 2);
        const char third = at_ + 1 < text_.size() ? text_[at_ + 1] : ' ';
        std::size_t length = 1;
        const auto is = [&](WorkKind kind) {
            const bool reckons = kind == WorkKind::add || kind == WorkKind::multiply || kind == WorkKind::divide;
            if (!reckons || !is_constant()) {
                work_[is_whole() ? WorkKind::whole : kind] += 1.0;
            }
        };
        if (two == "->") {
            work_[WorkKind::access] += 1.0;
            length = 2;
        } else if (two == "&&" || two == "||") {
            work_[WorkKind::branch] += 1.0;
            length = 2;
        } else if (two == "++" || two == "<<" || two == ">>") {
            work_[WorkKind::whole] += 1.0;
            length = 2;
        } else if (two == "<=" || two == ">=" || two == "==" || two == "!=") {
            is(WorkKind::compare);
            length = 2;
        } else if (two == "+=" || two == "-=") {
            is(WorkKind::add);
            work_[WorkKind::store] += 1.0;
            length = 2;
        } else if (spaced && third == ' ') {
            switch (c) {
            case '+':
            case '-': is(WorkKind::add); break;
            case '*': is(WorkKind::multiply); break;
            case '/': is(WorkKind::divide); break;
            case '<':
            case '>': is(WorkKind::compare); break;
            case '=': work_[WorkKind::store] += 1.0; break;
            case '?': work_[WorkKind::branch] += 1.0; break;
            default: break;
            }
        } else if (c == '.' || c == '[') {
            work_[WorkKind::access] += 1.0;
        }
        at_ += length;
    }

    std::string_view text_;
    const std::string& prefix_;
    std::size_t at_ = 0;
    std::set<std::string_view> groups_;
    Work work_;
};

/// Where the brace that opens before `from` closes.
std::size_t closing(std::string_view text, std::size_t from) {
    int depth = 1;
    for (std::size_t at = from; at < text.size(); ++at) {
        depth += text[at] == '{' ? 1 : (text[at] == '}' ? -1 : 0);
        if (depth == 0) {
            return at;
        }
    }
    return text.size();
}

/// How often the body behind a `for` over whole numbers from 0 is done; 1 when that is not written there.
double rounds_of(std::string_view head) {
    const std::size_t at = head.find("; i < ");
    if (at == std::string_view::npos || std::isdigit(static_cast<unsigned char>(head[at + 6])) == 0) {
        return 1.0;
    }
    return std::stod(std::string(head.substr(at + 6, head.find(';', at + 6) - at - 6)));
}

} // namespace

Work& Work::add(const Work& other, double times) {
    for (std::size_t i = 0; i < counts.size(); ++i) {
        counts[i] += times * other.counts[i];
    }
    return *this;
}

Work work_of(std::string_view text, const std::string& prefix, const std::vector<std::string_view>& left_out) {
    Work all;
    std::size_t from = 0;
    while (from < text.size()) {
        // The next line that opens a body of its own kind.
        std::size_t loop = text.find("for (", from);
        std::size_t skipped = std::string_view::npos;
        for (const std::string_view condition : left_out) {
            skipped = std::min(skipped, text.find(condition, from));
        }
        const std::size_t next = std::min(loop, skipped);
        if (next == std::string_view::npos) {
            return all.add(Scanner(text.substr(from), prefix).run());
        }
        const std::size_t opens = std::min(text.find("{\n", next), text.size());
        const std::size_t closes = closing(text, std::min(opens + 1, text.size()));
        all.add(Scanner(text.substr(from, next - from), prefix).run());
        if (skipped < loop) {
            all.add(Scanner(text.substr(next, opens - next), prefix).run());
        } else if (opens < text.size()) {
            const std::string_view body = text.substr(opens + 1, closes - opens - 1);
            all.add(work_of(body, prefix, left_out), rounds_of(text.substr(next, opens - next)));
        }
        from = closes + 1;
    }
    return all;
}

SourceWork::SourceWork(std::string_view source, const std::string& name) : prefix_(name + "_") {
    // A function's last line is a brace alone, and so is no other.
    std::size_t from = 0;
    while ((from = source.find(")\n{\n", from)) != std::string_view::npos) {
        const std::size_t begin = source.rfind("\n\n", from) + 2;
        const std::string_view head = source.substr(begin, from - begin);
        const std::size_t bracket = head.find('(', head.find("*/\n") == std::string_view::npos ? 0 : head.find("*/\n"));
        const std::size_t end = std::min(source.find("\n}\n", from), source.size());
        std::size_t start = bracket;
        while (start != std::string_view::npos && start > 0 && in_name(head[start - 1])) {
            --start;
        }
        if (bracket != std::string_view::npos) {
            std::string_view function = head.substr(start, bracket - start);
            if (function.starts_with(prefix_)) {
                function.remove_prefix(prefix_.size());
            }
            bodies_[std::string(function)] = std::string(source.substr(from + 4, end - from - 4)) + "\n";
        }
        from = end;
    }
}

std::string_view SourceWork::body(const std::string& function) const {
    const auto found = bodies_.find(function);
    return found == bodies_.end() ? std::string_view() : std::string_view(found->second);
}

Work SourceWork::reached_from(std::vector<std::string> functions) const {
    Work all;
    for (std::size_t i = 0; i < functions.size(); ++i) { // it grows
        const std::string_view text = body(functions[i]);
        all.add(Scanner(text, prefix_).run());
        all[WorkKind::look] += 1.0; // a function
        for (const auto& [name, statements] : bodies_) {
            if (stands_in(prefix_ + name, text) &&
                std::find(functions.begin(), functions.end(), name) == functions.end()) {
                functions.push_back(name);
            }
        }
    }
    return all;
}

std::vector<WorkPart> SourceWork::parts(const std::string& function) const {
    const std::string_view text = body(function);
    const bool errand = text.find("    for (;;) {") != std::string_view::npos;
    const std::string_view begins = errand ? "\n        case " : "\n    /* ";
    const std::string whole = "\n" + std::string(text);
    std::vector<WorkPart> list;
    std::size_t at = whole.find(begins);
    while (at != std::string::npos) {
        const std::size_t next = whole.find(begins, at + 1);
        const std::size_t question = whole.find('\n', at + 1) + 1;
        std::string_view part = std::string_view(whole).substr(question, std::min(next, whole.size()) - question);
        WorkPart made;
        if (errand) { // what begins and ends an item happens seldom
            made.asked = work_of(part, prefix_, {"if (!f->item_begun)"});
        } else {
            const std::size_t line = part.find('\n');
            made.asked = work_of(part.substr(0, line), prefix_);
            const std::string_view acts = part.substr(std::min(line, part.size()));
            made.done = work_of(acts, prefix_, {"if (begins)"});
            made.begun = work_of(acts, prefix_);
            made.begun.add(made.done, -1.0);
        }
        made.asked[WorkKind::question] += 1.0;
        list.push_back(made);
        at = next;
    }
    return list;
}

} // namespace vast_turn::emit
