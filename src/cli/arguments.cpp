#include "cli/arguments.h"

#include <iostream>
#include <sstream>

#include "core/base/numbers.h"
#include "io/files/atomic_file.h"

namespace ledge::cli {

Result<crs::CrsPtr> crsArgument(const std::string& text) {
    if (!text.starts_with("@")) return crs::parseCrs(text);
    const auto content = io::readText(text.substr(1), 1 << 20);
    if (!content) return content.error();
    return crs::parseCrs(trimmed(*content));
}

Result<void> checkOutput(const std::string& path, bool mayReplace) {
    std::error_code code;
    if (mayReplace || !std::filesystem::exists(path, code)) return {};
    return Error{ErrorCode::InvalidArgument, path, "is there already",
                 "add --replace to overwrite it, or choose another name"};
}

Result<Box> boxArgument(const std::string& option, const std::string& text) {
    const auto numbers = numberList(text, ',');
    if (!numbers) return numbers.error();
    const auto& n = *numbers;
    if (n.size() != 4 || !(n[0] < n[2]) || !(n[1] < n[3]))
        return Error{ErrorCode::InvalidArgument, option, "not a box", "give x0,y0,x1,y1"};
    return Box{n[0], n[1], n[2], n[3]};
}

void addCompression(CLI::App& command, std::string& value) {
    command.add_option("--compression", value, "Of a GeoTIFF: none, lzw, deflate or zstd")
        ->check(CLI::IsMember({"none", "lzw", "deflate", "zstd"}));
}

io::Compression compressionOf(const std::string& name) {
    if (name == "none") return io::Compression::None;
    if (name == "lzw") return io::Compression::Lzw;
    return name == "zstd" ? io::Compression::Zstd : io::Compression::Deflate;
}

Result<std::vector<double>> numberList(const std::string& text, char separator) {
    std::vector<double> out;
    std::stringstream in(text);
    for (std::string part; std::getline(in, part, separator);) {
        const auto number = parseNumber(part);
        if (!number || !std::isfinite(*number))
            return Error{ErrorCode::InvalidArgument, "\"" + text + "\"",
                         "\"" + part + "\" is no number",
                         std::string("separate numbers by '") + separator + "'"};
        out.push_back(*number);
    }
    return out;
}

Result<RasterPtr> openRaster(const std::string& path) {
    auto source = io::openSource(path);
    if (!source) return source.error();
    if (auto* raster = std::get_if<RasterPtr>(&*source)) return *raster;
    return Error{ErrorCode::InvalidArgument, path, "holds features, not a raster", "give a DEM"};
}

void sayDamage(const RasterSource& raster) {
    for (const std::string& part : raster.damage()) std::cerr << "ledge: " << part << '\n';
}

}  // namespace ledge::cli
