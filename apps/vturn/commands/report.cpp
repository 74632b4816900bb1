#include <memory>

#include <fmt/format.h>

#include "call_files.hpp"
#include "commands/commands.hpp"
#include "print/print.hpp"
#include "report/page_maker.hpp"

namespace vturn {

using namespace vast_turn;

namespace {

struct ReportCall {
    PageCall page;
    std::string output;
};

int write_report(const Streams& streams, const ReportCall& call) {
    if (!ends_with(call.output, ".html") && call.output != "-") {
        throw InputError(call.output, "a page is a .html file", "write -o page.html, or -o - for standard output");
    }
    const MadePage page = PageMaker(call.page).make(streams, "");
    write_output(streams, call.output, page.html);
    streams.out << page.told
                << fmt::format("  {}, {:.0f} kB: opens in any browser, without a network\n", call.output,
                               static_cast<double>(page.html.size()) / 1000.0);
    return page.halted && page.passed ? passed : answer_no;
}

} // namespace

void add_report(Parser& parser, Streams& streams) {
    Command command = parser.command(
        "report",
        "A page to share: the run on its course, forward and back, with plan, plots, trips, routes, findings");
    auto options = std::make_shared<ReportCall>();
    add_page_options(command, options->page);
    command.writes("-o,--output", options->output, "write the page into this file (.html)").required();
    command.flag("--runs-only", options->page.runs_only,
                 "the runs alone: no trips with their reasons and cures, no routes, comparison and findings");
    command.option("--days", options->page.days, "days of each trip in place of repeats, from --day on")
        .within(1, 1000000);
    command.flag("--margins", options->page.margins,
                 "of each trip whose days are driven: how far each quantity may go alone");
    command
        .option(
            "--repeat", options->page.repeats,
            "runs of each trip in the comparison of several plans; 5 when not given, of a shuffled course 1 on each "
            "layout")
        .within(1, 10000);
    add_drawings_option(command, streams);
    command.footer(
        "Example:\n  vturn report data/fern-house/fern-house.course.toml data/fern-house/sprig-2.robot.toml \\\n"
        "      data/fern-house/left-first.plan data/fern-house/right-first.plan -o page.html\n\n"
        "A link to a moment: page.html#t=4.26&run=B\n"
        "Exit status: 0 when every run ended by halt and every trip passed, 1 when not, 2 for unusable input.");
    command.does([options, &streams] { return write_report(streams, *options); });
}

} // namespace vturn
