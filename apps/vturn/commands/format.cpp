#include <memory>

#include <fmt/format.h>

#include "commands/commands.hpp"
#include "print/print.hpp"
#include "vast_turn/formats/read/plan_file.hpp"
#include "vast_turn/formats/read/text_file.hpp"
#include "vast_turn/formats/write/text_file.hpp"
#include "vast_turn/plan/format.hpp"

namespace vturn {

using namespace vast_turn;

namespace {

struct FormatCall {
    std::vector<std::string> plans;
    bool check = false;
    bool print = false;
};

int lay_out(const Streams& streams, const FormatCall& call) {
    std::vector<std::pair<std::string, std::string>> changed; // nothing is written before all have been read
    for (const std::string& path : call.plans) {
        const std::string text = read_plan(path);
        Formatted formatted = format_plan(text, path);
        if (formatted.text.empty()) {
            throw InputError(std::move(formatted.problems));
        }
        if (call.print) {
            (streams.out_is_terminal ? streams.out : streams.raw_out()) << formatted.text;
        } else if (formatted.text != text) {
            changed.emplace_back(path, std::move(formatted.text));
        }
    }
    for (const auto& [path, text] : changed) {
        if (!call.check) {
            write_file(path, text);
        }
        streams.out << fmt::format("{} {}\n", path, call.check ? "is not in the canonical layout" : "laid out anew");
    }
    if (changed.empty() && !call.print) {
        streams.out << fmt::format("{} plan{} in the canonical layout\n", call.plans.size(),
                                   call.plans.size() == 1 ? " is" : "s are");
    }
    return call.check && !changed.empty() ? answer_no : passed;
}

} // namespace

void add_format(Parser& parser, Streams& streams) {
    Command command = parser.command("format", "Lays plans out in the one canonical way; comments and meaning stay");
    auto call = std::make_shared<FormatCall>();
    command.option("PLAN", call->plans, "plan files (*.plan), written anew in their places").required();
    const Option check = command.flag("--check", call->check, "change nothing; say which files are laid out otherwise");
    command.prints_data("--print", call->print, "print the result and change nothing").excludes(check);
    command.footer("Example:\n  vturn format --check data/fern-house/plans/search.plan\n\n"
                   "Exit status: 0 when all is laid out so, 1 with --check when a file is not, 2 for unusable input.");
    command.does([call, &streams] { return lay_out(streams, *call); });
}

} // namespace vturn
