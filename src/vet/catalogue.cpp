#include <algorithm>

#include "vast_turn/vet/finding.hpp"

namespace vast_turn {

const char* name_of(Grade grade) {
    switch (grade) {
    case Grade::fault: return "fault";
    case Grade::risk: return "risk";
    case Grade::hint: return "hint";
    }
    return "";
}

const std::vector<FindingKind>& finding_kinds() {
    static const std::vector<FindingKind> kinds = {
        // of the plan alone
        {"unanswered", Grade::risk, "a pattern for which a habit has no rule",
         "the robot goes on with its last motion, which was meant for another place",
         "give the pattern a rule, or end the habit with else -> keep"},
        {"unanswered-unmet", Grade::hint, "a pattern without a rule that no trial drive over the course met",
         "it may come on another course, or on another day", "give the pattern a rule, or leave it"},
        {"never-acts", Grade::fault, "a rule that can never act",
         "whoever changes it on the floor sees no difference and looks for the fault elsewhere",
         "move it above the rules that cover it, or remove it"},
        {"order-decides", Grade::hint, "two rules of which only their order decides which acts",
         "at a fork the robot takes the side of the rule that happens to stand first",
         "swap the rules for the other side, or write a rule for the pattern that both hold in"},
        {"twin-differs", Grade::risk, "a rule that is not the mirror image of its twin",
         "the robot follows bends to one side better than to the other", "write both as one rule with mirrored"},
        {"turns-away", Grade::risk, "a rule that turns away from the line that it sees",
         "the line leaves the array at once and the robot is lost", "exchange the wheels"},
        {"sensor-unused", Grade::hint, "a sensor that nothing depends on",
         "what only this sensor sees, the plan misses", "use it, or write the plan for fewer sensors"},
        {"item-endless", Grade::fault, "an item of an errand that never ends", "the robot does the same for ever",
         "correct its till"},
        {"item-unreachable", Grade::risk, "an item that an errand never comes to", "what it was to do is never done",
         "remove it, or give what stands before it an end"},
        {"never-gives-up", Grade::risk, "a search that ends only if the line is found",
         "with the line out of reach the robot turns until somebody fetches it",
         "bound it by a turn, a way or a time, and say what is done then"},
        {"hands-in-circle", Grade::fault, "habits that hand over to one another without end",
         "no wheel gets a new power: after 16 transfers the look is cut off and the last motion is kept",
         "let one of them act instead, or make their conditions exclude one another"},
        {"no-way-out", Grade::risk, "a habit that is done and never left",
         "the plan never comes back to the rules of whoever did it",
         "give it a rule with done, or write become if that is meant"},
        {"block-unused", Grade::hint, "a block that nothing comes to", "it looks as if the plan did it",
         "do or become it somewhere, or remove it"},
        {"let-unused", Grade::hint, "a let that nothing uses", "changing its number on the floor changes nothing",
         "use it, or remove it"},
        {"var-unused", Grade::hint, "a var that is never asked for, or never changes",
         "what it was to remember is forgotten", "use it, set it, or make it a let"},
        {"marker-unused", Grade::hint, "a marker that no rule asks for",
         "the robot drives over its plate as over floor", "write a rule for it, or leave it out"},
        {"marker-repeats", Grade::risk, "a marker that fires again while it is still in view",
         "one plate counts twice: the turn is made again when it has just been made", "write fresh before the marker"},
        // with a robot
        {"one-device", Grade::hint, "line and colour read from one spot in one habit",
         "a plate under it is read as line or floor too, and both answers come from one look",
         "let the rules of the plate stand above those of the line, or read them in different habits"},
        {"step-too-long", Grade::risk, "more way between two looks than the sensors overlook",
         "whatever is shorter than that way can pass between two looks", "drive slower, or look more often"},
        {"dead-band", Grade::risk, "a power that does not move the wheel",
         "the wheel stands where the plan thinks it creeps, so the robot pivots or stops",
         "use 0, or a power above the dead band"},
        {"oscillates", Grade::risk, "gains that make the robot swing about the line",
         "it snakes down straights, loses speed, and loses the line in the next bend",
         "lower the gain, add a derivative part, look more often or drive slower"},
        {"margin-negative", Grade::hint, "a loop that calms down only because the array's reading is no straight line",
         "a push, a fresh battery or a smoother floor is enough to make it swing",
         "lower the gain, add a derivative part, look more often or drive slower"},
        {"chip-too-slow", Grade::fault, "looks that take longer on a chip than the robot's period",
         "looks come late, and what was tried on the map no longer runs",
         "look less often, take a faster chip, or reckon less in a look"},
        {"chip-too-small", Grade::fault, "a program that a chip has no room for",
         "it cannot be loaded, or it writes over what it remembers",
         "take a larger chip, or a plan with fewer rules and blocks"},
        // with a course
        {"bend-too-tight", Grade::fault, "a bend that the robot does not hold",
         "the line leaves the array on the outside of the bend",
         "turn harder on the outermost pattern, or drive slower"},
        {"line-misfit", Grade::risk, "a line that is too wide or too narrow for the array",
         "sensors all see line where there is no junction, or the line passes between two of them",
         "move the sensors, or use other tape"},
        {"plate-missed", Grade::fault, "a plate that passes between two looks", "the marker is not seen on every pass",
         "drive slower over plates, look more often, or use larger ones"},
        {"junction-misread", Grade::risk, "a rule for junctions that acts where there is none, or twice at one",
         "it turns where no junction is, or counts one too many and is wrong at all that come after",
         "ask for more than the line alone shows beside its middle, or let the rule last for longer"},
        {"edge-misread", Grade::risk, "a plate or a line whose edge reads as another marker",
         "half a plate, or half a line, and half the floor look like a third colour, and its rule acts",
         "ask for the marker lasting a few looks, or take plates whose colours lie farther apart"},
        {"plate-as-gap", Grade::risk, "a plate that hides the line until the plan takes it for lost",
         "it begins to search where it only had to go on",
         "give its marker a rule that goes straight on, or let the search wait longer"},
        {"gap-too-long", Grade::fault, "a gap at which the plan takes the line for lost",
         "it begins to search where it only had to go on",
         "wait longer before the search: raise what stands behind lasting"},
        {"gap-missed", Grade::fault, "a gap behind which the robot misses the line",
         "it goes on where the line does not, and meets another line, a later piece of its own, or none",
         "go on as it did when it last saw the line, and search when it does not come back"},
        {"halts-on-line", Grade::fault, "a rule that ends the run on a plain line",
         "what is to tell a pad is seen on the line too: its sensors fit on the tape, or a bend brings it under them",
         "raise what stands behind lasting, set the sensors wider apart, or ask for more than the line"},
        {"plate-ignored", Grade::hint, "a plate on the course that the plan has no rule for",
         "the robot sees neither line nor floor there and no marker either", "add it to markers and write a rule"},
        {"plate-absent", Grade::hint, "a marker of the plan that the course does not have", "its rule waits for ever",
         "put the plate on the course, or use another plan for it"},
        {"start-off-line", Grade::hint, "a start from which the array sees no line",
         "a robot that does not drive to the line first is lost there", "move the start onto the line"},
        {"start-unanswered", Grade::risk, "a start at which the first pattern has no rule",
         "the robot stands still from the first look on", "move the start, or give the pattern a rule"},
        // with a calibration
        {"level-in-noise", Grade::risk, "a line or floor level within the noise of the threshold",
         "the sensor flickers between line and floor",
         "calibrate again with more light, or move the sensor nearer to the floor"},
        {"sensor-dead", Grade::fault, "a dead sensor that a rule depends on", "the patterns of its rules never come",
         "mend or replace the sensor, and calibrate again"},
        // of the comments
        {"allow-idle", Grade::hint, "a comment that allows what is not found",
         "it hides the finding when it comes back", "remove the comment"},
        {"allow-unclear", Grade::hint, "a comment that allows nothing because it is not understood",
         "what it was to allow is reported", "write // vet: allow CODE because REASON"},
    };
    return kinds;
}

const FindingKind* find_kind(const std::string& code) {
    const std::vector<FindingKind>& kinds = finding_kinds();
    const auto at =
        std::find_if(kinds.begin(), kinds.end(), [&](const FindingKind& kind) { return kind.code == code; });
    return at == kinds.end() ? nullptr : &*at;
}

int VetReport::count(Grade grade) const {
    return static_cast<int>(std::count_if(findings.begin(), findings.end(),
                                          [&](const Finding& finding) { return finding.grade == grade; }));
}

} // namespace vast_turn
