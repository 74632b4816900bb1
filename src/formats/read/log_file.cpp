#include <algorithm>

#include <fmt/format.h>

#include "formats/read/csv_table.hpp"
#include "formats/read/file_kind.hpp"
#include "vast_turn/formats/read/looks_file.hpp"

namespace vast_turn {

namespace {

using Column = std::optional<std::size_t>;

class LogReader {
public:
    LogReader(std::string_view text, std::string_view file, const ArrayReader& reader,
              const std::vector<std::string>& channels, bool counts_known, std::vector<std::string> marker_names)
        : table_(text, file), file_(file), reader_(reader), marker_names_(std::move(marker_names)) {
        find_sensors(channels, counts_known);
        time_ = table_.find("time_s");
        if (!time_) {
            time_ = table_.find("time_ms");
            per_unit_ = 1.0;
        }
        if (!time_) {
            throw InputError(file_, "the log has no column `time_s` or `time_ms`", "log when each look was taken");
        }
    }

    std::vector<LoggedLook> read() {
        std::vector<LoggedLook> all;
        first_heading_deg_ = table_.rows() > 0 ? number(0, "heading_deg", 0.0) : 0.0;
        for (std::size_t row = 0; row < table_.rows() && !table_.full(); ++row) {
            all.push_back(read_row(row));
            if (row > 0 && all[row].look.clock_ms < all[row - 1].look.clock_ms) {
                table_.fault(row, *time_, "the time goes back", "rows stand in the order of their times");
            }
        }
        table_.finish();
        if (all.empty()) {
            throw InputError(file_, "the log has no look in it", "give it one row a look");
        }
        return all;
    }

private:
    std::vector<std::size_t> columns(const char* prefix) const {
        std::vector<std::size_t> list;
        for (int i = 1; i <= reader_.sensors(); ++i) {
            if (const Column at = table_.find(fmt::format("{}{}", prefix, i))) {
                list.push_back(*at);
            }
        }
        return list;
    }

    void find_sensors(const std::vector<std::string>& channels, bool counts_known) {
        const auto wanted = static_cast<std::size_t>(reader_.sensors());
        pattern_ = table_.find("pattern");
        readings_ = columns("reading_");
        counts_ = columns("raw_");
        if (counts_.size() < wanted) {
            counts_.clear();
            for (const std::string& channel : channels) {
                if (const Column at = table_.find(channel)) {
                    counts_.push_back(*at);
                }
            }
        }
        use_counts_ = counts_known && counts_.size() == wanted;
        if (use_counts_ || readings_.size() == wanted || pattern_) {
            readings_.resize(readings_.size() == wanted ? wanted : 0);
            return;
        }
        throw InputError(file_, fmt::format("the log tells nothing of {} sensors", wanted),
                         counts_.size() == wanted
                             ? "it has raw counts: name a calibration with --calibration"
                             : "give it columns raw_1 ... (or the robot's channels), reading_1 ... or pattern");
    }

    double number(std::size_t row, const char* column, double otherwise) {
        const Column at = table_.find(column);
        return at ? table_.number(row, *at) : otherwise;
    }

    /// Names parted by |.
    std::uint16_t markers(std::size_t row) {
        const Column at = table_.find("markers");
        unsigned bits = 0;
        std::string name;
        const std::string text = at ? table_.text(row, *at) + "|" : std::string{};
        for (const char c : text) {
            if (c != '|') {
                name += c;
                continue;
            }
            const auto known = std::find(marker_names_.begin(), marker_names_.end(), name);
            bits |= known == marker_names_.end() ? 0U : 1U << static_cast<unsigned>(known - marker_names_.begin());
            name.clear();
        }
        return static_cast<std::uint16_t>(bits);
    }

    LoggedLook read_row(std::size_t row) {
        LoggedLook out;
        Look& look = out.look;
        look.clock_ms = per_unit_ * table_.number(row, *time_);
        look.way_mm = number(row, "way_mm", 0.0);
        look.range_mm = number(row, "range_mm", nothing_ahead_mm);
        look.heading_deg = number(row, "heading_deg", 0.0) - first_heading_deg_;
        look.heading_by_wheels_deg = look.heading_by_gyro_deg = look.heading_by_compass_deg = look.heading_deg;
        look.markers = markers(row);
        look.left_deg = number(row, "left_deg", 0.0);
        look.right_deg = number(row, "right_deg", 0.0);
        look.battery_pct = number(row, "battery_pct", 100.0);
        look.button = number(row, "button", 0.0) > 0.5;
        for (std::size_t i = 0; i < counts_.size() && i < max_sensors; ++i) {
            look.raw[i] = table_.number(row, counts_[i]);
        }
        for (std::size_t i = 0; i < readings_.size(); ++i) {
            look.sensor[i] = table_.number(row, readings_[i]);
        }
        take_sensors(row, look);
        if (const Column left = table_.find("left_pct")) {
            out.left_pct = table_.number(row, *left);
        }
        if (const Column right = table_.find("right_pct")) {
            out.right_pct = table_.number(row, *right);
        }
        return out;
    }

    void take_sensors(std::size_t row, Look& look) {
        if (use_counts_) {
            return reader_.from_counts(look);
        }
        if (!pattern_) {
            return reader_.from_readings(look);
        }
        const std::optional<Pattern> pattern = parse_marks(table_.text(row, *pattern_));
        if (!pattern || pattern->count != reader_.sensors()) {
            table_.fault(row, *pattern_, fmt::format("expected a pattern of {} marks", reader_.sensors()),
                         "write # for line and . for floor");
            return;
        }
        if (readings_.empty()) {
            reader_.from_pattern(look, *pattern);
        } else {
            reader_.from_readings(look, *pattern);
        }
    }

    CsvTable table_;
    std::string file_;
    ArrayReader reader_;
    std::vector<std::string> marker_names_;
    Column time_;
    double per_unit_ = 1000.0;
    double first_heading_deg_ = 0.0;
    Column pattern_;
    std::vector<std::size_t> counts_;
    std::vector<std::size_t> readings_;
    bool use_counts_ = false;
};

} // namespace

std::vector<LoggedLook> parse_log(std::string_view text, std::string_view file, const ArrayReader& reader,
                                  const std::vector<std::string>& channels, bool counts_known,
                                  const std::vector<std::string>& marker_names) {
    expect_kind(text, file, FileKind::log);
    return LogReader(text, file, reader, channels, counts_known, marker_names).read();
}

} // namespace vast_turn
