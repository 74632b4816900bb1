#include <memory>

#include <graphviz/gvc.h>

#include "vast_turn/base/problem.hpp"
#include "vast_turn/plan/block_graph.hpp"
#include "vast_turn/view/picture.hpp"

namespace vast_turn {

std::string draw_blocks(const Plan& plan, PictureFormat format) {
    const std::unique_ptr<GVC_t, int (*)(GVC_t*)> context(gvContext(), gvFreeContext);
    const std::string dot = block_graph(plan);
    const std::unique_ptr<Agraph_t, int (*)(Agraph_t*)> graph(agmemread(dot.c_str()), agclose);
    if (!context || !graph || gvLayout(context.get(), graph.get(), "dot") != 0) {
        throw InputError(plan.file(), "the graph of the plan's blocks could not be laid out",
                         "write it as .dot and lay it out with another program");
    }
    const char* renderer = format == PictureFormat::png ? "png" : format == PictureFormat::pdf ? "pdf" : "svg";
    char* bytes = nullptr;
    unsigned length = 0;
    const int failed = gvRenderData(context.get(), graph.get(), renderer, &bytes, &length);
    std::string picture = failed == 0 ? std::string(bytes, length) : std::string{};
    gvFreeRenderData(bytes);
    gvFreeLayout(context.get(), graph.get());
    if (failed != 0) {
        throw InputError(plan.file(), "the graph of the plan's blocks could not be drawn", "write it as .dot or .svg");
    }
    return picture;
}

} // namespace vast_turn
