#include "emit/c_text.hpp"

#include <algorithm>
#include <cctype>
#include <set>
#include <utility>

#include <fmt/format.h>

namespace vast_turn::emit {

namespace {

bool is_letter(char c) { return (c >= 'a' && c <= 'z') || (c >= 'A' && c <= 'Z'); }

bool is_digit(char c) { return c >= '0' && c <= '9'; }

/// Whether a literal begins at `at`: a digit that no name or number goes before.
bool begins_literal(std::string_view piece, std::size_t at) {
    const char before = at == 0 ? ' ' : piece[at - 1];
    return is_digit(piece[at]) && !is_letter(before) && !is_digit(before) && before != '_' && before != '.';
}

} // namespace

std::string c_name(std::string_view name) {
    std::string made;
    for (const char c : name) {
        const bool continues = (static_cast<unsigned char>(c) & 0xC0U) == 0x80U; // of a character that is none of C's
        if (continues) {
            continue;
        }
        if (is_letter(c) || is_digit(c)) {
            made += static_cast<char>(std::tolower(static_cast<unsigned char>(c)));
        } else if (made.empty() || made.back() != '_') {
            made += '_';
        }
    }
    return made.empty() || is_digit(made.front()) || made.front() == '_' ? "plan_" + made : made;
}

std::string c_constant(std::string_view name) {
    std::string made;
    for (const char c : name) {
        made += is_letter(c) || is_digit(c) ? static_cast<char>(std::toupper(static_cast<unsigned char>(c))) : '_';
    }
    return made;
}

std::vector<std::string> told_apart(std::vector<std::string> names) {
    std::set<std::string> used;
    for (std::string& name : names) {
        const std::string wanted = name;
        for (int number = 2; !used.insert(name).second; ++number) {
            name = fmt::format("{}_{}", wanted, number);
        }
    }
    return names;
}

std::string c_number(double x, NumberKind numbers) {
    const bool is_short = numbers == NumberKind::binary32;
    std::string text = is_short ? fmt::format("{}", static_cast<float>(x)) : fmt::format("{}", x);
    if (text.find_first_of(".e") == std::string::npos) {
        text += ".0";
    }
    text += is_short ? "f" : "";
    return text.front() == '-' ? "(" + text + ")" : text;
}

std::string c_comment(std::string_view text) {
    std::string made;
    for (const char c : text) {
        const bool would_end = !made.empty() && ((made.back() == '*' && c == '/') || (made.back() == '/' && c == '*'));
        made += would_end ? " " : "";
        made += static_cast<unsigned char>(c) < 0x20 ? ' ' : c;
    }
    return made;
}

std::string unbracketed(const std::string& expression) {
    int depth = 0;
    for (std::size_t i = 0; i < expression.size(); ++i) {
        depth += expression[i] == '(' ? 1 : (expression[i] == ')' ? -1 : 0);
        if (depth == 0) { // what the first bracket opens, if there is one, ends here
            const bool whole = i > 0 && i + 1 == expression.size();
            return whole ? unbracketed(expression.substr(1, i - 1)) : expression;
        }
    }
    return expression;
}

std::string c_string(std::string_view text) {
    std::string made = "\"";
    for (const char c : text) {
        const auto byte = static_cast<unsigned char>(c);
        if (c == '"' || c == '\\' || c == '?') { // three-character signs of old C begin with two question marks
            made += '\\';
            made += c;
        } else if (byte < 0x20 || byte >= 0x7F) {
            made += fmt::format("\\{:03o}", byte);
        } else {
            made += c;
        }
    }
    return made + "\"";
}

std::string veiled(std::string text) {
    std::replace(text.begin(), text.end(), '@', '\x01');
    std::replace(text.begin(), text.end(), '$', '\x02');
    return text;
}

std::string bared(std::string text) {
    std::replace(text.begin(), text.end(), '\x01', '@');
    std::replace(text.begin(), text.end(), '\x02', '$');
    return text;
}

CPieces::CPieces(std::string name, NumberKind numbers)
    : name_(std::move(name)), capitals_(c_constant(name_)), numbers_(numbers) {}

std::string CPieces::operator()(std::string_view piece) const {
    std::string made;
    for (std::size_t i = 0; i < piece.size(); ++i) {
        if (piece[i] == '@') {
            made += name_ + "_";
        } else if (piece[i] == '$') {
            made += capitals_ + "_";
        } else if (begins_literal(piece, i)) {
            const std::size_t end = std::min(piece.find_first_not_of("0123456789.e", i), piece.size());
            made += piece.substr(i, end - i);
            i = end - 1;
            if (end < piece.size() && piece[end] == '_') { // a number of the robot
                made += numbers_ == NumberKind::binary32 ? "f" : "";
                ++i;
            }
        } else {
            made += piece[i];
        }
    }
    return made;
}

} // namespace vast_turn::emit
