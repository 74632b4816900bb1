#include "vast_turn/formats/read/robot_text.hpp"

#include <algorithm>
#include <charconv>
#include <sstream>

#include <fmt/format.h>
#include <toml++/toml.h>

#include "vast_turn/base/problem.hpp"
#include "vast_turn/base/utf8.hpp"
#include "vast_turn/formats/read/robot_file.hpp"

namespace vast_turn {

namespace {

/// Bytes of a text to be replaced.
struct Edit {
    std::size_t from = 0;
    std::size_t size = 0;
    std::string put;
};

class RobotText {
public:
    RobotText(std::string_view text, const std::string& file) : text_(text), root_(toml::parse(text, file)) {
        line_end_ = text_.find("\r\n") != std::string::npos ? "\r\n" : "\n";
        starts_.push_back(0);
        for (std::size_t at = text_.find('\n'); at != std::string::npos; at = text_.find('\n', at + 1)) {
            starts_.push_back(at + 1);
        }
    }

    void change(const Setting& change) {
        std::vector<std::string> parts;
        std::istringstream in(change.name);
        for (std::string part; std::getline(in, part, '.');) {
            parts.push_back(part);
        }
        put(root_, parts, 0, change.value);
    }

    std::string text() {
        std::stable_sort(edits_.begin(), edits_.end(), [](const Edit& a, const Edit& b) { return a.from < b.from; });
        std::string out;
        std::size_t at = 0;
        for (const Edit& edit : edits_) {
            out += text_.substr(at, edit.from - at) + edit.put;
            at = edit.from + edit.size;
        }
        out += text_.substr(at);
        if (!tail_.empty()) {
            out += (out.empty() || out.back() == '\n' ? "" : line_end_) + tail_;
        }
        return out;
    }

private:
    /// Columns of TOML count characters.
    std::size_t byte_of(const toml::source_position& place) const {
        std::size_t at = starts_[std::min<std::size_t>(place.line, starts_.size()) - 1];
        for (toml::source_index column = 1; column < place.column && at < text_.size(); ++column) {
            at += std::max<std::size_t>(1, first_character(std::string_view(text_).substr(at)).bytes);
        }
        return at;
    }

    void insert_line(std::size_t at, const std::string& line) { edits_.push_back({at, 0, line + line_end_}); }

    /// The begin of the line behind the one in which this lies.
    std::size_t next_line(std::size_t at) {
        const std::size_t end = text_.find('\n', at);
        if (end == std::string::npos) {
            text_ += line_end_;
            return text_.size();
        }
        return end + 1;
    }

    void put(const toml::table& table, const std::vector<std::string>& parts, std::size_t depth,
             const std::string& value) {
        const toml::node* node = table.get(parts[depth]);
        if (node == nullptr) {
            return add(table, parts, depth, value);
        }
        if (depth + 1 == parts.size()) {
            const std::size_t from = byte_of(node->source().begin);
            edits_.push_back({from, byte_of(node->source().end) - from, value});
            return;
        }
        if (const toml::array* list = node->as_array()) {
            std::size_t number = 0;
            const std::string& part = parts[depth + 1];
            std::from_chars(part.data(), part.data() + part.size(), number);
            if (const toml::node* one = number > 0 && number <= list->size() ? list->get(number - 1) : nullptr) {
                return put(*one->as_table(), parts, depth + 2, value);
            }
        } else if (const toml::table* inner = node->as_table()) {
            return put(*inner, parts, depth + 1, value);
        }
        throw InputError("",
                         fmt::format("there is no place for {} in the robot file",
                                     [&] {
                                         std::string key = parts.front();
                                         for (std::size_t i = 1; i < parts.size(); ++i) {
                                             key += "." + parts[i];
                                         }
                                         return key;
                                     }()),
                         "write it there by hand");
    }

    /// "left = { gain = 0.97 }" from here on.
    static std::string assignment(const std::vector<std::string>& parts, std::size_t depth, const std::string& value) {
        return depth + 1 == parts.size() ? parts[depth] + " = " + value
                                         : parts[depth] + " = { " + assignment(parts, depth + 1, value) + " }";
    }

    void add(const toml::table& table, const std::vector<std::string>& parts, std::size_t depth,
             const std::string& value) {
        if (&table == &root_) {
            return add_to_root(parts, value);
        }
        const std::size_t begin = byte_of(table.source().begin);
        if (table.is_inline()) {
            const std::size_t inside = begin + 1;
            const std::size_t next = text_.find_first_not_of(" \t", inside);
            const bool empty = next != std::string::npos && text_[next] == '}';
            edits_.push_back({inside, 0, " " + assignment(parts, depth, value) + (empty ? " " : ",")});
            return;
        }
        insert_line(next_line(begin), assignment(parts, depth, value));
    }

    /// Before the first table, or as a table of its own at the end; further keys of a new table go there too.
    void add_to_root(const std::vector<std::string>& parts, const std::string& value) {
        if (parts.size() == 1) {
            std::size_t at = 0;
            for (const auto& [key, node] : root_) {
                const bool is_key = !node.is_array_of_tables() && !(node.is_table() && !node.as_table()->is_inline());
                at = is_key ? std::max(at, next_line(byte_of(node.source().end))) : at;
            }
            return insert_line(at, assignment(parts, 0, value));
        }
        const std::string head = "[" + parts.front() + "]";
        if (tail_.find(head + line_end_) == std::string::npos) {
            tail_ += line_end_ + head + line_end_;
        }
        const std::size_t at = tail_.find(head + line_end_) + head.size() + line_end_.size();
        tail_.insert(at, assignment(parts, 1, value) + line_end_);
    }

    std::string text_;
    toml::table root_;
    std::string line_end_;
    std::vector<std::size_t> starts_;
    std::vector<Edit> edits_;
    std::string tail_;
};

} // namespace

std::string robot_text_with(std::string_view text, const std::string& file, const std::vector<Setting>& changes) {
    parse_robot(text, file); // its own faults at their places
    RobotText robot(text, file);
    for (const Setting& change : changes) {
        robot.change(change);
    }
    std::string changed = robot.text();
    parse_robot(changed, file);
    return changed;
}

} // namespace vast_turn
