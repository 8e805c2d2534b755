#pragma once
#include <QObject>
#include <array>

#include "document/edits/edit_table.h"
#include "session/crs_shelf.h"
#include "session/session.h"

namespace ledge::app {

enum class Bench { Data, Terrain, Style, Labels, Ask, Sheet };
inline constexpr std::array kBenches{Bench::Data,   Bench::Terrain, Bench::Style,
                                     Bench::Labels, Bench::Ask,     Bench::Sheet};
enum class Tool { Move, Probe, Pick, Draw, Measure, Profile, Curtain, Label };

/// What the window shows of a session, none of it undoable: the selection, the bench, what is on
/// the canvas and where the map looks.
class Workspace : public QObject {
    Q_OBJECT

public:
    explicit Workspace(session::Session& session, QObject* parent = nullptr);

    session::Session& session() const { return m_session; }
    const doc::Document& document() const { return m_session.document(); }

    doc::Id selectedLayer() const { return m_layer; }
    const doc::Layer* layer() const { return document().layer(m_layer); }
    const doc::SourceRef* source() const;
    void selectLayer(doc::Id id) { selectLayers({id}, id); }
    /// Strips selected together; one of them, the current one, is selectedLayer() and what the
    /// benches are about.
    const std::vector<doc::Id>& selectedLayers() const { return m_layers; }
    void selectLayers(std::vector<doc::Id> ids, doc::Id current);

    Bench bench() const { return m_bench; }
    void setBench(Bench bench);
    Tool tool() const { return m_tool; }
    void setTool(Tool tool);

    /// The sheet on the canvas; 0: the map.
    doc::Id sheetId() const { return m_sheet; }
    const doc::Sheet* sheet() const { return document().sheet(m_sheet); }
    void showSheet(doc::Id id);
    void showMap() { showSheet(0); }
    doc::Id selectedItem() const { return m_item; }
    const doc::SheetItem* item() const;
    void selectItem(doc::Id id) {
        selectItems(id == 0 ? std::vector<doc::Id>() : std::vector{id}, id);
    }
    /// Items selected together; one of them is the current one, which the bench is about.
    const std::vector<doc::Id>& selectedItems() const { return m_items; }
    void selectItems(std::vector<doc::Id> ids, doc::Id current);
    /// The panel whose lamps the stack shows: the selected one, that of the selected item, else the
    /// sheet's first; null while the map is shown.
    const doc::SheetItem* lampPanel() const;
    /// Whether a lamp is lit: of that panel, else of the map.
    bool isLit(const doc::Layer& layer) const;
    void setLit(doc::Id layer, bool isLit);
    /// The page of a series on the canvas, from 1.
    int shownPage() const { return m_page; }
    void showPage(int page);
    /// Whether dragging and the wheel move what the selected panel shows in place of the panel.
    bool movesContent() const { return m_movesContent; }
    void setMovesContent(bool on);

    const doc::MapView& view() const { return m_view; }
    /// What the map pane shows of the map's plane; empty before it was drawn.
    const Box& viewExtent() const { return m_viewExtent; }
    void noteViewExtent(const Box& extent) { m_viewExtent = extent; }
    /// The strip or group that the selected one is compared with by curtain and blink; 0: with the
    /// map without it.
    doc::Id comparedLayer() const { return m_compared; }
    void compareWith(doc::Id layer);
    /// Values of the selected raster's classes that the map shows lit while all others are faint;
    /// empty: none.
    const std::set<double>& litClasses() const { return m_litClasses; }
    void lightClasses(std::set<double> values);
    /// What the map could not draw of a layer as it was asked to, in sentences.
    using Troubles = std::map<doc::Id, std::vector<std::string>>;
    void noteTroubles(Troubles troubles);
    const std::vector<std::string>& troubles(doc::Id layer) const;
    /// Features of a source that are picked: outlined on the map, marked in the table. Ascending.
    const std::vector<FeatureKey>& picked(doc::Id source) const;
    void pick(doc::Id source, std::vector<FeatureKey> keys);
    /// How keys are joined with those picked already.
    enum class Joining : std::uint8_t { Instead, Also, Without, Within };
    void pick(doc::Id source, std::vector<FeatureKey> keys, Joining joining);
    /// Moves the map; the place left is kept for goBack().
    void setView(const doc::MapView& view, bool isStep = true);
    void goBack();
    void goForward();
    bool canGoBack() const { return !m_back.empty(); }
    bool canGoForward() const { return !m_forward.empty(); }
    /// Shows a saved view: where it looks and its lamps.
    void showView(doc::Id id);
    doc::Id shownView() const { return m_shownView; }

