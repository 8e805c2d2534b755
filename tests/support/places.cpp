#include "support/places.h"

namespace ledge::test {
const char* const kSourceFolder = LEDGE_SOURCE_DIR;
const char* const kTestData = LEDGE_SOURCE_DIR "/tests/data";
const char* const kProgram = LEDGE_PROGRAM;
}  // namespace ledge::test
