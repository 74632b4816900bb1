#include <chrono>
#include <memory>
#include <thread>

#include <fmt/format.h>

#include "call_files.hpp"
#include "commands/commands.hpp"
#include "commands/interrupt.hpp"
#include "report/page_maker.hpp"
#include "vast_turn/page/page.hpp"
#include "watch/file_watch.hpp"
#include "watch/page_server.hpp"

namespace vturn {

using namespace vast_turn;

namespace {

struct WatchCall {
    PageCall page;
    int port = 0;
    bool all = false;
};

/// Makes the page, or one that tells what is wrong, and publishes it.
void publish(const Streams& streams, const std::string& title, PageMaker& maker, PageServer& server) {
    const auto began = std::chrono::steady_clock::now();
    std::string told;
    try {
        MadePage page = maker.make(streams, server.changes_at());
        server.publish(std::move(page.html));
        told = page.told;
    } catch (const InputError& error) {
        server.publish(problems_page(title, error.problems(), server.changes_at()));
        told = error.what();
    }
    const std::chrono::duration<double> taken = std::chrono::steady_clock::now() - began;
    streams.out << told << fmt::format("  drawn in {:.0f} ms\n", 1000.0 * taken.count()) << std::flush;
}

int watch(const Streams& streams, const WatchCall& call) {
    PageCall page = call.page;
    page.runs_only = !call.all;
    PageMaker maker(page);
    const Interrupt interrupt;
    const std::unique_ptr<PageServer> serving = serve_pages(call.port);
    PageServer& server = *serving;
    FileWatch files;
    files.add(maker.files()); // before they are read: what is saved meanwhile is seen in the next look
    publish(streams, page.course, maker, server);
    streams.out << server.address() << "\n  open it in a browser on this machine; Ctrl-C ends it\n" << std::flush;
    constexpr std::chrono::milliseconds between(10);
    while (!interrupt.asked()) {
        files.add(maker.files());
        if (files.look()) {
            publish(streams, page.course, maker, server);
        }
        std::this_thread::sleep_for(between);
    }
    return passed;
}

} // namespace

void add_watch(Parser& parser, Streams& streams) {
    Command command = parser.command(
        "watch", "Serves the page of a run to a browser on this machine and draws it anew whenever a file is saved");
    auto options = std::make_shared<WatchCall>();
    add_page_options(command, options->page);
    command.option("--port", options->port, "of this machine; 0 for any that is free").within(0, 65535);
    command.flag("--all", options->all, "trips, routes, comparison and findings too, which takes longer");
    add_drawings_option(command, streams);
    command.footer("Example:\n  vturn watch data/fern-house/fern-house.course.toml "
                   "data/fern-house/sprig-2.robot.toml data/fern-house/left-first.plan\n\n"
                   "Only browsers on this machine reach it, and only by the address that it prints.");
    command.does([options, &streams] { return watch(streams, *options); });
}

} // namespace vturn
