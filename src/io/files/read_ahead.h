#pragma once
#include <filesystem>

namespace ledge::io {

/// Tells the system that a file will be read from end to end, so that it comes from the disk beside
/// what is done with its beginning. A hint: nothing happens where it cannot be given.
void expectWhole(const std::filesystem::path& path);

}  // namespace ledge::io
