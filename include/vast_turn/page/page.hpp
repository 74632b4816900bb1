#pragma once

/// A run as a page for a browser: one file that needs nothing else, neither network nor server.

#include <string>
#include <vector>

#include "vast_turn/base/problem.hpp"
#include "vast_turn/plan/plan.hpp"
#include "vast_turn/sim/run.hpp"
#include "vast_turn/sim/scene.hpp"

namespace vast_turn {

/// One run of a page.
struct PageRun {
    std::string name; ///< apart from those of the others
    const Plan& plan; ///< that decided it
    /// As it was read, to be shown line by line.
    std::string plan_text;
    /// Recorded with RunOptions::keep_told (asserted).
    const Run& run;
};

/// What is on the page beside its runs: texts as vturn prints them with --json (docs/files.md), empty for none.
struct PageDocuments {
    std::string trips;      ///< trips_json()
    std::string routes;     ///< choices_json()
    std::string comparison; ///< comparison_json()
    std::string findings;   ///< vet_json()
};

/// How a page is made.
struct PageOptions {
    std::vector<std::string> quantities{};                       ///< drawn at first, see quantities_of()
    runtime::NumberKind numbers = runtime::NumberKind::binary64; ///< with which the plans computed
    std::string changes_at{};                                    ///< see below; empty: never drawn anew
};

/// The page: the course to scale, the robot as it drives, a time line, the plans' text, the array's lamps, plots; of
/// several runs over each other or beside each other. The bytes of a whole HTML file in UTF-8. Every name and text is
/// data to the page, never markup, and its content policy lets no script and style run but its own (by their hashes).
///
/// Places and headings are kept to 0.1 mm and 0.1 degrees, powers to 0.1 %, readings to a thousandth; about 10 bytes a
/// look and sensor array of five.
///
/// `changes_at` is an address on the same server from which the page is told that there is a newer one (server-sent
/// events of WHATWG HTML, 9.2); it then fetches itself again and takes what is new in place.
///
/// Throws InputError when a quantity cannot be asked of one of the plans, when there is no run or more than 64, and
/// when the runs have more than 2,000,000 looks together.
std::string report_page(const Scene& scene, const std::vector<PageRun>& runs, const PageDocuments& documents = {},
                        const PageOptions& options = {});

/// In its place when there is no run because something is wrong with what was read: what, where and what to do.
std::string problems_page(const std::string& title, const std::vector<Problem>& problems,
                          const std::string& changes_at = {});

} // namespace vast_turn
