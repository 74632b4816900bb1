#include "vast_turn/formats/read/drive_log_file.hpp"

#include <cmath>
#include <optional>
#include <string>

#include <fmt/format.h>

#include "formats/read/csv_table.hpp"
#include "formats/read/file_kind.hpp"
#include "vast_turn/emit/checked_line.hpp"

namespace vast_turn {

namespace {

class DriveLogReader {
public:
    DriveLogReader(std::string_view text, std::string_view file) : table_(text, file), file_(file) {}

    DriveLog read(const Robot& robot) {
        DriveLog log;
        log.name = file_;
        log.columns = table_.columns();
        take_times(log);
        log.left_pct = power("left_pct");
        log.right_pct = power("right_pct");
        log.left_deg = column("left_deg");
        log.right_deg = column("right_deg");
        log.gyro_deg = column("by_gyro_deg");
        log.compass_deg = unwrapped(column("by_compass_deg"));
        log.way_mm = column("way_mm");
        log.turn_deg = column("by_wheels_deg");
        take_counts(log, robot);
        table_.finish();
        return log;
    }

private:
    std::vector<double> column(std::string_view name, double times = 1.0) {
        const std::optional<std::size_t> at = table_.find(name);
        std::vector<double> out;
        for (std::size_t row = 0; at && row < table_.rows() && !table_.full(); ++row) {
            out.push_back(times * table_.number(row, *at));
            if (!(std::abs(out.back()) <= drive_log_most)) {
                table_.fault(row, *at, fmt::format("{:g} is more than any robot tells", out.back()),
                             fmt::format("numbers lie within {:g} either way", drive_log_most));
            }
        }
        return out;
    }

    std::vector<double> power(const char* name) {
        if (!table_.find(name)) {
            throw InputError(file_, fmt::format("the log has no column `{}`", name),
                             "log the powers that were answered: left_pct and right_pct, in percent");
        }
        return column(name);
    }

    void take_times(DriveLog& log) {
        for (const auto& [name, times] : {std::pair{"clock_ms", 1.0}, {"time_ms", 1.0}, {"time_s", 1000.0}}) {
            if (const std::optional<std::size_t> at = table_.find(name)) {
                log.t_ms = column(name, times);
                for (std::size_t row = 1; row < log.t_ms.size(); ++row) {
                    if (log.t_ms[row] < log.t_ms[row - 1]) {
                        table_.fault(row, *at, "the time goes back", "rows stand in the order of their times");
                    }
                }
                return;
            }
        }
        throw InputError(file_, "the log has no column `time_s`, `time_ms` or `clock_ms`",
                         "log when each look was taken");
    }

    static std::vector<double> unwrapped(std::vector<double> degrees) {
        for (std::size_t i = 1; i < degrees.size(); ++i) {
            degrees[i] -= 360.0 * std::round((degrees[i] - degrees[i - 1]) / 360.0);
        }
        return degrees;
    }

    void take_counts(DriveLog& log, const Robot& robot) {
        for (int i = 1; i <= max_sensors && table_.find(fmt::format("raw_{}", i)); ++i) {
            log.counts.push_back(column(fmt::format("raw_{}", i)));
        }
        for (const LineSensor& sensor : robot.sensors) {
            if (log.counts.size() < robot.sensors.size() && !sensor.channel.empty() && table_.find(sensor.channel)) {
                log.counts.push_back(column(sensor.channel));
            }
        }
    }

    CsvTable table_;
    std::string file_;
};

} // namespace

DriveLog parse_drive_log(std::string_view text, std::string_view file, const Robot& robot) {
    expect_kind(text, file, FileKind::log);
    return DriveLogReader(whole_rows(text), file).read(robot);
}

} // namespace vast_turn
