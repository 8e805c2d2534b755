#pragma once
#include <cstdint>
#include <filesystem>
#include <string>
#include <string_view>

/// Folders of the user's cache, in which files may go at any time.
namespace ledge::session {

/// One of them, below XDG_CACHE_HOME, else ~/.cache.
std::filesystem::path cacheFolder(std::string_view name);
/// A file name for a text, the same on every machine (FNV-1a, 64 bit).
std::string hashed(const std::string& text);
/// A file and its present state, to be hashed.
std::string stateOf(const std::filesystem::path& file);
/// Takes away files of this suffix, the longest unused first, until all have at most `limit` bytes.
void makeRoom(const std::filesystem::path& folder, std::string_view suffix, std::uintmax_t limit);
/// It was used just now.
void touch(const std::filesystem::path& file);

}  // namespace ledge::session
