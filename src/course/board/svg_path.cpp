#include "vast_turn/course/board/svg_path.hpp"

#include <algorithm>
#include <cctype>
#include <charconv>
#include <cmath>
#include <utility>

#include <fmt/format.h>

#include "course/board/flatten.hpp"

namespace vast_turn {

namespace {

constexpr double largest_number = 1e6;
constexpr std::size_t most_points = 200'000;

bool is_command(char c) { return std::string_view("MmZzLlHhVvCcSsQqTtAa").find(c) != std::string_view::npos; }

class PathReader {
public:
    PathReader(std::string_view text, double tolerance) : text_(text), tolerance_(tolerance) {}

    PathResult read() {
        PathResult result;
        try {
            run();
            finish();
            result.paths = std::move(paths_);
            if (result.paths.empty()) {
                fail(0, "the path draws nothing", "begin with M x,y and go on with L, H, V, C, S, Q, T or A");
            }
        } catch (PathFault& fault) {
            result.paths.clear();
            result.fault = std::move(fault);
        }
        return result;
    }

private:
    [[noreturn]] static void fail(std::size_t at, std::string message, std::string cure) {
        throw PathFault{at, std::move(message), std::move(cure)};
    }

    [[noreturn]] void no_command(std::size_t at) const {
        fail(at, fmt::format("`{}` is no command of a path", text_[at]),
             "commands are M L H V C S Q T A Z, small letters for relative");
    }

    void skip_blanks() {
        while (at_ < text_.size() && std::isspace(static_cast<unsigned char>(text_[at_])) != 0) {
            ++at_;
        }
    }
    void skip_comma() {
        skip_blanks();
        if (at_ < text_.size() && text_[at_] == ',') {
            ++at_;
            skip_blanks();
        }
    }
    bool more_numbers() {
        skip_comma();
        return at_ < text_.size() && !is_command(text_[at_]);
    }

    double number() {
        skip_comma();
        const std::size_t from = at_;
        std::size_t first = at_;
        if (first < text_.size() && text_[first] == '+') {
            ++first;
        }
        double value = 0.0;
        const auto [end, error] = std::from_chars(text_.data() + first, text_.data() + text_.size(), value);
        if (error == std::errc::result_out_of_range || (error == std::errc{} && !(std::abs(value) <= largest_number))) {
            fail(from, "this number is out of range", "numbers of a path lie within 1000000 of 0");
        }
        if (error != std::errc{}) {
            if (from < text_.size() && std::isalpha(static_cast<unsigned char>(text_[from])) != 0 &&
                !is_command(text_[from])) {
                no_command(from);
            }
            const std::string seen = from < text_.size() ? fmt::format("`{}`", text_[from]) : "the end of the path";
            fail(from, fmt::format("expected a number for {} here, found {}", command_, seen),
                 fmt::format("{} takes {}", command_, takes()));
        }
        at_ = static_cast<std::size_t>(end - text_.data());
        return value;
    }

    /// A flag of an arc may stand without a blank behind it.
    bool flag() {
        skip_comma();
        if (at_ >= text_.size() || (text_[at_] != '0' && text_[at_] != '1')) {
            fail(std::min(at_, text_.size()), "expected a flag of the arc here, 0 or 1",
                 fmt::format("{} takes {}", command_, takes()));
        }
        return text_[at_++] == '1';
    }

    const char* takes() const {
        switch (std::toupper(static_cast<unsigned char>(command_))) {
        case 'H': return "x";
        case 'V': return "y";
        case 'C': return "x1,y1 x2,y2 x,y";
        case 'S': return "x2,y2 x,y";
        case 'Q': return "x1,y1 x,y";
        case 'A': return "rx,ry turn large-flag sweep-flag x,y";
        default: return "x,y";
        }
    }

    Vec2 point() {
        const double x = number();
        const double y = number();
        return relative_ ? pen_ + Vec2{x, y} : Vec2{x, y};
    }

