/// Where drives take a plain line for a junction, or a junction for two.
#include <set>

#include "sim/junction_misreads.hpp"
#include "vet/drive_reader.hpp"

namespace vast_turn::vetting {

void DriveReader::junctions(const Reading& reading) {
    std::vector<JunctionTake> takes;
    for (std::size_t i = 0; i < reading.looks() && i < reading.drive.at_junction.size(); ++i) {
        const RuleId rule = reading.drive.at_junction[i];
        if (rule == no_rule || reading.look(i).line_bits == 0 || reading.spots[i].off) {
            continue;
        }
        const bool is_item = rules_.for_junctions[rule.index()] == JunctionRule::turns;
        if (!is_item || ends_by_line(plan_, rule, reading.look(i).line_bits)) {
            takes.push_back({i, rule});
        }
    }
    if (takes.empty()) {
        return;
    }
    const JunctionTakes read = read_takes(scene_, reading.drive.run, rules_.for_junctions, takes, reading.looks());
    for (std::size_t rule = 0; rule < read.at_junctions.size(); ++rule) {
        if (read.at_junctions[rule]) {
            into_.at_junctions.insert(rule);
        }
    }
    std::set<std::pair<std::size_t, JunctionMisread::Kind>> here;
    for (const JunctionMisread& misread : read.misreads) {
        const std::pair key(misread.take.rule.index(), misread.kind);
        MisreadDrives& all = into_.junctions[key];
        if (here.insert(key).second && all.drives++ == 0) {
            all.first = misread;
            all.bits = reading.look(misread.take.look).line_bits;
        }
    }
}

} // namespace vast_turn::vetting
