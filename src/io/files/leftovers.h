#pragma once
#include <filesystem>
#include <string>

#include "core/base/result.h"

/// What a killed process can leave beside the files that it was writing, and who takes it away.
namespace ledge::io {

/// Name of an unfinished file; its writer holds a lock on it for as long as it lives.
std::filesystem::path unfinishedName(const std::filesystem::path& target);
/// Name of the list by which an interrupted replacement of several files is finished.
std::filesystem::path listName(const std::filesystem::path& target);

/// The lock of a writer on what it writes: none is left when it dies. -1 when it cannot be had.
int lockedFile(const std::filesystem::path& path, int flags);

/// Finishes interrupted replacements in a folder and takes unfinished files of dead writers away.
void clearLeftovers(const std::filesystem::path& folder);

/// When a replacement of this file with those beside it was interrupted, finishes it; waits a
/// moment for one that is going on. Errors: IoFailure when it cannot be finished here.
Result<void> finishInterrupted(const std::filesystem::path& target);

/// The list: what is renamed to what, and what is taken away, by names in its folder.
std::string renameLine(const std::filesystem::path& from, const std::filesystem::path& to);
std::string removeLine(const std::filesystem::path& what);
/// Does what a list says, as far as it was not done before. Errors: IoFailure.
Result<void> doListed(const std::filesystem::path& list);

/// Flushes what a folder says of its files; not every file system can.
void syncFolder(const std::filesystem::path& folder);

}  // namespace ledge::io
