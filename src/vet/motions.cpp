#include "vet/motions.hpp"

#include <algorithm>
#include <cmath>
#include <set>

#include "vet/loop_model.hpp"

namespace vast_turn::vetting {

std::optional<Wheels> constant_motion(const lang::Act& motion) {
    std::vector<double> v;
    for (const lang::Expr& arg : motion.args) {
        const bool minus = is_unary(arg, lang::Op::negate);
        const auto value = written_value(minus ? arg.args[0] : arg);
        if (!value) {
            return std::nullopt;
        }
        v.push_back(minus ? -*value : *value);
    }
    const auto clipped = [](double left, double right) {
        return Wheels{std::clamp(left, -100.0, 100.0), std::clamp(right, -100.0, 100.0)};
    };
    if (motion.motion == lang::Op::wheels) {
        return clipped(v[0], v[1]);
    }
    if (motion.motion == lang::Op::ahead) {
        return clipped(v[0], v[0]);
    }
    if (motion.motion == lang::Op::bend) {
        return clipped(v[1] - v[0], v[1] + v[0]);
    }
    if (motion.motion == lang::Op::pivot) {
        return v[0] > 0.0 ? clipped(0.0, v[1]) : clipped(v[1], 0.0);
    }
    if (motion.motion == lang::Op::rotate) {
        return clipped(-v[0] * v[1], v[0] * v[1]);
    }
    if (motion.motion == lang::Op::still) {
        return Wheels{};
    }
    return std::nullopt;
}

std::vector<WrittenMotion> written_motions(const Collector& out) {
    std::vector<WrittenMotion> list;
    std::set<std::size_t> seen;
    const auto add = [&](const lang::Act& act, std::size_t block, const lang::Rule* rule, const lang::LaidItem* item) {
        const auto wheels = act.kind == lang::ActKind::motion ? constant_motion(act) : std::nullopt;
        if (wheels && seen.insert(act.span.from).second) {
            list.push_back({&act, *wheels, block, rule, item});
        }
    };
    for (std::size_t i = 0; i < out.text().blocks.size(); ++i) {
        if (!out.is_reached(i)) {
            continue;
        }
        for (const lang::Rule& rule : out.text().blocks[i].rules) {
            for (const lang::Act& act : rule.acts) {
                if (!rule.is_twin) {
                    add(act, i, &rule, nullptr);
                }
            }
        }
        for (const lang::LaidItem& item : out.text().blocks[i].items) {
            if (item.kind == lang::LaidItem::Kind::move) {
                add(item.act, i, nullptr, &item);
            }
        }
    }
    return list;
}

double fastest_pct(const Collector& out) {
    double fastest = 0.0;
    for (const WrittenMotion& motion : written_motions(out)) {
        fastest = std::max(fastest, 0.5 * (motion.wheels.left_pct + motion.wheels.right_pct));
    }
    for (const lang::LaidBlock& block : out.text().blocks) {
        for (const lang::Rule& rule : block.rules) {
            const lang::Act* motion = motion_among(rule.acts);
            const auto steering = motion != nullptr ? steering_of(*motion) : std::nullopt;
            fastest = steering ? std::max(fastest, steering->speed_pct) : fastest;
            if (motion != nullptr && motion->motion == lang::Op::bend) {
                fastest = std::max(fastest, written_value(motion->args[1]).value_or(0.0));
            }
        }
    }
    return std::min(fastest, 100.0);
}

double fastest_mm_s(const Collector& out) {
    const double pct = fastest_pct(out);
    if (pct > 0.0 || out.rehearsal() == nullptr) {
        return pct / 100.0 * out.robot()->top_speed_mm_s;
    }
    return out.rehearsal()->fastest_mm_s;
}

} // namespace vast_turn::vetting
