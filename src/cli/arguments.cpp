#include "cli/arguments.h"

#include <iostream>
#include <sstream>

#include "core/base/number_list.h"
#include "core/base/numbers.h"
#include "io/files/atomic_file.h"

namespace ledge::cli {

Result<crs::CrsPtr> crsArgument(const std::string& text, const Context& context) {
    Result<std::string> said = text;
    if (text.starts_with("@")) said = io::readText(text.substr(1), 1 << 20);
    if (!said) return said.error();
    auto crs = crs::parseCrs(trimmed(*said));
    if (crs && *crs && !(*crs)->remark.text.empty() && !context.isQuiet)
        std::cerr << "ledge: " << (*crs)->remark.text << '\n';
    return crs;
}

Result<void> checkOutput(const std::string& path, bool mayReplace) {
    std::error_code code;
    if (mayReplace || !std::filesystem::exists(path, code)) return {};
    return Error{ErrorCode::InvalidArgument, path, "is there already",
                 "add --replace to overwrite it, or choose another name"};
}

Result<Box> boxArgument(const std::string& option, const std::string& text) {
    const auto numbers = parseNumbers(text);
    if (!numbers) return numbers.error();
    const auto& n = *numbers;
    if (n.size() != 4 || !(n[0] < n[2]) || !(n[1] < n[3]))
        return Error{ErrorCode::InvalidArgument, option, "not a box", "give x0,y0,x1,y1"};
    return Box{n[0], n[1], n[2], n[3]};
}

void addOperation(CLI::App& command, std::string& value) {
    command.add_option("--operation", value,
                       "Datum operation by its code or name, as `ledge crs operations` lists them; "
                       "none: take latitude and longitude as they are");
}

void addCompression(CLI::App& command, std::string& value) {
    // The check says what there is.
    command.add_option("--compression", value, "Of a GeoTIFF")
        ->check(CLI::IsMember({"none", "lzw", "deflate", "zstd"}));
}

io::Compression compressionOf(const std::string& name) {
    if (name == "none") return io::Compression::None;
    if (name == "lzw") return io::Compression::Lzw;
    return name == "zstd" ? io::Compression::Zstd : io::Compression::Deflate;
}

Result<RasterPtr> openRaster(const std::string& path) {
    auto source = io::openSource(path);
    if (!source) return source.error();
    if (auto* raster = std::get_if<RasterPtr>(&*source)) return *raster;
    return Error{ErrorCode::InvalidArgument, path, "holds features, not a raster", "give a DEM"};
}

void sayDamage(const RasterSource& raster) {
    const auto damage = raster.damage();
    if (damage.empty()) return;
    std::cerr << "ledge: " << damage.front();
    if (damage.size() > 1) std::cerr << "; so do " << damage.size() - 1 << " more of its blocks";
    std::cerr << '\n';
}

}  // namespace ledge::cli
