/// Small files and small functions, kept.
#include <filesystem>
#include <regex>
#include <sstream>
#include <string>

#include <doctest/doctest.h>

#include "vast_turn/formats/read/text_file.hpp"

namespace {

/// Lines of a file of ours.
std::vector<std::string> lines_of(const std::filesystem::path& path) {
    std::vector<std::string> lines;
    std::istringstream text(vast_turn::read_file(path.string()));
    for (std::string line; std::getline(text, line);) {
        lines.push_back(line);
    }
    return lines;
}

template <class Look> void each_source(const Look& look) {
    for (const char* folder : {"include", "src", "apps", "examples", "bench", "fuzz"}) {
        for (const auto& entry : std::filesystem::recursive_directory_iterator(folder)) {
            const std::string kind = entry.path().extension().string();
            if (kind == ".hpp" || kind == ".cpp") {
                look(entry.path(), lines_of(entry.path()));
            }
        }
    }
}

} // namespace

TEST_CASE("no source has more than 400 lines, and no function more than 60 but for tables") {
    // The laying out puts a body's last brace where its first line begins; what is shorter than that is indented more.
    const std::regex begins("^(    )?[A-Za-z\\[].*\\)( const)?( noexcept)? \\{$|^(    )?[^/]*\\) const \\{$");
    const std::regex no_function("^ *(namespace|struct|class|enum|if|for|while|switch|else|do)\\b.*");
    // Of a head over several lines the first and the last; those before the last end neither a statement nor a block.
    const std::regex first("^(    )?[A-Za-z][^=\\[]*\\([^\\[]*$");
    const std::regex ends_head("\\)( const)?( noexcept)? \\{$");
    int functions = 0;
    each_source([&](const std::filesystem::path& path, const std::vector<std::string>& lines) {
        CHECK_MESSAGE(lines.size() <= 400, path.string() << " has " << lines.size() << " lines");
        for (std::size_t i = 0; i < lines.size(); ++i) {
            std::size_t head = i; // what goes on over several lines is indented more than its first
            while (head > 0 && lines[head].find_first_not_of(' ') > 4 && !lines[head - 1].empty() &&
                   std::string(";{}").find(lines[head - 1].back()) == std::string::npos) {
                --head;
            }
            const bool several =
                head < i && std::regex_search(lines[i], ends_head) && std::regex_match(lines[head], first);
            if ((!several && !std::regex_match(lines[i], begins)) || std::regex_match(lines[head], no_function)) {
                continue;
            }
            const std::string end(lines[head].find_first_not_of(' '), ' ');
            std::size_t last = i;
            while (last + 1 < lines.size() && lines[last] != end + "}") {
                ++last;
            }
            ++functions;
            const bool table = path.filename() == "catalogue.cpp";
            CHECK_MESSAGE((last - head < 60 || table), path.string()
                                                           << ":" << i + 1 << " has " << last - i + 1 << " lines");
        }
    });
    CHECK(functions > 1000);
}

TEST_CASE("public headers have a line with a comment for at least 60 of 100 of code") {
    int code = 0;
    int comments = 0;
    for (const auto& entry : std::filesystem::recursive_directory_iterator("include")) {
        if (entry.path().extension() != ".hpp") {
            continue;
        }
        for (const std::string& line : lines_of(entry.path())) {
            const std::size_t first = line.find_first_not_of(' ');
            const std::size_t comment = line.find("//");
            code += first != std::string::npos && comment != first ? 1 : 0;
            comments += comment != std::string::npos ? 1 : 0;
        }
    }
    CHECK(100 * comments >= 60 * code);
    MESSAGE(comments << " lines with a comment for " << code << " of code");
}
