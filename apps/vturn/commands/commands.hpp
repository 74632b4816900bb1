#pragma once

/// The commands, one source file each. Each adds itself to the parser; when it is called it sets
/// `status`.

#include <CLI/CLI.hpp>

#include "cli.hpp"

namespace vturn {

void add_ask(CLI::App& app, Streams& streams, int& status);
void add_calibrate(CLI::App& app, Streams& streams, int& status);
void add_compare(CLI::App& app, Streams& streams, int& status);
void add_demo(CLI::App& app, Streams& streams, int& status);
void add_draw(CLI::App& app, Streams& streams, int& status);
void add_format(CLI::App& app, Streams& streams, int& status);
void add_map(CLI::App& app, Streams& streams, int& status);
void add_routes(CLI::App& app, Streams& streams, int& status);
void add_run(CLI::App& app, Streams& streams, int& status);
void add_table(CLI::App& app, Streams& streams, int& status);
void add_trips(CLI::App& app, Streams& streams, int& status);
void add_vet(CLI::App& app, Streams& streams, int& status);

} // namespace vturn
