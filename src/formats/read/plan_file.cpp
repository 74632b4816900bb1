#include "vast_turn/formats/read/plan_file.hpp"

#include "formats/read/file_kind.hpp"
#include "vast_turn/formats/read/text_file.hpp"

namespace vast_turn {

std::string read_plan(const std::string& path) {
    std::string text = read_file(path);
    expect_kind(text, path, FileKind::plan);
    return text;
}

Plan load_plan(const std::string& path, std::vector<Problem>* warnings) {
    Compiled compiled = compile_plan(read_plan(path), path);
    if (!compiled.plan) {
        throw InputError(std::move(compiled.problems));
    }
    if (warnings != nullptr) {
        warnings->insert(warnings->end(), compiled.problems.begin(), compiled.problems.end());
    }
    return *compiled.plan;
}

} // namespace vast_turn
