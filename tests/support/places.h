#pragma once
namespace ledge::test {

/// The checkout, without a slash at its end.
extern const char* const kSourceFolder;
/// Data of the tests, in it.
extern const char* const kTestData;
/// The `ledge` command as it was built.
extern const char* const kProgram;

}  // namespace ledge::test
