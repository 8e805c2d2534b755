#include <cstdio>
#include <cstdlib>

#include "fuzz/targets.h"

/// The fuzzer's side: LEDGE_FUZZ names the target; without it, all are listed.
namespace {
const ledge::fuzz::Target* g_target = nullptr;
}

extern "C" int LLVMFuzzerInitialize(int*, char***) {
    const char* name = std::getenv("LEDGE_FUZZ");
    g_target = ledge::fuzz::targetNamed(name ? name : "");
    if (g_target) return 0;
    for (const auto& target : ledge::fuzz::targets()) std::printf("%s\n", target.name.c_str());
    std::exit(name ? 1 : 0);
}

extern "C" int LLVMFuzzerTestOneInput(const std::uint8_t* data, std::size_t size) {
    g_target->run(*g_target, std::as_bytes(std::span(data, size)));
    return 0;
}
