#include "commands/driven_runs.hpp"

#include <charconv>

#include <fmt/format.h>

#include "print/print.hpp"

namespace vturn {

using namespace vast_turn;

std::vector<std::string> split_quantities(const std::vector<std::string>& texts) {
    std::vector<std::string> out;
    for (const std::string& text : texts) {
        int deep = 0;
        std::string one;
        for (const char c : text + ",") {
            deep += c == '(' ? 1 : (c == ')' ? -1 : 0);
            if (c == ',' && deep <= 0) {
                if (one.find_first_not_of(' ') == std::string::npos) {
                    throw InputError("", fmt::format("--plot has an empty quantity in \"{}\"", text),
                                     "write --plot offset,left,right");
                }
                out.push_back(one.substr(one.find_first_not_of(' ')));
                one.clear();
            } else {
                one += c;
            }
        }
    }
    return out;
}

std::vector<DrivenRun> driven_runs(const Scene& scene, const std::vector<Plan>& plans, const RunOptions& options,
                                   int runs, const Run* first) {
    std::vector<std::pair<std::string, std::string>> names_and_files;
    for (const Plan& plan : plans) {
        names_and_files.emplace_back(plan.name(), plan.file());
    }
    const std::vector<std::string> names = names_apart(names_and_files);
    std::vector<DrivenRun> out;
    for (std::size_t p = 0; p < plans.size(); ++p) {
        for (int n = 0; n < runs; ++n) {
            const RunOptions own = nth_run(options, static_cast<std::uint64_t>(n));
            const std::string which =
                runs == 1 ? std::string()
                          : (own.day > 0 ? fmt::format(", day {}", own.day) : fmt::format(", seed {}", own.seed));
            out.push_back({names[p] + which, &plans[p],
                           p == 0 && n == 0 && first != nullptr ? *first : drive(scene, plans[p], own)});
        }
    }
    return out;
}

Heard heard_of(const std::string& text) {
    const std::size_t at = text.rfind('@');
    Heard heard{text.substr(0, at), 0.0};
    const char* end = text.data() + text.size();
    const char* from = at == std::string::npos ? end : text.data() + at + 1;
    const auto [stopped, error] = std::from_chars(from, end, heard.at_s);
    if (heard.name.empty() || error != std::errc{} || stopped != end || !(heard.at_s >= 0.0 && heard.at_s <= 36000.0)) {
        throw InputError("", fmt::format("--hear wants a name and its time in seconds, not \"{}\"", text),
                         "write --hear bell@4.2");
    }
    return heard;
}

} // namespace vturn
