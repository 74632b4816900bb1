#include "vast_turn/sim/stepped_run.hpp"

#include <algorithm>
#include <cassert>
#include <cmath>

#include <fmt/format.h>

#include "sim/driver.hpp"
#include "sim/run_ground.hpp"

namespace vast_turn {

namespace {

constexpr std::size_t most_saved = 128;
constexpr double most_looks = 4e6; // each is recorded

void check_length(const Scene& scene, const RunOptions& options) {
    const double looks = options.time_limit_s * 1000.0 / std::max(scene.robot().look_ms, options.step_ms);
    if (looks > most_looks) {
        throw InputError("",
                         fmt::format("in {:g} s it would look {:.0f} times, and a run of more than {:.0f} looks is not "
                                     "stepped",
                                     options.time_limit_s, looks, most_looks),
                         "give it a shorter time limit");
    }
}

/// The bits of what is called so in one list, for another list.
std::uint16_t renumbered(std::uint16_t bits, const std::vector<std::string>& from, const std::vector<std::string>& to) {
    unsigned out = 0;
    for (std::size_t i = 0; i < to.size(); ++i) {
        const auto at = static_cast<std::size_t>(std::find(from.begin(), from.end(), to[i]) - from.begin());
        out |= at < from.size() && ((bits >> at) & 1U) != 0 ? 1U << i : 0U;
    }
    return static_cast<std::uint16_t>(out);
}

} // namespace

struct SteppedRun::Setting {
    RunOptions asked; // as given, not as the day makes them
    RunGround ground;

    Setting(const Scene& scene, const AskedNames& names, const RunOptions& options)
        : asked(options), ground(scene, names, options) {}
};

/// How much of the run had been recorded.
struct SteppedRun::Recorded {
    std::size_t looks = 0;
    std::size_t told = 0;
    std::size_t events = 0;
    std::size_t visits = 0;
    std::size_t touches = 0;
    std::uint32_t unanswered = 0;

    explicit Recorded(const Run& run)
        : looks(run.looks.size()), told(run.told.size()), events(run.events.size()), visits(run.visits.size()),
          touches(run.touches.size()), unanswered(run.unanswered) {}

    /// What a longer recording of the same run has up to there; how it ended is left open.
    void take_from(const Run& longer, Run& run) const {
        take(longer.looks, looks, run.looks);
        take(longer.told, told, run.told);
        take(longer.events, events, run.events);
        take(longer.visits, visits, run.visits);
        take(longer.touches, touches, run.touches);
        run.unanswered = unanswered;
        run.looks_done = static_cast<std::uint32_t>(looks);
        const Run fresh;
        run.ending = fresh.ending;
        run.ended_because.clear();
        run.time_s = run.way_mm = run.turned_deg = run.slid_s = 0.0;
        run.end_at = fresh.end_at;
    }

