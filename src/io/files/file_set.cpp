#include "io/files/file_set.h"

#include <fcntl.h>
#include <unistd.h>

#include <algorithm>
#include <cerrno>
#include <cstring>
#include <fstream>

#include "io/files/leftovers.h"

namespace ledge::io {
namespace fs = std::filesystem;
namespace {
bool holds(const fs::path& path, std::string_view text) {
    std::error_code code;
    if (fs::file_size(path, code) != text.size() || code) return false;
    const auto there = readText(path);
    return there && *there == text;
}
}  // namespace

fs::path FilePart::of(const fs::path& main) const {
    fs::path out = main;
    if (isAfter)
        out += suffix;
    else
        out.replace_extension(suffix);
    return out;
}

FileSet::FileSet(fs::path target, std::vector<FilePart> parts, std::vector<fs::path> others,
                 Replacing replacing)
    : m_target(std::move(target)), m_parts(std::move(parts)), m_others(std::move(others)),
      m_replacing(replacing), m_isSettled(m_parts.size(), false) {
    std::error_code code;
    m_others.resize(m_parts.size());
    m_isReplacing = fs::exists(m_target, code);
}

Error FileSet::named(Error error) const {
    if (error.what.ends_with(".ledge-part")) error.what = nameOf(m_target);
    return error;
}

const fs::path& FileSet::main() {
    if (!m_main) m_main = std::make_unique<AtomicFile>(m_target);
    return m_main->temporary();
}

// Whether a part that is there and says something else may be replaced or taken away.
Result<void> FileSet::mayTake(std::size_t part) const {
    const fs::path path = m_parts[part].of(m_target);
    if (!m_others[part].empty())
        return Error{ErrorCode::InvalidArgument, nameOf(path),
                     "belongs to " + m_others[part].filename().string() +
                         " too, and would have to be another",
                     "choose a name of its own for " + m_target.filename().string()};
    if (!m_isReplacing && m_replacing == Replacing::Own)
        return Error{
            ErrorCode::InvalidArgument, nameOf(path), "is there already and would be replaced",
            "move it away, choose another name, or let the command replace it (--replace)"};
    return {};
}

std::size_t FileSet::indexOf(std::string_view suffix) const {
    const auto it = std::find_if(m_parts.begin(), m_parts.end(),
                                 [&](const FilePart& one) { return one.suffix == suffix; });
    return static_cast<std::size_t>(it - m_parts.begin());
}

fs::path FileSet::pathOf(std::string_view suffix) const {
    return m_parts[indexOf(suffix)].of(m_target);
}

void FileSet::keep(std::string_view suffix) { m_isSettled[indexOf(suffix)] = true; }

Result<void> FileSet::put(std::string_view suffix, std::string_view text) {
    const std::size_t part = indexOf(suffix);
    const fs::path path = m_parts[part].of(m_target);
    m_isSettled[part] = true;
    std::error_code code;
    if (fs::exists(path, code)) {
        if (!text.empty() && holds(path, text)) return {};
        if (const auto fine = mayTake(part); !fine) return fine;
        if (text.empty()) m_unneeded.push_back(path);
    }
    if (text.empty()) return {};
    auto file = std::make_unique<AtomicFile>(path);
    if (const auto done = fillFile(file->temporary(), text, path); !done) return done;
    m_written.push_back(std::move(file));
    return {};
}

Result<void> FileSet::commit() {
    std::error_code code;
    for (std::size_t part = 0; part < m_parts.size(); ++part) {
        const fs::path path = m_parts[part].of(m_target);
        if (!m_isSettled[part] && m_isReplacing && m_others[part].empty() && fs::exists(path, code))
            m_unneeded.push_back(path);
    }
    if (m_main) m_written.push_back(std::move(m_main));
    if (m_written.empty()) return {};
    if (m_written.size() == 1 && m_unneeded.empty()) return m_written.front()->commit();
    for (const auto& file : m_written)
        if (const auto done = file->settle(); !done) return done;
    return renameAll();
}

Result<bool> FileSet::commitNew() {
    if (!m_main) return true;
    auto done = m_main->commitNew();
    if (done) m_main.reset();
    return done;
}

Result<void> FileSet::renameAll() {
    const fs::path folder = m_target.parent_path(), list = listName(m_target);
    std::string lines;
    bool isListed = true;
    const auto add = [&](const fs::path& place, const std::string& line) {
        // Links may lead elsewhere, and lines end where a name does not: those have no list.
        isListed = isListed && place.parent_path() == folder &&
                   place.string().find('\n') == std::string::npos;
        lines += line;
    };
    for (const auto& file : m_written)
        add(file->place(), renameLine(file->temporary(), file->place()));
    for (const fs::path& path : m_unneeded) add(path, removeLine(path));
    int handle = -1;
    if (isListed) {
        // Whole or not there: what it says is done by whoever finds it.
        const fs::path unfinished = unfinishedName(list);
        handle = lockedFile(unfinished, O_RDWR | O_CREAT | O_EXCL);
        const bool isWritten =
            handle >= 0 &&
            ::write(handle, lines.data(), lines.size()) == static_cast<ssize_t>(lines.size()) &&
            ::fsync(handle) == 0 && ::rename(unfinished.c_str(), list.c_str()) == 0;
        if (!isWritten) {
            const Error error = writeFailure(m_target, std::strerror(errno));
            ::unlink(unfinished.c_str());
            if (handle >= 0) ::close(handle);
            return error;
        }
        syncFolder(folder);
    }
    Result<void> outcome;
    for (const auto& file : m_written) {
        if (::rename(file->temporary().c_str(), file->place().c_str()) != 0) {
            outcome = ioFailure(file->target(), std::strerror(errno),
                                "check that the folder can be written");
            break;
        }
        file->forget();
    }
    std::error_code code;
    if (outcome)
        for (const fs::path& path : m_unneeded) fs::remove(path, code);
    syncFolder(folder);
    if (handle >= 0) {
        fs::remove(list, code);
        ::close(handle);
    }
    return outcome;
}

}  // namespace ledge::io
