#pragma once
#include <memory>
#include <span>
#include <vector>

#include "io/files/atomic_file.h"

namespace ledge::io {

/// A file that belongs to another of the same stem, by its suffix: in place of that one's
/// (crofts.prj) or after it (dem.tif.ovr).
struct FilePart {
    std::string_view suffix;
    bool isAfter = false;
    std::filesystem::path of(const std::filesystem::path& main) const;
};

/// What may be taken of what is there. A file with its parts is replaced as one; a part that stands
/// without its file may be anybody's.
enum class Replacing : std::uint8_t { Own, StrayParts };

/// A file and its parts, which appear under their names together once all of them are complete, or
/// not at all: a list of what is renamed is kept beside them while it is done, and whoever opens or
/// writes them next finishes what a kill interrupted. Parts that the new file has none of are taken
/// away with the old one. Parts that a file of another format uses too are never touched: they have
/// to say the same already.
class FileSet {
public:
    /// `others`: for each part the file of another format that has it too; empty paths where there
    /// is none.
    FileSet(std::filesystem::path target, std::vector<FilePart> parts = {},
            std::vector<std::filesystem::path> others = {}, Replacing replacing = Replacing::Own);

    const std::filesystem::path& target() const { return m_target; }
    /// An error under the name that the main file is to have.
    Error named(Error error) const;
    /// Where to write the main file.
    const std::filesystem::path& main();
    /// What a part holds; with an empty text there must be none. Before the main file is worked
    /// for, so that nothing is computed in vain. Errors: IoFailure; InvalidArgument where the part
    /// is not ours to take.
    Result<void> put(std::string_view suffix, std::string_view text);
    /// A part stays as it is: it says what it should.
    void keep(std::string_view suffix);
    std::filesystem::path pathOf(std::string_view suffix) const;
    /// Parts that were not told of go with the file that they belonged to alone. Errors: IoFailure.
    Result<void> commit();
    /// The main file alone, where there must be none yet; whether there was none.
    Result<bool> commitNew();

private:
    std::size_t indexOf(std::string_view suffix) const;
    Result<void> mayTake(std::size_t part) const;
    Result<void> renameAll();

    std::filesystem::path m_target;
    std::vector<FilePart> m_parts;
    std::vector<std::filesystem::path> m_others;
    Replacing m_replacing;
    bool m_isReplacing;
    std::unique_ptr<AtomicFile> m_main;
    std::vector<std::unique_ptr<AtomicFile>> m_written;
    std::vector<std::filesystem::path> m_unneeded;
    std::vector<bool> m_isSettled;  ///< for each part
};

}  // namespace ledge::io