    /// One list as far as it is wanted; both begin alike.
    template <class Entry>
    static void take(const std::vector<Entry>& longer, std::size_t wanted, std::vector<Entry>& list) {
        if (list.size() > wanted) {
            list.resize(wanted);
        } else {
            const auto from = longer.begin();
            list.insert(list.end(), from + static_cast<std::ptrdiff_t>(list.size()),
                        from + static_cast<std::ptrdiff_t>(wanted));
        }
    }
};

struct SteppedRun::Saved {
    std::shared_ptr<const Setting> setting;
    Driver driver;
    Logic logic;
    Answer said;
    Recorded recorded;
};

SteppedRun::SteppedRun(const Scene& scene, Logic logic, const AskedNames& names, const RunOptions& options)
    : scene_(scene), before_(logic), logic_(std::move(logic)) {
    check_length(scene, options);
    RunOptions own = options;
    own.keep_looks = true;
    setting_ = std::make_shared<const Setting>(scene, names, own);
    driver_ = std::make_unique<Driver>(setting_->ground);
    driver_->begin(run_);
    over_ = !driver_->to_look(run_);
    arrive();
}

SteppedRun::SteppedRun(const Scene& scene, const Plan& plan, const RunOptions& options)
    : SteppedRun((check_fit(scene.robot(), plan), scene), Logic(Mind(plan, options.numbers)), asked_names(plan),
                 options) {}

SteppedRun::SteppedRun(const Scene& scene, Decide decide, const AskedNames& names, const RunOptions& options)
    : SteppedRun(scene, Logic(std::move(decide)), names, options) {}

SteppedRun::SteppedRun(const SteppedRun& other)
    : scene_(other.scene_), setting_(other.setting_), driver_(std::make_unique<Driver>(*other.driver_)),
      before_(other.before_), logic_(other.logic_), said_(other.said_), said_before_(other.said_before_),
      powers_(other.powers_), run_(other.run_), known_(other.known_), over_(other.over_), changes_(other.changes_),
      save_every_(other.save_every_), saved_(other.saved_) {}

SteppedRun::SteppedRun(SteppedRun&& other) noexcept = default;
SteppedRun& SteppedRun::operator=(SteppedRun&& other) noexcept = default;
SteppedRun::~SteppedRun() = default;

SteppedRun& SteppedRun::operator=(const SteppedRun& other) {
    if (this != &other) {
        *this = SteppedRun(other);
    }
    return *this;
}

double SteppedRun::time_s() const { return over_ ? run_.time_s : driver_->time_s(); }
const Body& SteppedRun::body() const { return driver_->body(); }
const Look& SteppedRun::look() const { return driver_->look(); }
const Answer& SteppedRun::answer() const { return driver_->answer(); }
const std::vector<Thing>& SteppedRun::things() const { return setting_->ground.things; }
bool SteppedRun::is_there(std::size_t thing) const { return driver_->is_there(thing); }
LookRecord SteppedRun::record() const { return driver_->record(); }
const RunOptions& SteppedRun::options() const { return setting_->asked; }
const Scene& SteppedRun::scene() const { return setting_->ground.scene; }

std::vector<SteppedRun::Underway> SteppedRun::underway() const {
    const Command& has = driver_->obeyed();
    std::vector<Underway> list{{driver_->seconds(has.at_step), has.left_mm_s, has.right_mm_s}};
    for (std::size_t i = 0; i < driver_->queue().size(); ++i) {
        const Command& one = driver_->queue()[i];
        list.push_back({driver_->seconds(one.at_step), one.left_mm_s, one.right_mm_s});
    }
    return list;
}

/// It has come to a look, which nobody has touched yet.
void SteppedRun::arrive() {
    powers_.reset();
    if (over_) {
        return;
    }
    save();
    before_ = logic_;
    said_before_ = said_;
    const std::size_t here = at();
    const auto first = std::lower_bound(changes_.begin(), changes_.end(), here,
                                        [](const auto& change, std::size_t look) { return change.first < look; });
    for (auto change = first; change != changes_.end() && change->first == here; ++change) {
        apply(change->second);
    }
    decide();
}

void SteppedRun::save() {
    const std::size_t here = at();
    if (here % save_every_ != 0 || (!saved_.empty() && saved_.back()->recorded.looks >= here)) {
        return;
    }
    if (saved_.size() >= most_saved) {
        save_every_ *= 2;
        std::erase_if(saved_, [this](const auto& one) { return one->recorded.looks % save_every_ != 0; });
        if (here % save_every_ != 0) {
            return;
        }
    }
    saved_.push_back(std::make_shared<const Saved>(Saved{setting_, *driver_, logic_, said_, Recorded(run_)}));
}

void SteppedRun::decide() {
    logic_ = before_;
    said_ = said_before_;
    std::visit([this](auto& logic) { logic(driver_->look(), said_); }, logic_);
    driver_->answer() = said_;
    if (powers_) {
        driver_->answer().left_pct = powers_->left_pct;
        driver_->answer().right_pct = powers_->right_pct;
        driver_->answer().halted = false;
    }
}

bool SteppedRun::next() {
    if (over_) {
        return false;
    }
    driver_->answered(run_);
    over_ = !driver_->to_look(run_);
    arrive();
    return !over_;
}

void SteppedRun::remember_ahead() {
    if (run_.looks.size() > known_.looks.size()) {
        Recorded(run_).take_from(run_, known_);
    }
}

void SteppedRun::jump(std::size_t look) {
    remember_ahead();
    const auto behind = std::upper_bound(saved_.begin(), saved_.end(), look,
                                         [](std::size_t to, const auto& one) { return to < one->recorded.looks; });
    const Saved& from = **std::prev(behind); // the first look is always kept
    if (from.recorded.looks > look || (look >= at() && from.recorded.looks <= at())) {
        return; // it is nearer from here
    }
    setting_ = from.setting;
    driver_ = std::make_unique<Driver>(from.driver);
    logic_ = from.logic;
    said_ = from.said;
    from.recorded.take_from(known_, run_);
    over_ = false;
    arrive();
}

bool SteppedRun::to_look(std::size_t look) {
    if (saved_.empty()) {
        return false; // it was over before its first look
    }
    if (look < at() || (!over_ && look > at())) {
        jump(look);
    }
    while (at() < look && next()) {
    }
    return !over_;
}

bool SteppedRun::to_time(double t_s) {
    constexpr double all_but_s = 1e-9;
    if (saved_.empty()) {
        return false;
    }
    remember_ahead();
    const auto first_after = std::upper_bound(known_.looks.begin(), known_.looks.end(), t_s + all_but_s,
                                              [](double t, const LookRecord& look) { return t < look.t_s; });
    if (first_after != known_.looks.end()) {
        const auto count = static_cast<std::size_t>(first_after - known_.looks.begin());
        return to_look(count == 0 ? 0 : count - 1);
    }
    to_look(known_.looks.size());
    while (!over_ && time_s() <= t_s + all_but_s) {
        next();
    }
    const bool is_in_time = !over_ || t_s <= run_.time_s + all_but_s;
    return is_in_time && to_look(at() == 0 ? 0 : at() - 1);
}

void SteppedRun::to_end() {
    to_look(std::max(at(), known_.looks.size()));
    while (next()) {
    }
}

void SteppedRun::change_ground(const RunOptions& options, const AskedNames& names) {
    const auto next_setting = std::make_shared<const Setting>(scene_, names, options);
    driver_ = std::make_unique<Driver>(next_setting->ground, *driver_);
    setting_ = next_setting;
}

/// Does one of them at the look where the run stands, before it is decided.
struct SteppedRun::Applying {
    SteppedRun& run;

