#include "vast_turn/formats/read/bench_file.hpp"

#include <algorithm>
#include <iterator>

#include <fmt/format.h>

#include "formats/read/csv_table.hpp"
#include "formats/read/file_kind.hpp"
#include "vast_turn/formats/read/text_file.hpp"
#include "vast_turn/sense/marker_look.hpp"

namespace vast_turn {

namespace {

/// Columns that are no sensors: what lay under, colours, and what loggers add.
constexpr const char* under_column = "under";
bool is_other(const std::string& name) { return name == under_column || name == "time_s" || name == "time_ms"; }
bool is_colour(const std::string& name) {
    return std::find(std::begin(colour_channel_names), std::end(colour_channel_names), name) !=
           std::end(colour_channel_names);
}

struct Columns {
    std::vector<std::size_t> sensors;
    std::vector<std::size_t> colours; // red, green, blue, clear, or none
    std::optional<std::size_t> under;
};

Columns columns_of(CsvTable& table) {
    Columns columns;
    columns.under = table.find(under_column);
    for (const char* name : colour_channel_names) {
        if (const auto at = table.find(name)) {
            columns.colours.push_back(*at);
        }
    }
    if (!columns.colours.empty() && columns.colours.size() < std::size(colour_channel_names)) {
        table.column_fault(columns.colours.front(), "colour readings need all of red, green, blue and clear",
                           "add the missing columns, or give a line sensor another name than a colour's");
    }
    for (std::size_t i = 0; i < table.columns().size(); ++i) {
        if (!is_other(table.columns()[i]) && !is_colour(table.columns()[i])) {
            columns.sensors.push_back(i);
        }
    }
    if (columns.sensors.empty() || columns.sensors.size() > static_cast<std::size_t>(max_sensors)) {
        table.column_fault(
            columns.sensors.empty() ? 0 : columns.sensors[max_sensors],
            fmt::format("expected columns for 1 to {} line sensors, found {}", max_sensors, columns.sensors.size()),
            "one column for each sensor, named as its channel");
    }
    return columns;
}

/// Counts in a range that any converter and any scale fits into.
double counts_at(CsvTable& table, std::size_t row, std::size_t column) {
    constexpr double most = 1e7;
    const double counts = table.number(row, column);
    if (counts > most || counts < -most) {
        table.fault(row, column, fmt::format("{:g} is no count of a sensor", counts),
                    "counts lie between -1e7 and 1e7");
        return 0.0;
    }
    return counts;
}

ColourCounts colour_at(CsvTable& table, std::size_t row, const Columns& columns) {
    ColourCounts colour{};
    for (std::size_t c = 0; c < colour.size(); ++c) {
        colour[c] = counts_at(table, row, columns.colours[c]);
    }
    return colour;
}

} // namespace

BenchReadings parse_bench(std::string_view text, std::string_view file, const std::string& what_lies_under) {
    expect_kind(text, file, FileKind::readings);
    CsvTable table(text, file);
    const Columns columns = columns_of(table);
    if (!columns.under && what_lies_under.empty()) {
        const std::string near = nearest(under_column, table.columns());
        table.column_fault(near.empty() ? 0 : *table.find(near),
                           "there is no column `under` that says what lay under the array",
                           "add it (line, floor, sweep or a marker's colour), or name the file as line=FILE");
    }
    if (columns.under && !what_lies_under.empty()) {
        table.column_fault(*columns.under,
                           fmt::format("the file says itself what lay under the array, not only {}", what_lies_under),
                           fmt::format("name it without `{}=`", what_lies_under));
    }
    table.finish();
    BenchReadings out;
    for (const std::size_t column : columns.sensors) {
        out.channels.push_back(table.columns()[column]);
    }
    for (std::size_t row = 0; row < table.rows() && !table.full(); ++row) {
        BenchLook look;
        look.under = columns.under ? table.text(row, *columns.under) : what_lies_under;
        if (look.under.empty()) {
            table.fault(row, *columns.under, "nothing says what lay under the array",
                        "write line, floor, sweep, sweep-back or a marker's colour");
        }
        for (std::size_t i = 0; i < columns.sensors.size(); ++i) {
            look.counts[i] = counts_at(table, row, columns.sensors[i]);
        }
        if (!columns.colours.empty()) {
            look.colour = colour_at(table, row, columns);
        }
        out.looks.push_back(std::move(look));
    }
    table.finish();
    return out;
}

BenchReadings load_bench(const std::vector<std::string>& names) {
    BenchReadings all;
    for (const std::string& name : names) {
        const std::size_t equals = name.find('=');
        const std::string what = equals == std::string::npos ? std::string{} : name.substr(0, equals);
        const std::string path = equals == std::string::npos ? name : name.substr(equals + 1);
        BenchReadings one = parse_bench(read_file(path), path, what);
        if (all.channels.empty()) {
            all.channels = one.channels;
        }
        if (one.channels != all.channels) {
            throw InputError(path,
                             fmt::format("its sensors are {}, those of the file before {}", one_of(one.channels),
                                         one_of(all.channels)),
                             "record all files with the same columns in the same order");
        }
        std::move(one.looks.begin(), one.looks.end(), std::back_inserter(all.looks));
    }
    return all;
}

BenchReadings arranged_for(const Robot& robot, const BenchReadings& readings) {
    std::vector<std::string> names;
    std::vector<std::size_t> from;
    for (std::size_t i = 0; i < robot.sensors.size(); ++i) {
        const std::string& channel = robot.sensors[i].channel;
        auto at = std::find(readings.channels.begin(), readings.channels.end(), channel);
        if (channel.empty() || at == readings.channels.end()) {
            at = std::find(readings.channels.begin(), readings.channels.end(), fmt::format("sensor_{}", i + 1));
        }
        if (at == readings.channels.end()) {
            throw InputError("",
                             fmt::format("robot \"{}\": the readings have no column for sensor {} (\"{}\")", robot.name,
                                         i + 1, channel),
                             fmt::format("their columns are {}; name a column \"{}\" or sensor_{}",
                                         one_of(readings.channels), channel, i + 1));
        }
        names.push_back(channel.empty() ? *at : channel);
        from.push_back(static_cast<std::size_t>(at - readings.channels.begin()));
    }
    if (readings.channels.size() != robot.sensors.size()) {
        throw InputError("",
                         fmt::format("the readings have {} sensors, robot \"{}\" has {}", readings.channels.size(),
                                     robot.name, robot.sensors.size()),
                         "leave the other columns out, or use the robot file that belongs to the readings");
    }
    BenchReadings out;
    out.channels = names;
    for (const BenchLook& look : readings.looks) {
        BenchLook moved = look;
        for (std::size_t i = 0; i < from.size(); ++i) {
            moved.counts[i] = look.counts[from[i]];
        }
        out.looks.push_back(std::move(moved));
    }
    return out;
}

} // namespace vast_turn
