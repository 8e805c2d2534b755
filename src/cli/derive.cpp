#include "cli/derive.h"

#include <iostream>

namespace ledge::cli {
namespace {
std::filesystem::path whole(const std::string& path) {
    return std::filesystem::absolute(path).lexically_normal();
}
}  // namespace

void addDeriving(CLI::App& command, const session::Operation& operation, Deriving& given) {
    addSettings(command, operation, given.settings);
    command.add_flag("--replace", given.mayReplace, "Overwrite DEST");
    if (!operation.raster) return;
    addCompression(command, given.compression);
    command.add_flag("--overviews", given.withOverviews, "Reduced copies inside");
}

doc::LineageInput inputAt(const std::string& path, std::string name) {
    doc::LineageInput out;
    out.path = whole(path);
    out.name = std::move(name);
    return out;
}

Result<void> derive(const session::Operation& operation, std::vector<doc::LineageInput> inputs,
                    const Deriving& given, const Context& context) {
    if (const auto fine = checkOutput(given.dest, given.mayReplace); !fine) return fine;
    const session::SourceCache cache;
    doc::SourceRef first;
    first.path = inputs.front().path;
    const auto raster = cache.raster(first);
    if (!raster) return raster.error();
    const doc::Lineage lineage{operation.name, std::move(inputs), given.settings};
    const auto done = session::writeDerived(
        lineage, cache, whole(given.dest), context.progress,
        io::RasterWriting(compressionOf(given.compression), given.withOverviews),
        replacing(given.mayReplace));
    // Done or failed: either way what could not be read is told.
    sayDamage((*raster)->source());
    if (!done) return done.error();
    if (!context.isQuiet)
        for (const std::string& remark : *done) std::cerr << "ledge: " << remark << '\n';
    return {};
}

}  // namespace ledge::cli
