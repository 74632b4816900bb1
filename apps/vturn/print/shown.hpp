#pragma once

/// What is printed for people: nothing from a file or a call can steer their terminal.

#include <ostream>
#include <streambuf>
#include <string>

namespace vturn {

/// Writes to another stream with visible() marks in place of what a terminal would obey. Only what own_code() gave
/// passes as it is.
class ShownBuffer : public std::streambuf {
public:
    explicit ShownBuffer(std::ostream& to) : to_(to) {}
    ShownBuffer(const ShownBuffer&) = delete;
    ShownBuffer& operator=(const ShownBuffer&) = delete;
    ~ShownBuffer() override { pass_on(true); }

protected:
    int_type overflow(int_type c) override;
    std::streamsize xsputn(const char* text, std::streamsize size) override;
    int sync() override;

private:
    /// Passes on what is waiting; what may be the beginning of more waits unless all is asked for.
    void pass_on(bool all);

    std::ostream& to_;
    std::string waiting_;
};

/// A control sequence of ours ("32" for ESC [ 32 m), marked so that ShownBuffer knows it. The mark is drawn anew by
/// each process, so that no input can have it.
std::string own_code(const char* code);

} // namespace vturn
