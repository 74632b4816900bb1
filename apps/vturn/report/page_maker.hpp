#pragma once

/// What a page is made of, for `vturn report` and `vturn watch`.

#include <memory>
#include <string>
#include <vector>

#include "arguments.hpp"
#include "commands/run_options.hpp"
#include "vast_turn/course/board/course.hpp"
#include "vast_turn/recorded/log_comparison.hpp"

namespace vturn {

/// As the command line gives it.
struct PageCall {
    std::string course;
    std::string variant = vast_turn::as_drawn;
    std::string robot;
    std::vector<std::string> plans;
    std::vector<std::string> plot; ///< quantities, as given
    std::vector<std::string> hears;
    std::string trips;             ///< a file in place of the course's own
    std::vector<std::string> logs; ///< of runs on the floor, put beside
    int runs = 1;
    bool runs_only = false; ///< neither trips nor routes, comparison and findings
    int days = 0;           ///< of each trip; 0: as the trips say
    bool margins = false;
    int repeats = 0; ///< of each trip in the comparison; 0: 5, or 1 on each layout of a shuffled course
    int jobs = 0;
    DriveOptions drive;
};

/// The page, and whether all is well in it.
struct MadePage {
    std::string html;
    bool halted = true; ///< every run ended by halt
    bool passed = true; ///< every trip holds
    std::string told;   ///< lines for people: how its runs ended, what came of the trips
};

/// Makes the page of a call again and again. The course is painted, and its lines are found, only when a file of it or
/// of the robot is another than before: that takes longer than all else.
class PageMaker {
public:
    explicit PageMaker(PageCall call);
    ~PageMaker();
    PageMaker(const PageMaker&) = delete;
    PageMaker& operator=(const PageMaker&) = delete;
    PageMaker(PageMaker&&) = delete;
    PageMaker& operator=(PageMaker&&) = delete;

    /// Reads what changed, drives, and draws the page. `changes_at` as in PageOptions. Throws InputError.
    MadePage make(const Streams& streams, const std::string& changes_at);
    /// Every file that the page is made of, as far as is known: those that the call names, and what the course names
    /// once it was read.
    std::vector<std::string> files() const;

private:
    struct Ground;
    const Ground& ground(const Streams& streams);
    vast_turn::LogComparison log_on(const Streams& streams, const Ground& on, const vast_turn::Plan& plan,
                                    const vast_turn::RunOptions& options, const std::string& path) const;

    PageCall call_;
    std::unique_ptr<Ground> ground_;
};

/// The options that say what is on a page.
void add_page_options(Command& command, PageCall& call);

} // namespace vturn
