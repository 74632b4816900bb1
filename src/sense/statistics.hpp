#pragma once

/// Sums over a list of counts.

#include <vector>

namespace vast_turn {

/// What a sensor gave over one surface.
struct Sample {
    std::vector<double> at;     ///< when: the number of the look in the whole recording
    std::vector<double> counts; ///< what
};

struct Fit {
    double slope = 0.0;       ///< counts a look
    double slope_error = 0.0; ///< its standard error
    double at_zero = 0.0;     ///< the line's counts where `at` is 0
};

double mean_of(const std::vector<double>& values);
/// Standard deviation of a sample (n - 1); 0 for fewer than two values.
double deviation_of(const std::vector<double>& values);
/// The middle value; the mean of the two middle ones for an even number; 0 for none.
double median_of(std::vector<double> values);
/// Standard deviation of the noise from one look to the next, which neither drift nor another spot of
/// the floor changes: sqrt(sum of squared successive differences / (2 (n - 1))), after von Neumann,
/// Kent, Bellinson, Hart, "The mean square successive difference", 1941.
double successive_noise(const std::vector<double>& values);
/// Least squares line through a sample; zeros for fewer than three looks.
Fit fit_of(const Sample& sample);

} // namespace vast_turn
