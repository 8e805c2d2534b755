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

void addDescribe(CLI::App& app, const AddCommand& add);
void addConvert(CLI::App& app, const AddCommand& add);
void addTransform(CLI::App& app, const AddCommand& add);
void addCrs(CLI::App& app, const AddCommand& add);
void addGeodesic(CLI::App& app, const AddCommand& add);
void addTerrain(CLI::App& app, const AddCommand& add);
void addRender(CLI::App& app, const AddCommand& add);
void addDemo(CLI::App& app, const AddCommand& add);

/// A CRS argument: EPSG:n, WKT, or @file with WKT.
Result<crs::CrsPtr> crsArgument(const std::string& text);
/// Fails when the output is there and may not be replaced.
Result<void> checkOutput(const std::string& path, bool mayReplace);
/// Numbers separated by commas or slashes.
Result<std::vector<double>> numberList(const std::string& text, char separator);
Result<RasterPtr> openRaster(const std::string& path);

}  // namespace ledge::cli
