#pragma once
#include <filesystem>
#include <optional>
#include <string>

namespace ledge {

/// How the text of a file is read, where the file doesn't say or says it wrong; what is not given
/// is told from the file.
struct Reading {
    std::string encoding;           ///< by its IANA name, such as UTF-8 or windows-1252
    std::string delimiter;          ///< between the cells of a row
    std::string decimalSign;        ///< a point or a comma
    std::optional<bool> hasHeader;  ///< whether the first row names the columns
    bool operator==(const Reading&) const = default;
    bool isPlain() const { return *this == Reading(); }
};

/// Where data are: a file and a layer in it, or the address of a service. What opens, derives or
/// compares sources goes by this, never by a path alone.
struct Locator {
    std::filesystem::path path;  ///< absolute; empty for what is no file
    std::string layer;           ///< of a file or service with several
    std::string address;         ///< of a service; empty for files
    Reading reading;
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
