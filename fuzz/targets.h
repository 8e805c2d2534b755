#pragma once
#include <cstddef>
#include <span>
#include <string>
#include <vector>

/// Everything that reads what others wrote, each as a function of bytes that must not crash, hang
/// or ask for more memory than fits: driven by a fuzzer, and by a test that replays the corpus.
namespace ledge::fuzz {

using Input = std::span<const std::byte>;

struct Target {
    std::string name;  ///< also of its folder in fuzz/corpus
    std::string suffix;
    void (*run)(const Target&, Input) = nullptr;
};

/// One for each format of the table of formats, and those for texts.
const std::vector<Target>& targets();
/// Null when there is none of that name.
const Target* targetNamed(const std::string& name);

}  // namespace ledge::fuzz
