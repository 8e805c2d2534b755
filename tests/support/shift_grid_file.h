#pragma once
#include <cstring>
#include <string>

#include "io/files/byte_reader.h"

namespace ledge::test {

/// An NTv2 file of nine nodes over 10 to 11 degrees west, 61 to 62 north. Each step north adds a
/// second of latitude to the shift, each step west two seconds of longitude westwards.
inline std::string shiftGridFile(std::endian order) {
    using io::putNumber;
    std::string out;
    const auto named = [&out](const char* name) {
        out += std::string(name).append(8 - std::strlen(name), ' ');
    };
    const auto whole = [&](const char* name, std::int32_t value) {
        named(name);
        putNumber(out, value, order);
        putNumber(out, std::int32_t{0}, order);
    };
    const auto real = [&](const char* name, double value) {
        named(name);
        putNumber(out, value, order);
    };
    const auto text = [&](const char* name, const char* value) {
        named(name);
        named(value);
    };
    whole("NUM_OREC", 11);
    whole("NUM_SREC", 11);
    whole("NUM_FILE", 1);
    text("GS_TYPE", "SECONDS");
    text("VERSION", "1");
    text("SYSTEM_F", "OLD");
    text("SYSTEM_T", "NEW");
    for (const char* name : {"MAJOR_F", "MINOR_F", "MAJOR_T", "MINOR_T"}) real(name, 6378137.0);
    text("SUB_NAME", "ISLANDS");
    text("PARENT", "NONE");
    text("CREATED", "");
    text("UPDATED", "");
    real("S_LAT", 61 * 3600.0);
    real("N_LAT", 62 * 3600.0);
    real("E_LONG", 10 * 3600.0);  // positive west
    real("W_LONG", 11 * 3600.0);
    real("LAT_INC", 1800.0);
    real("LONG_INC", 1800.0);
    whole("GS_COUNT", 9);
    for (int row = 0; row < 3; ++row)
        for (int col = 0; col < 3; ++col) {  // westwards
            putNumber(out, static_cast<float>(row), order);
            putNumber(out, static_cast<float>(2 * col), order);
            putNumber(out, 0.1F, order);
            putNumber(out, 0.1F, order);
        }
    text("END", "");
    return out;
}

}  // namespace ledge::test
