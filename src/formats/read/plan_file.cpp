#include "vast_turn/formats/read/plan_file.hpp"

#include "vast_turn/formats/read/text_file.hpp"

namespace vast_turn {

Plan load_plan(const std::string& path, std::vector<Problem>* warnings) {
    Compiled compiled = compile_plan(read_file(path), path);
    if (!compiled.plan) {
        throw InputError(std::move(compiled.problems));
    }
    if (warnings != nullptr) {
        warnings->insert(warnings->end(), compiled.problems.begin(), compiled.problems.end());
    }
    return *compiled.plan;
}

} // namespace vast_turn
