#include "vast_turn/formats/read/looks_file.hpp"

#include <algorithm>
#include <charconv>
#include <cmath>
#include <iterator>

#include <fmt/format.h>

namespace vast_turn {

namespace {

std::optional<double> number(std::string_view text) {
    double value = 0.0;
    const auto [stopped, error] = std::from_chars(text.data(), text.data() + text.size(), value);
    const bool whole = error == std::errc{} && stopped == text.data() + text.size() && std::isfinite(value);
    return whole ? std::optional(value) : std::nullopt;
}

/// A number that may have one of these units; the first is the base unit.
struct UnitFactor {
    const char* unit;
    double factor;
};

std::optional<double> quantity(std::string_view text, const std::vector<UnitFactor>& units) {
    for (const UnitFactor& unit : units) {
        const std::string_view name = unit.unit;
        if (text.size() > name.size() && text.substr(text.size() - name.size()) == name) {
            if (const auto value = number(text.substr(0, text.size() - name.size()))) {
                return *value * unit.factor;
            }
        }
    }
    return number(text);
}

const std::vector<UnitFactor> lengths = {{"mm", 1.0}, {"cm", 10.0}, {"m", 1000.0}};

std::vector<std::string> parts(const std::string& text) {
    std::vector<std::string> list(1);
    for (const char c : text) {
        if (c == ',') {
            list.emplace_back();
        } else {
            list.back() += c;
        }
    }
    return list;
}

const std::vector<std::string> word_names = {"raw",     "clock", "way",   "range",  "heading",
                                             "battery", "left",  "right", "marker", "hear"};

} // namespace

struct LookScript::Word {
    std::string text;
    std::string_view file;
    int line;
    std::string_view source; ///< the whole line
    std::size_t at;          ///< the byte in it
};

LookScript::LookScript(const Plan& plan, const ArrayReader& reader, bool counts_known, double every_ms)
    : plan_(plan), reader_(reader), counts_known_(counts_known), every_ms_(every_ms) {}

void LookScript::fault(const Word& word, std::string message, std::string cure) {
    problems_.add_error(
        [&] {
            return place_in_line(std::string(word.file), word.line, word.source, word.at,
                                 std::max<std::size_t>(1, word.text.size()));
        },
        std::move(message), std::move(cure));
    faulty_ = true;
}

void LookScript::take_quantity(const Word& word, const std::string& name, const std::string& value, Look& look) {
    struct Field {
        const char* name;
        const char* kind;
        const char* example;
        std::vector<UnitFactor> units;
        double Look::*field;
        bool may_be_negative;
    };
    static const std::vector<Field> fields = {
        {"clock", "a time", "clock=120ms", {{"ms", 1.0}, {"s", 1000.0}}, &Look::clock_ms, false},
        {"way", "a length", "way=35mm", lengths, &Look::way_mm, true},
        {"range", "a length", "range=120mm", lengths, &Look::range_mm, false},
        {"heading", "an angle", "heading=35deg", {{"deg", 1.0}}, &Look::heading_deg, true},
        {"left", "an angle", "left=90deg", {{"deg", 1.0}}, &Look::left_deg, true},
        {"right", "an angle", "right=90deg", {{"deg", 1.0}}, &Look::right_deg, true},
        {"battery", "percent", "battery=80%", {{"%", 1.0}}, &Look::battery_pct, false}};
    const auto field = std::find_if(fields.begin(), fields.end(), [&](const Field& f) { return name == f.name; });
    if (field == fields.end()) {
        return fault(word, fmt::format("nothing in a look is called `{}`{}", name, did_you_mean(name, word_names)),
                     fmt::format("known are {}", one_of(word_names)));
    }
    const std::optional<double> taken = quantity(value, field->units);
    if (!taken || (*taken < 0.0 && !field->may_be_negative)) {
        return fault(word, fmt::format("`{}` wants {}, not `{}`", name, field->kind, value),
                     fmt::format("write {}", field->example));
    }
    if (name == "clock" && !first_ && *taken < last_.clock_ms) {
        return fault(word, fmt::format("the clock goes back, from {:g} ms to {:g} ms", last_.clock_ms, *taken),
                     "looks stand in the order of their clocks");
    }
    look.*(field->field) = *taken;
    if (name == "heading") { // by whatever the plan asks
        look.heading_by_wheels_deg = look.heading_by_gyro_deg = look.heading_by_compass_deg = *taken;
    }
}

/// The bit of a name in a list of the plan; nothing when it is not in it, which is reported.
std::optional<unsigned> LookScript::bit_of(const Word& word, const std::string& name, const char* what,
                                           const std::vector<std::string>& known) {
    const auto at = std::find(known.begin(), known.end(), name);
    if (at == known.end()) {
        fault(word, fmt::format("the plan knows no {} `{}`{}", what, name, did_you_mean(name, known)),
              known.empty() ? fmt::format("there is no {} in the plan", what)
                            : fmt::format("in the plan {} {}", known.size() == 1 ? "is" : "are", one_of(known)));
        return std::nullopt;
    }
    return static_cast<unsigned>(at - known.begin());
}

void LookScript::take_heard(const Word& word, const std::string& value, Look& look) {
    for (const std::string& name : parts(value)) {
        if (const auto bit = bit_of(word, name, "name to hear", plan_.heard())) {
            look.heard = static_cast<std::uint16_t>(look.heard | (1U << *bit));
        }
    }
}

void LookScript::take_markers(const Word& word, const std::string& value, Look& look) {
    const std::vector<std::string>& known = plan_.markers();
    look.markers = 0;
    std::fill(std::begin(look.markers_at), std::end(look.markers_at), std::uint16_t{0});
    for (const std::string& written : parts(value)) {
        const std::size_t place = written.find('@');
        const std::string marker = written.substr(0, place);
        if (marker == "none") {
            continue;
        }
        const auto at = std::find(known.begin(), known.end(), marker);
        if (at == known.end()) {
            return fault(word, fmt::format("the plan knows no marker `{}`{}", marker, did_you_mean(marker, known)),
                         known.empty() ? "name the markers in the plan: markers amber, teal"
                                       : fmt::format("its markers are {}", one_of(known)));
        }
        const unsigned bit = 1U << static_cast<unsigned>(at - known.begin());
        look.markers = static_cast<std::uint16_t>(look.markers | bit);
        if (place == std::string::npos) { // every colour sensor sees it
            for (std::uint16_t& seen : look.markers_at) {
                seen = static_cast<std::uint16_t>(seen | bit);
            }
        } else if (const auto sensor = bit_of(word, written.substr(place + 1), "colour sensor", plan_.places())) {
            look.markers_at[*sensor] = static_cast<std::uint16_t>(look.markers_at[*sensor] | bit);
        }
    }
}

void LookScript::take_counts(const Word& word, const std::string& value, Look& look) {
    if (!counts_known_) {
        return fault(word, "raw counts mean nothing without a calibration", "name one with --calibration");
    }
    const std::vector<std::string> list = parts(value);
    if (static_cast<int>(list.size()) != reader_.sensors()) {
        return fault(word, fmt::format("expected {} counts, found {}", reader_.sensors(), list.size()),
                     "one for each sensor, from the left");
    }
    for (std::size_t i = 0; i < list.size(); ++i) {
        const std::optional<double> count = number(list[i]);
        if (!count) {
            return fault(word, fmt::format("`{}` is no number", list[i]), "write counts as numbers");
        }
        look.raw[i] = *count;
    }
    given_ = Given::counts;
}

void LookScript::take_named(const Word& word, const std::string& name, const std::string& value, Look& look) {
    if (name == "marker") {
        take_markers(word, value, look);
    } else if (name == "hear") {
        take_heard(word, value, look);
    } else if (name == "raw") {
        take_counts(word, value, look);
    } else {
        take_quantity(word, name, value, look);
    }
}

void LookScript::take(const Word& word, Look& look, int& repeats) {
    const std::string& text = word.text;
    if (const std::optional<Pattern> pattern = parse_marks(text)) {
        if (pattern->count != reader_.sensors()) {
            return fault(
                word, fmt::format("the pattern has {} marks, the plan {} sensors", pattern->count, reader_.sensors()),
                "write one mark a sensor: # line, . floor");
        }
        look.line_bits = pattern->bits;
        given_ = Given::pattern;
        return;
    }
    const std::size_t equals = text.find('=');
    if (equals != std::string::npos) {
        return take_named(word, text.substr(0, equals), text.substr(equals + 1), look);
    }
    if (text == "button") {
        look.button = true;
        return;
    }
    if (text.size() > 1 && text[0] == 'x') {
        const std::optional<double> times_wanted = number(text.substr(1));
        constexpr double most = 1e5;
        if (!times_wanted || !(*times_wanted >= 1.0 && *times_wanted <= most) ||
            std::floor(*times_wanted) < *times_wanted) {
            return fault(word, fmt::format("`{}` wants a whole number of looks, up to {:g}", text, most),
                         "write x3 for three looks");
        }
        repeats = static_cast<int>(*times_wanted);
        return;
    }
    const std::vector<std::string> list = parts(text);
    for (std::size_t i = 0; i < list.size(); ++i) {
        const std::optional<double> reading = number(list[i]);
        if (!reading || !(*reading >= 0.0 && *reading <= 1.0)) {
            return fault(word, fmt::format("`{}` is neither a pattern nor readings from 0 to 1", text),
                         "write ##. or 0.1,0.8,0.3 or raw=120,830,410");
        }
        if (i < max_sensors) {
            look.sensor[i] = *reading;
        }
    }
    if (static_cast<int>(list.size()) != reader_.sensors()) {
        return fault(word, fmt::format("expected {} readings, found {}", reader_.sensors(), list.size()),
                     "one for each sensor, from the left");
    }
    given_ = Given::readings;
}

void LookScript::line(std::string_view source, int number_of_line, std::string_view file,
                      std::vector<LoggedLook>& out) {
    const std::string_view text = source.substr(0, source.find("//"));
    Look look = last_;
    look.button = false;
    look.heard = 0;
    look.clock_ms = first_ ? 0.0 : last_.clock_ms + every_ms_;
    int repeats = 1;
    given_ = Given::nothing;
    std::size_t at = text.find_first_not_of(" \t\r");
    if (at == std::string::npos) {
        return;
    }
    const Word whole{"", file, number_of_line, source, at};
    faulty_ = false;
    while (at != std::string::npos && !problems_.full()) {
        const std::size_t end = std::min(text.find_first_of(" \t\r", at), text.size());
        take({std::string(text.substr(at, end - at)), file, number_of_line, source, at}, look, repeats);
        at = text.find_first_not_of(" \t\r", end);
    }
    if (given_ == Given::nothing && !faulty_) {
        fault(whole, "the look says nothing of the sensors", "begin it with a pattern, for example ##.");
    }
    if (faulty_) {
        return;
    }
    for (int i = 0; i < repeats; ++i, look.clock_ms += every_ms_) {
        switch (given_) {
        case Given::pattern: reader_.from_pattern(look, {look.line_bits, reader_.sensors()}); break;
        case Given::readings: reader_.from_readings(look); break;
        default: reader_.from_counts(look); break;
        }
        out.push_back({look, std::nullopt, std::nullopt});
        last_ = look;
        first_ = false;
        look.heard = 0; // it is heard in one look
    }
}

std::vector<LoggedLook> LookScript::parse(std::string_view text, std::string_view file) {
    constexpr std::size_t most_looks = 1'000'000;
    std::vector<LoggedLook> out;
    int number_of_line = 0;
    while (!text.empty() && !problems_.full() && out.size() < most_looks) {
        const std::size_t end = std::min(text.find('\n'), text.size());
        line(text.substr(0, end), ++number_of_line, file, out);
        text.remove_prefix(std::min(end + 1, text.size()));
    }
    if (out.size() >= most_looks) {
        throw InputError(std::string(file), fmt::format("it has more than {} looks", most_looks),
                         "ask in several calls");
    }
    problems_.finish(std::string(file));
    if (out.empty()) {
        throw InputError(std::string(file), "there is no look in it", "write one look a line, for example ##.");
    }
    return out;
}

} // namespace vast_turn
