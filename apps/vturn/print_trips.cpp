#include "print_trips.hpp"

#include <fmt/format.h>

#include "print.hpp"

namespace vturn {

using namespace vast_turn;

namespace {

std::string cell(const TripResult& result) {
    return fmt::format("{}  {:.2f} s", result.passed ? "pass" : "FAIL", result.run.time_s);
}

void print_failure(const Streams& streams, const Plan& plan, const TripResult& result) {
    const Paint paint(streams.colour);
    streams.out << "\n"
                << paint.bad("FAIL")
                << fmt::format("  trip \"{}\" with plan \"{}\" ({})\n", result.trip.name, plan.name(), plan.file());
    for (const std::string& failure : result.failures) {
        streams.out << "  " << failure << "\n";
    }
    if (result.parting) {
        for (const std::string& line : explain(plan, *result.parting)) {
            streams.out << "    " << line << "\n";
        }
    }
}

} // namespace

std::vector<PlanTrips> take_all(const Scene& scene, const std::vector<Plan>& plans, const RunOptions& options) {
    std::vector<PlanTrips> all;
    for (const Plan& plan : plans) {
        PlanTrips one{plan, {}};
        for (const Trip& trip : scene.course().trips) {
            one.results.push_back(take_trip(scene, plan, trip, options));
        }
        all.push_back(std::move(one));
    }
    return all;
}

int print_trips(const Streams& streams, const Scene& scene, const std::vector<PlanTrips>& all) {
    const Paint paint(streams.colour);
    streams.out << paint.strong(fmt::format("{}: {}, {} trips", scene.course().name, scene.robot().name,
                                            scene.course().trips.size()))
                << "\n";
    std::vector<std::vector<std::string>> rows;
    rows.push_back({"trip"});
    for (const PlanTrips& one : all) {
        rows[0].push_back(one.plan.name());
    }
    int taken = 0;
    int good = 0;
    for (std::size_t i = 0; i < scene.course().trips.size(); ++i) {
        rows.push_back({scene.course().trips[i].name});
        for (const PlanTrips& one : all) {
            rows.back().push_back(cell(one.results[i]));
            ++taken;
            good += one.results[i].passed ? 1 : 0;
        }
    }
    print_columns(streams.out, rows);
    for (const PlanTrips& one : all) {
        for (const TripResult& result : one.results) {
            if (!result.passed) {
                print_failure(streams, one.plan, result);
            }
        }
    }
    const std::string total = fmt::format("{} passed, {} failed", good, taken - good);
    streams.out << "\n" << (good == taken ? paint.good(total) : paint.bad(total)) << "\n";
    return good == taken ? passed : answer_no;
}

} // namespace vturn
