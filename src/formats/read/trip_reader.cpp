#include "formats/read/trip_reader.hpp"

#include <algorithm>
#include <array>
#include <charconv>
#include <set>
#include <string_view>

#include <fmt/format.h>

#include "formats/read/file_kind.hpp"
#include "formats/read/variation_reader.hpp"
#include "vast_turn/formats/read/text_file.hpp"
#include "vast_turn/formats/read/trips_file.hpp"

namespace vast_turn {

namespace {

constexpr std::array<Ending, 5> endings = {Ending::halted, Ending::off_course, Ending::lost, Ending::touched,
                                           Ending::time_over};

constexpr std::array<PlateMeaning, 6> meanings = {PlateMeaning::left, PlateMeaning::straight, PlateMeaning::right,
                                                  PlateMeaning::back, PlateMeaning::end,      PlateMeaning::side};

template <class List> std::vector<std::string> names_of(const List& list) {
    std::vector<std::string> names;
    for (const auto& one : list) {
        names.push_back(one.name);
    }
    return names;
}

class TripReader {
public:
    TripReader(const Course& course, const std::string& file)
        : file_(file), starts_(names_of(course.starts)), places_(names_of(course.places)),
          variants_(names_of(course.variants)) {
        variants_.insert(variants_.begin(), as_drawn);
        for (const auto& [colour, rgb] : course.palette) {
            colours_.push_back(colour);
        }
        for (const PlateMeaning meaning : meanings) {
            meanings_.emplace_back(name_of(meaning));
        }
        for (const Ending ending : endings) {
            endings_.emplace_back(name_of(ending));
        }
    }

    Trip read(TomlTable& table) {
        Trip trip;
        trip.file = file_;
        trip.line = table.line();
        trip.name = table.text("name");
        if (!taken_.insert(trip.name).second) {
            table.fault("name", fmt::format("there are two trips called \"{}\"", trip.name),
                        "give each a name of its own");
        }
        from(table, trip);
        route(table, trip);
        ends(table, trip);
        trip.laps = table.whole("laps", {1.0, 1000.0}, trip.laps);
        trip.repeats = table.whole("repeats", {1.0, 10000.0}, trip.repeats);
        trip.sure = sure(table);
        trip.within_s = table.number("within_s", {0.001, 36000.0}, trip.within_s);
        trip.off_course_mm = table.number("off_course_mm", {1.0, 100000.0}, trip.off_course_mm);
        trip.lost_after_s = table.optional_number("lost_after_s", {0.001, 36000.0});
        trip.touch_ends = table.one_of("touch", {"ends", "goes on"}, "ends") == "ends";
        outside(table, trip);
        table.done();
        return trip;
    }

private:
    /// "99 %", "97.5 %".
    static std::optional<double> sure(TomlTable& table) {
        if (!table.has("sure")) {
            return std::nullopt;
        }
        const std::string text = table.text("sure");
        double percent = 0.0;
        const char* end = text.data() + text.size();
        const auto [stopped, error] = std::from_chars(text.data(), end, percent);
        const std::string_view rest(stopped, static_cast<std::size_t>(end - stopped));
        if (error != std::errc{} || (rest != " %" && rest != "%") || !(percent >= 50.0 && percent <= 99.99)) {
            table.fault("sure", fmt::format("`sure` is \"{}\", expected a share of days from 50 to 99.99 %", text),
                        "write sure = \"97 %\"");
            return std::nullopt;
        }
        return percent / 100.0;
    }

    /// A list of names, each of them known.
    std::vector<std::string> known_names(TomlTable& table, const char* key, const std::vector<std::string>& known,
                                         const char* what) {
        std::vector<std::string> list = table.texts(key);
        for (const std::string& name : list) {
            if (std::find(known.begin(), known.end(), name) == known.end()) {
                table.fault(key, fmt::format("\"{}\" is no {} of the course{}", name, what, did_you_mean(name, known)),
                            known.empty() ? fmt::format("the course has no {}", what)
                                          : fmt::format("{}s are {}", what, one_of(known)));
            }
        }
        return list;
    }

    /// One start, or a list of them.
    void from(TomlTable& table, Trip& trip) {
        if (!table.is_list("from")) {
            trip.from = table.one_of("from", starts_);
            return;
        }
        std::vector<std::string> list = known_names(table, "from", starts_, "start");
        if (list.empty()) {
            table.fault("from", "`from` names no start", fmt::format("starts are {}", one_of(starts_)));
            return;
        }
        trip.from = list.front();
        trip.also_from.assign(list.begin() + 1, list.end());
    }

    void route(TomlTable& table, Trip& trip) {
        if (table.has("choices")) {
            trip.choices = table.texts("choices");
        }
        plates(table, trip);
        if (table.has("visits") || (trip.choices.empty() && trip.plates.empty())) {
            trip.visits = known_names(table, "visits", places_, "place");
        }
        if (table.has("never")) {
            trip.never = known_names(table, "never", places_, "place");
        }
        if (table.has("variants")) {
            trip.variants = known_names(table, "variants", variants_, "variant");
        }
    }

