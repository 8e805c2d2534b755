#include "core/base/parallel.h"

#include <algorithm>
#include <atomic>
#include <exception>
#include <mutex>
#include <thread>
#include <vector>

namespace ledge {
namespace {
std::atomic<unsigned> g_threads{0};
}

void setThreadCount(unsigned count) { g_threads = count; }

unsigned threadCount() {
    const unsigned asked = g_threads;
    // Asking the system reads a file each time.
    static const unsigned there = std::max(1u, std::thread::hardware_concurrency());
    return asked != 0 ? asked : there;
}

void parallelRanges(std::size_t count, std::size_t grain,
                    const std::function<void(std::size_t, std::size_t)>& work) {
    if (count == 0) return;
    grain = std::max<std::size_t>(1, grain);
    const std::size_t pieces = (count + grain - 1) / grain;
    const auto threads = static_cast<unsigned>(std::min<std::size_t>(threadCount(), pieces));
    std::atomic<std::size_t> next{0};
    std::exception_ptr problem;
    std::mutex mutex;  // guards problem
    const auto loop = [&] {
        try {
            for (std::size_t i = next++; i < pieces; i = next++)
                work(i * grain, std::min(count, (i + 1) * grain));
        } catch (...) {
            next = pieces;
            const std::lock_guard lock(mutex);
            if (!problem) problem = std::current_exception();
        }
    };
    {
        std::vector<std::jthread> helpers;
        for (unsigned t = 1; t < threads; ++t) helpers.emplace_back(loop);
        loop();
    }
    if (problem) std::rethrow_exception(problem);
}

}  // namespace ledge
