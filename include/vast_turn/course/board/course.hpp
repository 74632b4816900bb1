#pragma once

/// A course: a board with taped lines, coloured markers, named places and things in the way.

#include <map>
#include <optional>
#include <string>
#include <vector>

#include "vast_turn/base/colour.hpp"
#include "vast_turn/base/geometry.hpp"
#include "vast_turn/base/problem.hpp"
#include "vast_turn/course/board/iron.hpp"
#include "vast_turn/course/board/outside_light.hpp"
#include "vast_turn/course/floor/surface.hpp"

namespace vast_turn {

/// A piece missing from a tape.
struct Gap {
    double from_mm = 0.0;   ///< along the path
    double length_mm = 0.0; ///< along the path
};

/// One piece of tape: a stroke along a path. Ends are cut square, corners are mitred.
struct Tape {
    std::vector<Vec2> path; ///< the middle of the tape as a polyline, true to 0.02 mm
    bool closed = false;    ///< the last point is joined to the first
    double width_mm = 19.0; ///< across the path
    std::vector<Gap> gaps;
    bool drawn = false; ///< found in the course's drawing: the surface shows it already
};

/// A coloured plate on the board, painted over the tape. A rectangle.
struct Marker {
    std::string colour;      ///< its name in the palette
    Rgb rgb;                 ///< as it is painted
    Vec2 at;                 ///< its centre
    double length_mm = 40.0; ///< along its heading
    double across_mm = 40.0;
    double heading_deg = 0.0; ///< of its length, counter-clockwise from the right
    bool drawn = false;       ///< found in the course's drawing
    std::string name{};       ///< by which variants name it; may be empty
};

/// How far a point of the board is from a plate, mm; 0 on it.
double distance_to(const Marker& plate, Vec2 p);

/// A named spot. It is visited when the point midway between the wheels comes within the radius.
struct CoursePlace {
    std::string name;
    Vec2 at;
    /// How near the robot must come, mm.
    double radius_mm = 40.0;
};

/// A box in the way, and when it is there. Near is the distance of the point midway between the wheels from the box.
struct Thing {
    std::string name;
    Vec2 at;                                      ///< its centre
    Vec2 size_mm;                                 ///< along its heading, across it
    double from_s = 0.0;                          ///< since the start of the run
    std::optional<double> until_s = std::nullopt; ///< for ever when not given
    /// It appears when the robot first comes so near; in place of from_s.
    std::optional<double> appears_mm = std::nullopt;
    /// It goes when the robot first comes so near; in place of until_s.
    std::optional<double> goes_mm = std::nullopt;
    /// How long it stays after that: after the coming near of goes_mm, else of appears_mm.
    std::optional<double> stays_s = std::nullopt;
    double heading_deg = 0.0; ///< of the first of its sizes, counter-clockwise from the right
};

/// Its four corners, in order round it.
std::vector<Vec2> corners_of(const Thing& thing);

/// Where a point of the board lies in the frame of a thing: from its centre along its heading, and across to the left.
Vec2 seen_from(const Thing& thing, Vec2 p);

/// When it is there: "from 2 to 7.5 s", "appears 210 mm away", empty for ever.
std::string when_there(const Thing& thing);

/// A thin wall.
struct Wall {
    /// Its two ends, mm.
    Vec2 from;
    Vec2 to;
};

/// Where a run may begin.
struct StartPose {
    std::string name;
    /// Of the point midway between the wheels.
    Pose pose;
};

/// The name of a course as its file draws it, among its variants.
inline constexpr const char* as_drawn = "as drawn";

/// The course with some plates and things taken away or plates of another colour.
struct Variant {
    std::string name;
    std::vector<std::string> without;          ///< names of markers, things and what is drawn in the way, not there
    std::map<std::string, std::string> plates; ///< marker by name, and its colour here
};

/// "without the can; gate plate is teal".
std::string describe(const Variant& variant);

/// What of a drawing is line and what is not, where its look does not tell. The robot sees all of it as it is.
struct LineHints {
    std::vector<Area> leave_out;        ///< in there nothing is line
    std::vector<Rgb> leave_out_colours; ///< what looks so is no line
    std::vector<Area> take_in;          ///< what has the line's colour and lies there, if only in part, is line
    std::vector<Rgb> take_in_colours;   ///< what looks so is line, beside the line's own colour
};

/// A colour of a drawing that stands for something in the way.
struct InTheWay {
    Rgb colour;
    std::string name;         ///< what things of it are called; a second one "bench 2"
    bool as_floor = false;    ///< there it looks like the floor
    std::optional<Rgb> looks; ///< or like this; as it is drawn when neither is said
    /// Names of what of it is not there in the variant at hand: `name` for all of it, "bench 2" for one thing. Floor is
    /// seen where it was.
    std::vector<std::string> away{};
};

/// The board, found on the page that a drawing shows.
struct FoundBoard {
    Area mm;    ///< in the frame of the course, which is that of the page
    Area units; ///< in the drawing's own units: pixels, user units, points
};

/// What was taken from a course's drawing because its file does not say it.
struct TakenFromDrawing {
    bool floor = false;   ///< Course::floor
    bool line = false;    ///< Course::line
    bool palette = false; ///< Course::palette
};

/// The pieces that a course is laid out of.
struct LaidOut {
    std::string pieces; ///< the file of the pieces
    std::string layout; ///< which lies where, as parse_layout() reads it
    int layouts = 1;    ///< of a shuffled course: how many of them there are to be taken
    int number = 0;     ///< of a shuffled course: which this is, from 1; 0 when the file lays them out

