#include "ranks/ranks.hpp"

#include <cstdlib>

#include "loaded_module.hpp"

namespace vturn {

std::unique_ptr<Ranks> join_ranks() {
    // Open MPI tells each process so how many there are.
    const char* size = std::getenv("OMPI_COMM_WORLD_SIZE");
    if (size == nullptr || std::strtol(size, nullptr, 10) < 2) {
        return nullptr;
    }
    auto* const join = reinterpret_cast<JoinRanks*>(
        function_of_module("vturn-ranks.so", "vturn_join_ranks", "install vturn-mpi, or start vturn without mpirun"));
    return std::unique_ptr<Ranks>(join());
}

} // namespace vturn
