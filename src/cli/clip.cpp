#include "cli/derive.h"

namespace ledge::cli {
namespace {
struct ClipOptions : Deriving {
    std::string source, by, layer;
};

Result<void> clip(const ClipOptions& o, const Context& context) {
    if (o.settings.contains("extent") != o.by.empty())
        return Error{ErrorCode::InvalidArgument, "clip", "what to clip by is not clear",
                     "give either --extent x0,y0,x1,y1 or --by AREAS"};
    std::vector<doc::LineageInput> inputs{inputAt(o.source)};
    if (!o.by.empty()) {
        inputs.push_back(inputAt(o.by));
        inputs.back().layer = o.layer;
    }
    return derive(*session::operationNamed("clip"), std::move(inputs), o, context);
}
}  // namespace

void addClip(CLI::App& app, const AddCommand& add) {
    const session::Operation& operation = *session::operationNamed("clip");
    auto* c = app.add_subcommand("clip", operation.help);
    auto o = std::make_shared<ClipOptions>();
    c->add_option("SOURCE", o->source)->required();
    c->add_option("DEST", o->dest)->required();
    c->add_option("--by", o->by, "A vector file; cells outside its areas get no data");
    c->add_option("--layer", o->layer, "Layer of that file");
    addDeriving(*c, operation, *o);
    add(c, [o](const Context& context) { return clip(*o, context); });
}

}  // namespace ledge::cli
