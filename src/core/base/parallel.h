#pragma once
#include <cstddef>
#include <functional>

namespace ledge {

/// Threads used by parallelRanges when its caller names none; 0 restores one per core.
void setThreadCount(unsigned count);
unsigned threadCount();

/// Calls `work(begin, end)` over [0, count) in pieces of `grain`, on threadCount() threads, and
/// returns when all are done. Pieces start at multiples of `grain` for any number of threads, so
/// that results depend on neither. When `work` throws, no further piece is begun, and what it threw
/// first is thrown again here once all threads are done.
void parallelRanges(std::size_t count, std::size_t grain,
                    const std::function<void(std::size_t, std::size_t)>& work);

}  // namespace ledge
