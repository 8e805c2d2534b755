#include "cli/arguments.h"
#include "core/base/numbers.h"
#include "core/raster/calculated_raster.h"

namespace ledge::cli {
namespace {
struct Options {
    std::string expression, dest, compression = "deflate";
    std::vector<std::string> bands;
    bool mayReplace = false, withOverviews = false;
};

// NAME=FILE or NAME=FILE:N, the band counted from 1.
Result<NamedBand> bandOf(const std::string& text) {
    const auto equals = text.find('=');
    if (equals == std::string::npos || equals == 0)
        return Error{ErrorCode::InvalidArgument, "--band", "\"" + text + "\" names no band",
                     "give NAME=FILE or NAME=FILE:N"};
    NamedBand out;
    out.name = text.substr(0, equals);
    std::string path = text.substr(equals + 1);
    if (const auto colon = path.rfind(':'); colon != std::string::npos) {
        const auto number = parseNumber(path.substr(colon + 1));
        if (number && *number >= 1 && *number == std::floor(*number) && *number < 65536) {
            out.band = static_cast<int>(*number) - 1;
            path.erase(colon);
        }
    }
    auto raster = openRaster(path);
    if (!raster) return raster.error();
    out.raster = *std::move(raster);
    return out;
}

Result<void> calculate(const Options& o, const Context& context) {
    if (const auto fine = checkOutput(o.dest, o.mayReplace); !fine) return fine;
    std::vector<NamedBand> bands;
    for (const std::string& text : o.bands) {
        auto band = bandOf(text);
        if (!band) return band.error();
        bands.push_back(*std::move(band));
    }
    const auto raster = calculatedRaster(o.expression, std::move(bands));
    if (!raster) return raster.error();
    const auto done = io::writeRaster(
        **raster, o.dest, {compressionOf(o.compression), o.withOverviews}, context.progress);
    sayDamage(**raster);
    return done;
}
}  // namespace

void addCalculate(CLI::App& app, const AddCommand& add) {
    auto* c = app.add_subcommand("calculate", "Band arithmetic: an expression over bands");
    auto o = std::make_shared<Options>();
    c->add_option("EXPRESSION", o->expression,
                  "For example \"normalised_difference(n, r)\" or \"if(h > 0, h, 0)\"")
        ->required();
    c->add_option("DEST", o->dest)->required();
    c->add_option("--band", o->bands,
                  "NAME=FILE or NAME=FILE:N, once for each; the first gives the grid")
        ->required();
    addCompression(*c, o->compression);
    c->add_flag("--overviews", o->withOverviews, "Reduced copies inside");
    c->add_flag("--replace", o->mayReplace, "Overwrite DEST");
    c->footer("Signs: + - * / ^ ( ) < <= > >= = <> and or not\n"
              "Functions: abs sqrt exp ln log10 sin cos tan asin acos atan atan2 floor ceil round\n"
              "           min max mean first if missing normalised_difference, and pi");
    add(c, [o](const Context& context) { return calculate(*o, context); });
}

}  // namespace ledge::cli
