#pragma once

/// Plans written as C, compiled by the system's C compiler and called in process.

#include <memory>
#include <string>
#include <vector>

#include "vast_turn/emit/c_source.hpp"
#include "vast_turn/runtime/look.hpp"

namespace fixtures {

/// A source that includes a plan's, with a state of its own and two functions: NAME_flat_reset, and NAME_flat_look,
/// which takes `struct flat_look` and gives `struct flat_answer`, the same for all plans.
/// Of a lean source the answers tell no rule and no block: 0.
std::string c_adapter(const vast_turn::CSource& c, bool lean = false);

/// Several plans in one library. Each has a state of its own, which `reset` begins anew.
class CPrograms {
public:
    /// Compiles with every warning an error; fails the test with what the compiler said when it does not.
    CPrograms(const std::vector<vast_turn::Plan>& plans, vast_turn::runtime::NumberKind numbers,
              const std::string& flags = "-O0", bool lean = false);
    ~CPrograms();
    CPrograms(const CPrograms&) = delete;
    CPrograms& operator=(const CPrograms&) = delete;

    /// `sizeof` of the plan's state.
    std::size_t state_bytes(std::size_t plan) const;
    void reset(std::size_t plan);
    void look(std::size_t plan, const vast_turn::Look& in, vast_turn::Answer& out);

private:
    struct Library;
    std::unique_ptr<Library> library_;
};

} // namespace fixtures
