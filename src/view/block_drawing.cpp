#include "vast_turn/view/block_drawing.hpp"

#include <cstdlib>
#include <filesystem>

#include <fmt/format.h>

#include "vast_turn/base/problem.hpp"
#include "vast_turn/formats/read/text_file.hpp"
#include "vast_turn/plan/explain/block_graph.hpp"

namespace vast_turn {

namespace {

/// A folder of our own that goes away with everything in it.
class ScratchFolder {
public:
    ScratchFolder() {
        std::string name = (std::filesystem::temp_directory_path() / "vturn-draw-XXXXXX").string();
        if (mkdtemp(name.data()) == nullptr) {
            throw InputError(name, "no scratch folder can be made there", "make room, or set TMPDIR");
        }
        path_ = name;
    }
    ScratchFolder(const ScratchFolder&) = delete;
    ScratchFolder& operator=(const ScratchFolder&) = delete;
    ~ScratchFolder() {
        std::error_code ignored;
        std::filesystem::remove_all(path_, ignored);
    }
    std::string file(const char* name) const { return path_ + "/" + name; }

private:
    std::string path_;
};

} // namespace

// A program of its own, since the library version 2.43 reads freed memory when it lays out a second graph.
std::string draw_blocks(const Plan& plan, std::string_view format) {
    const ScratchFolder folder;
    const std::string graph = folder.file("blocks.dot");
    const std::string picture = folder.file("blocks.out");
    write_file(graph, block_graph(plan));
    // The names are ours: no text of the user's comes near the shell.
    const std::string command = fmt::format("dot -T{} -o '{}' '{}' 2> /dev/null", format, picture, graph);
    const int status = std::system(command.c_str()); // NOLINT(cert-env33-c,concurrency-mt-unsafe)
    std::error_code fault;
    if (status != 0 || !std::filesystem::exists(picture, fault)) {
        throw InputError(plan.file(), "the blocks could not be laid out: Graphviz' program dot is not here or failed",
                         "install the package graphviz, or write the graph as .dot");
    }
    return read_file(picture);
}

} // namespace vast_turn
