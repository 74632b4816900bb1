#include "vast_turn/trial/days_taken.hpp"

#include <algorithm>
#include <array>
#include <atomic>

#include "base/share_out.hpp"
#include "vast_turn/robot/day.hpp"
#include "vast_turn/trial/trip_result.hpp"

namespace vast_turn {

namespace {

constexpr std::uint64_t most_days = 20'000;
constexpr std::size_t most_days_told = 1000;

enum class Came : std::uint8_t { not_driven, failed, passed };

class DaysDriver {
public:
    DaysDriver(const TripCase& one, const Pilot& pilot, const DaysAsked& asked, const RunOptions& options, int threads,
               const std::function<bool()>& go_on, const std::function<void()>& day_done)
        : one_(one), pilot_(pilot), asked_(asked), options_(options), threads_(threads), go_on_(go_on),
          day_done_(day_done) {
        options_.day = std::max<std::uint64_t>(1, options.day);
    }

    CountedDays run() {
        drive();
        CountedDays counted;
        DaysTaken& taken = counted.taken;
        counted.runs = came_.size();
        counted.told = options_.day;
        for (std::size_t i = 0; i < came_.size(); ++i) {
            counted.passed += came_[i] == Came::passed ? 1 : 0;
            if (came_[i] == Came::failed && taken.failed.size() < most_days_told) {
                taken.failed.push_back(options_.day + i);
            }
        }
        if (!taken.failed.empty()) {
            counted.told = taken.failed.front();
        }
        taken.share = wilson(counted.passed, counted.runs);
        taken.sure = asked_.sure;
        taken.first = options_.day;
        taken.decided = decided_;
        taken.causes = causes();
        return counted;
    }

private:
    /// In parts of a size that does not depend on the threads: a test that decides in the midst of one counts no day
    /// behind that.
    void drive() {
        const std::uint64_t wanted = asked_.days > 0 ? asked_.days : asked_.sure ? most_days : 0;
        std::optional<SequentialTest> test;
        if (asked_.sure) {
            test.emplace(*asked_.sure);
        }
        const std::uint64_t part = test ? 64 : 4096;
        while (came_.size() < wanted && !decided_ && !stopped_) {
            const std::size_t from = came_.size();
            const auto count = static_cast<std::size_t>(std::min<std::uint64_t>(wanted - from, part));
            const Workers workers{asked_.crew, threads_};
            const std::size_t together = jobs_together(workers, count, lanes_at_most);
            std::vector<Block> blocks((count + together - 1) / together);
            const auto drive_block = [&](std::size_t b) {
                drive_days(from + b * together, std::min(together, count - b * together), blocks[b]);
            };
            share_out(workers, blocks.size(), drive_block, results_in(blocks));
            for (std::size_t i = 0; i < count; ++i) {
                came_.push_back(blocks[i / together][i % together]);
            }
            const auto first = came_.begin() + static_cast<std::ptrdiff_t>(from);
            came_.erase(std::find(first, came_.end(), Came::not_driven), came_.end());
            for (std::size_t i = from; test && i < came_.size() && !decided_; ++i) {
                test->take(came_[i] == Came::passed);
                decided_ = test->decided();
                if (decided_) {
                    came_.resize(i + 1);
                }
            }
        }
    }

    /// What came of days that were driven side by side.
    using Block = std::array<Came, lanes_at_most>;

    void drive_days(std::size_t from, std::size_t count, Block& block) {
        const auto take = [&](std::size_t n, const TripResult& result) {
            block[n] = result.passed ? Came::passed : Came::failed;
            if (day_done_) {
                day_done_();
            }
        };
        try_trips(*one_.scene, pilot_, one_.trip, runs_from(options_, from, count), take, [this] { return goes_on(); });
    }

    bool goes_on() {
        // In a crew it is not this process alone that may stop.
        if (!stopped_ && asked_.crew == nullptr && go_on_ && !go_on_()) {
            stopped_ = true; // never taken back: another thread may have been told so meanwhile
        }
        return !stopped_;
    }

    std::vector<Cause> causes() const {
        const Robot& robot = one_.scene->robot();
        const Variation variation = telling_variation(robot);
        std::vector<DayOutcome> days;
        for (std::size_t i = 0; i < std::min<std::size_t>(came_.size(), most_days); ++i) { // more tell no more
            days.push_back(
                {draw_day(variation, options_.seed, options_.day + i, robot.sensors.size()), came_[i] == Came::passed});
        }
        return days.empty() ? std::vector<Cause>{} : find_causes(days);
    }

    const TripCase& one_;
    const Pilot& pilot_;
    const DaysAsked& asked_;
    RunOptions options_;
    int threads_;
    const std::function<bool()>& go_on_;
    const std::function<void()>& day_done_;
    std::vector<Came> came_; ///< by day, from the first
    std::optional<bool> decided_;
    std::atomic<bool> stopped_ = false;
};

} // namespace

CountedDays take_days(const TripCase& one, const Pilot& pilot, const DaysAsked& asked, const RunOptions& options,
                      int threads, const std::function<bool()>& go_on, const std::function<void()>& day_done) {
    return DaysDriver(one, pilot, asked, options, threads, go_on, day_done).run();
}

} // namespace vast_turn
