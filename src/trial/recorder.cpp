#include "trial/recorder.hpp"

namespace vast_turn {

RunOptions options_of(const Trip& trip, const RunOptions& options) {
    RunOptions own = options;
    own.start = trip.from;
    own.time_limit_s = trip.within_s;
    own.button_s = trip.button_s;
    own.hears = trip.hears;
    own.lost_after_s = trip.lost_after_s.value_or(own.lost_after_s);
    own.off_course_mm = trip.off_course_mm;
    own.touch_ends = own.touch_ends && trip.touch_ends;
    own.keep_looks = true;
    return own;
}

FollowedRun follow_run(const Scene& scene, const Plan& plan, const Trip& trip, const RunOptions& options) {
    Recorder recorder;
    Mind mind(plan, options.numbers);
    mind.follow(&recorder);
    const Decide decide([&](const Look& in, Answer& out) {
        mind(in, out);
        ++recorder.look;
    });
    FollowedRun followed;
    followed.run = drive(scene, plan, decide, options_of(trip, options));
    followed.acted = std::move(recorder.acted);
    followed.ended = std::move(recorder.ended);
    return followed;
}

} // namespace vast_turn