    /// What plates tell. A drawing may still show colours that the file does not name.
    void plates(TomlTable& table, Trip& trip) {
        TomlTable told = table.table("plates");
        if (table.has("plates") && table.has("choices")) {
            table.fault("plates", "`plates` and `choices` exclude each other: plates tell the choices",
                        "keep one of them");
        }
        for (const std::string& colour : told.all_keys()) {
            if (!colours_.empty() && std::find(colours_.begin(), colours_.end(), colour) == colours_.end()) {
                told.fault(colour.c_str(),
                           fmt::format("\"{}\" is no colour of the palette{}", colour, did_you_mean(colour, colours_)),
                           fmt::format("its colours are {}", one_of(colours_)));
            }
            const std::string words = told.one_of(colour.c_str(), meanings_);
            const auto meaning = std::find(meanings_.begin(), meanings_.end(), words);
            if (meaning != meanings_.end()) {
                trip.plates[colour] = meanings.at(static_cast<std::size_t>(meaning - meanings_.begin()));
            }
        }
        if (table.has("plates") && told.all_keys().empty()) {
            table.fault("plates", "`plates` names no colour", "write what each tells: plates = { amber = \"left\" }");
        }
    }

    /// "halt", "halt at dock", or "any".
    void ends(TomlTable& table, Trip& trip) {
        const std::string words = table.has("ends") ? table.text("ends") : std::string("halt");
        trip.then_any = words == "any";
        if (trip.then_any) {
            if (trip.visits.empty() && trip.choices.empty() && trip.plates.empty()) {
                table.fault("ends", "a trip that may end anyhow and expects nothing says nothing",
                            "give it visits, choices or plates");
            }
            return;
        }
        const std::size_t at = words.find(" at ");
        const std::string how = words.substr(0, at);
        const auto known = std::find_if(endings.begin(), endings.end(), [&](Ending e) { return how == name_of(e); });
        if (known == endings.end()) {
            table.fault("ends", fmt::format("`ends` is \"{}\"{}", how, did_you_mean(how, endings_)),
                        fmt::format("write {}, or any; or with a place: halt at {}", one_of(endings_),
                                    places_.empty() ? "dock" : places_.front()));
            return;
        }
        trip.ends = *known;
        trip.ends_at = at == std::string::npos ? "" : words.substr(at + 4);
        if (!trip.ends_at.empty() && std::find(places_.begin(), places_.end(), trip.ends_at) == places_.end()) {
            table.fault(
                "ends",
                fmt::format("\"{}\" is no place of the course{}", trip.ends_at, did_you_mean(trip.ends_at, places_)),
                fmt::format("places are {}", one_of(places_)));
        }
    }

    /// What comes from outside: the button, and what is heard.
    static void outside(TomlTable& table, Trip& trip) {
        for (const Vec2 held : table.pairs("button_s", {0.0, 36000.0})) {
            if (held.y <= held.x) {
                table.fault("button_s", fmt::format("the button is let go at {:g} s, held from {:g} s", held.y, held.x),
                            "write [from, until] in seconds");
            }
            trip.button_s.emplace_back(held.x, held.y);
        }
        for (TomlTable& heard : table.tables("hear")) {
            trip.hears.push_back({heard.text("name"), heard.number("at_s", {0.0, 36000.0})});
            heard.done();
        }
    }

    std::string file_;
    std::vector<std::string> starts_;
    std::vector<std::string> places_;
    std::vector<std::string> variants_;
    std::vector<std::string> endings_;
    std::vector<std::string> colours_; ///< of the palette
    std::vector<std::string> meanings_;
    std::set<std::string> taken_;
};

} // namespace

std::vector<Trip> read_trips(TomlTable& root, const Course& course, const std::string& file) {
    TripReader reader(course, file);
    std::vector<Trip> trips;
    for (TomlTable& table : root.tables("trip")) {
        trips.push_back(reader.read(table));
    }
    return trips;
}

TripSheet parse_trip_sheet(std::string_view text, std::string_view file, const Course& course) {
    expect_kind(text, file, FileKind::trips);
    TomlText toml(text, file);
    TomlTable root = toml.root();
    TripSheet sheet{read_trips(root, course, std::string(file)), {}};
    if (root.has("variation")) {
        sheet.variation = read_variation(root.table("variation"));
    }
    root.done();
    toml.finish();
    if (sheet.trips.empty()) {
        throw InputError(std::string(file), "there is no trip in this file",
                         "write a [[trip]] with name, from and visits or choices");
    }
    return sheet;
}

TripSheet load_trip_sheet(const std::string& path, const Course& course) {
    return parse_trip_sheet(read_file(path), path, course);
}

std::vector<Trip> parse_trips(std::string_view text, std::string_view file, const Course& course) {
    return parse_trip_sheet(text, file, course).trips;
}

} // namespace vast_turn
