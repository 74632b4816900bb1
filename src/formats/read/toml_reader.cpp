#include "formats/read/toml_reader.hpp"

#include <algorithm>
#include <cmath>

#include <fmt/format.h>

#include "formats/read/toml_bounds.hpp"
#include "formats/read/toml_parts.hpp"
#include "vast_turn/base/utf8.hpp"

namespace vast_turn {

TomlText::TomlText(std::string_view text, std::string_view file)
    : parsed_(std::make_unique<Parsed>()), file_(file), text_(text) {
    line_starts_.push_back(0);
    for (std::size_t at = text_.find('\n'); at != std::string::npos; at = text_.find('\n', at + 1)) {
        line_starts_.push_back(at + 1);
    }
    if (const auto fault = fault_before_parsing(text_)) {
        const std::size_t line = static_cast<std::size_t>(
            std::upper_bound(line_starts_.begin(), line_starts_.end(), fault->at) - line_starts_.begin());
        const std::size_t start = line_starts_[line - 1];
        throw InputError({Problem{Severity::error,
                                  place_in_line(file_, static_cast<int>(line), line_text(line), fault->at - start, 1),
                                  fault->message, fault->cure}});
    }
    try {
        parsed_->root = toml::parse(text_, file_);
    } catch (const toml::parse_error& error) {
        const toml::source_position at = error.source().begin;
        throw InputError({Problem{Severity::error, place(static_cast<int>(at.line), static_cast<int>(at.column), 1),
                                  fmt::format("this is no TOML: {}", error.description()),
                                  "mend the line; texts stand in quotation marks, lists in [ ]"}});
    }
}

TomlText::~TomlText() = default;

std::string_view TomlText::line_text(std::size_t line) const {
    const std::size_t from = line_starts_[line - 1];
    const std::size_t end = std::min(text_.find('\n', from), text_.size());
    const std::string_view whole = std::string_view(text_).substr(from, end - from);
    return whole.ends_with('\r') ? whole.substr(0, whole.size() - 1) : whole;
}

TomlTable TomlText::root() {
    auto node = std::make_shared<TomlTable::Node>();
    node->table = &parsed_->root;
    return {*this, node, ""};
}

void TomlText::finish() { problems_.finish(file_); }

TomlTable::TomlTable(TomlText& text, std::shared_ptr<const Node> node, std::string name)
    : text_(&text), node_(std::move(node)), name_(std::move(name)) {}

bool TomlTable::has(const char* key) const {
    mention(key);
    return node_->table->contains(key);
}

void TomlTable::mention(const char* key) const { mentioned_.insert(key); }

bool TomlTable::is_list(const char* key) const {
    const toml::node* node = node_->table->get(key);
    return node != nullptr && node->is_array();
}

bool TomlTable::is_text(const char* key) const {
    const toml::node* node = node_->table->get(key);
    return node != nullptr && node->is_string();
}

void TomlTable::missing(const char* key, const char* kind) {
    fault(key, fmt::format("`{}` is missing{}", key, name_.empty() ? std::string{} : fmt::format(" in {}", name_)),
          fmt::format("add {} = {}", key, kind));
}

void TomlTable::wrong(const char* key, const char* kind) {
    fault(key, fmt::format("`{}` is not {}", key, kind), fmt::format("write {} = {}", key, kind));
}

namespace {

std::optional<double> as_number(const toml::node* node) {
    if (node == nullptr || !(node->is_integer() || node->is_floating_point())) {
        return std::nullopt;
    }
    return node->value<double>();
}

bool inside(double x, Range range) { return x >= range.low && x <= range.high; }

} // namespace

double TomlTable::number(const char* key, Range range, std::optional<double> fallback) {
    known_.insert(key);
    const double safe = fallback.value_or(std::max(range.low, std::min(range.high, 1.0)));
    const toml::node* node = node_->table->get(key);
    if (node == nullptr) {
        if (!fallback) {
            missing(key, "a number");
        }
        return safe;
    }
    const auto value = as_number(node);
    if (!value) {
        wrong(key, "a number");
        return safe;
    }
    if (!inside(*value, range)) {
        fault(key, fmt::format("`{}` is {:g}, expected {:g} to {:g}", key, *value, range.low, range.high),
              fmt::format("write a number from {:g} to {:g}", range.low, range.high));
        return safe;
    }
    return *value;
}

std::optional<double> TomlTable::optional_number(const char* key, Range range) {
    known_.insert(key);
    return has(key) ? std::optional{number(key, range)} : std::nullopt;
}

int TomlTable::whole(const char* key, Range range, std::optional<int> fallback) {
    const double value = number(key, range, fallback ? std::optional<double>{*fallback} : std::nullopt);
    if (has(key) && (value < std::floor(value) || value > std::floor(value))) {
        wrong(key, "a whole number");
    }
    return static_cast<int>(value);
}

bool TomlTable::flag(const char* key, bool fallback) {
    known_.insert(key);
    const toml::node* node = node_->table->get(key);
    if (node != nullptr && !node->is_boolean()) {
        wrong(key, "true or false");
        return fallback;
    }
    return node == nullptr ? fallback : *node->value<bool>();
}

std::string TomlTable::text(const char* key, const std::optional<std::string>& fallback) {
    known_.insert(key);
    const toml::node* node = node_->table->get(key);
    if (node == nullptr) {
        if (!fallback) {
            missing(key, "\"a text\"");
        }
        return fallback.value_or("");
    }
    if (!node->is_string()) {
        wrong(key, "\"a text\"");
        return fallback.value_or("");
    }
    return *node->value<std::string>();
}

std::string TomlTable::one_of(const char* key, const std::vector<std::string>& known,
                              const std::optional<std::string>& fallback) {
    std::string value = text(key, fallback);
    if (has(key) && node_->table->get(key)->is_string() &&
        std::find(known.begin(), known.end(), value) == known.end()) {
        fault(key, fmt::format("`{}` is \"{}\"{}", key, value, did_you_mean(value, known)),
              fmt::format("write one of {}", vast_turn::one_of(known)));
    }
    return value;
}

Rgb TomlTable::colour(const char* key, std::optional<Rgb> fallback) {
    known_.insert(key);
    const toml::node* node = node_->table->get(key);
    if (node == nullptr) {
        if (!fallback) {
            missing(key, "\"#E69A17\"");
        }
        return fallback.value_or(Rgb{});
    }
    const auto value = node->is_string() ? parse_colour(*node->value<std::string>()) : std::nullopt;
    if (!value) {
        fault(key, fmt::format("`{}` is no colour", key), "write it as \"#RRGGBB\", for example \"#E69A17\"");
    }
    return value.value_or(fallback.value_or(Rgb{}));
}

namespace {

std::optional<Vec2> as_pair(const toml::node& node, Range range) {
    const toml::array* list = node.as_array();
    if (list == nullptr || list->size() != 2) {
        return std::nullopt;
    }
    const auto x = as_number(list->get(0));
    const auto y = as_number(list->get(1));
    return x && y && inside(*x, range) && inside(*y, range) ? std::optional{Vec2{*x, *y}} : std::nullopt;
}

} // namespace

Vec2 TomlTable::pair(const char* key, Range range, std::optional<Vec2> fallback) {
    known_.insert(key);
    const toml::node* node = node_->table->get(key);
    if (node == nullptr) {
        if (!fallback) {
            missing(key, "[x, y]");
        }
        return fallback.value_or(Vec2{});
    }
    const auto value = as_pair(*node, range);
    if (!value) {
        fault(key, fmt::format("`{}` is not a pair of numbers from {:g} to {:g}", key, range.low, range.high),
              fmt::format("write {} = [x, y]", key));
    }
    return value.value_or(fallback.value_or(Vec2{}));
}

std::vector<Vec2> TomlTable::pairs(const char* key, Range range) {
    known_.insert(key);
    std::vector<Vec2> list;
    const toml::node* node = node_->table->get(key);
    if (node == nullptr) {
        return list;
    }
    const toml::array* array = node->as_array();
    if (array == nullptr) {
        wrong(key, "[[from, length], ...]");
        return list;
    }
    for (const toml::node& entry : *array) {
        const auto value = as_pair(entry, range);
        if (!value) {
            fault(key,
                  fmt::format("`{}` is not a list of pairs of numbers from {:g} to {:g}", key, range.low, range.high),
                  fmt::format("write {} = [[310, 40]]", key));
            return list;
        }
        list.push_back(*value);
    }
    return list;
}

std::vector<double> TomlTable::numbers(const char* key, Range range) {
    known_.insert(key);
    std::vector<double> list;
    const toml::node* node = node_->table->get(key);
    const toml::array* array = node != nullptr ? node->as_array() : nullptr;
    for (std::size_t i = 0; array != nullptr && i < array->size(); ++i) {
        const std::optional<double> value = array->get(i)->value<double>();
        if (value && *value >= range.low && *value <= range.high) {
            list.push_back(*value);
        }
    }
    if (array == nullptr || list.empty() || list.size() != array->size()) {
        fault(key, fmt::format("`{}` is not a list of numbers from {:g} to {:g}", key, range.low, range.high),
              fmt::format("write {} = [19, 30]", key));
        return {};
    }
    return list;
}

std::vector<std::string> TomlTable::texts(const char* key) {
    known_.insert(key);
    std::vector<std::string> list;
    const toml::node* node = node_->table->get(key);
    if (node == nullptr) {
        missing(key, "[\"a\", \"b\"]");
        return list;
    }
    const toml::array* array = node->as_array();
    for (std::size_t i = 0; array != nullptr && i < array->size(); ++i) {
        if (!array->get(i)->is_string()) {
            array = nullptr;
        } else {
            list.push_back(*array->get(i)->value<std::string>());
        }
    }
    if (array == nullptr) {
        wrong(key, "a list of texts, [\"a\", \"b\"]");
    }
    return list;
}

TomlTable TomlTable::table(const char* key, bool required) {
    known_.insert(key);
    auto node = std::make_shared<Node>();
    node->table = &text_->parsed_->nothing;
    const toml::node* value = node_->table->get(key);
    if (value == nullptr && required) {
        missing(key, "{ ... }");
    } else if (value != nullptr && !value->is_table()) {
        wrong(key, "a table, { ... }");
    } else if (value != nullptr) {
        node->table = value->as_table();
    }
    return {*text_, node, fmt::format("[{}]", key)};
}

std::vector<TomlTable> TomlTable::tables(const char* key) {
    known_.insert(key);
    std::vector<TomlTable> list;
    const toml::node* value = node_->table->get(key);
    if (value == nullptr) {
        return list;
    }
    const toml::array* array = value->as_array();
    if (array == nullptr ||
        !std::all_of(array->begin(), array->end(), [](const toml::node& n) { return n.is_table(); })) {
        wrong(key, fmt::format("a list of tables; each begins with [[{}]]", key).c_str());
        return list;
    }
    for (const toml::node& entry : *array) {
        auto node = std::make_shared<Node>();
        node->table = entry.as_table();
        list.push_back({*text_, node, fmt::format("[[{}]]", key)});
    }
    return list;
}

std::vector<std::string> TomlTable::all_keys() {
    std::vector<std::string> keys;
    for (const auto& [key, value] : *node_->table) {
        keys.emplace_back(key.str());
        known_.insert(keys.back());
    }
    return keys;
}

void TomlTable::done() {
    std::set<std::string> all = known_;
    all.insert(mentioned_.begin(), mentioned_.end());
    const std::vector<std::string> names(all.begin(), all.end());
    for (const auto& [key, value] : *node_->table) {
        const std::string name(key.str());
        if (known_.contains(name)) {
            continue;
        }
        const toml::source_region at = key.source();
        text_->problems_.add_error(
            [&] {
                return text_->place(static_cast<int>(at.begin.line), static_cast<int>(at.begin.column),
                                    static_cast<int>(characters_in(name)));
            },
            mentioned_.contains(name)
                ? fmt::format("`{}` does not go with what else stands {}", name, name_.empty() ? "here" : "in " + name_)
                : fmt::format("`{}` is no key{}{}", name, name_.empty() ? std::string{} : fmt::format(" of {}", name_),
                              did_you_mean(name, names)),
            fmt::format("keys here are {}", vast_turn::one_of(names)));
    }
}

} // namespace vast_turn
