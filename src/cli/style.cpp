#include <iostream>

#include "cli/arguments.h"
#include "document/edits/edit_table.h"
#include "document/json/members.h"
#include "io/files/atomic_file.h"
#include "session/label_places.h"
#include "session/project_store.h"
#include "session/style_files.h"

namespace ledge::cli {
namespace {
struct StyleOptions {
    std::string project, layer, save, load;
    bool mayReplace = false;
    int set = 1;
};

const doc::Layer* layerCalled(const doc::Document& document, const std::string& name) {
    for (const doc::LayerPtr& one : doc::allLayers(document.layers))
        if (one->name == name) return one.get();
    return nullptr;
}
Error noLayer(const StyleOptions& o) {
    return {ErrorCode::NotFound, "layer \"" + o.layer + "\"", "is not in the project",
            "see them with: ledge describe " + o.project};
}

Result<void> style(const StyleOptions& o, const Context& context) {
    session::ProjectStamp stamp;
    const auto document = session::loadProject(o.project, &stamp);
    if (!document) return document.error();
    const doc::Layer* layer = layerCalled(*document, o.layer);
    if (!layer) return noLayer(o);
    const auto tell = [&](const std::vector<std::string>& losses, const char* what) {
        if (!context.isQuiet)
            for (const std::string& loss : losses)
                std::cerr << "ledge: " << what << ": " << loss << '\n';
    };
    if (!o.save.empty()) {
        if (const auto fine = checkOutput(o.save, o.mayReplace); !fine) return fine;
        const auto losses = session::writeStyle(*layer, o.save);
        if (!losses) return losses.error();
        tell(*losses, "not kept");
        return {};
    }
    const auto read = session::readStyle(o.load, *layer);
    if (!read) return read.error();
    tell(read->losses, "not read");
    const auto next =
        doc::applied(*document, "layer-style",
                     {{"layer", "#" + std::to_string(layer->id)}, {"style", read->text}});
    if (!next) return next.error();
    if (next->document == *document) return {};
    return session::saveProject(next->document, o.project, &stamp);
}

Result<void> labels(const StyleOptions& o, const Context& context) {
    session::ProjectStamp stamp;
    const auto document = session::loadProject(o.project, &stamp);
    if (!document) return document.error();
    const doc::Layer* layer = layerCalled(*document, o.layer);
    if (!layer) return noLayer(o);
    const auto* vector = layer->as<doc::VectorLayer>();
    const auto set = static_cast<std::size_t>(o.set - 1);
    if (!vector || set >= vector->labels.size())
        return Error{ErrorCode::NotFound, o.layer, "has no label set " + std::to_string(o.set),
                     "name another with --set"};
    if (!o.save.empty()) {
        if (const auto fine = checkOutput(o.save, o.mayReplace); !fine) return fine;
        return io::writeText(o.save, session::pinsCsv(vector->labels[set]));
    }
    const auto text = io::readText(o.load);
    if (!text) return text.error();
    auto next = session::withPins(vector->labels[set], *text);
    if (!next) return next.error();
    const auto changed = doc::applied(*document, "layer-set",
                                      {{"layer", "#" + std::to_string(layer->id)},
                                       {"member", "labels." + std::to_string(set)},
                                       {"value", doc::styleText(*next)}});
    if (!changed) return changed.error();
    if (!context.isQuiet) std::cout << next->pins.size() << " labels placed\n";
    if (changed->document == *document) return {};
    return session::saveProject(changed->document, o.project, &stamp);
}
}  // namespace

void addStyle(CLI::App& app, const AddCommand& add) {
    auto* c = app.add_subcommand("style", "Write a layer's style to a file, or take one from it");
    auto o = std::make_shared<StyleOptions>();
    c->add_option("PROJECT", o->project)->required();
    c->add_option("LAYER", o->layer, "By its name")->required();
    auto* save = c->add_option("--save", o->save, "A .ledgestyle file, or .sld (OGC SLD 1.1)");
    auto* load = c->add_option("--load", o->load, "Such a file");
    save->excludes(load);
    c->add_flag("--replace", o->mayReplace, "An existing file may be replaced");
    add(c, [o](const Context& context) -> Result<void> {
        if (o->save.empty() == o->load.empty())
            return Error{ErrorCode::InvalidArgument, "style", "needs a file",
                         "give --save FILE or --load FILE"};
        return style(*o, context);
    });
    auto* l = app.add_subcommand("labels", "Write labels placed by hand to a file, or take them "
                                           "from one");
    auto p = std::make_shared<StyleOptions>();
    l->add_option("PROJECT", p->project)->required();
    l->add_option("LAYER", p->layer, "By its name")->required();
    l->add_option("--set", p->set, "Of its label sets, from 1")->check(CLI::Range(1, 1000));
    auto* out = l->add_option("--save", p->save,
                              "A CSV: key, right_mm, down_mm, turn, scale, hidden, text");
    out->excludes(l->add_option("--load", p->load, "Such a file"));
    l->add_flag("--replace", p->mayReplace, "An existing file may be replaced");
    add(l, [p](const Context& context) -> Result<void> {
        if (p->save.empty() == p->load.empty())
            return Error{ErrorCode::InvalidArgument, "labels", "needs a file",
                         "give --save FILE or --load FILE"};
        return labels(*p, context);
    });
}

}  // namespace ledge::cli
