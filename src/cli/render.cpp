#include <iostream>

#include "cli/arguments.h"
#include "core/base/number_list.h"
#include "core/base/numbers.h"
#include "demo/demo.h"
#include "document/edits/sheet_edits.h"
#include "session/export_sheet.h"
#include "session/project_store.h"

namespace ledge::cli {
namespace {
struct Options {
    std::string project, sheet, view, size = "1600x1000", out;
    double dpi = 300;
    bool mayReplace = false, hasDpi = false, mayLoseColours = false;
};

template <typename T, typename Held>
Result<const T*> named(const std::vector<Held>& items, const std::string& name, const char* kind) {
    std::string known;
    for (const T& item : items) {
        if (item.name == name) return &item;
        known += (known.empty() ? "" : ", ") + item.name;
    }
    return Error{ErrorCode::NotFound, std::string(kind) + " \"" + name + "\"",
                 "is not in the project", known.empty() ? "it has none" : "it has: " + known};
}

void report(const carto::MapReport& report, const doc::Document& document, const Context& context) {
    if (context.isQuiet) return;
    for (const auto& problem : report.problems) {
        const auto* layer = document.layer(problem.layer);
        std::cerr << "ledge: render: layer \"" << (layer ? layer->name : "")
                  << "\" left out: " << problem.text << '\n';
    }
}

Result<void> render(const Options& o, const Context& context) {
    if (const auto fine = checkOutput(o.out, o.mayReplace); !fine) return fine;
    const auto document = session::loadProject(o.project);
    if (!document) return document.error();
    const auto cache = std::make_shared<session::SourceCache>();
    if (!o.sheet.empty()) {
        const auto sheet = named<doc::Sheet>(document->sheets, o.sheet, "sheet");
        if (!sheet) return sheet.error();
        const auto done = session::exportSheet(*document, **sheet, cache, o.out,
                                               {o.dpi, o.mayLoseColours}, context.progress);
        if (!done) return done.error();
        for (const QString& credit : carto::missingCredits(*document, **sheet))
            std::cerr << "ledge: render: no credits item shows \"" << credit.toStdString()
                      << "\"\n";
        report(*done, *document, context);
        return {};
    }
    const auto view = named<doc::SavedView>(document->views, o.view, "view");
    if (!view) return view.error();
    const auto parts = parseNumbers(o.size, 'x');
    if (!parts) return parts.error();
    if (parts->size() != 2 || (*parts)[0] < 1 || (*parts)[1] < 1 || (*parts)[0] > 32000 ||
        (*parts)[1] > 32000)
        return Error{ErrorCode::InvalidArgument, "--size", "not a size in pixels",
                     "write 1600x1000"};
    const doc::Document lit = doc::withLampsOf(*document, (*view)->id);
    const QSize size(static_cast<int>((*parts)[0]), static_cast<int>((*parts)[1]));
    const auto done = session::exportView(lit, (*view)->view, cache, size, o.hasDpi ? o.dpi : 96,
                                          o.out, context.progress);
    if (!done) return done.error();
    report(*done, lit, context);
    return {};
}
}  // namespace

void addRender(CLI::App& app, const AddCommand& add) {
    auto* c = app.add_subcommand("render", "A sheet or view of a project as a file");
    auto o = std::make_shared<Options>();
    c->add_option("PROJECT", o->project)->required();
    auto* sheet = c->add_option("--sheet", o->sheet, "Name of a sheet");
    auto* view = c->add_option("--view", o->view, "Name of a saved view")->excludes(sheet);
    c->add_option("--size", o->size, "Pixels of a view, WxH")->needs(view);
    c->add_option("--out", o->out, ".png, .jpg or, for sheets, .pdf")->required();
    auto* dpi =
        c->add_option("--dpi", o->dpi, "300 for sheets, 96 for views")->check(CLI::Range(10, 2400));
    c->add_flag("--jpeg-pictures", o->mayLoseColours,
                "Let pictures inside a PDF become JPEG: smaller, but colours of classes blur")
        ->needs(sheet);
    c->add_flag("--replace", o->mayReplace, "Overwrite the file");
    add(c, [=](const Context& context) -> Result<void> {
        if (o->sheet.empty() && o->view.empty())
            return Error{ErrorCode::InvalidArgument, "render", "neither a sheet nor a view named",
                         "give --sheet NAME or --view NAME"};
        o->hasDpi = dpi->count() > 0;
        return render(*o, context);
    });
}

void addDemo(CLI::App& app, const AddCommand& add) {
    auto* c = app.add_subcommand("demo", "Write the demo data and project");
    auto folder = std::make_shared<std::string>();
    auto options = std::make_shared<demo::Options>();
    c->add_option("DIR", *folder)->required();
    c->add_option("--cell", options->cell, "Cell of the DEM in metres")
        ->check(CLI::IsMember({10, 15, 30, 60}));
    c->add_option("--seed", options->seed, "Another archipelago");
    add(c, [=](const Context& context) -> Result<void> {
        const auto path = demo::writeDemo(*folder, *options, context.progress);
        if (!path) return path.error();
        if (!context.isQuiet) std::cout << path->string() << '\n';
        return {};
    });
}

}  // namespace ledge::cli
