#pragma once

/// The commands, one source file each. Each adds itself to the parser.

#include "arguments.hpp"

namespace vturn {

/// All of them, by the steps of the job.
const std::vector<NamedCommand>& all_commands();

void add_ask(Parser& parser, Streams& streams);
void add_bench(Parser& parser, Streams& streams);
void add_calibrate(Parser& parser, Streams& streams);
void add_compare(Parser& parser, Streams& streams);
void add_sweep(Parser& parser, Streams& streams);
void add_tune(Parser& parser, Streams& streams);
void add_demo(Parser& parser, Streams& streams);
void add_draw(Parser& parser, Streams& streams);
void add_export(Parser& parser, Streams& streams);
void add_fit(Parser& parser, Streams& streams);
void add_format(Parser& parser, Streams& streams);
void add_language_server(Parser& parser, Streams& streams);
void add_map(Parser& parser, Streams& streams);
void add_new(Parser& parser, Streams& streams);
void add_report(Parser& parser, Streams& streams);
void add_robot(Parser& parser, Streams& streams);
void add_routes(Parser& parser, Streams& streams);
void add_run(Parser& parser, Streams& streams);
void add_stand_in(Parser& parser, Streams& streams);
void add_step(Parser& parser, Streams& streams);
void add_debug_adapter(Parser& parser, Streams& streams);
void add_table(Parser& parser, Streams& streams);
void add_trips(Parser& parser, Streams& streams);
void add_vet(Parser& parser, Streams& streams);
void add_watch(Parser& parser, Streams& streams);

} // namespace vturn
