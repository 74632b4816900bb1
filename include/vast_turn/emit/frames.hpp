#pragma once

/// The short form in which an exported program and a computer talk over a serial line: frames of bytes.
///
/// A frame is a byte 0xA7, a byte for its kind, one for the length of what it holds, that, and two of a check sum over
/// kind, length and content, lower byte first (CRC-16 with the polynomial 0x1021 from 0xFFFF, as ITU-T X.25 has it
/// without its final complement). Whole numbers stand lower byte first, numbers of the plan as IEEE 754 `float` or
/// `double`, whichever the program computes in. Freestanding.

#include <cstddef>
#include <cstdint>

namespace vast_turn::frames {

inline constexpr std::uint8_t mark = 0xA7;      ///< the first byte of a frame
inline constexpr std::uint16_t no_sum = 0xFFFF; ///< the check sum of nothing
inline constexpr int most = 255;                ///< bytes that one holds

/// Kinds of frames.
inline constexpr std::uint8_t senses = 'S'; ///< to the program: what the sensors tell
inline constexpr std::uint8_t hello = 'H';  ///< from it, at its begin: what it was made of
inline constexpr std::uint8_t said = 'E';   ///< from it: what the plan says, before the answer
inline constexpr std::uint8_t answer = 'A'; ///< from it: wheels, who acted, and how long it took
inline constexpr std::uint8_t told = 'T';   ///< from it, unasked: the senses of a look and its wheels

/// The check sum with one byte more.
constexpr std::uint16_t summed(std::uint16_t sum, std::uint8_t byte) {
    unsigned bits = sum ^ (static_cast<unsigned>(byte) << 8U);
    for (int i = 0; i < 8; ++i) {
        bits = (bits << 1U) ^ ((bits & 0x8000U) != 0 ? 0x1021U : 0U);
    }
    return static_cast<std::uint16_t>(bits);
}

/// Bytes of the whole frame that begins here; 0 when none does that bears its own check sum.
constexpr std::size_t frame_here(const std::uint8_t* from, std::size_t left) {
    if (left < 5 || from[0] != mark || left < from[2] + std::size_t{5}) {
        return 0;
    }
    std::uint16_t sum = no_sum;
    const std::size_t end = from[2] + std::size_t{3};
    for (std::size_t i = 1; i < end; ++i) {
        sum = summed(sum, from[i]);
    }
    return from[end] == (sum & 0xFFU) && from[end + 1] == sum >> 8U ? end + 2 : 0;
}

/// Finds frames in a row of bytes as they come. What is no frame, or does not bear its own check sum, is passed over.
class Ear {
public:
    /// One byte more; its kind when it ends a frame, else 0.
    constexpr std::uint8_t hears(std::uint8_t byte) {
        switch (at_++) {
        case 0:
            sum_ = no_sum;
            at_ = byte == mark ? 1 : 0;
            return 0;
        case 1: kind_ = byte; break;
        case 2: length_ = byte; break;
        default:
            if (at_ <= length_ + 3) {
                content_[at_ - 4] = byte;
                break;
            }
            if (at_ == length_ + 4) {
                if (byte != (sum_ & 0xFFU)) {
                    at_ = 0;
                }
                return 0;
            }
            at_ = 0;
            return byte == sum_ >> 8U ? kind_ : std::uint8_t{0};
        }
        sum_ = summed(sum_, byte);
        return 0;
    }

    /// What the frame held that has just ended.
    constexpr const std::uint8_t* content() const { return content_; }
    constexpr int length() const { return length_; }

private:
    /// Bytes so far, and what they were.
    int at_ = 0;
    std::uint16_t sum_ = no_sum;
    std::uint8_t kind_ = 0;
    std::uint8_t length_ = 0;
    std::uint8_t content_[most] = {};
};

} // namespace vast_turn::frames
