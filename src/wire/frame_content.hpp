#pragma once

/// What frames hold, put together and taken apart.

#include <algorithm>
#include <cstdint>
#include <cstring>
#include <string>
#include <vector>

#include "vast_turn/emit/c_source.hpp"
#include "vast_turn/emit/frames.hpp"

namespace vast_turn {

/// Content of a frame while it is put together.
class FrameContent {
public:
    explicit FrameContent(std::size_t number_bytes) : number_bytes_(number_bytes) {}

    void whole(std::uint64_t x, int bytes) {
        for (int i = 0; i < bytes; ++i) {
            bytes_ += static_cast<char>(x >> (8 * i) & 0xFFU);
        }
    }
    void number(double x) {
        const auto shorter = static_cast<float>(x);
        char raw[8];
        number_bytes_ == 4 ? std::memcpy(raw, &shorter, 4) : std::memcpy(raw, &x, 8);
        bytes_.append(raw, number_bytes_);
    }
    /// The whole frame.
    std::string framed(std::uint8_t kind) const {
        std::string frame{static_cast<char>(frames::mark), static_cast<char>(kind), static_cast<char>(bytes_.size())};
        frame += bytes_;
        std::uint16_t sum = frames::no_sum;
        for (std::size_t i = 1; i < frame.size(); ++i) {
            sum = frames::summed(sum, static_cast<std::uint8_t>(frame[i]));
        }
        frame += static_cast<char>(sum & 0xFFU);
        frame += static_cast<char>(sum >> 8U);
        return frame;
    }

private:
    std::size_t number_bytes_;
    std::string bytes_;
};

/// Content of a frame that came.
class FrameReader {
public:
    FrameReader(const std::uint8_t* content, std::size_t number_bytes) : at_(content), number_bytes_(number_bytes) {}

    std::uint32_t whole(int bytes) {
        std::uint32_t x = 0;
        for (int i = 0; i < bytes; ++i) {
            x |= static_cast<std::uint32_t>(*at_++) << (8 * i);
        }
        return x;
    }
    double number() {
        double x = 0.0;
        float shorter = 0.0F;
        number_bytes_ == 4 ? std::memcpy(&shorter, at_, 4) : std::memcpy(&x, at_, 8);
        at_ += number_bytes_;
        return number_bytes_ == 4 ? static_cast<double>(shorter) : x;
    }

private:
    const std::uint8_t* at_;
    std::size_t number_bytes_;
};

/// Bytes of the clock and all senses, with numbers of so many.
inline std::size_t senses_bytes(const std::vector<SenseField>& senses, std::size_t number_bytes) {
    std::size_t bytes = 4;
    for (const SenseField& sense : senses) {
        bytes += static_cast<std::size_t>(std::max(sense.count, 1)) *
                 (sense.bytes == 0 ? number_bytes : static_cast<std::size_t>(sense.bytes));
    }
    return bytes;
}

} // namespace vast_turn
