#pragma once

/// Work shared out among processes, on one machine or many.

#include <cstddef>
#include <functional>
#include <optional>
#include <string>

namespace vast_turn {

/// Where the results of independent jobs lie, one behind the other. They must be copyable byte for byte.
struct JobResults {
    void* first = nullptr;
    std::size_t bytes_each = 0;
};

/// Processes that all make the same calls in the same order, each knowing all that decides them; only the jobs of
/// share() are divided. So all come to the same results, and what is printed or written the first one does alone.
class Crew {
public:
    Crew() = default;
    Crew(const Crew&) = delete;
    Crew& operator=(const Crew&) = delete;
    virtual ~Crew() = default;

    /// Whether this process is the first.
    virtual bool is_first() const = 0;
    /// How many there are.
    virtual std::size_t size() const = 0;

    /// Jobs 0 .. count - 1, each done by `work` in one of the processes, on so many threads there, and handed out as
    /// they are done; afterwards `results` has those of all in every process. `arrived` is told each job once its
    /// result is there, in any order, one at a time and in the first process alone. Returns the first job that could
    /// not be done, if any; then the others may be left undone.
    virtual std::optional<std::size_t> share(std::size_t count, int threads,
                                             const std::function<void(std::size_t)>& work, const JobResults& results,
                                             const std::function<void(std::size_t)>& arrived) = 0;

    /// What the first one says, to all.
    virtual bool agree(bool said) = 0;
    virtual std::string tell(const std::string& said) = 0;

    /// Asked by the first while it waits for others in share(); what it throws ends that.
    std::function<void()> ask_whether_to_give_up;
};

} // namespace vast_turn
