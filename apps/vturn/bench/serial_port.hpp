#pragma once

/// Ends of serial lines: a port that a robot is at, and a pseudo-terminal behind which we are the robot.

#include <string>

namespace vturn {

/// A port by its name, opened raw. What is there is read without waiting; a cable that was pulled out is noticed, and
/// the port is opened again when it is back.
class SerialPort {
public:
    /// Bits a second for real lines: 9600, 115200 ...; pseudo-terminals pass it over. Throws InputError for a rate that
    /// there is not. Opens nothing yet.
    SerialPort(std::string name, int bits_s);
    SerialPort(const SerialPort&) = delete;
    SerialPort& operator=(const SerialPort&) = delete;
    ~SerialPort() { close(); }

    /// Whether it is open now; tries to open it when it is not, at most every fifth of a second. Throws InputError for
    /// what is there but is no serial port.
    bool is_open();
    /// Waits up to so many milliseconds for bytes; what came, empty for nothing. When the line is gone it closes; one
    /// that is closed only waits.
    std::string read(int wait_ms);
    /// False when it could not be sent.
    bool write(const std::string& bytes);

    const std::string& name() const { return name_; }
    /// Why it is not open.
    const std::string& why() const { return why_; }

private:
    void close();

    std::string name_;
    unsigned long rate_;
    int file_ = -1;
    long long tried_ms_ = -1000;
    std::string why_;
};

/// A pseudo-terminal with a name that others open as a port. Nobody at its other end is no error: what is told then is
/// lost, as on a real line.
class PseudoTerminal {
public:
    /// `link` becomes a symbolic link to it, when not empty. Throws InputError when something else is there, or there
    /// is no pseudo-terminal to be had.
    explicit PseudoTerminal(const std::string& link);
    PseudoTerminal(const PseudoTerminal&) = delete;
    PseudoTerminal& operator=(const PseudoTerminal&) = delete;
    ~PseudoTerminal();

    /// Its name: the link where there is one.
    const std::string& name() const { return link_.empty() ? device_ : link_; }
    /// Waits up to so many milliseconds for bytes.
    std::string read(int wait_ms);
    /// As much as there is room for.
    void write(const std::string& bytes);
    /// The cable is pulled out; plug() puts it back, where the name leads to another pseudo-terminal.
    void unplug();
    void plug();

private:
    std::string link_;
    std::string device_;
    int file_ = -1;
    int kept_ = -1; ///< our own hold on the other end, so that it does not hang up when a reader goes
};

} // namespace vturn
