#pragma once

/// Work in many parts that tells how far it is and can be stopped.

#include <atomic>
#include <cstddef>
#include <functional>
#include <mutex>
#include <utility>

namespace vast_turn {

/// Shared by the threads that do the parts.
class CountedWork {
public:
    using Progress = std::function<void(const char* what, std::size_t done, std::size_t all)>;
    using Stop = std::function<bool()>;

    /// `what` is done, a literal; the others may be empty.
    CountedWork(const char* what, Progress progress, Stop stop)
        : what_(what), progress_(std::move(progress)), stop_(std::move(stop)) {}

    /// So many parts are to come, counted from 0; 0 when nobody knows.
    void expect(std::size_t parts) {
        all_ = parts;
        done_ = 0;
    }

    /// Whether another part may begin.
    bool goes_on() {
        if (!stopped_ && stop_ && stop_()) {
            stopped_ = true;
        }
        return !stopped_;
    }

    void done_one() {
        const std::lock_guard<std::mutex> guard(lock_);
        ++done_;
        if (progress_) {
            progress_(what_, done_, all_);
        }
    }

    bool stopped() const { return stopped_; }

private:
    const char* what_;
    Progress progress_;
    Stop stop_;
    std::mutex lock_;
    std::size_t done_ = 0;
    std::size_t all_ = 0;
    std::atomic<bool> stopped_ = false;
};

} // namespace vast_turn
