#pragma once

/// Reads out of one drive what happened at the marks of its way.

#include <vector>

#include "vet/rehearsal.hpp"
#include "vet/rule_knowledge.hpp"

namespace vast_turn::vetting {

/// A drive and what the plan said that its recording does not keep.
struct Drive {
    Run run;
    std::vector<std::uint8_t> unanswered; ///< by look: no rule held
    /// By look: a rule chose that asks for a marker, also one that handed over to another block in the same look.
    std::vector<std::uint8_t> chose_by_marker;
    /// By look: the rule that chose as for a junction (see junction_rules()), also one that handed over; mostly none.
    std::vector<RuleId> at_junction;
};

/// Adds what happened in a drive to the rehearsal's passes.
class DriveReader {
public:
    /// Keeps references.
    DriveReader(const Scene& scene, const Plan& plan, Rehearsal& into);
    /// Returns where it was along the lines, look by look.
    std::vector<LineSpot> read(const Drive& drive);

private:
    /// A drive with its place along the lines.
    struct Reading {
        const Drive& drive;
        std::vector<LineSpot> spots;
        std::vector<Loss> losses;
        std::size_t end = 0; ///< looks from here on are not on the way any more

        std::size_t looks() const { return end; }
        const LookRecord& look(std::size_t i) const { return drive.run.looks[i]; }
    };
    bool at_end_of_line(const LineSpot& spot) const;
    bool stays_on_way(const Reading& reading, const Loss& loss) const;
    std::size_t turned_round(const Reading& reading) const;
    std::size_t end_of_way(const Reading& reading) const;
    void unanswered(const Drive& drive);
    void fastest(const Drive& drive);
    void halts(const Reading& reading);
    void junctions(const Reading& reading);
    void losses(Reading& reading);
    void misreads(const Reading& reading);
    void bend_passes(const Reading& reading);
    struct Crossing {
        bool crossed = false;
        bool searched = false; ///< it did something else than to go on
        bool astray = false;   ///< it went on, and met no line behind it, or another
        std::size_t end = 0;   ///< the look that decided
    };
    Crossing follow_over(const Reading& reading, const WayMark& mark, std::size_t entry) const;
    void count_crossing(const Reading& reading, std::size_t number, std::size_t entry, const Crossing& crossing);
    void gap_passes(Reading& reading, std::size_t mark);
    bool turns_off(const LookRecord& lit, const LookRecord& look, double heading_deg) const;
    bool halts_for_another_reason(const Reading& reading, const WayMark& mark, std::size_t entry,
                                  std::size_t look) const;
    bool cuts_off(const Reading& reading, std::size_t entry, std::size_t look) const;
    RuleId acting_in_gap(const Reading& reading, std::size_t from, std::size_t to) const;
    static double across_way(const Marker& marker, Vec2 ahead);
    void plate_passes(const Reading& reading, std::size_t mark);
    bool deliberate(const Reading& reading, std::size_t look) const;
    bool by_marker(const Reading& reading, std::size_t from, std::size_t to) const;
    bool goes_on(const Reading& reading, const WayMark& mark, bool forward, std::size_t from) const;
    bool unfinished(const Reading& reading, std::size_t look) const;
    int mark_of_loss(const LineSpot& spot) const;
    double past(const WayMark& mark, const LineSpot& spot) const;

    const Scene& scene_;
    const Plan& plan_;
    Rehearsal& into_;
    RuleKnowledge rules_;
    std::vector<int> looks_needed_;
    std::vector<std::vector<std::size_t>> bends_; ///< marks, by stretch and along it
};

} // namespace vast_turn::vetting
