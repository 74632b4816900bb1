#include "vast_turn/step/branches.hpp"

#include <algorithm>
#include <utility>

#include <fmt/format.h>

namespace vast_turn {

namespace {

bool decided_alike(const LookRecord& a, const LookRecord& b) {
    const auto same = [](float x, float y) { return !(x < y) && !(y < x); };
    return a.line_bits == b.line_bits && a.rule == b.rule && a.block == b.block && same(a.left_pct, b.left_pct) &&
           same(a.right_pct, b.right_pct);
}

} // namespace

Branches::Branches(SteppedRun trunk, std::size_t most_bytes) : most_bytes_(most_bytes) {
    list_.push_back({"trunk", "", 0, std::move(trunk)});
}

RunBranch& Branches::part(const std::string& name) {
    constexpr std::size_t most = 64;
    const bool taken = std::any_of(list_.begin(), list_.end(), [&](const RunBranch& one) { return one.name == name; });
    if (name.empty() || taken) {
        throw InputError("",
                         name.empty() ? "a branch wants a name" : fmt::format("there is a branch \"{}\" already", name),
                         "choose another name");
    }
    if (list_.size() >= most) {
        throw InputError("", fmt::format("there are {} branches already", most), "go on with one of them");
    }
    std::size_t bytes = here().run.memory_bytes();
    for (const RunBranch& one : list_) {
        bytes += one.run.memory_bytes();
    }
    if (bytes > most_bytes_) {
        throw InputError("", fmt::format("with one more the branches would take {} MB", bytes / 1'000'000),
                         "part from an earlier look, or give the runs a shorter time limit");
    }
    list_.push_back({name, here().name, here().run.at(), here().run});
    at_ = list_.size() - 1;
    return here();
}

const RunBranch& Branches::find(const std::string& name) const {
    std::vector<std::string> names;
    for (const RunBranch& one : list_) {
        if (one.name == name) {
            return one;
        }
        names.push_back(one.name);
    }
    throw InputError("", fmt::format("there is no branch \"{}\"{}", name, did_you_mean(name, names)),
                     fmt::format("there {} {}", names.size() == 1 ? "is" : "are", one_of(names)));
}

RunBranch& Branches::take(const std::string& name) {
    const RunBranch& found = find(name);
    at_ = static_cast<std::size_t>(
        std::find_if(list_.begin(), list_.end(), [&](const RunBranch& one) { return &one == &found; }) - list_.begin());
    return here();
}

RunsApart runs_apart(const Run& a, const Run& b, double apart_mm) {
    RunsApart out;
    const std::size_t both = std::min(a.looks.size(), b.looks.size());
    for (std::size_t i = 0; i < both; ++i) {
        if (!out.look && !decided_alike(a.looks[i], b.looks[i])) {
            out.look = i;
            out.t_s = a.looks[i].t_s;
        }
        const double mm = length(a.looks[i].at - b.looks[i].at);
        out.most_mm = std::max(out.most_mm, mm);
        if (!out.way && mm > apart_mm) {
            out.way = i;
            out.way_t_s = a.looks[i].t_s;
        }
    }
    if (!out.look && a.looks.size() != b.looks.size()) {
        out.look = both;
        out.t_s = (a.looks.size() > both ? a : b).looks[both].t_s;
    }
    return out;
}

} // namespace vast_turn
