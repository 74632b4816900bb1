#pragma once

/// A course and a robot made ready for runs.

#include <map>
#include <memory>
#include <mutex>
#include <optional>
#include <utility>
#include <vector>

#include "vast_turn/course/board/course.hpp"
#include "vast_turn/course/board/tape_ends.hpp"
#include "vast_turn/course/board/tape_finder.hpp"
#include "vast_turn/course/graph/line_points.hpp"
#include "vast_turn/course/graph/route_graph.hpp"
#include "vast_turn/robot/robot.hpp"
#include "vast_turn/sense/calibration.hpp"

namespace vast_turn {

/// What runs over one course by one robot share: the surface as each sensor sees it, which takes
/// longer to prepare than a run. Make it once, run often; any number of threads may share it.
///
///     const Course course = load_course("fern-house.course.toml");
///     const Robot robot = load_robot("sprig-2.robot.toml");
///     const Scene scene(course, robot);
///     const Run run = drive(scene, plan, {.seed = 7});
///
/// Copies share what is large and are cheap.
class Scene {
public:
    /// Keeps references: course and robot must outlive the scene and stay unchanged. The course's
    /// surface must have been painted, and the robot must have one to eight sensors (asserted).
    Scene(const Course& course, const Robot& robot);
    // A course or robot that nobody keeps would be gone before the first run.
    Scene(const Course&& course, const Robot& robot) = delete;
    Scene(const Course& course, const Robot&& robot) = delete;
    Scene(const Course&& course, const Robot&& robot) = delete;

    /// The same course for a robot that differs in what drives it, in times, and in how well its sensors see. Where
    /// they are must be the same, and how many (asserted); spots of other sizes are rounded to a quarter of a
    /// millimetre. It must outlive what is returned. Cheap: all that is large is shared.
    Scene driven_by(const Robot& robot) const;
    Scene driven_by(const Robot&& robot) const = delete;

    /// What it was made of, as long as the caller keeps it.
    const Course& course() const { return *course_; }
    const Robot& robot() const { return *robot_; }
    /// How far a point is from the course's tape.
    const TapeFinder& tape() const { return *tape_; }

    /// The surface as line sensor k (from 0 at the left) sees it: its spot, its light, no noise.
    const SpotMap& seen_by(std::size_t sensor) const { return *maps_[sensor]; }

    /// Sensors calibrated on the course's own line and floor colours, threshold half way.
    const Calibration& own_calibration() const { return calibration_; }

    /// The graph of the course's lines; found at the first call, which any thread may make. Throws InputError when
    /// the surface is noise, see find_route_graph().
    const RouteGraph& graph() const { return lines().graph; }

    /// Points along the lines of the graph, for matching runs to it; made with it.
    const LinePoints& line_points() const { return *lines().points; }

    /// From the array's middle to the outer rim of its outermost spot. A line is nowhere under the array when its edge
    /// is farther than this from the middle: tape().beyond_edge(middle) > array_outermost_mm().
    double array_outermost_mm() const { return outermost_mm_; }

    /// How far the array's middle may be from the middle of a line of the course's usual width (that of most of its
    /// tape) before that is nowhere under it.
    double array_reach_mm() const { return outermost_mm_ + 0.5 * usual_width_mm_; }

    /// Where its tape ends, as tape_ends() finds them at the first call.
    const std::vector<TapeEnd>& tape_ends() const;

    /// The middle of the array in the robot frame: mm ahead of the point midway between the wheels, and to its left.
    Vec2 array_middle() const { return middle_; }

private:
    const Course* course_;
    const Robot* robot_;
    std::shared_ptr<const TapeFinder> tape_;
    /// All that were ever asked for, of this scene and those made of it, by light and spot.
    struct Maps {
        std::mutex lock;
        std::map<std::pair<Light, double>, std::shared_ptr<SpotMap>> made;
    };
    std::shared_ptr<SpotMap> map_of(Light light, double spot_mm) const;

    std::shared_ptr<Maps> made_maps_ = std::make_shared<Maps>();
    std::vector<std::shared_ptr<SpotMap>> maps_; // by sensor
    Calibration calibration_;
    /// Found when somebody asks; shared by copies of the scene.
    struct Lines {
        std::once_flag ends_once;
        std::vector<TapeEnd> ends;
        std::once_flag once;
        RouteGraph graph;
        std::optional<LinePoints> points;
    };
    const Lines& lines() const;

    std::shared_ptr<Lines> lines_ = std::make_shared<Lines>();
    double outermost_mm_ = 0.0;
    double usual_width_mm_ = 0.0;
    Vec2 middle_;
};

} // namespace vast_turn
