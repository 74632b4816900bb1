#include "formats/read/file_kind.hpp"

#include <array>
#include <string>

#include <fmt/format.h>

#include "vast_turn/base/problem.hpp"

namespace vast_turn {

namespace {

struct Sign {
    std::string_view begins; ///< a line that begins so
    FileKind kind;
};

/// Only what no other kind of file has. Trips stand in courses too, so they come last.
constexpr std::array<Sign, 21> signs = {{{"[[piece]]", FileKind::pieces},
                                         {"side_mm", FileKind::pieces},
                                         {"shuffled", FileKind::course},
                                         {"layout", FileKind::course},
                                         {"pieces", FileKind::course},
                                         {"[[tape]]", FileKind::course},
                                         {"[[start]]", FileKind::course},
                                         {"[[marker]]", FileKind::course},
                                         {"[[place]]", FileKind::course},
                                         {"size_mm", FileKind::course},
                                         {"drawing", FileKind::course},
                                         {"track_mm", FileKind::robot},
                                         {"wheel_mm", FileKind::robot},
                                         {"top_speed_mm_s", FileKind::robot},
                                         {"[motors]", FileKind::robot},
                                         {"line_counts", FileKind::calibration},
                                         {"threshold_counts", FileKind::calibration},
                                         {"under,", FileKind::readings},
                                         {"under;", FileKind::readings},
                                         {"time_s,", FileKind::log},
                                         {"[[trip]]", FileKind::trips}}};

constexpr std::string_view name_of(FileKind kind) {
    switch (kind) {
    case FileKind::plan: return "a plan";
    case FileKind::course: return "a course";
    case FileKind::robot: return "a robot";
    case FileKind::calibration: return "a calibration";
    case FileKind::trips: return "a file of trips";
    case FileKind::pieces: return "a file of pieces";
    case FileKind::readings: return "a table of bench readings";
    case FileKind::log: return "a log";
    case FileKind::svg: return "an SVG drawing";
    case FileKind::png: return "a PNG picture";
    case FileKind::jpeg: return "a JPEG picture";
    case FileKind::pdf: return "a PDF";
    case FileKind::unknown: break;
    }
    return "";
}

std::string_view without_blanks(std::string_view text) {
    const std::size_t from = text.find_first_not_of(" \t\r\n");
    return from == std::string_view::npos ? std::string_view{} : text.substr(from);
}

bool is_svg(std::string_view text) {
    constexpr std::size_t head = 4096;
    return text.starts_with('<') && text.substr(0, head).find("<svg") != std::string_view::npos;
}

FileKind kind_of_lines(std::string_view text) {
    std::array<bool, signs.size()> seen{};
    bool is_first = true;
    constexpr std::size_t most = 64 * 1024;
    text = text.substr(0, most);
    while (!text.empty()) {
        const std::size_t end = text.find('\n');
        const std::string_view line = without_blanks(text.substr(0, end));
        text = end == std::string_view::npos ? std::string_view{} : text.substr(end + 1);
        if (line.empty() || line.front() == '#' || line.starts_with("//")) {
            continue;
        }
        if (is_first && line.starts_with("plan") && without_blanks(line.substr(4)).starts_with('"')) {
            return FileKind::plan;
        }
        is_first = false;
        for (std::size_t i = 0; i < signs.size(); ++i) {
            seen[i] = seen[i] || line.starts_with(signs[i].begins);
        }
    }
    for (std::size_t i = 0; i < signs.size(); ++i) {
        if (seen[i]) {
            return signs[i].kind;
        }
    }
    return FileKind::unknown;
}

std::string cure_for(FileKind is, FileKind wanted) {
    const bool picture = is == FileKind::svg || is == FileKind::png || is == FileKind::jpeg || is == FileKind::pdf;
    if (picture && wanted == FileKind::course) {
        return "write a course file that names it: drawing = \"...\"";
    }
    return "give files where the command's help says: course, robot, plan in this order, others by their options";
}

} // namespace

FileKind kind_of(std::string_view text) {
    if (text.starts_with("\x89PNG")) {
        return FileKind::png;
    }
    if (text.starts_with("\xFF\xD8\xFF")) {
        return FileKind::jpeg;
    }
    if (text.starts_with("%PDF-")) {
        return FileKind::pdf;
    }
    if (text.starts_with("\xEF\xBB\xBF")) {
        text.remove_prefix(3);
    }
    return is_svg(without_blanks(text)) ? FileKind::svg : kind_of_lines(text);
}

void expect_kind(std::string_view text, std::string_view file, FileKind wanted) {
    const FileKind is = kind_of(text);
    const auto is_table = [](FileKind kind) { return kind == FileKind::readings || kind == FileKind::log; };
    const bool may_serve = (wanted == FileKind::trips && is == FileKind::course) || (is_table(wanted) && is_table(is));
    if (is != FileKind::unknown && is != wanted && !may_serve) {
        throw InputError(std::string(file), fmt::format("this is {}, expected {}", name_of(is), name_of(wanted)),
                         cure_for(is, wanted));
    }
}

} // namespace vast_turn
