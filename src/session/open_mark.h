#pragma once
#include <filesystem>
#include <string>

namespace ledge::session {

/// Says to other windows that a project is open here: a hidden file beside it, locked for as long
/// as this lives. Where none can be made, nothing is said.
class OpenMark {
public:
    OpenMark() = default;
    ~OpenMark() { take(); }
    OpenMark(const OpenMark&) = delete;
    OpenMark& operator=(const OpenMark&) = delete;

    /// Marks a project, and no longer the one before; empty: none.
    void put(const std::filesystem::path& project);
    void take();
    /// Who had it open when it was to be marked: "process 4711 on kestrel since 14:03"; empty:
    /// nobody.
    const std::string& other() const { return m_other; }

private:
    std::filesystem::path m_file;
    int m_lock = -1;
    std::string m_other;
};

}  // namespace ledge::session