    /// The rows of its layout, blank ones left out.
    std::vector<std::string> rows() const;
};

/// Everything about a course. What the robot sees is `surface` alone.
struct Course {
    std::string name;
    std::string file; ///< as it was named when read; empty when made in memory
    /// The size of the board.
    double width_mm = 0.0;
    double height_mm = 0.0;
    /// The colours of bare floor and of tape.
    Rgb floor{237, 234, 226};
    Rgb line{27, 27, 27};
    /// Names of colours, for markers and what plans ask for.
    std::map<std::string, Rgb> palette;
    /// What lies on the board: those of the file, then those found in its drawing.
    std::vector<Tape> tapes;
    /// Plates, painted over the tapes in this order.
    std::vector<Marker> markers;
    /// Places, things, walls and starts in the order of the file.
    std::vector<CoursePlace> places;
    std::vector<Thing> things;
    std::vector<Wall> walls;
    std::vector<StartPose> starts;
    std::vector<Iron> irons;
    std::vector<OutsideLight> lights; ///< in order: a shadow falls on those before it
    /// All that the file knows, without the course as drawn.
    std::vector<Variant> variants;
    std::string variant = as_drawn; ///< the one that this course is
    std::string drawing;            ///< the file of its drawing; empty when it has none
    /// How wide its lines are, mm; empty when nobody said so. Other widths of a drawing are no lines.
    std::vector<double> line_widths_mm;
    LineHints line_hints;
    /// What of the drawing is in the way.
    std::vector<InTheWay> in_the_way;
    /// When the drawing is a page with a board on it: neither line nor plate is looked for outside.
    std::optional<FoundBoard> board;
    TakenFromDrawing taken;
    std::optional<LaidOut> laid;            ///< when it is laid out of pieces
    bool drawn_apart = false;               ///< its drawing was read and drawn in a process of its own
    std::vector<std::string> drawing_notes; ///< what was found out about its drawing, for whoever asks
    std::vector<Problem> warnings;          ///< what of its drawing is not drawn, or not as its author may think
    Surface surface;                        ///< filled by whoever paints it (the reader of course files does)

    /// The start of this name, or null. With an empty name: the first start, or null.
    const StartPose* find_start(const std::string& start_name) const;
    /// The place of this name, or null.
    const CoursePlace* find_place(const std::string& place_name) const;
};

/// Length of a tape along its middle, gaps included, mm.
double length_of(const Tape& tape);

/// The pieces of a tape that are there: its path with the gaps cut out.
std::vector<std::vector<Vec2>> pieces_of(const Tape& tape);

} // namespace vast_turn