    void operator()(const instead::OtherPlan& other) const {
        check_fit(run.scene_.robot(), other.plan);
        const AskedNames then = run.setting_->ground.names;
        const AskedNames now = asked_names(other.plan);
        run.change_ground(run.setting_->asked, now);
        run.driver_->look().heard = renumbered(run.driver_->look().heard, then.heard, now.heard);
        run.before_ = Mind(other.plan, run.setting_->asked.numbers);
    }

    void operator()(const instead::OtherAnswer& other) const {
        run.powers_ = {std::clamp(other.left_pct, -100.0, 100.0), std::clamp(other.right_pct, -100.0, 100.0)};
    }

    void operator()(const instead::OtherReading& other) const {
        const std::vector<SensorLevels>& levels = run.run_.calibration.sensors;
        if (other.sensor >= levels.size()) {
            throw InputError("", fmt::format("there is no sensor {}", other.sensor + 1),
                             fmt::format("its array has {}", levels.size()));
        }
        const SensorLevels& level = levels[other.sensor];
        run.driver_->look().raw[other.sensor] =
            level.floor_counts + other.reading * (level.line_counts - level.floor_counts);
        run.driver_->read_anew();
    }

    void operator()(const instead::OtherLook& other) const { other.change(run.driver_->look()); }

    void operator()(const instead::OtherVar& other) const {
        Mind* mind = std::get_if<Mind>(&run.before_);
        if (mind == nullptr || other.var >= mind->plan().vars().size()) {
            throw InputError("", "there is no such var", "set a var of the plan that drives");
        }
        mind->set_var(other.var, other.value);
    }

    void operator()(const instead::OtherDay& other) const {
        RunOptions options = run.setting_->asked;
        options.day = other.day;
        run.change_ground(options, run.setting_->ground.names);
    }

    void operator()(const instead::MoreThings& other) const {
        RunOptions options = run.setting_->asked;
        options.more_things.push_back(other.thing);
        run.change_ground(options, run.setting_->ground.names);
    }
};

void SteppedRun::apply(const Instead& change) { std::visit(Applying{*this}, change); }

void SteppedRun::instead(const Instead& change) {
    assert(!over_);
    apply(change);
    known_ = Run{};
    const std::size_t here = at();
    std::erase_if(changes_, [here](const auto& one) { return one.first > here; });
    std::erase_if(saved_, [here](const auto& one) { return one->recorded.looks > here; });
    changes_.emplace_back(here, change);
    decide();
}

std::size_t SteppedRun::memory_bytes() const {
    std::size_t bytes = 0;
    for (const Run* run : {&run_, &known_}) {
        bytes += run->looks.capacity() * sizeof(LookRecord) + run->told.capacity() * sizeof(Look) +
                 run->events.capacity() * sizeof(RunEvent);
    }
    for (const auto& one : saved_) {
        const Mind* mind = std::get_if<Mind>(&one->logic);
        bytes += sizeof(Saved) + (mind != nullptr ? mind->plan().memory_bytes() : 0) + one->driver.memory_bytes();
    }
    return bytes;
}

} // namespace vast_turn
