#pragma once

/// `vturn step` in a terminal: a view that keys move on.

#include <functional>
#include <memory>
#include <string>

#include "cli.hpp"
#include "step/session.hpp"

namespace vturn {

/// Shows the session and does what keys say until it is left; each key that moves it is a command of it. `make` makes
/// the session with the streams on which it tells what came of its commands; `at_end` is given it when it was left.
void follow_keys(const std::function<std::unique_ptr<Session>(const Streams&)>& make, const Streams& streams,
                 const std::function<void(const Session&)>& at_end);

} // namespace vturn
