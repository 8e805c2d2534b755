#include "app/sheet/panel_editor.h"

#include "app/benches/bench_page.h"
#include "app/sheet/on_paper.h"
#include "app/widgets/rows.h"
#include "core/base/numbers.h"
#include "document/edits/sheet_edits.h"
#include "document/json/members.h"
#include "document/map_crs.h"
#include "document/panels.h"

namespace ledge::app {
PanelEditor::PanelEditor(Workspace& workspace, QWidget* parent)
    : QWidget(parent), m_workspace(workspace), m_rows(new QVBoxLayout(this)) {
    m_rows->setContentsMargins(0, 0, 0, 0);
    m_rows->setSpacing(6);
    makePlace();
    makeLamps();
    makeInset();
    makeGrids();
}

void PanelEditor::makePlace() {
    m_shows = makeChoice(tr("Set where it looks"), {});
    m_shows->setObjectName("panelShows");
    m_scale = makeNumber(tr("Scale of the panel"), 1, 1e9, 0, {}, 5000);
    m_scale->setObjectName("panelScale");
    m_scale->setPrefix("1 : ");
    m_rotation = makeNumber(tr("Rotation of the panel"), -180, 180, 1, "°", 5);
    m_rotation->setObjectName("panelRotation");
    m_content = makeButton(tr("Move the map inside"),
                           tr("Drag, scroll and turn what the panel shows, without moving the "
                              "panel (double click, Esc to end)"));
    m_content->setObjectName("moveContent");
    m_content->setCheckable(true);
    auto* fit = makeButton(tr("Look at all of it"), tr("Everything that is lit, at a round scale"));
    fit->setObjectName("panelFit");
    auto* round = makeButton(tr("Round scale"),
                             tr("The next round scale at which all that is shown stays in"));
    round->setObjectName("panelRound");
    m_like = makeChoice(tr("Take scale or place from another panel"), {});
    m_like->setObjectName("panelLike");
    m_follows = makeChoice(tr("Follow a saved view or another panel"), {});
    m_follows->setObjectName("panelFollows");
    m_said = makeLabel("", "muted");
    m_rows->addWidget(captioned(tr("Set where it looks, from"), m_shows));
    m_rows->addWidget(
        sideBySide({captioned(tr("Scale"), m_scale), captioned(tr("Rotation"), m_rotation)}));
    m_labels = makeButton(tr("Place its labels"),
                          tr("Labels of this panel are dragged and turned, at its scale (Alt+L "
                             "inside it); on the map they stay"));
    m_labels->setObjectName("placesLabels");
    m_labels->setCheckable(true);
    m_rows->addWidget(sideBySide({m_content, m_labels}));
    auto* map =
        makeButton(tr("Show on the map"),
                   tr("The map at this panel's place and scale, with sizes as they are on paper"));
    map->setObjectName("panelOnMap");
    connect(map, &QPushButton::clicked, this, [this] {
        const auto* item = m_workspace.item();
        const auto* panel = item ? item->as<doc::MapPanel>() : nullptr;
        if (!panel) return;
        const auto shown = doc::resolved(m_workspace.document(), *panel);
        m_workspace.setView(doc::viewInCrs(doc::viewOf(shown),
                                           doc::crsIn(m_workspace.document(), shown.crs),
                                           m_workspace.session().mapCrs()));
        m_workspace.showMap();
    });
    m_rows->addWidget(sideBySide({fit, round}));
    m_rows->addWidget(map);
    m_rows->addWidget(
        sideBySide({captioned(tr("Same as"), m_like), captioned(tr("Follows"), m_follows)}));
    m_rows->addWidget(m_said);
    connect(m_shows, &QComboBox::activated, this, [this](int index) {
        if (index <= 0) return;
        doc::MapView view = m_workspace.view();
        const auto& views = m_workspace.document().views;
        if (index >= 2 && static_cast<std::size_t>(index - 2) < views.size())
            view = views[static_cast<std::size_t>(index - 2)].view;
        const double scale = doc::groundScale(view, m_workspace.session().mapCrs());
        m_workspace.performOnItem(
            "panel-place", {{"centre", placeText(view.centre)},
                            {"scale", exactNumber(scale)},
                            {"rotation", exactNumber(std::remainder(view.rotation, 360.0))}});
    });
    connect(m_scale, &QDoubleSpinBox::valueChanged, this, [this](double v) {
        m_workspace.performOnItem("panel-scale", {{"scale", exactNumber(v)}}, "scale");
    });
    connect(m_rotation, &QDoubleSpinBox::valueChanged, this, [this](double v) {
        m_workspace.performOnItem("panel-rotation", {{"degrees", exactNumber(v)}}, "turn");
    });
    connect(m_content, &QPushButton::clicked, this, [this](bool on) {
        m_workspace.setTool(Tool::Move);
        m_workspace.setMovesContent(on);
    });
    connect(m_labels, &QPushButton::clicked, this, [this](bool on) {
        m_workspace.setMovesContent(on);
        m_workspace.setTool(on ? Tool::Label : Tool::Move);
    });
    const auto showMode = [this] {
        const bool isInside = m_workspace.movesContent();
        m_content->setChecked(isInside && m_workspace.tool() != Tool::Label);
        m_labels->setChecked(isInside && m_workspace.tool() == Tool::Label);
    };
    connect(&m_workspace, &Workspace::contentModeChanged, this, showMode);
    connect(&m_workspace, &Workspace::toolChanged, this, showMode);
    connect(fit, &QPushButton::clicked, this, &PanelEditor::fitAsked);
    connect(round, &QPushButton::clicked, this, [this] {
        const auto* item = m_workspace.item();
        const auto* panel = item ? item->as<doc::MapPanel>() : nullptr;
        if (!panel) return;
        const auto now = doc::resolved(m_workspace.document(), *panel);
        const double scale = doc::groundScale(now, doc::crsIn(m_workspace.document(), now.crs));
        m_workspace.performOnItem("panel-scale", {{"scale", exactNumber(doc::roundScale(scale))}});
    });
    connect(m_like, &QComboBox::activated, this, [this](int index) {
        const auto chosen = m_like->itemData(index).toStringList();
        if (chosen.size() == 2)
            m_workspace.performOnItem("panel-like", {{"other", chosen[0].toStdString()},
                                                     {"what", chosen[1].toStdString()}});
    });
    connect(m_follows, &QComboBox::activated, this, [this](int index) {
        const doc::Id id = idAt(m_follows, index);
        m_workspace.performOnItem("panel-follow",
                                  {{"what", id == 0 ? "nothing" : Workspace::target(id)}});
    });
}

void PanelEditor::makeLamps() {
    m_lamps = makeChoice(tr("Where its lamps come from"), {});
    m_lamps->setObjectName("panelLamps");
    m_frozen = new QCheckBox(tr("Keep layers and styles as they are now"));
    m_frozen->setObjectName("panelKeeps");
    m_rows->addWidget(captioned(tr("Lamps · the stack shows this panel's"), m_lamps));
    m_rows->addWidget(m_frozen);
    connect(m_lamps, &QComboBox::activated, this, [this](int index) {
        const QString from = m_lamps->itemData(index).toString();
        if (!from.isEmpty())
            m_workspace.performOnItem("panel-lamps", {{"from", from.toStdString()}});
    });
    connect(m_frozen, &QCheckBox::clicked, this, [this](bool on) {
        m_workspace.performOnItem("panel-keep", {{"keep", doc::word(on)}});
    });
}

void PanelEditor::makeInset() {
    m_shownIn = makeChoice(tr("Its outline is shown in"), {});
    m_shownIn->setObjectName("panelShownIn");
    m_leaders = new QCheckBox(tr("Leaders from there"));
    m_leaders->setObjectName("panelLeaders");
    m_rows->addWidget(captioned(tr("Its outline is shown in"), m_shownIn));
    m_rows->addWidget(m_leaders);
    connect(m_shownIn, &QComboBox::activated, this, [this](int index) {
        m_workspace.setItemMember("shown_in", std::to_string(idAt(m_shownIn, index)));
    });
    connect(m_leaders, &QCheckBox::clicked, this,
            [this](bool on) { m_workspace.setItemMember("leaders", doc::word(on)); });
}

void PanelEditor::makeGrids() {
    auto* list = new QWidget;
    m_grids = new QVBoxLayout(list);
    m_grids->setContentsMargins(0, 0, 0, 0);
    m_grids->setSpacing(4);
    auto* add = makeLink(tr("Add lines of coordinates"),
                         tr("A graticule or grid over the panel, its values outside"));
    add->setObjectName("addPanelGrid");
    m_rows->addWidget(makeLabel(tr("Graticules and grids"), "heading"));
    m_rows->addWidget(list);
    m_rows->addWidget(add);
    connect(add, &QPushButton::clicked, this, [this] {
        changeGrids([](std::vector<doc::PanelGrid>& grids) {
            doc::PanelGrid fresh;
            // The first one is a graticule, the next one a grid.
            fresh.style.isGraticule = grids.empty();
            fresh.form = grids.empty() ? doc::GridForm::Lines : doc::GridForm::Ticks;
            grids.push_back(fresh);
        });
    });
}

void PanelEditor::changeGrids(const std::function<void(std::vector<doc::PanelGrid>&)>& change,
                              const QString& mergeKey) {
    const auto* item = m_workspace.item();
    const auto* panel = item ? item->as<doc::MapPanel>() : nullptr;
    if (!panel) return;
    auto grids = panel->grids;
    change(grids);
    m_workspace.performOnItem("item-set", {{"member", "grids"}, {"value", doc::styleText(grids)}},
                              mergeKey);
}

PanelEditor::GridRow PanelEditor::makeGridRow(std::size_t at) {
    GridRow row{new QWidget,
                makeChoice(tr("Kind of lines"), {tr("Graticule"), tr("Grid")}),
                makeChoice(tr("Drawn as"), {tr("Lines"), tr("Crosses"), tr("Ticks")}),
                makeText(tr("CRS of the coordinates, such as EPSG:4326; empty: the panel's"),
                         tr("panel's CRS")),
                nullptr,
                makeNumber(tr("Interval (0: by the scale)"), 0, 1e7, 6),
                new QCheckBox(tr("Values"))};
    auto* remove = makeLink(tr("Remove"), tr("Take these lines off the panel"));
    row.kind->setObjectName(QString("gridKind%1").arg(at));
    row.form->setObjectName(QString("gridForm%1").arg(at));
    row.crs->setObjectName(QString("gridCrs%1").arg(at));
    row.interval->setObjectName(QString("gridInterval%1").arg(at));
    row.values->setObjectName(QString("gridValues%1").arg(at));
    remove->setObjectName(QString("removeGrid%1").arg(at));
    row.crsWrong = wrongBelow(row.crs);
    row.interval->setSpecialValueText(tr("by the scale"));
    const auto change = [this, at](const std::function<void(doc::PanelGrid&)>& act,
                                   const QString& mergeKey = {}) {
        changeGrids(
            [&](std::vector<doc::PanelGrid>& grids) {
                if (at < grids.size()) act(grids[at]);
            },
            mergeKey);
    };
    connect(row.kind, &QComboBox::activated, this,
            [change](int v) { change([v](doc::PanelGrid& g) { g.style.isGraticule = v == 0; }); });
    connect(row.form, &QComboBox::activated, this, [change](int v) {
        change([v](doc::PanelGrid& g) { g.form = static_cast<doc::GridForm>(v); });
    });
    connect(row.interval, &QDoubleSpinBox::valueChanged, this, [change, at](double v) {
        change([v](doc::PanelGrid& g) { g.style.interval = v; },
               QString("gridInterval%1.").arg(at));
    });
    connect(row.values, &QCheckBox::clicked, this,
            [change](bool on) { change([on](doc::PanelGrid& g) { g.hasValues = on; }); });
    connect(row.crs, &QLineEdit::editingFinished, this, [this, at] { setGridCrs(at); });
    connect(remove, &QPushButton::clicked, this, [this, at] {
        changeGrids([at](std::vector<doc::PanelGrid>& grids) {
            if (at < grids.size()) grids.erase(grids.begin() + static_cast<std::ptrdiff_t>(at));
        });
    });
    auto* all = new QVBoxLayout(row.widget);
    all->setContentsMargins(0, 0, 0, 0);
    all->setSpacing(4);
    all->addWidget(sideBySide({row.kind, row.form}));
    all->addWidget(sideBySide({row.crs, row.interval}));
    all->addWidget(row.crsWrong);
    all->addWidget(sideBySide({row.values, remove}));
    return row;
}

void PanelEditor::setGridCrs(std::size_t at) {
    const auto* item = m_workspace.item();
    const auto* panel = item ? item->as<doc::MapPanel>() : nullptr;
    if (!panel || at >= panel->grids.size()) return;
    const GridRow& row = m_gridRows[at];
    const std::string said = row.crs->text().trimmed().toStdString();
    if (said == panel->grids[at].style.crs) return;
    const auto read = crs::parseCrs(said.empty() ? "local" : said);
    showWrong(row.crs, row.crsWrong, read ? QString() : qtext(read.error().text()));
    if (!read) return;
    changeGrids([&](std::vector<doc::PanelGrid>& grids) { grids[at].style.crs = said; });
}

void PanelEditor::showGrids(const doc::MapPanel& panel) {
    keepRows(m_gridRows, panel.grids.size(), m_grids,
             [this](std::size_t at) { return makeGridRow(at); });
    for (std::size_t i = 0; i < panel.grids.size(); ++i) {
        const doc::PanelGrid& grid = panel.grids[i];
        const GridRow& row = m_gridRows[i];
        showChoice(row.kind, grid.style.isGraticule ? 0 : 1);
        showChoice(row.form, static_cast<int>(grid.form));
        showText(row.crs, qtext(grid.style.crs));
        if (!row.crs->hasFocus()) showWrong(row.crs, row.crsWrong, {});
        {
            const QSignalBlocker quiet(row.interval);
            row.interval->setDecimals(grid.style.isGraticule ? 4 : 0);
        }
        showNumber(row.interval, grid.style.interval);
        showCheck(row.values, grid.hasValues);
    }
}

void PanelEditor::listOthers(QComboBox* box, bool withViews, const doc::SheetItem& item) const {
    if (withViews)
        for (const auto& view : m_workspace.document().views)
            box->addItem(tr("%1 (saved view)").arg(qtext(view.name)), QVariant::fromValue(view.id));
    for (const doc::SheetItem& other : m_workspace.sheet()->items)
        if (other.as<doc::MapPanel>() && other.id != item.id)
            box->addItem(qtext(other.name), QVariant::fromValue(other.id));
}

void PanelEditor::show(const doc::SheetItem& item) {
    const auto& own = *item.as<doc::MapPanel>();
    const doc::Document& document = m_workspace.document();
    const doc::MapPanel panel = doc::resolved(document, own);
    const QSignalBlocker quiet[] = {QSignalBlocker(m_shows), QSignalBlocker(m_follows),
                                    QSignalBlocker(m_like), QSignalBlocker(m_lamps),
                                    QSignalBlocker(m_shownIn)};
    m_shows->clear();
    m_shows->addItems({tr("its own view"), tr("the map as it is now")});
    for (const auto& view : document.views)
        m_shows->addItem(tr("%1 (saved view)").arg(qtext(view.name)));
    m_follows->clear();
    m_follows->addItem(tr("nothing"), QVariant::fromValue(doc::Id{0}));
    listOthers(m_follows, true, item);
    for (int i = 0; i < m_follows->count(); ++i)
        if (idAt(m_follows, i) == own.follows) m_follows->setCurrentIndex(i);
    m_like->clear();
    m_like->addItem(tr("choose…"));
    for (const doc::SheetItem& other : m_workspace.sheet()->items) {
        if (!other.as<doc::MapPanel>() || other.id == item.id) continue;
        const QString target = QString::fromStdString(Workspace::target(other.id)),
                      name = qtext(other.name);
        m_like->addItem(tr("scale of %1").arg(name), QStringList{target, "scale"});
        m_like->addItem(tr("place of %1").arg(name), QStringList{target, "place"});
        m_like->addItem(tr("place, scale and CRS of %1").arg(name), QStringList{target, "all"});
    }
    m_like->setEnabled(m_like->count() > 1);
    m_lamps->clear();
    m_lamps->addItem(own.lit ? tr("its own") : tr("follow the map's"),
                     own.lit ? QString() : QStringLiteral("follow"));
    if (own.lit) m_lamps->addItem(tr("follow the map's"), QStringLiteral("follow"));
    m_lamps->addItem(tr("own, as the map's are now"), QStringLiteral("map"));
    for (const auto& view : document.views)
        m_lamps->addItem(tr("own, as in %1").arg(qtext(view.name)),
                         QString::fromStdString(Workspace::target(view.id)));
    m_shownIn->clear();
    m_shownIn->addItem(tr("no other panel"), QVariant::fromValue(doc::Id{0}));
    listOthers(m_shownIn, false, item);
    for (int i = 0; i < m_shownIn->count(); ++i)
        if (idAt(m_shownIn, i) == own.shownIn) m_shownIn->setCurrentIndex(i);
    m_leaders->setEnabled(own.shownIn != 0);
    showCheck(m_leaders, own.hasLeaders);
    showNumber(m_scale, shownScale(doc::groundScale(panel, doc::crsIn(document, panel.crs))));
    showNumber(m_rotation, panel.rotation);
    showCheck(m_frozen, own.frozen.has_value());
    m_content->setChecked(m_workspace.movesContent());
    m_said->setText(own.follows != 0 ? tr("It follows; moving it lets go.")
                                     : tr("A panel keeps its own view; the map never moves it."));
    showGrids(own);
}

}  // namespace ledge::app
