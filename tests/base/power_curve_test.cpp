#include "base/power_curve.hpp"

#include <cmath>
#include <limits>

#include <doctest/doctest.h>

using vast_turn::PowerCurve;

TEST_CASE("a power of many numbers is that of the library, from nothing to more than there is of light") {
    for (const double power : {0.2, 0.45, 0.8, 1.0, 1.7, 2.2, 5.0}) {
        const PowerCurve curve(power);
        double worst = 0.0;
        for (double x = 1e-6; x < 30.0; x *= 1.0007) {
            worst = std::max(worst, std::abs(curve(x) / std::pow(x, power) - 1.0));
        }
        CAPTURE(power);
        CHECK(worst < 2e-8);
        CHECK(curve(1.0) == doctest::Approx(1.0).epsilon(2e-8));
        CHECK(curve(0.0) == 0.0);
        CHECK(curve(-0.3) == 0.0);
        CHECK(curve(std::numeric_limits<double>::quiet_NaN()) == 0.0);
        CHECK(std::isfinite(curve(1e9)));
    }
}
