#pragma once
#include <filesystem>
#include <string>

namespace ledge {

/// Where data are: a file and a layer in it, or the address of a service. What opens, derives or
/// compares sources goes by this, never by a path alone.
struct Locator {
    std::filesystem::path path;  ///< absolute; empty for what is no file
    std::string layer;           ///< of a file or service with several
    std::string address;         ///< of a service; empty for files
    bool operator==(const Locator&) const = default;

    bool isFile() const { return !path.empty(); }
    bool isNowhere() const { return path.empty() && address.empty(); }
    /// For people: the file's name and the layer, or the address.
    std::string text() const {
        const std::string where = isFile() ? path.filename().string() : address;
        return layer.empty() ? where : where + ", layer " + layer;
    }
};

}  // namespace ledge
