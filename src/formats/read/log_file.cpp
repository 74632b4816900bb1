#include <algorithm>

#include <fmt/format.h>

#include "formats/read/csv_table.hpp"
#include "formats/read/file_kind.hpp"
#include "vast_turn/emit/checked_line.hpp"
#include "vast_turn/formats/read/looks_file.hpp"

namespace vast_turn {

namespace {

using Column = std::optional<std::size_t>;

class LogReader {
public:
    LogReader(std::string_view text, std::string_view file, const ArrayReader& reader,
              const std::vector<std::string>& channels, bool counts_known, AskedNames names)
        : table_(text, file), file_(file), reader_(reader), names_(std::move(names)) {
        find_sensors(channels, counts_known);
        time_ = table_.find("time_s");
        if (!time_) {
            time_ = table_.find("time_ms");
            per_unit_ = 1.0;
        }
        clock_ms_ = table_.find("clock_ms");
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

    /// Names parted by |, those of `known` as bits.
    std::uint16_t names(std::size_t row, const std::string& column, const std::vector<std::string>& list) {
        const Column at = table_.find(column);
        unsigned bits = 0;
        std::string name;
        const std::string text = at ? table_.text(row, *at) + "|" : std::string{};
        for (const char c : text) {
            if (c != '|') {
                name += c;
                continue;
            }
            const auto known = std::find(list.begin(), list.end(), name);
            bits |= known == list.end() ? 0U : 1U << static_cast<unsigned>(known - list.begin());
            name.clear();
        }
        return static_cast<std::uint16_t>(bits);
    }

    LoggedLook read_row(std::size_t row) {
        LoggedLook out;
        Look& look = out.look;
        look.clock_ms = clock_ms_ ? table_.number(row, *clock_ms_) : per_unit_ * table_.number(row, *time_);
        look.way_mm = number(row, "way_mm", 0.0);
        look.range_mm = number(row, "range_mm", nothing_ahead_mm);
        look.heading_deg = number(row, "heading_deg", 0.0) - first_heading_deg_;
        look.heading_by_wheels_deg = look.heading_by_gyro_deg = look.heading_by_compass_deg = look.heading_deg;
        take_sources(row, look);
        look.markers = names(row, "markers", names_.markers);
        for (std::size_t k = 0; k < names_.places.size() && k < look_places; ++k) {
            look.markers_at[k] = names(row, "markers_" + names_.places[k], names_.markers);
        }
        look.heard = names(row, "heard", names_.heard);
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

    /// A turn by one source each, as a trace has them; the best of them is the heading, in the order of `Look`.
    void take_sources(std::size_t row, Look& look) {
        const std::pair<const char*, double*> sources[] = {{"by_wheels_deg", &look.heading_by_wheels_deg},
                                                           {"by_compass_deg", &look.heading_by_compass_deg},
                                                           {"by_gyro_deg", &look.heading_by_gyro_deg}};
        const bool any = std::any_of(std::begin(sources), std::end(sources),
                                     [&](const auto& source) { return table_.find(source.first).has_value(); });
        for (const auto& [column, value] : sources) {
            const Column at = table_.find(column);
            *value = at ? table_.number(row, *at) : (any ? 0.0 : *value);
            look.heading_deg = at ? *value : look.heading_deg;
        }
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
    AskedNames names_;
    Column time_;
    Column clock_ms_; // the same, not rounded
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
                                  const AskedNames& names) {
    expect_kind(text, file, FileKind::log);
    return LogReader(whole_rows(text), file, reader, channels, counts_known, names).read();
}

} // namespace vast_turn
