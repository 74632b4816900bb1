#include "emit/c_function.hpp"

#include <algorithm>

#include <fmt/format.h>

namespace vast_turn::emit {

namespace {

bool is_of_name(char c) {
    return (c >= 'a' && c <= 'z') || (c >= 'A' && c <= 'Z') || (c >= '0' && c <= '9') || c == '_';
}

/// Comments hold a plan's own words, which name nothing.
std::string without_comments(std::string_view text) {
    std::string bare;
    while (!text.empty()) {
        const std::size_t begin = std::min(text.find("/*"), text.size());
        bare += text.substr(0, begin);
        const std::size_t end = text.find("*/", begin);
        text.remove_prefix(end == std::string_view::npos ? text.size() : end + 2);
    }
    return bare;
}

} // namespace

bool stands_in(std::string_view name, std::string_view commented) {
    const std::string text = without_comments(commented);
    for (std::size_t at = text.find(name); at != std::string::npos; at = text.find(name, at + 1)) {
        const std::size_t end = at + name.size();
        const bool begins = at == 0 || (!is_of_name(text[at - 1]) && text[at - 1] != '.' && text[at - 1] != '>');
        if (begins && (end == text.size() || !is_of_name(text[end]))) {
            return true;
        }
    }
    return false;
}

void Lines::add(std::string_view line) {
    line.remove_prefix(std::min(line.find_first_not_of(' '), line.size()));
    depth_ -= line.front() == '}' ? 1 : 0;
    const int shift = line.starts_with("case ") || line.starts_with("default:") ? depth_ - 1 : depth_;
    text_ += std::string(4 * static_cast<std::size_t>(std::max(shift, 0)), ' ');
    text_ += line;
    text_ += '\n';
    depth_ += line.back() == '{' ? 1 : 0;
}

void Lines::add_all(std::string_view lines) {
    while (!lines.empty()) {
        const std::size_t end = std::min(lines.find('\n'), lines.size());
        if (end != 0) {
            add(lines.substr(0, end));
        }
        lines.remove_prefix(std::min(end + 1, lines.size()));
    }
}

std::string c_function(const CPieces& pieces, std::string_view head, const std::vector<std::string>& parameters,
                       const std::vector<Local>& locals, std::string_view statements) {
    std::string body(statements);
    for (auto local = locals.rbegin(); local != locals.rend(); ++local) {
        if (stands_in(local->name, body)) {
            body.insert(0, fmt::format("    {}\n", local->declaration));
        }
    }
    std::string list;
    std::string set_aside;
    for (const std::string& parameter : parameters) {
        list += (list.empty() ? "" : ", ") + parameter;
        const std::string name = parameter.substr(parameter.find_last_of(" *") + 1);
        set_aside += stands_in(name, body) ? "" : fmt::format("    (void){};\n", name);
    }
    // What is unused is said behind the declarations, where old compilers want statements.
    return pieces(fmt::format("{}({})\n{{\n", head, list.empty() ? "void" : list)) + pieces(body) + set_aside + "}\n\n";
}

} // namespace vast_turn::emit
