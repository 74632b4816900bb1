#pragma once

/// Looks that people write, and looks that robots log (docs/files.md).

#include <optional>
#include <string>
#include <string_view>
#include <vector>

#include "vast_turn/plan/explain/log_check.hpp"
#include "vast_turn/plan/plan.hpp"
#include "vast_turn/sense/array_reader.hpp"
#include "vast_turn/sim/run.hpp"

namespace vast_turn {

/// Reads one look from words: marks (as in a pattern), readings (`0.1,0.8,0.3`), `raw=120,830,410`, and any of
/// `clock=120ms`, `way=35mm`, `range=120mm`, `button`, `marker=amber`
/// (with the name of one colour sensor behind an at sign for that one alone), `hear=bell`, `x3` (three looks of this
/// kind). Everything but sensors stays as in the look before; the clock goes on by `every_ms`.
///
///     #..               the left sensor sees line
///     ##. x3            then two of them, for three looks
///     ... clock=480ms   and the line is gone
class LookScript {
public:
    /// `counts_known` tells whether the reader has a calibration for raw counts.
    LookScript(const Plan& plan, const ArrayReader& reader, bool counts_known, double every_ms);

    /// A whole script: one look a line, `//` comments. Throws InputError with every fault found, each with line and
    /// column; `file` is what they call the text. Goes on from the looks of the call before.
    std::vector<LoggedLook> parse(std::string_view text, std::string_view file);

private:
    /// One word of a line with its place.
    struct Word;
    /// One line; its words one by one; each adds its faults to problems_.
    void line(std::string_view source, int number, std::string_view file, std::vector<LoggedLook>& out);
    void take(const Word& word, Look& look, int& repeats);
    void take_quantity(const Word& word, const std::string& name, const std::string& value, Look& look);
    void take_markers(const Word& word, const std::string& value, Look& look);
    void take_heard(const Word& word, const std::string& value, Look& look);
    std::optional<unsigned> bit_of(const Word& word, const std::string& name, const char* what,
                                   const std::vector<std::string>& known);
    void take_counts(const Word& word, const std::string& value, Look& look);
    void take_named(const Word& word, const std::string& name, const std::string& value, Look& look);
    void fault(const Word& word, std::string message, std::string cure);

    Plan plan_;
    /// Keeps what an array remembers from look to look.
    ArrayReader reader_;
    /// Whether raw counts can be read.
    bool counts_known_;
    /// From look to look, where the script says nothing.
    double every_ms_;
    /// What stays as it was in the look before.
    Look last_;
    bool first_ = true;
    enum class Given { nothing, pattern, readings, counts } given_ = Given::nothing;
    /// All that was found; thrown at the end.
    ProblemList problems_;
    /// Whether the line in hand has a fault.
    bool faulty_ = false;
};

/// Reads a log: CSV with `time_s` or `time_ms`; sensors as `raw_1`, `raw_2` ... or the robot's channels
/// (counts; these win when `counts_known`), or as `reading_1` ..., or as `pattern`; and, where there are,
/// `clock_ms` (the time, not rounded), `way_mm`, `heading_deg` (counted from the first row), `by_wheels_deg`,
/// `by_gyro_deg`, `by_compass_deg` (these win), `left_deg`, `right_deg` (of the wheels), `range_mm`, `markers`,
/// `markers_PLACE`, `heard` (names parted by |; those of `names` count), `button`, `battery_pct`, `left_pct`,
/// `right_pct`. Throws InputError with every fault found.
std::vector<LoggedLook> parse_log(std::string_view text, std::string_view file, const ArrayReader& reader,
                                  const std::vector<std::string>& channels, bool counts_known,
                                  const AskedNames& names = {});

} // namespace vast_turn
