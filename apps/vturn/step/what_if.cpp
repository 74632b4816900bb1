/// What may be done otherwise at a look, as commands say it.

#include <charconv>
#include <utility>

#include <fmt/format.h>

#include "call_files.hpp"
#include "print/print.hpp"
#include "step/session.hpp"
#include "vast_turn/formats/read/plan_file.hpp"

namespace vturn {

using namespace vast_turn;

namespace {

/// "410,220" or "60x40".
std::optional<Vec2> pair_of(const std::string& text, char between) {
    Vec2 out;
    const char* const end = text.data() + text.size();
    const auto [first, error] = std::from_chars(text.data(), end, out.x);
    if (error != std::errc{} || first == end || *first != between) {
        return std::nullopt;
    }
    const auto [last, second_error] = std::from_chars(first + 1, end, out.y);
    return second_error == std::errc{} && last == end ? std::optional(out) : std::nullopt;
}

/// The number of a name that the plan knows.
std::size_t number_of(Words& words, const std::vector<std::string>& names, const std::string& what) {
    const std::string name = words.word(fmt::format("the name of {}", what));
    const auto at = std::find(names.begin(), names.end(), name);
    if (at == names.end()) {
        words.fail_at_last(fmt::format("the plan knows no {} `{}`{}", what.substr(what.find(' ') + 1), name,
                                       did_you_mean(name, names)),
                           names.empty() ? "it knows none" : fmt::format("it knows {}", one_of(names)));
    }
    return static_cast<std::size_t>(at - names.begin());
}

} // namespace

Instead Session::other_thing(Words& words) {
    constexpr double most_mm = 1e6;
    Thing thing{};
    thing.name = words.word("the name of a thing");
    const auto read = [&](const char* before, char between, const char* form) {
        if (!words.take(before)) {
            words.fail_at_next(fmt::format("expected `{}`", before), "write instead thing can at 410,220 size 60x60");
        }
        const std::string text = words.word(form);
        const auto pair = pair_of(text, between);
        if (!pair || !(std::abs(pair->x) <= most_mm && std::abs(pair->y) <= most_mm)) {
            words.fail_at_last(fmt::format("expected {}, found `{}`", form, text),
                               fmt::format("write {}, in mm", form));
        }
        return *pair;
    };
    thing.at = read("at", ',', "410,220");
    thing.size_mm = read("size", 'x', "60x60");
    if (!(thing.size_mm.x > 0.0 && thing.size_mm.y > 0.0)) {
        words.fail_at_last("a thing has a size above 0", "write 60x60, in mm");
    }
    return instead::MoreThings{thing};
}

Instead Session::other_var(Words& words) {
    const std::size_t var = number_of(words, plan().vars(), "a var");
    const std::string text = words.rest();
    ProbeResult value = make_value_for(plan(), var, text);
    if (!value.probe) {
        const Problem& first = value.problems.front();
        words.fail_in_rest(static_cast<std::size_t>(std::max(0, first.place.column - 1)), first.message, first.cure);
    }
    return instead::OtherVar{var, value.probe->value(*run().mind_before(), run().look())};
}

/// What the plan is told at this look beyond its line sensors.
Instead Session::other_look(Words& words) {
    if (words.take("range")) {
        const auto way = words.way_mm();
        if (!way || *way < 0.0) {
            words.fail_at_next("expected how far it is to what is ahead", "write instead range 120mm");
        }
        return instead::OtherLook{[mm = *way](Look& look) { look.range_mm = mm; }};
    }
    if (words.take("marker")) {
        const std::size_t marker = number_of(words, plan().markers(), "a marker");
        return instead::OtherLook{[marker](Look& look) {
            look.markers = static_cast<std::uint16_t>(look.markers | 1U << marker);
            for (std::uint16_t& at : look.markers_at) {
                at = static_cast<std::uint16_t>(at | 1U << marker);
            }
        }};
    }
    if (words.take("hears")) {
        const std::size_t heard = number_of(words, plan().heard(), "a sound");
        return instead::OtherLook{
            [heard](Look& look) { look.heard = static_cast<std::uint16_t>(look.heard | 1U << heard); }};
    }
    if (words.take("button")) {
        return instead::OtherLook{[](Look& look) { look.button = true; }};
    }
    const std::string found(words.peek());
    words.fail_at_next(found.empty() ? "expected what is otherwise, found the end of the line"
                                     : fmt::format("`{}` is nothing that can be otherwise{}", found,
                                                   did_you_mean(found, {"answer", "reading", "range", "marker", "hears",
                                                                        "button", "var", "plan", "day", "thing"})),
                       "write answer, reading, range, marker, hears, button, var, plan, day or thing");
}

Instead Session::change(Words& words) {
    const auto ended = [&words](Instead made) {
        words.end("this");
        return made;
    };
    if (words.take("answer")) {
        const double left = words.number("the power of the left motor in percent");
        return ended(instead::OtherAnswer{left, words.number("the power of the right motor in percent")});
    }
    if (words.take("reading")) {
        const std::size_t sensor = words.whole("the number of a sensor", 1) - 1;
        if (sensor >= run().look().sensors) {
            words.fail_at_last(fmt::format("there is no sensor {}", sensor + 1),
                               fmt::format("the array has {}", run().look().sensors));
        }
        const double value = words.number("a reading from 0 to 1");
        if (!(value >= 0.0 && value <= 1.0)) {
            words.fail_at_last("a reading is 0 (floor) to 1 (line)", "write a number between");
        }
        return ended(instead::OtherReading{sensor, value});
    }
    if (words.take("var")) {
        return other_var(words);
    }
    if (words.take("plan")) {
        const std::string path = words.word("the name of a plan file");
        words.end("instead plan FILE");
        streams_.files->reads(path);
        streams_.files->check();
        std::vector<Problem> warnings;
        Plan other = load_plan(path, &warnings);
        print_warnings(streams_, warnings);
        return instead::OtherPlan{std::move(other)};
    }
    if (words.take("day")) {
        return ended(instead::OtherDay{words.whole("the number of a day", 0)});
    }
    return ended(words.take("thing") ? other_thing(words) : other_look(words));
}

} // namespace vturn
