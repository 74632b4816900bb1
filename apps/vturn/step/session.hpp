#pragma once

/// A session of `vturn step`: a run, its stops and branches, moved by commands of one line each.

#include <cstddef>
#include <map>
#include <optional>
#include <string>
#include <vector>

#include "cli.hpp"
#include "step/words.hpp"
#include "vast_turn/step/branches.hpp"
#include "vast_turn/step/stop.hpp"
#include "vast_turn/view/picture.hpp"

namespace vturn {

/// What a session is made of. Course and robot of the scene outlive it.
struct SessionParts {
    vast_turn::Scene scene;
    vast_turn::Plan plan;
    vast_turn::RunOptions options;
    std::string call; ///< as it was called, for a saved session
};

class Session {
public:
    /// Stands at the first look.
    Session(const Streams& streams, SessionParts parts);

    /// Carries out a line and prints what came of it; an empty one and one that begins with # do nothing. `file` and
    /// `number` are what problems call the place. Throws InputError; nothing is changed then. False: it was `leave`.
    bool carry_out(const std::string& line, const std::string& file, int number);

    const vast_turn::Branches& branches() const { return branches_; }
    const vast_turn::SteppedRun& run() const { return branches_.here().run; }
    const SessionParts& parts() const { return parts_; }
    /// The plan that drives the branch in hand now.
    const vast_turn::Plan& plan() const;
    const std::vector<vast_turn::Stop>& stops() const { return stops_; }

    /// The look where it stands as a picture.
    std::string picture(vast_turn::PictureFormat format) const;

    /// Where the run stands, in one line.
    std::string where() const;
    /// The words of each command, and what it does.
    static std::vector<std::vector<std::string>> help();

private:
    using Action = void (Session::*)(Words&);
    static const std::map<std::string, Action>& actions();

    void on(Words& words);
    void back(Words& words);
    void to(Words& words);
    void stop(Words& words);
    void list_stops(Words& words);
    void drop(Words& words);
    void go(Words& words);
    void show(Words& words);
    void draw(Words& words);
    void branch(Words& words);
    void take(Words& words);
    void list_branches(Words& words);
    void beside(Words& words);
    void what_if(Words& words);
    void save(Words& words);
    void tell_help(Words& words);

    vast_turn::SteppedRun& moved() { return branches_.here().run; }
    std::optional<vast_turn::Stop> target(Words& words, const std::string& what);
    vast_turn::Stop condition(Words& words);
    vast_turn::Instead change(Words& words);
    vast_turn::Instead other_thing(Words& words);
    vast_turn::Instead other_var(Words& words);
    vast_turn::Instead other_look(Words& words);
    void stood(std::size_t before);
    void tell_stopped(const std::string& why);

    const Streams& streams_;
    SessionParts parts_;
    vast_turn::Branches branches_;
    std::vector<vast_turn::Stop> stops_;
    std::map<std::string, std::vector<std::size_t>> stood_; // by branch: looks at which it stood before it was moved on
    std::vector<std::string> done_;                         // lines, for a saved session
};

} // namespace vturn
