#include <memory>

#include <fmt/format.h>

#include "call_files.hpp"
#include "commands/commands.hpp"
#include "print/print.hpp"
#include "vast_turn/formats/read/plan_file.hpp"
#include "vast_turn/formats/write/text_file.hpp"
#include "vast_turn/plan/explain/block_graph.hpp"
#include "vast_turn/view/block_drawing.hpp"
#include "vast_turn/view/picture.hpp"

namespace vturn {

using namespace vast_turn;

namespace {

struct DrawCall {
    std::string plan;
    std::string picture;
};

int draw(const Streams& streams, const DrawCall& call) {
    std::vector<Problem> warnings;
    const Plan plan = load_plan(call.plan, &warnings);
    print_warnings(streams, warnings);
    if (call.picture.empty()) {
        streams.out << block_graph(plan);
    } else if (call.picture.ends_with(".dot")) {
        write_output(streams, call.picture, block_graph(plan));
    } else {
        write_output(streams, call.picture, draw_blocks(plan, format_for(call.picture)));
    }
    return passed;
}

} // namespace

void add_draw(Parser& parser, Streams& streams) {
    Command command = parser.command("draw", "Draws a plan's blocks and the ways between them");
    auto call = std::make_shared<DrawCall>();
    command.plan(call->plan);
    command.writes("-o,--output", call->picture,
                   "draw into this file (.svg, .png, .pdf, or .dot for Graphviz); prints DOT when not given");
    command.footer(
        "Full arrows are `do`, heavy ones `become`, dashed ones are taken by a guard; a dotted line is `as`.\n\n"
        "Example:\n  vturn draw data/fern-house/plans/search.plan -o search.svg");
    command.does([call, &streams] { return draw(streams, *call); });
}

} // namespace vturn
