#include "app/workspace.h"

#include "document/panels.h"

#include <algorithm>

#include "document/map_crs.h"

#include "core/crs/transformation.h"
#include "core/globe/around.h"
#include "document/edits/additions.h"
#include "document/edits/layer_edits.h"
#include "document/edits/sheet_edits.h"

namespace ledge::app {
namespace {
constexpr std::size_t kMostSteps = 200;
}

Workspace::Workspace(session::Session& session, QObject* parent)
    : QObject(parent), m_session(session) {
    connect(&m_session, &session::Session::changed, this, &Workspace::followCrs);
    connect(&m_session, &session::Session::changed, this, &Workspace::dropVanished);
    m_viewCrs = m_session.mapCrs();
    connect(&m_session, &session::Session::replaced, this, [this] {
        m_layer = m_item = m_shownView = m_compared = 0;
        m_layers.clear();
        m_litClasses.clear();
        m_picked.clear();
        m_back.clear();
        m_forward.clear();
        m_view = document().lastView;
        m_viewCrs = m_session.mapCrs();
        if (!document().layers.empty()) m_layers = {m_layer = document().layers.front()->id};
        if (m_sheet != 0) showMap();
        Q_EMIT layerSelected();
        Q_EMIT viewChanged();
    });
}

const doc::SourceRef* Workspace::source() const {
    const doc::Layer* selected = layer();
    return selected ? document().source(selected->source) : nullptr;
}

void Workspace::selectLayers(std::vector<doc::Id> ids, doc::Id current) {
    std::erase(ids, doc::Id{0});
    if (m_layer == current && m_layers == ids && m_item == 0) return;
    if (m_layer != current) lightClasses({});
    m_layer = current;
    m_layers = std::move(ids);
    if (m_item != 0) {
        m_item = 0;
        m_items.clear();
        Q_EMIT itemSelected();
    }
    Q_EMIT layerSelected();
}

void Workspace::compareWith(doc::Id layer) {
    if (m_compared == layer) return;
    m_compared = layer;
    Q_EMIT comparisonChanged();
}

void Workspace::lightClasses(std::set<double> values) {
    if (m_litClasses == values) return;
    m_litClasses = std::move(values);
    Q_EMIT litClassesChanged();
}

void Workspace::noteTroubles(Troubles troubles) {
    if (m_troubles == troubles) return;
    m_troubles = std::move(troubles);
    Q_EMIT troublesChanged();
}

const std::vector<std::string>& Workspace::troubles(doc::Id layer) const {
    static const std::vector<std::string> none;
    const auto it = m_troubles.find(layer);
    return it == m_troubles.end() ? none : it->second;
}

const std::vector<FeatureKey>& Workspace::picked(doc::Id source) const {
    static const std::vector<FeatureKey> none;
    const auto it = m_picked.find(source);
    return it == m_picked.end() ? none : it->second;
}

void Workspace::pick(doc::Id source, std::vector<FeatureKey> keys) {
    std::sort(keys.begin(), keys.end());
    keys.erase(std::unique(keys.begin(), keys.end()), keys.end());
    if (picked(source) == keys) return;
    m_picked[source] = std::move(keys);
    Q_EMIT featuresPicked(source);
}

void Workspace::pick(doc::Id source, std::vector<FeatureKey> keys, Joining joining) {
    std::sort(keys.begin(), keys.end());
    const std::vector<FeatureKey>& before = picked(source);
    std::vector<FeatureKey> out;
    const auto into = std::back_inserter(out);
    switch (joining) {
    case Joining::Instead: out = std::move(keys); break;
    case Joining::Also:
        std::set_union(before.begin(), before.end(), keys.begin(), keys.end(), into);
        break;
    case Joining::Without:
        std::set_difference(before.begin(), before.end(), keys.begin(), keys.end(), into);
        break;
    case Joining::Within:
        std::set_intersection(before.begin(), before.end(), keys.begin(), keys.end(), into);
        break;
    }
    pick(source, std::move(out));
}

void Workspace::setBench(Bench bench) {
    if (m_bench == bench) return;
    m_bench = bench;
    Q_EMIT benchChanged();
}

void Workspace::setTool(Tool tool) {
    if (m_tool == tool) return;
    m_tool = tool;
    Q_EMIT toolChanged();
}

void Workspace::showSheet(doc::Id id) {
    if (m_sheet == id) return;
    m_sheet = id;
    m_item = 0;
    m_items.clear();
    m_movesContent = false;
    m_page = 1;
    if (id != 0) m_shownView = 0;
    Q_EMIT canvasChanged();
    Q_EMIT itemSelected();
}

const doc::SheetItem* Workspace::item() const {
    const doc::Sheet* shown = sheet();
    return shown ? shown->item(m_item) : nullptr;
}

void Workspace::selectItems(std::vector<doc::Id> ids, doc::Id current) {
    if (m_item == current && m_items == ids) return;
    if (m_item != current) setMovesContent(false);
    m_items = std::move(ids);
    m_item = current;
    Q_EMIT itemSelected();
}

void Workspace::showPage(int page) {
    if (m_page == page || page < 1) return;
    m_page = page;
    Q_EMIT pageChanged();
}

void Workspace::setMovesContent(bool on) {
    const auto* one = item();
    if (on && !(one && one->as<doc::MapPanel>())) on = false;
    if (m_movesContent == on) return;
    m_movesContent = on;
    Q_EMIT contentModeChanged();
}

const doc::SheetItem* Workspace::lampPanel() const {
    const doc::Sheet* shown = sheet();
    if (!shown) return nullptr;
    const doc::SheetItem* one = item();
    doc::Id panel = one ? one->id : 0;
    if (one && !one->as<doc::MapPanel>())
        std::visit(
            [&panel](const auto& content) {
                if constexpr (requires { content.panel; }) panel = content.panel;
            },
            one->content);
    return shown->panel(panel);
}

bool Workspace::isLit(const doc::Layer& layer) const {
    const doc::SheetItem* panel = lampPanel();
    if (!panel) return layer.isVisible;
    // Asked for each strip: the list is made once for a document and a panel.
    if (m_litOf != panel->id || m_litIn.get() != &document()) {
        m_litOf = panel->id, m_litIn = m_session.snapshot();
        m_lit.reset();
        if (const auto lit = doc::resolved(document(), *panel->as<doc::MapPanel>()).lit)
            m_lit.emplace(lit->begin(), lit->end());
    }
    return m_lit ? m_lit->contains(layer.id) : layer.isVisible;
}

void Workspace::setLit(doc::Id layer, bool isLit) {
    if (const doc::SheetItem* panel = lampPanel()) {
        performOnSheet(
            "panel-lamp",
            {{"item", target(panel->id)}, {"layer", target(layer)}, {"lit", isLit ? "yes" : "no"}});
        return;
    }
    perform("layer-visible", {{"layer", target(layer)}, {"visible", isLit ? "yes" : "no"}});
}

void Workspace::setView(const doc::MapView& asked, bool isStep) {
    doc::MapView view = asked;
    view.centre = globe::intoTurn(m_session.mapCrs(), view.centre);
    if (view == m_view) return;
    if (isStep) {
        m_back.push_back(m_view);
        if (m_back.size() > kMostSteps) m_back.erase(m_back.begin());
        m_forward.clear();
    }
    m_view = view;
    m_shownView = 0;
    m_session.rememberView(view);
    Q_EMIT viewChanged();
}

void Workspace::goBack() {
    if (m_back.empty()) return;
    m_forward.push_back(m_view);
    const doc::MapView to = m_back.back();
    m_back.pop_back();
    setView(to, false);
}

void Workspace::goForward() {
    if (m_forward.empty()) return;
    m_back.push_back(m_view);
    const doc::MapView to = m_forward.back();
    m_forward.pop_back();
    setView(to, false);
}

void Workspace::showView(doc::Id id) {
    const doc::SavedView* saved = document().view(id);
    if (!saved) return;
    const doc::MapView view = saved->view;
    if (!perform("view-lamps", {{"view", target(id)}})) return;
    showMap();
    setView(view);
    m_shownView = id;
    Q_EMIT viewChanged();
}

bool Workspace::perform(const char* name, const doc::EditWords& words, const QString& mergeKey) {
    auto done = doc::applied(document(), name, words);
    if (!done) {
        say(QString::fromStdString(done.error().text()), true);
        return false;
    }
    m_session.apply(std::move(done->document), QString::fromStdString(done->sentence), mergeKey);
    return true;
}

void Workspace::add(const QString& said, const doc::Document& with) {
    doc::EditWords words = doc::additionsBetween(document(), with);
    words["said"] = said.toStdString();
    perform("layers-add", words);
}

bool Workspace::performOnItem(const char* name, doc::EditWords words, const QString& mergeKey) {
    words.emplace("sheet", target(m_sheet));
    words.emplace("item", target(m_item));
    return perform(name, words, mergeKey.isEmpty() ? mergeKey : mergeKey + QString::number(m_item));
}

bool Workspace::performOnItems(const char* name, doc::EditWords words, const QString& mergeKey) {
    if (m_items.empty()) return false;
    words.emplace("items", targets(m_items));
    return performOnSheet(name, std::move(words),
                          mergeKey.isEmpty() ? mergeKey : mergeKey + QString::number(m_item));
}

bool Workspace::setItemMember(const std::string& member, const std::string& value,
                              const QString& mergeKey) {
    const doc::EditWords words{{"member", member}, {"value", value}};
    return m_items.size() > 1 ? performOnItems("items-set", words, mergeKey)
                              : performOnItem("item-set", words, mergeKey);
}

bool Workspace::performOnSheet(const char* name, doc::EditWords words, const QString& mergeKey) {
    words.emplace("sheet", target(m_sheet));
    return perform(name, words, mergeKey);
}

bool Workspace::performOnLayer(const char* name, doc::EditWords words, const QString& mergeKey) {
    if (!layer()) return false;
    words.emplace("layer", target(m_layer));
    return perform(name, words,
                   mergeKey.isEmpty() ? mergeKey : mergeKey + QString::number(m_layer));
}

bool Workspace::performOnSelected(const char* name, doc::EditWords words) {
    if (m_layers.empty()) return false;
    words.emplace("layers", targets(m_layers));
    return perform(name, words);
}

bool Workspace::setMember(const std::string& path, const std::string& value,
                          const QString& mergeKey) {
    return performOnLayer("layer-set", {{"member", path}, {"value", value}}, mergeKey);
}

std::string Workspace::targets(const std::vector<doc::Id>& ids) {
    std::string out;
    for (const doc::Id id : ids) out += (out.empty() ? "" : ",") + target(id);
    return out;
}

doc::Id Workspace::layerNamed(const std::string& name) const {
    for (const doc::LayerPtr& one : doc::allLayers(document().layers))
        if (one->name == name) return one->id;
    return 0;
}

// However the map came to another CRS, undo included, it goes on looking at the same place.
void Workspace::followCrs() {
    const crs::CrsPtr now = m_session.mapCrs();
    if (crs::isSame(now, m_viewCrs)) {
        m_viewCrs = now;  // choices of datum operations may be others
        return;
    }
    const crs::CrsPtr before = std::exchange(m_viewCrs, now);
    for (doc::MapView& view : m_back) view = doc::viewInCrs(view, before, now);
    for (doc::MapView& view : m_forward) view = doc::viewInCrs(view, before, now);
    setView(doc::viewInCrs(m_view, before, now), false);
}

void Workspace::dropVanished() {
    if (m_sheet != 0 && !sheet()) showMap();
    if (m_item != 0 && sheet()) {
        auto kept = m_items;
        std::erase_if(kept, [this](doc::Id id) { return !sheet()->item(id); });
        if (kept != m_items || !item())
            selectItems(kept, item() ? m_item : kept.empty() ? 0 : kept.back());
    }
    if (m_compared != 0 && !document().layer(m_compared)) compareWith(0);
    if (m_layers.empty()) return;
    auto kept = m_layers;
    if (kept.size() == 1) {
        if (!layer()) kept.clear();
    } else {
        std::set<doc::Id> known;
        for (const auto& one : doc::allLayers(document().layers)) known.insert(one->id);
        std::erase_if(kept, [&known](doc::Id id) { return !known.contains(id); });
    }
    if (kept == m_layers) return;
    m_layers = kept;
    if (std::find(kept.begin(), kept.end(), m_layer) == kept.end())
        m_layer = kept.empty() ? 0 : kept.back();
    Q_EMIT layerSelected();
}

}  // namespace ledge::app
