#include "manual/man_pages.hpp"

#include <algorithm>
#include <cctype>

#include <fmt/format.h>

#include "vast_turn/version.hpp"

namespace vturn {

namespace {

/// Text as it is printed: what roff would obey is covered, and a minus stays one.
std::string plain(const std::string& text) {
    std::string out;
    for (const char c : text) {
        switch (c) {
        case '\\': out += "\\e"; break;
        case '-': out += "\\-"; break;
        case '\'': out += "\\(aq"; break;
        case '`': out += "\\(ga"; break;
        case '^': out += "\\(ha"; break;
        case '~': out += "\\(ti"; break;
        default: out += c;
        }
        const bool begins_line = out.size() == 1 || (!out.empty() && out[out.size() - 2] == '\n');
        if (begins_line && c == '.') {
            out.insert(out.size() - 1, "\\&");
        }
    }
    return out;
}

std::string upper(std::string text) {
    std::transform(text.begin(), text.end(), text.begin(),
                   [](unsigned char c) { return static_cast<char>(std::toupper(c)); });
    return text;
}

std::string head(const std::string& name, const std::string& about) {
    return fmt::format(".TH {} 1 \"\" \"vturn {}\" \"User Commands\"\n.SH NAME\n{} \\- {}\n", upper(plain(name)),
                       vast_turn::version_text, plain(name), plain(about));
}

/// "-o,--output" as bold names with a comma and a blank between them.
std::string bold_names(const std::string& names) {
    std::string out;
    for (std::size_t from = 0; from < names.size();) {
        const std::size_t to = std::min(names.find(',', from), names.size());
        out += fmt::format("{}\\fB{}\\fR", out.empty() ? "" : ", ", plain(names.substr(from, to - from)));
        from = to + 1;
    }
    return out;
}

/// What stands below a command's help: examples as they are written, the rest as text.
std::string footer_text(const std::string& footer) {
    std::string out;
    bool in_example = false;
    for (std::size_t from = 0; from < footer.size();) {
        const std::size_t to = std::min(footer.find('\n', from), footer.size());
        const std::string line = footer.substr(from, to - from);
        from = to + 1;
        if (line == "Example:" || line == "Examples:") {
            out += ".SH EXAMPLES\n.nf\n";
            in_example = true;
        } else if (in_example && line.empty()) {
            out += ".fi\n.SH NOTES\n";
            in_example = false;
        } else if (line.starts_with("Exit status: ")) {
            out += (in_example ? ".fi\n" : "") + std::string(".SH EXIT STATUS\n") + plain(line.substr(13)) + "\n";
            in_example = false;
        } else if (line.empty()) {
            out += ".PP\n";
        } else {
            out += plain(line) + "\n";
        }
    }
    out += in_example ? ".fi\n" : "";
    // A heading under which nothing came.
    for (std::size_t at = out.find(".SH NOTES\n.SH "); at != std::string::npos; at = out.find(".SH NOTES\n.SH ")) {
        out.erase(at, 10);
    }
    return out.ends_with(".SH NOTES\n") ? out.substr(0, out.size() - 10) : out;
}

std::string page_of(const CommandFacts& command) {
    const std::string name = "vturn-" + command.name;
    std::string words;
    for (const OptionFacts& option : command.options) {
        words += option.is_word ? fmt::format(" [{}]", option.names) : "";
    }
    std::string about = command.about;
    about[0] = static_cast<char>(std::tolower(static_cast<unsigned char>(about[0])));
    std::string out = head(name, about) + fmt::format(".SH SYNOPSIS\n.B vturn {}\n[options]{}\n.SH OPTIONS\n",
                                                      plain(command.name), plain(words));
    for (const OptionFacts& option : command.options) {
        out += fmt::format(".TP\n{}{}\n{}\n", bold_names(option.names),
                           option.value.empty() ? "" : fmt::format(" \\fI{}\\fR", plain(option.value)),
                           plain(option.help));
    }
    out += footer_text(command.footer);
    return out + ".SH SEE ALSO\n.BR vturn (1)\n";
}

std::string page_of_all(const std::vector<CommandFacts>& commands) {
    std::string out = head("vturn", "decision logic and route tests for line-tracking robots");
    out += ".SH SYNOPSIS\n.B vturn\n\\fIcommand\\fR [options] [files]\n.SH DESCRIPTION\n"
           "Plans, courses and robots are text files. A call takes the files that it names, in any order, and in the "
           "place of those that it "
           "leaves out what the folder means: its \\fIvturn.toml\\fR, else the only file of a kind that is there.\n"
           "Results go to standard output, diagnostics to standard error.\n.SH COMMANDS\n";
    std::string step;
    for (const CommandFacts& command : commands) {
        if (command.step != step) {
            step = command.step;
            out += fmt::format(".SS {}\n", plain(step));
        }
        out += fmt::format(".TP\n.BR vturn\\-{} (1)\n{}\n", plain(command.name), plain(command.about));
    }
    return out + ".SH EXIT STATUS\n0 passed, 1 the answer is no, 2 unusable input\n.SH "
                 "FILES\n.TP\n\\fIvturn.toml\\fR\nwhich files a call means that "
                 "names none\n";
}

} // namespace

std::vector<std::pair<std::string, std::string>> man_pages(const std::vector<CommandFacts>& commands) {
    std::vector<std::pair<std::string, std::string>> pages = {{"vturn.1", page_of_all(commands)}};
    for (const CommandFacts& command : commands) {
        pages.emplace_back("vturn-" + command.name + ".1", page_of(command));
    }
    return pages;
}

} // namespace vturn
