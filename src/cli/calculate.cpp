#include "cli/derive.h"
#include "core/base/numbers.h"

namespace ledge::cli {
namespace {
struct CalculateOptions : Deriving {
    std::string expression;
    std::vector<std::string> bands;
};

// NAME=FILE or NAME=FILE:N, the band counted from 1.
Result<doc::LineageInput> bandOf(const std::string& text) {
    const auto equals = text.find('=');
    if (equals == std::string::npos || equals == 0)
        return Error{ErrorCode::InvalidArgument, "--band", "\"" + text + "\" names no band",
                     "give NAME=FILE or NAME=FILE:N"};
    std::string path = text.substr(equals + 1);
    int band = 0;
    if (const auto colon = path.rfind(':'); colon != std::string::npos) {
        const auto number = parseNumber(path.substr(colon + 1));
        if (number && *number >= 1 && *number == std::floor(*number) && *number < 65536) {
            band = static_cast<int>(*number) - 1;
            path.erase(colon);
        }
    }
    auto out = inputAt(path, text.substr(0, equals));
    out.band = band;
    return out;
}

Result<void> calculate(CalculateOptions o, const Context& context) {
    std::vector<doc::LineageInput> inputs;
    for (const std::string& text : o.bands) {
        auto band = bandOf(text);
        if (!band) return band.error();
        inputs.push_back(*std::move(band));
    }
    o.settings["expression"] = o.expression;
    return derive(*session::operationNamed("calculate"), std::move(inputs), o, context);
}
}  // namespace

void addCalculate(CLI::App& app, const AddCommand& add) {
    const session::Operation& operation = *session::operationNamed("calculate");
    auto* c = app.add_subcommand("calculate", operation.help);
    auto o = std::make_shared<CalculateOptions>();
    c->add_option("EXPRESSION", o->expression, operation.setting("expression")->help)->required();
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
