#pragma once

/// What `sweep` and `tune` have in common: the trips that are meant, driven with other numbers.

#include <string>
#include <vector>

#include "commands/run_options.hpp"
#include "vast_turn/formats/write/checked_lines.hpp"
#include "vast_turn/paint/course_file.hpp"
#include "vast_turn/sweep/sweep.hpp"
#include "vast_turn/trial/trip_ground.hpp"

namespace vturn {

/// The plan of a text with some of its numbers set. Throws InputError when it does not compile so, or has no such
/// number.
vast_turn::Plan plan_with(const std::string& text, const std::string& file,
                          const std::vector<vast_turn::Setting>& settings);

/// The robot of a text with those numbers set that the call sets and then those of a point; its days are those of `as`.
vast_turn::Robot robot_with(const std::string& text, const std::string& file, const SetOptions& set,
                            const std::vector<vast_turn::Setting>& settings, const vast_turn::Robot& as);

/// The course on which trips are driven with other numbers; of one that is shuffled its layouts, in turn.
class SweptGround {
public:
    struct Call {
        std::string trips;    ///< a file of them, or none
        std::string filter;   ///< part of the names of those that are driven
        std::string variant;  ///< a layout alone, or as_drawn
        std::size_t runs = 0; ///< how often each is driven at the most: no more layouts are made
        bool robot_says_days = false;
        int jobs = 0;
    };

    /// Throws InputError as CourseReading does, and when no trip has that in its name.
    SweptGround(const Streams& streams, const vast_turn::CourseReading& reading, const std::string& course,
                const vast_turn::Robot& robot, const Call& call);

    /// As the course's file draws it, or its first layout.
    const vast_turn::TripGround& first() const { return grounds_.front(); }
    /// On how many layouts the trips are driven; 0 of a course that is not shuffled, or of one layout by name.
    std::size_t layouts() const { return layouts_; }
    /// ", each run on the next of 40 layouts", for whoever reads what came of it; nothing without layouts.
    std::string told() const;
    /// Fills in what is driven; it points into this.
    void say(vast_turn::SweepAsk& ask) const;

private:
    std::vector<vast_turn::TripGround> grounds_;
    std::vector<std::vector<vast_turn::TripCase>> cases_; ///< of each
    std::size_t layouts_ = 0;
};

/// Of all that decides what comes of a run: the files' texts, the drawing and the pieces that the course names, the
/// files that options name, and the options.
vast_turn::Fingerprint fingerprint_of(const DriveOptions& drive, const vast_turn::Course& course,
                                      const std::vector<std::string>& texts);

} // namespace vturn