    void run() {
        skip_blanks();
        while (at_ < text_.size()) {
            const char c = text_[at_];
            if (!is_command(c)) {
                no_command(at_);
            }
            if (!begun_ && c != 'M' && c != 'm') {
                fail(at_, fmt::format("a path begins with M, found {}", c), "put M x,y first");
            }
            ++at_;
            command_ = c;
            relative_ = c >= 'a';
            command();
            skip_blanks();
        }
    }

    void command() {
        const char kind = static_cast<char>(std::toupper(static_cast<unsigned char>(command_)));
        if (kind == 'Z') {
            close();
            return;
        }
        bool first = true;
        do {
            one(kind, first);
            first = false;
            if (points_ + current_.points.size() > most_points) {
                fail(at_, "the path has too many points", "draw it with fewer, longer pieces");
            }
        } while (more_numbers());
    }

    void one(char kind, bool first) {
        if (kind == 'M' && first) {
            move_to(point());
            return;
        }
        const Vec2 before = pen_;
        Vec2 handle = before;
        char handle_kind = ' ';
        switch (kind) {
        case 'H': line_to({number() + (relative_ ? pen_.x : 0.0), pen_.y}); break;
        case 'V': line_to({pen_.x, number() + (relative_ ? pen_.y : 0.0)}); break;
        case 'C':
        case 'S': {
            const Vec2 c1 = kind == 'C' ? point() : reflected('C');
            const Vec2 c2 = point();
            const Vec2 to = point();
            append(flatten_cubic(before, c1, c2, to, tolerance_));
            handle = c2;
            handle_kind = 'C';
            break;
        }
        case 'Q':
        case 'T': {
            const Vec2 c = kind == 'Q' ? point() : reflected('Q');
            const Vec2 to = point();
            append(flatten_cubic(before, before + (2.0 / 3.0) * (c - before), to + (2.0 / 3.0) * (c - to), to,
                                 tolerance_));
            handle = c;
            handle_kind = 'Q';
            break;
        }
        case 'A': arc(); break;
        default: line_to(point()); break;
        }
        handle_ = handle;
        handle_kind_ = handle_kind;
    }

    Vec2 reflected(char kind) const { return handle_kind_ == kind ? pen_ + (pen_ - handle_) : pen_; }

    void arc() {
        Arc a;
        a.from = pen_;
        a.rx = number();
        a.ry = number();
        a.turn_deg = number();
        a.large = flag();
        a.sweep = flag();
        a.to = point();
        append(flatten_arc(a, tolerance_));
    }

    void move_to(Vec2 p) {
        finish();
        begun_ = true;
        pen_ = start_ = p;
        handle_kind_ = ' ';
    }
    void line_to(Vec2 p) { append({p}); }

    void append(const std::vector<Vec2>& points) {
        if (current_.points.empty()) {
            current_.points.push_back(pen_);
        }
        for (const Vec2 p : points) {
            if (!(p == current_.points.back())) {
                current_.points.push_back(p);
            }
            pen_ = p;
        }
    }

    void close() {
        if (current_.points.size() > 1 && current_.points.back() == current_.points.front()) {
            current_.points.pop_back();
        }
        current_.closed = true;
        finish();
        pen_ = start_;
        handle_kind_ = ' ';
    }

    void finish() {
        if (current_.points.size() > 1) {
            points_ += current_.points.size();
            paths_.push_back(std::move(current_));
        }
        current_ = {};
    }

    std::string_view text_;
    double tolerance_;
    std::size_t at_ = 0;
    char command_ = 'M';
    bool relative_ = false;
    bool begun_ = false;
    Vec2 pen_;
    Vec2 start_;
    Vec2 handle_;
    char handle_kind_ = ' ';
    SubPath current_;
    std::vector<SubPath> paths_;
    std::size_t points_ = 0;
};

} // namespace

PathResult parse_svg_path(std::string_view text, double tolerance) { return PathReader(text, tolerance).read(); }

} // namespace vast_turn
