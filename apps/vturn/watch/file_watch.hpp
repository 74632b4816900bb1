#pragma once

/// Whether files were saved.

#include <cstdint>
#include <map>
#include <string>
#include <vector>

namespace vturn {

/// Looks at files by their names: editors write a new file and move it to the place of the old one, so that what a
/// name leads to is looked at, not a file.
class FileWatch {
public:
    /// What tells one state of a file from another; all zero when there is none.
    struct State {
        std::uint64_t device = 0;
        std::uint64_t file = 0;
        std::int64_t bytes = 0;
        std::int64_t changed_ns = 0;
        bool operator==(const State&) const = default;
    };
    using States = std::map<std::string, State>;
    static States states_of(const std::vector<std::string>& paths);

    /// These too, where they are not looked at yet: as they are now they are known.
    void add(const std::vector<std::string>& paths);
    /// Whether one of them is another than when it was looked at last, and none is still being written: it is the same
    /// in two looks on end.
    bool look();

private:
    std::vector<std::string> paths_;
    States known_; ///< when it was told last that they were saved
    States last_;  ///< in the last look
};

} // namespace vturn
