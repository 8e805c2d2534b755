#pragma once
#include <CLI/CLI.hpp>
#include <functional>

#include "core/base/progress.h"
#include "io/registry.h"

namespace ledge::cli {

/// What every command knows.
struct Context {
    bool asJson = false, isQuiet = false;
    Progress progress;
};

using Command = std::function<Result<void>(const Context&)>;
/// Adds a command; `run` is called when it was chosen.
using AddCommand = std::function<void(CLI::App*, Command)>;

void addAsk(CLI::App& app, const AddCommand& add);
void addDeriveFeatures(CLI::App& app, const AddCommand& add);
void addDescribe(CLI::App& app, const AddCommand& add);
void addConvert(CLI::App& app, const AddCommand& add);
void addCalculate(CLI::App& app, const AddCommand& add);
void addClip(CLI::App& app, const AddCommand& add);
void addTransform(CLI::App& app, const AddCommand& add);
void addCrs(CLI::App& app, const AddCommand& add);
void addGeodesic(CLI::App& app, const AddCommand& add);
void addTerrain(CLI::App& app, const AddCommand& add);
void addEdit(CLI::App& app, const AddCommand& add);
void addSummarise(CLI::App& app, const AddCommand& add);
void addClassify(CLI::App& app, const AddCommand& add);
void addStyle(CLI::App& app, const AddCommand& add);
void addRender(CLI::App& app, const AddCommand& add);
void addDemo(CLI::App& app, const AddCommand& add);

/// A CRS argument: any name that parseCrs knows, WKT, or @file with WKT. What was left out or
/// replaced is told on stderr.
Result<crs::CrsPtr> crsArgument(const std::string& text, const Context& context);
/// Fails when the output is there and may not be replaced.
Result<void> checkOutput(const std::string& path, bool mayReplace);
/// --replace is about every file that would be touched.
inline io::Replacing replacing(bool mayReplace) {
    return mayReplace ? io::Replacing::StrayParts : io::Replacing::Own;
}
/// x0,y0,x1,y1; `option` is for messages.
Result<Box> boxArgument(const std::string& option, const std::string& text);
/// Adds --operation: what is done between two datums.
void addOperation(CLI::App& command, std::string& value);
/// Adds --compression, whose value compressionOf understands.
void addCompression(CLI::App& command, std::string& value);
io::Compression compressionOf(const std::string& name);
Result<RasterPtr> openRaster(const std::string& path);
/// Tells on stderr which parts of a raster could not be read, after work that read it.
void sayDamage(const RasterSource& raster);

}  // namespace ledge::cli
