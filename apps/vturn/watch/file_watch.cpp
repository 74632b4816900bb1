#include "watch/file_watch.hpp"

#include <sys/stat.h>

namespace vturn {

FileWatch::States FileWatch::states_of(const std::vector<std::string>& paths) {
    constexpr std::int64_t ns = 1'000'000'000;
    States all;
    for (const std::string& path : paths) {
        struct stat now {};
        all[path] = ::stat(path.c_str(), &now) == 0
                        ? State{now.st_dev, now.st_ino, now.st_size, now.st_mtim.tv_sec * ns + now.st_mtim.tv_nsec}
                        : State{};
    }
    return all;
}

void FileWatch::add(const std::vector<std::string>& paths) {
    for (const auto& [path, state] : states_of(paths)) {
        if (known_.try_emplace(path, state).second) {
            paths_.push_back(path);
            last_[path] = state;
        }
    }
}

bool FileWatch::look() {
    States now = states_of(paths_);
    const bool is_still = now == last_;
    last_ = std::move(now);
    if (!is_still || last_ == known_) {
        return false;
    }
    known_ = last_;
    return true;
}

} // namespace vturn
