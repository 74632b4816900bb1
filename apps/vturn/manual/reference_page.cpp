#include "manual/reference_page.hpp"

#include <fmt/format.h>

namespace vturn {

namespace {

/// Text that stands for itself in Markdown; what is in back quotes stays code.
std::string as_written(const std::string& text) {
    std::string out;
    bool in_code = false;
    for (const char c : text) {
        in_code ^= c == '`';
        if (!in_code && std::string("*_[]<>|#").find(c) != std::string::npos) {
            out += '\\';
        }
        out += c;
    }
    return out;
}

std::string option_line(const OptionFacts& option) {
    return fmt::format("`{}`{}\n: {}\n\n", option.names,
                       option.value.empty() ? "" : fmt::format(" *{}*", as_written(option.value)),
                       as_written(option.help));
}

/// Examples and notes: what --help prints below the options, as it stands.
std::string below(const std::string& footer) {
    return footer.empty() ? "" : fmt::format("```text\n{}\n```\n\n", footer);
}

} // namespace

std::string reference_page(const std::vector<CommandFacts>& commands) {
    std::string out =
        "# Commands\n\nWhat `vturn COMMAND --help` prints, and `man vturn-COMMAND`. A call takes the files that it "
        "names, in any "
        "order, and in the place of those that it leaves out what the folder means (its `vturn.toml`, else "
        "the only file of a kind that is there). Results go to standard output, diagnostics to standard "
        "error; the exit status is 0 when all passed, 1 when the answer is no, 2 for unusable input.\n\n";
    std::string step;
    for (const CommandFacts& command : commands) {
        if (command.step != step) {
            step = command.step;
            out += fmt::format("## {}\n\n", step);
        }
        out += fmt::format("### vturn {}\n\n{}.\n\n", command.name, as_written(command.about));
        for (const OptionFacts& option : command.options) {
            out += option_line(option);
        }
        out += below(command.footer);
    }
    return out;
}

} // namespace vturn
