#pragma once

/// What somebody at the bench may ask for, by a word or a key.

#include <optional>
#include <string>
#include <vector>

#include "bench/link.hpp"
#include "cli.hpp"
#include "vast_turn/bench/bench_session.hpp"
#include "vast_turn/settings/adjustable.hpp"

namespace vturn {

/// The plan whose numbers are changed on the running robot, and its file.
struct BenchSettings {
    std::string path;
    std::string text; ///< as the file had it
    vast_turn::AdjustablePlan plan;
    std::vector<double> values; ///< as the robot has them, in the units in which they are written
};

/// One bench, its robot and all that is learned of it.
class BenchActions {
public:
    /// All outlive it; `settings` may be null.
    BenchActions(const Streams& streams, vast_turn::BenchSession& session, RobotLink& link, BenchSettings* settings);

    /// Carries out a line; what there is to say of it comes back. Throws InputError for what cannot be; nothing is
    /// changed then.
    std::string carry_out(const std::string& line);
    /// Whether it was `leave`.
    bool is_left() const { return left_; }

    /// What would be said of the calibration, or what is missing for one.
    std::string verdicts() const;
    /// Where the card should be, or what came of the walk.
    std::string card_words() const;
    bool walks() const { return walks_; }

    const BenchSettings* settings() const { return settings_; }
    /// Another value for one of the settings, within what the plan allows.
    void set(std::size_t which, double value);
    /// The settings into the plan's file.
    std::string write_back();

    /// Writes a calibration (.toml), the readings (.csv) or the whole log (.log.csv).
    std::string save(const std::string& path) const;
    /// Throws InputError when the ending of a name does not say what to write.
    static void check_saves(const std::string& path);

    /// Words of each, and what it does.
    static std::vector<std::vector<std::string>> help();

private:
    using Words = std::vector<std::string>;
    std::vector<vast_turn::Setting> changed_by(const std::vector<double>& values) const;
    std::string learn(const Words& words);
    std::string stop(const Words& words);
    std::string forget(const Words& words);
    std::string use(const Words& words);
    std::string send(const Words& words);
    std::string anew(const Words& words);
    std::string card(const Words& words);
    std::string hold(const Words& words);
    std::string again(const Words& words);
    std::string set_by_name(const Words& words);
    std::string motors(const Words& words);
    std::string save_named(const Words& words);
    std::string tell_verdicts(const Words& words);
    std::string write_named(const Words& words);
    std::string leave(const Words& words);
    /// Throws InputError when there is none.
    vast_turn::CardWalk& walk();

    const Streams& streams_;
    vast_turn::BenchSession& session_;
    RobotLink& link_;
    BenchSettings* settings_;
    bool left_ = false;
    bool walks_ = false;
};

} // namespace vturn
