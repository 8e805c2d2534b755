#include <iostream>

#include "cli/arguments.h"
#include "core/base/number_list.h"
#include "core/base/numbers.h"
#include "core/base/paper.h"
#include "demo/demo.h"
#include "document/edits/edit_table.h"
#include "document/edits/sheet_edits.h"
#include "session/export_sheet.h"
#include "session/project_store.h"
#include "session/sheet_checks.h"

namespace ledge::cli {
namespace {
struct RenderOptions {
    std::string project, sheet, view, size = "1600x1000", out, panel, title, page, filter;
    std::vector<std::string> texts;
    double dpi = 300;
    bool mayReplace = false, hasDpi = false, mayLoseColours = false, isArchival = false,
         checks = false;
    int seriesPage = 0;
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
                  << "\": " << problem.text << '\n';
    }
}

// The project as it was asked for: other words, another page, other rows; nothing of it is saved.
Result<doc::Document> overridden(doc::Document document, const RenderOptions& o,
                                 const doc::Sheet& sheet) {
    const std::string target = "#" + std::to_string(sheet.id);
    const auto edit = [&](const char* name, doc::EditWords words) -> Result<void> {
        words.emplace("sheet", target);
        auto next = doc::applied(document, name, words);
        if (!next) return next.error();
        document = std::move(next->document);
        return {};
    };
    std::vector<std::pair<std::string, std::string>> texts;
    if (!o.title.empty()) texts.emplace_back("Title", o.title);
    for (const std::string& one : o.texts) {
        const auto equals = one.find('=');
        if (equals == std::string::npos)
            return Error{ErrorCode::InvalidArgument, "--text \"" + one + "\"", "names no item",
                         "write ITEM=TEXT"};
        texts.emplace_back(one.substr(0, equals), one.substr(equals + 1));
    }
    for (const auto& [item, text] : texts)
        if (const auto done =
                edit("item-set", {{"item", item}, {"member", "text"}, {"value", text}});
            !done)
            return done.error();
    if (!o.page.empty()) {
        const auto x = o.page.find('x');
        const NamedPage* page = pageNamed(o.page);
        doc::EditWords size{{"fit", "yes"}, {"fit_type", "no"}};
        if (page && sheet.widthMm > sheet.heightMm)
            size["width"] = exactNumber(page->heightMm),
            size["height"] = exactNumber(page->widthMm);
        else if (page)
            size["width"] = exactNumber(page->widthMm),
            size["height"] = exactNumber(page->heightMm);
        else if (x != std::string::npos)
            size["width"] = o.page.substr(0, x), size["height"] = o.page.substr(x + 1);
        else
            return Error{ErrorCode::InvalidArgument, "--page " + o.page, "is no page size",
                         "give a name such as A3, or a size such as 6inx6in or 210x297"};
        if (const auto done = edit("sheet-size", size); !done) return done.error();
    }
    if (!o.filter.empty()) {
        const auto equals = o.filter.find(':');
        if (equals == std::string::npos)
            return Error{ErrorCode::InvalidArgument, "--filter \"" + o.filter + "\"",
                         "names no layer", "write LAYER: CONDITION"};
        auto next = doc::applied(document, "layer-set",
                                 {{"layer", trimmed(o.filter.substr(0, equals))},
                                  {"member", "filter"},
                                  {"value", trimmed(o.filter.substr(equals + 1))}});
        if (!next) return next.error();
        document = std::move(next->document);
    }
    return document;
}

void tellRemarks(const doc::Document& document, const doc::Sheet& sheet,
                 const session::SourceCache& cache, double dpi, const Context& context) {
    for (const session::SheetRemark& remark :
         session::sheetRemarks(document, sheet, cache, dpi, context.progress))
        std::cout << remark.said.toStdString()
                  << (remark.mend.isEmpty() ? "" : " (" + remark.mend.toStdString() + ")") << '\n';
}

Result<void> render(const RenderOptions& o, const Context& context) {
    if (!o.checks)
        if (const auto fine = checkOutput(o.out, o.mayReplace); !fine) return fine;
    auto document = session::loadProject(o.project);
    if (!document) return document.error();
    const auto cache = std::make_shared<session::SourceCache>();
    if (!o.sheet.empty()) {
        const auto asked = named<doc::Sheet>(document->sheets, o.sheet, "sheet");
        if (!asked) return asked.error();
        const doc::Id id = (*asked)->id;
        auto changed = overridden(*document, o, **asked);
        if (!changed) return changed.error();
        *document = *std::move(changed);
        const doc::Sheet* sheet = document->sheet(id);
        if (o.checks) {
            tellRemarks(*document, *sheet, *cache, o.dpi, context);
            return {};
        }
        session::SheetExport options;
        options.dpi = o.dpi, options.mayLoseColours = o.mayLoseColours;
        options.isArchival = o.isArchival, options.onlyPage = o.seriesPage;
        if (!o.panel.empty()) {
            for (const doc::SheetItem& item : sheet->items)
                if (item.name == o.panel && item.as<doc::MapPanel>()) options.onlyPanel = item.id;
            if (options.onlyPanel == 0)
                return Error{ErrorCode::NotFound, "panel \"" + o.panel + "\"",
                             "is not on the sheet", "name one of its map panels"};
        }
        const auto done =
            session::exportSheet(*document, *sheet, cache, o.out, options, context.progress);
        if (!done) return done.error();
        for (const QString& credit : carto::missingCredits(*document, *sheet))
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
    auto o = std::make_shared<RenderOptions>();
    c->add_option("PROJECT", o->project)->required();
    auto* sheet = c->add_option("--sheet", o->sheet, "Name of a sheet");
    auto* view = c->add_option("--view", o->view, "Name of a saved view")->excludes(sheet);
    c->add_option("--size", o->size, "Pixels of a view, WxH")->needs(view);
    auto* out = c->add_option("--out", o->out, ".png, .jpg or, for sheets, .pdf, .svg, .tif");
    c->add_option("--title", o->title, "Another text for the item called Title")->needs(sheet);
    c->add_option("--text", o->texts, "Another text for an item: ITEM=TEXT")->needs(sheet);
    c->add_option("--page", o->page, "Another page, A3 or 6inx6in; items are fitted")->needs(sheet);
    c->add_option("--filter", o->filter, "Only rows of a layer: LAYER: CONDITION")->needs(sheet);
    c->add_option("--series-page", o->seriesPage, "One page of a series, from 1; else all")
        ->needs(sheet);
    c->add_option("--panel", o->panel, "One map panel alone, with a world file beside it")
        ->needs(sheet);
    c->add_flag("--archival", o->isArchival, "PDF/A-2b")->needs(sheet);
    c->add_flag("--check", o->checks, "List what to look at before exporting, and write nothing")
        ->needs(sheet);
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
        if (out->count() == 0 && !o->checks)
            return Error{ErrorCode::InvalidArgument, "render", "no file named", "give --out FILE"};
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
