#include "core/crs/resources.h"

// The tables become part of the program as they are; CMake passes their paths.
#define LEDGE_EMBED(symbol, path)                                                                  \
    __asm__(".section .rodata\n.global " symbol "_begin\n" symbol "_begin:\n.incbin \"" path       \
            "\"\n.global " symbol "_end\n" symbol "_end:\n.byte 0\n.previous\n")

LEDGE_EMBED("ledge_crs_definitions", LEDGE_CRS_DEFINITIONS);
LEDGE_EMBED("ledge_datum_operations", LEDGE_DATUM_OPERATIONS);

extern "C" {
extern const char ledge_crs_definitions_begin[], ledge_crs_definitions_end[];
extern const char ledge_datum_operations_begin[], ledge_datum_operations_end[];
}

namespace ledge::crs {

std::string_view definitionsTable() {
    return {ledge_crs_definitions_begin, ledge_crs_definitions_end};
}
std::string_view datumOperationsTable() {
    return {ledge_datum_operations_begin, ledge_datum_operations_end};
}

}  // namespace ledge::crs
