#pragma once
#include <filesystem>
#include <thread>

namespace ledge::io {

/// For as long as it lives a file that is read from end to end comes from the disk beside what is
/// done with its beginning, in the order of the disk, whatever the reader's. Where the file is in
/// memory already, or cannot be opened, nothing happens.
class ReadAhead {
public:
    explicit ReadAhead(const std::filesystem::path& path);

private:
    std::jthread m_thread;  // stops and ends with it
};

}  // namespace ledge::io