    /// Does an edit of the table of edits as one undoable step; what cannot be done is said.
    /// `mergeKey` folds steps of one drag together. Whether it could be done.
    bool perform(const char* name, const doc::EditWords& words, const QString& mergeKey = {});
    /// Does the edit that adds what `with` has more than the document: layers and sources that a
    /// job made.
    void add(const QString& said, const doc::Document& with);
    /// A target's id as edits take it.
    static std::string target(doc::Id id) { return "#" + std::to_string(id); }
    static std::string targets(const std::vector<doc::Id>& ids);
    /// An edit of the selected item of the sheet on the canvas.
    bool performOnItem(const char* name, doc::EditWords words, const QString& mergeKey = {});
    /// An edit of the items selected together.
    bool performOnItems(const char* name, doc::EditWords words, const QString& mergeKey = {});
    /// A member of the selected items, of those that have it.
    bool setItemMember(const std::string& member, const std::string& value,
                       const QString& mergeKey = {});
    /// An edit of the sheet on the canvas.
    bool performOnSheet(const char* name, doc::EditWords words, const QString& mergeKey = {});
    /// An edit of the selected strip.
    bool performOnLayer(const char* name, doc::EditWords words, const QString& mergeKey = {});
    /// An edit of the strips selected together.
    bool performOnSelected(const char* name, doc::EditWords words);
    /// A member of the selected strip, by its path in the project: "style.levels.interval".
    bool setMember(const std::string& path, const std::string& value, const QString& mergeKey = {});
    /// The thing that the last edit of this window added is selected by what it is called.
    doc::Id layerNamed(const std::string& name) const;

    /// CRSs kept at hand across projects.
    session::CrsShelf& crsShelf() { return m_crsShelf; }

    void say(const QString& message, bool isTrouble = false) { Q_EMIT said(message, isTrouble); }

Q_SIGNALS:
    void layerSelected();
    void itemSelected();
    void contentModeChanged();
    void pageChanged();
    void benchChanged();
    void toolChanged();
    void canvasChanged();
    void viewChanged();
    void comparisonChanged();
    void litClassesChanged();
    void troublesChanged();
    void featuresPicked(doc::Id source);
    /// The table of a layer is to be shown.
    void tableAsked(doc::Id layer);
    void said(const QString& message, bool isTrouble);
    /// The map should show everything of a layer (0: of the whole project).
    void fitAsked(doc::Id layer);
    /// A polygon or line is to be drawn on the sheet.
    void shapeDrawingAsked(doc::ShapeForm form);

private:
    void dropVanished();
    void followCrs();

    session::Session& m_session;
    session::CrsShelf m_crsShelf{session::CrsShelf::usualFile()};
    std::vector<doc::Id> m_layers, m_items;
    bool m_movesContent = false;
    int m_page = 1;
    /// Of the panel in lampPanel(), for one document.
    mutable doc::Id m_litOf = 0;
    mutable doc::DocumentPtr m_litIn;
    mutable std::optional<std::set<doc::Id>> m_lit;
    doc::Id m_layer = 0, m_sheet = 0, m_item = 0, m_shownView = 0;
    Bench m_bench = Bench::Data;
    Tool m_tool = Tool::Move;
    doc::MapView m_view;
    Box m_viewExtent;
    doc::Id m_compared = 0;
    std::set<double> m_litClasses;
    Troubles m_troubles;
    std::map<doc::Id, std::vector<FeatureKey>> m_picked;  ///< by source
    crs::CrsPtr m_viewCrs;  ///< whose coordinates the views here are in
    std::vector<doc::MapView> m_back, m_forward;
};

}  // namespace ledge::app
