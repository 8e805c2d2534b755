#include <iomanip>
#include <iostream>
#include <nlohmann/json.hpp>

#include "cli/arguments.h"
#include "document/edits/edit_table.h"
#include "session/project_store.h"
#include "session/table_saving.h"

namespace ledge::cli {
namespace {
std::string kindWords(const doc::EditArgument& a) {
    using Kind = doc::EditArgument::Kind;
    switch (a.kind) {
    case Kind::Text: return a.unit.empty() ? "text" : "text, " + std::string(a.unit);
    case Kind::Number: return a.unit.empty() ? "number" : "number, " + std::string(a.unit);
    case Kind::Length: return "length, mm, or with a unit such as 6 in";
    case Kind::Lengths: return a.unit.empty() ? "lengths" : std::string(a.unit);
    case Kind::Yes: return "yes or no";
    case Kind::Choice: {
        std::string out;
        for (const auto choice : a.choices) out += (out.empty() ? "" : " | ") + std::string(choice);
        return out;
    }
    case Kind::Numbers: return a.unit.empty() ? "numbers" : std::string(a.unit);
    case Kind::Crs: return "CRS";
    case Kind::Layer: return "layer, by name or id";
    case Kind::Layers: return "layers, separated by commas";
    case Kind::Sources: return "sources, separated by commas";
    case Kind::Group: return "group, by name or id";
    case Kind::Source: return "source, by name or id";
    case Kind::View: return "view, by name or id";
    case Kind::Profile: return "profile, by name or id";
    case Kind::Question: return "question, by name or id";
    case Kind::Sheet: return "sheet, by name or id";
    case Kind::Item: return "item of the sheet, by name or id";
    case Kind::Items: return "items of the sheet, separated by commas";
    }
    return "";
}

Result<void> list(const std::string& name, const Context& context) {
    if (!name.empty() && !doc::namedEdit(name))
        return Error{ErrorCode::NotFound, "edit \"" + name + "\"", "there is none of this name",
                     "see them all with: ledge edits"};
    nlohmann::ordered_json rows = nlohmann::json::array();
    for (const doc::NamedEdit& edit : doc::namedEdits()) {
        if (!name.empty() && edit.name != name) continue;
        nlohmann::ordered_json row{{"name", edit.name}, {"sentence", edit.sentence}};
        for (const doc::EditArgument& a : edit.arguments)
            row["arguments"].push_back(
                {{"name", a.name}, {"takes", kindWords(a)}, {"required", a.isRequired}});
        rows.push_back(std::move(row));
        if (context.asJson) continue;
        std::cout << edit.name << "  " << edit.sentence << '\n';
        for (const doc::EditArgument& a : edit.arguments)
            std::cout << "    " << std::left << std::setw(12) << std::string(a.name) + "="
                      << kindWords(a) << (a.isRequired ? "" : " (may be left out)") << '\n';
    }
    if (context.asJson) std::cout << rows.dump(1) << '\n';
    return {};
}

Result<void> edit(const std::string& project, const std::string& name,
                  const std::vector<std::string>& given, const Context& context) {
    doc::EditWords words;
    for (const std::string& pair : given) {
        const auto equals = pair.find('=');
        if (equals == std::string::npos || equals == 0)
            return Error{ErrorCode::InvalidArgument, "\"" + pair + "\"", "is no key=value",
                         "write for example percent=50"};
        if (!words.emplace(pair.substr(0, equals), pair.substr(equals + 1)).second)
            return Error{ErrorCode::InvalidArgument, pair.substr(0, equals), "is given twice",
                         "give it once"};
    }
    // Another program that saves between reading and writing has its changes kept: done again.
    constexpr int kMostTries = 20;
    for (int tries = 1;; ++tries) {
        session::ProjectStamp stamp;
        const auto document = session::loadProject(project, &stamp);
        if (!document) return document.error();
        const auto next = doc::applied(*document, name, words);
        if (!next) return next.error();
        // What is so already is not written again.
        if (next->document != *document) {
            const auto done = session::saveProject(next->document, project, &stamp);
            if (!done && done.error().code == ErrorCode::Conflict && tries < kMostTries) continue;
            if (!done) return done;
        }
        if (!context.isQuiet) std::cout << next->sentence << '\n';
        return {};
    }
}

// Each table, then the project without its edits: stopped in between, what is not saved is there.
Result<void> saveTables(const std::string& path, const std::string& only, const Context& context) {
    session::ProjectStamp stamp;
    auto document = session::loadProject(path, &stamp);
    if (!document) return document.error();
    const session::SourceCache cache;
    int saved = 0;
    bool isKnown = only.empty();
    const auto sources = document->sources;
    for (const doc::SourceRef& source : sources) {
        isKnown = isKnown || source.name == only;
        if (source.edits->isEmpty() || (!only.empty() && source.name != only)) continue;
        if (const auto done = session::saveEdits(source, cache, context.progress); !done)
            return done;
        auto next =
            doc::applied(*document, "table-saved", {{"source", "#" + std::to_string(source.id)}});
        if (!next) return next.error();
        *document = std::move(next->document);
        if (const auto done = session::saveProject(*document, path, &stamp); !done) return done;
        ++saved;
        if (!context.isQuiet && !context.asJson)
            std::cout << "saved " << source.edits->edits.size() << " edits of " << source.name
                      << " to " << source.text() << '\n';
    }
    if (!isKnown)
        return Error{ErrorCode::NotFound, "source \"" + only + "\"", "is not in the project", ""};
    if (saved == 0 && !context.isQuiet && !context.asJson) std::cout << "nothing to save\n";
    return {};
}
}  // namespace

void addEdit(CLI::App& app, const AddCommand& add) {
    struct Options {
        std::string project, name;
        std::vector<std::string> words;
    };
    auto o = std::make_shared<Options>();
    auto* e = app.add_subcommand("edit", "Change a project by an edit; twice is as once");
    e->add_option("PROJECT", o->project)->required();
    e->add_option("NAME", o->name, "As `ledge edits` lists them")->required();
    e->add_option("KEY=VALUE", o->words, "Its arguments");
    add(e, [o](const Context& context) { return edit(o->project, o->name, o->words, context); });
    auto* l = app.add_subcommand("edits", "The edits there are, with their arguments");
    auto name = std::make_shared<std::string>();
    l->add_option("NAME", *name, "Only this one");
    add(l, [name](const Context& context) { return list(*name, context); });
    struct Saving {
        std::string project, source;
    };
    auto saving = std::make_shared<Saving>();
    auto* s = app.add_subcommand("save-edits", "Write edits of tables to the files they are of");
    s->add_option("PROJECT", saving->project)->required();
    s->add_option("--source", saving->source, "Only of this one, by name");
    add(s, [saving](const Context& context) {
        return saveTables(saving->project, saving->source, context);
    });
}

}  // namespace ledge::cli
