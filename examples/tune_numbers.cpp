// How fast can it be and still hold on 95 of 100 days? Two numbers of a plan tuned, and confirmed on other days.
#include <iostream>

#include "vast_turn/formats/read/days_file.hpp"
#include "vast_turn/formats/read/robot_file.hpp"
#include "vast_turn/formats/read/text_file.hpp"
#include "vast_turn/paint/course_file.hpp"
#include "vast_turn/tune/trips_drive.hpp"
#include "vast_turn/tune/tune.hpp"

using namespace vast_turn;

int main() {
    const auto [course, trips] = load_course_file("data/fern-house/fern-house.course.toml");
    Robot robot = load_robot("data/fern-house/sprig-2.robot.toml");
    robot.variation = load_days("data/fern-house/ordinary.days.toml");
    const Scene scene(course, robot);
    const std::string text = read_file("data/fern-house/left-first.plan");

    SweepAsk driven;
    driven.axes = {parse_axis("cruise=36..84"), parse_axis("inside=-40..16")};
    driven.cases = {cases_of(scene, trips).front()};
    driven.plan = [&text](const std::vector<Setting>& settings) {
        SettingsTaken taken;
        return compile_plan(plan_text_with(text, "left-first.plan", settings, taken), "left-first.plan").plan.value();
    };
    driven.run.day = 1;

    TuneAsk ask;
    ask.numbers = {{"cruise", 36.0, 84.0}, {"inside", -40.0, 16.0}};
    ask.start = {47.0, -24.0};
    ask.sure = 0.95;
    ask.most_runs = 2000;
    ask.drive = trips_drive(driven); // or any function of your own that drives days
    const Tuned tuned = tune(ask);
    if (!tuned.winner) {
        std::cout << "nothing holds so often\n";
        return 1;
    }
    const TuneValues& won = tuned.tried[*tuned.winner].at;
    std::cout << "cruise " << won[0] << ", inside " << won[1] << ": " << tuned.confirmed.time_s << " s, on "
              << tuned.confirmed.days - tuned.confirmed.failed << " of " << tuned.confirmed.days << " days\n"
              << "as it was: " << tuned.start->time_s << " s\n"
              << "cruise may be " << tuned.margins[0].low << " to " << tuned.margins[0].high << "\n";
}
