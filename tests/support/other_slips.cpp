#include <array>
#include <regex>

#include <fmt/format.h>

#include "support/slips.hpp"

namespace fixtures {

namespace {

/// Lines that may be spoilt: rules and items, lets and vars.
std::vector<std::pair<std::size_t, int>> lines_of(const std::string& text) {
    static const std::regex head(R"(^\s*(plan|sensors|markers|weights|habit|errand|//|\}\s*$|$))");
    std::vector<std::pair<std::size_t, int>> list;
    int number = 1;
    for (std::size_t at = 0; at < text.size(); ++number) {
        const std::size_t end = std::min(text.find('\n', at), text.size());
        if (!std::regex_search(text.substr(at, end - at), head)) {
            list.emplace_back(at, number);
        }
        at = end + 1;
    }
    return list;
}

std::string line_at(const std::string& text, std::size_t at) { return text.substr(at, text.find('\n', at) - at); }

Slip spoilt(const std::string& kind, const std::string& text, std::size_t from, std::size_t size,
            const std::string& now, int line) {
    Slip slip{
        kind,      fmt::format("line {}: {} became {}", line, text.substr(from, size), now), text, text, {line}, from,
        now.size()};
    slip.after.replace(from, size, now);
    return slip;
}

std::optional<Slip> left_out(const std::string& text, std::mt19937& random) {
    const auto lines = lines_of(text);
    const auto [at, number] = lines[random() % lines.size()];
    const std::string line = line_at(text, at);
    if (line.find('{') != std::string::npos || line.find('}') != std::string::npos) {
        return std::nullopt;
    }
    Slip slip = spoilt("left out", text, at, line.size() + 1, "", number);
    slip.lines.push_back(number - 1); // nothing is left to name but what stands beside it
    return slip;
}

/// A word that a regular expression finds in some line, another in its place.
template <class Other>
std::optional<Slip> word(const std::string& kind, const std::string& text, const char* found, std::mt19937& random,
                         const Other& other) {
    const auto lines = lines_of(text);
    const auto [at, number] = lines[random() % lines.size()];
    const std::string line = line_at(text, at);
    const std::regex expression(found);
    std::vector<std::pair<std::size_t, std::string>> all;
    for (std::sregex_iterator it(line.begin(), line.end(), expression), end; it != end; ++it) {
        all.emplace_back(static_cast<std::size_t>(it->position(1)), it->str(1));
    }
    if (all.empty()) {
        return std::nullopt;
    }
    const auto& [from, was] = all[random() % all.size()];
    const std::string now = other(was);
    return now == was ? std::nullopt : std::optional{spoilt(kind, text, at + from, was.size(), now, number)};
}

std::string turned(const std::string& sign) {
    std::string now = sign;
    now[0] = sign[0] == '<' ? '>' : '<';
    return now;
}

std::string another_block(const std::string& text, const std::string& was, std::mt19937& random) {
    static const std::regex named(R"((?:habit|errand) (\w+) ?\{)");
    std::vector<std::string> names;
    for (std::sregex_iterator it(text.begin(), text.end(), named), end; it != end; ++it) {
        names.push_back(it->str(1));
    }
    return names.empty() ? was : names[random() % names.size()];
}

std::string off_by_one(const std::string& was, std::mt19937& random) {
    return std::to_string(std::max(0, std::stoi(was) + (random() % 2 == 0 ? 1 : -1)));
}

std::string another_number(const std::string& was, std::mt19937& random) {
    static constexpr std::array<double, 6> factors{0.2, 0.4, 0.6, 1.7, 2.5, 4.0};
    const double value = std::stod(was);
    return value > 4.0 ? fmt::format("{:.4g}", value * factors[random() % factors.size()]) : was;
}

} // namespace

std::optional<Slip> plant_other_slip(const std::string& text, std::mt19937& random) {
    switch (random() % 12) {
    case 0: return left_out(text, random);
    case 1:
    case 2:
        return word("joined", text, R"(\b(and|or)\b)", random,
                    [](const std::string& was) { return std::string(was == "and" ? "or" : "and"); });
    case 3: return word("turned", text, R"(([<>]=?)(?= ))", random, turned);
    case 4:
        return word("sensor", text, R"(sensor\((\d)\))", random,
                    [&](const std::string&) { return std::to_string(1 + random() % 2); });
    case 5:
        return word("called", text, R"((?:do|become|as) (\w+)(?! ?\())", random,
                    [&](const std::string& was) { return another_block(text, was, random); });
    case 6:
        return word("counted", text, R"([=+] (\d)(?![\w.]))", random,
                    [&](const std::string& was) { return off_by_one(was, random); });
    case 7: return word("fresh", text, R"(\b(fresh ))", random, [](const std::string&) { return std::string(); });
    case 8:
        return word("number", text, R"((?:[ (,])(\d+(?:\.\d+)?))", random,
                    [&](const std::string& was) { return another_number(was, random); });
    default: return plant_slip(text, random);
    }
}

} // namespace fixtures
