#pragma once

/// Reads tables of a TOML text with checks: every key known, every value of its kind and in range,
/// every fault with its place.

#include <memory>
#include <optional>
#include <set>
#include <string>
#include <string_view>
#include <utility>
#include <vector>

#include "vast_turn/base/colour.hpp"
#include "vast_turn/base/geometry.hpp"
#include "vast_turn/base/problem.hpp"

namespace vast_turn {

/// What a number may be.
struct Range {
    double low;
    double high;
};
inline constexpr Range any_number{-1e6, 1e6};
inline constexpr Range not_negative{0.0, 1e6};

class TomlText;

/// One table. Faults are collected in the text; a faulty value reads as its default, so that one
/// pass finds several faults.
class TomlTable {
public:
    /// A number; `fallback` when the key is absent, a fault when there is no fallback either.
    double number(const char* key, Range range, std::optional<double> fallback = std::nullopt);
    std::optional<double> optional_number(const char* key, Range range);
    int whole(const char* key, Range range, std::optional<int> fallback = std::nullopt);
    bool flag(const char* key, bool fallback);
    std::string text(const char* key, const std::optional<std::string>& fallback = std::nullopt);
    std::string one_of(const char* key, const std::vector<std::string>& known,
                       const std::optional<std::string>& fallback = std::nullopt);
    Rgb colour(const char* key, std::optional<Rgb> fallback = std::nullopt);
    Vec2 pair(const char* key, Range range, std::optional<Vec2> fallback = std::nullopt);
    std::vector<Vec2> pairs(const char* key, Range range);
    std::vector<std::string> texts(const char* key);
    /// A list of numbers, at least one.
    std::vector<double> numbers(const char* key, Range range);
    /// A table below this one; an empty one when it is absent and not required.
    TomlTable table(const char* key, bool required = false);
    std::vector<TomlTable> tables(const char* key);
    bool has(const char* key) const;
    /// A key that may stand here in another case: for the list of keys when one is unknown.
    void mention(const char* key) const;
    /// Whether there is a list under this key.
    bool is_list(const char* key) const;
    bool is_text(const char* key) const;
    /// All keys of the table, for tables whose keys are names; marks them as known.
    std::vector<std::string> all_keys();

    /// The lines, from 1, that a value takes together with its key; of a table with a header those of all it holds.
    std::pair<int, int> lines_of(const char* key) const;
    /// Line from 1 where the table stands.
    int line() const;
    /// Reports a fault at the value of a key (or at the table when it is absent). `skip` moves the
    /// place that many characters into a text value.
    void fault(const char* key, std::string message, std::string cure, std::optional<std::size_t> skip = std::nullopt);
    /// The same at a line and column, from 1, of a text value that may run over several lines.
    void fault_in_text(const char* key, int line, int column, int length, std::string message, std::string cure);
    /// Reports every key that nobody asked for.
    void done();

private:
    friend class TomlText;
    struct Node;
    TomlTable(TomlText& text, std::shared_ptr<const Node> node, std::string name);
    void missing(const char* key, const char* kind);
    void wrong(const char* key, const char* kind);

    TomlText* text_;
    std::shared_ptr<const Node> node_;
    std::string name_;
    std::set<std::string> known_;
    mutable std::set<std::string> mentioned_; // that were asked about
};

/// A whole TOML text.
class TomlText {
public:
    /// Throws InputError when the text is no TOML.
    TomlText(std::string_view text, std::string_view file);
    ~TomlText();
    TomlText(const TomlText&) = delete;
    TomlText& operator=(const TomlText&) = delete;

    TomlTable root();
    /// Throws InputError with all faults found, in the order of their places, if there are any.
    void finish();

private:
    friend class TomlTable;
    Place place(int line, int column, int length) const;
    /// A line of the text, from 1, without its end.
    std::string_view line_text(std::size_t line) const;

    struct Parsed;
    std::unique_ptr<Parsed> parsed_;
    std::string file_;
    std::string text_;
    std::vector<std::size_t> line_starts_;
    ProblemList problems_;
};

} // namespace vast_turn
