#include <iostream>

#include "cli/settings.h"
#include "session/source_cache.h"

namespace ledge::cli {
namespace {
struct DeriveFeaturesOptions {
    std::string source, layer, declareCrs, dest, with, withLayer, withDeclareCrs;
    int withBand = 1;
    session::Settings settings;
    bool mayReplace = false;
};

doc::LineageInput inputOf(const std::string& path, const std::string& layer,
                          const std::string& declaredCrs) {
    doc::LineageInput out;
    out.path = std::filesystem::absolute(path).lexically_normal();
    out.layer = layer;
    if (!declaredCrs.empty()) out.declaredCrs = declaredCrs;
    return out;
}

Result<void> derive(const session::Operation& operation, const DeriveFeaturesOptions& o, const Context& context) {
    if (const auto fine = checkOutput(o.dest, o.mayReplace); !fine) return fine;
    const bool needsOther = operation.beside == session::Beside::Features ||
                            operation.beside == session::Beside::Raster;
    if (needsOther && o.with.empty())
        return Error{ErrorCode::InvalidArgument, operation.name, "a second file is missing",
                     "give --with FILE"};
    doc::Lineage lineage{operation.name, {inputOf(o.source, o.layer, o.declareCrs)}, o.settings};
    if (!o.with.empty()) {
        lineage.inputs.push_back(inputOf(o.with, o.withLayer, o.withDeclareCrs));
        lineage.inputs.back().band = o.withBand - 1;
    }
    const session::SourceCache cache;
    const auto done =
        session::writeDerived(lineage, cache, std::filesystem::absolute(o.dest).lexically_normal(),
                              context.progress, {}, replacing(o.mayReplace));
    if (!done) return done.error();
    if (!context.isQuiet)
        for (const std::string& remark : *done) std::cerr << "ledge: " << remark << '\n';
    return {};
}
}  // namespace

// A command for every operation on features, made from its row.
void addDeriveFeatures(CLI::App& app, const AddCommand& add) {
    auto* all = app.add_subcommand("derive", "Layers made from layers of features");
    all->require_subcommand(1);
    for (const session::Operation& operation : session::operations()) {
        if (!operation.isOfFeatures) continue;
        auto* c = all->add_subcommand(operation.name, operation.help);
        auto o = std::make_shared<DeriveFeaturesOptions>();
        c->add_option("SOURCE", o->source)->required();
        c->add_option("DEST", o->dest, "Format by suffix: " + io::suffixWords(io::Writes::Tables))
            ->required();
        c->add_option("--layer", o->layer, "Layer of SOURCE, when it has several");
        c->add_option("--declare-crs", o->declareCrs, "Say which CRS SOURCE is in");
        if (operation.beside != session::Beside::Nothing) {
            c->add_option("--with", o->with, operation.besideRole + ": another file");
            c->add_option("--with-declare-crs", o->withDeclareCrs, "Say which CRS it is in");
        }
        if (operation.beside == session::Beside::Raster)
            c->add_option("--with-band", o->withBand, "From 1")->check(CLI::PositiveNumber);
        else if (operation.beside != session::Beside::Nothing)
            c->add_option("--with-layer", o->withLayer, "Layer of that file");
        addSettings(*c, operation, o->settings);
        c->add_flag("--replace", o->mayReplace, "Overwrite DEST");
        add(c, [o, &operation](const Context& context) { return derive(operation, *o, context); });
    }
}

}  // namespace ledge::cli
