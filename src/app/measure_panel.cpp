#include "app/measure_panel.h"

#include <QCheckBox>
#include <QClipboard>
#include <QFileDialog>
#include <QGuiApplication>
#include <QToolButton>

#include "app/benches/bench_page.h"
#include "app/theme.h"
#include "app/widgets/file_filters.h"
#include "app/widgets/form.h"
#include "core/base/numbers.h"
#include "document/json/members.h"
#include "session/aside.h"
#include "session/new_layers.h"
#include "session/terrain_layers.h"

namespace ledge::app {

MeasurePanel::MeasurePanel(Workspace& workspace, MeasureOverlay& measuring, QWidget* parent)
    : QFrame(parent), m_workspace(workspace), m_measuring(measuring), m_grid(new QGridLayout),
      m_table(new QWidget), m_hint(makeLabel("", "muted")),
      m_kind(makeChoice(tr("What is measured"), {tr("Path"), tr("Area")})),
      m_unit(makeChoice(tr("Units of lengths"), {})),
      m_copy(makeButton(tr("Copy"), tr("Copy the figures as text"))),
      m_keep(makeButton(tr("Keep as a layer…"), tr("Write it to a file and add that"))),
      m_light(makeButton(tr("Light at right angles to the line"),
                         tr("Turn the selected light square to this line, as along a lineament"))) {
    setObjectName("measurePanel");
    setAccessibleName(tr("Measure"));
    setStyleSheet(
        QString("QFrame#measurePanel { background: %1; border: 1px solid %2; border-radius: 8px; }")
            .arg(theme().surface.name(), theme().line.name()));
    m_kind->setObjectName("measureKind");
    m_unit->setObjectName("measureUnit");
    m_copy->setObjectName("measureCopy");
    m_keep->setObjectName("measureKeep");
    m_light->setObjectName("lightAcross");
    for (int i = 0; i <= static_cast<int>(LengthUnit::NauticalMiles); ++i)
        m_unit->addItem(qtext(lengthUnitName(static_cast<LengthUnit>(i))));
    auto* close = new QToolButton;
    close->setIcon(lineIcon("x", theme().muted));
    close->setAccessibleName(tr("End measuring"));
    close->setToolTip(tr("Back to moving the map (Alt+G)"));
    connect(close, &QToolButton::clicked, this, [this] { m_workspace.setTool(Tool::Move); });
    auto* head = new QHBoxLayout;
    head->addWidget(makeLabel(tr("Measure"), "heading"), 1);
    head->addWidget(close);
    auto* snap = new QCheckBox(tr("Snap to vertices"));
    snap->setChecked(true);
    snap->setToolTip(tr("Points take the place of a vertex nearby, else of a side"));
    connect(snap, &QCheckBox::toggled, this, [this](bool on) { m_measuring.setSnaps(on); });
    m_table->setLayout(m_grid);
    m_grid->setContentsMargins(0, 0, 0, 0);
    m_grid->setHorizontalSpacing(12);
    m_grid->setVerticalSpacing(3);
    auto* layout = new QVBoxLayout(this);
    layout->setContentsMargins(12, 6, 8, 10);
    layout->setSpacing(6);
    layout->addLayout(head);
    layout->addWidget(sideBySide({m_kind, m_unit}));
    layout->addWidget(m_table);
    layout->addWidget(m_hint);
    layout->addWidget(snap);
    layout->addWidget(sideBySide({m_copy, m_keep}));
    layout->addWidget(m_light);
    connect(m_light, &QPushButton::clicked, this, [this] {
        const auto* layer = m_workspace.layer();
        const auto* shade = layer ? layer->as<doc::Hillshade>() : nullptr;
        if (!shade) return;
        const auto light = session::lightAcross(m_measuring.points(), shade->style.lights.front());
        m_workspace.performOnLayer("light", {{"azimuth", exactNumber(light.azimuth)},
                                             {"altitude", exactNumber(light.altitude)}});
    });
    connect(&m_workspace, &Workspace::layerSelected, this, &MeasurePanel::refresh);
    connect(m_kind, &QComboBox::activated, this,
            [this](int index) { m_measuring.setArea(index == 1); });
    connect(m_unit, &QComboBox::activated, this, [this](int index) {
        m_workspace.perform(
            "units", {{"lengths", std::string(doc::unitName(static_cast<LengthUnit>(index)))}});
    });
    connect(m_copy, &QPushButton::clicked, this, [this] {
        QGuiApplication::clipboard()->setText(asText());
        m_workspace.say(tr("The figures are on the clipboard"));
    });
    connect(m_keep, &QPushButton::clicked, this, &MeasurePanel::keep);
    connect(&measuring, &MeasureOverlay::changed, this, &MeasurePanel::refresh);
    connect(&workspace.session(), &session::Session::changed, this, &MeasurePanel::refresh);
    refresh();
    hide();
}

std::vector<MeasurePanel::Row> MeasurePanel::rows() const {
    const auto m = m_measuring.measured();
    const LengthUnit unit = m_workspace.document().display.lengths;
    const auto percent = [](double ellipsoid, double plane) {
        if (!std::isfinite(ellipsoid) || !std::isfinite(plane) || ellipsoid == 0) return QString();
        const double share = (plane / ellipsoid - 1) * 100;
        return (share > 0 ? "+" : "") +
               qtext(formatNumber(share, {std::abs(share) < 10 ? 3 : 1, false})) + " %";
    };
    const auto length = [unit](double v) { return qtext(formatLength(v, unit)); };
    const auto area = [unit](double v) { return qtext(formatArea(v, unit)); };
    std::vector<Row> out;
    if (m.isArea)
        out.push_back({tr("Area"), area(m.ellipsoidalArea), area(m.planarArea),
                       percent(m.ellipsoidalArea, m.planarArea)});
    out.push_back({m.isArea ? tr("Perimeter") : tr("Length"), length(m.ellipsoidalLength),
                   length(m.planarLength), percent(m.ellipsoidalLength, m.planarLength)});
    out.push_back({tr("Last leg"), length(m.lastEllipsoidal), length(m.lastPlanar),
                   percent(m.lastEllipsoidal, m.lastPlanar)});
    const double turned = std::isfinite(m.bearing) && std::isfinite(m.gridBearing)
                              ? std::remainder(m.gridBearing - m.bearing, 360.0)
                              : kNaN;
    out.push_back({tr("Its bearing"), qtext(formatBearing(m.bearing)),
                   qtext(formatBearing(m.gridBearing)),
                   std::isfinite(turned)
                       ? (turned > 0 ? "+" : "") + qtext(formatNumber(turned, {1, false})) + "°"
                       : QString()});
    return out;
}

void MeasurePanel::refresh() {
    while (QLayoutItem* item = m_grid->takeAt(0)) {
        delete item->widget();
        delete item;
    }
    const bool hasAny = m_measuring.points().size() >= 1;
    const auto put = [this](int row, int column, const QString& text, const char* role) {
        auto* label = makeLabel(text, role);
        label->setWordWrap(false);
        if (column > 0) label->setAlignment(Qt::AlignRight | Qt::AlignVCenter);
        m_grid->addWidget(label, row, column);
    };
    put(0, 1, tr("ellipsoid"), "muted");
    put(0, 2, tr("plane"), "muted");
    put(0, 3, tr("difference"), "muted");
    int row = 1;
    for (const Row& one : rows()) {
        put(row, 0, one.name, "muted");
        put(row, 1, hasAny ? one.ellipsoid : "–", "");
        put(row, 2, hasAny ? one.plane : "–", "");
        put(row++, 3, one.difference, "muted");
    }
    m_grid->setColumnStretch(0, 1);
    showChoice(m_kind, m_measuring.isArea() ? 1 : 0);
    showChoice(m_unit, static_cast<int>(m_workspace.document().display.lengths));
    m_hint->setText(!m_measuring.crs() ? tr("Without a CRS there is no ellipsoid.")
                    : hasAny           ? tr("Double click ends it; Backspace takes a point back.")
                                       : tr("Click on the map, or press Enter for its middle."));
    const std::size_t needed = m_measuring.isArea() ? 3 : 2;
    m_copy->setEnabled(m_measuring.points().size() >= 2);
    const auto* selected = m_workspace.layer();
    m_light->setVisible(selected && selected->as<doc::Hillshade>() && !m_measuring.isArea());
    m_light->setEnabled(m_measuring.points().size() >= 2);
    m_keep->setEnabled(m_measuring.points().size() >= needed);
}

QString MeasurePanel::asText() const {
    QString out = "\t" + tr("ellipsoid") + "\t" + tr("plane") + "\t" + tr("difference") + "\n";
    for (const Row& row : rows())
        out += row.name + "\t" + row.ellipsoid + "\t" + row.plane + "\t" + row.difference + "\n";
    return out;
}

void MeasurePanel::keep() {
    const auto& project = m_workspace.session().path();
    const QString suggested =
        (project.empty() ? QString() : qtext(project.parent_path().string()) + "/") +
        (m_measuring.isArea() ? "measured_area.gpkg" : "measured_path.gpkg");
    const QString path = QFileDialog::getSaveFileName(this, tr("Keep the measurement"), suggested,
                                                      saveFilter(io::Writes::Tables, ".gpkg"),
                                                      nullptr, QFileDialog::DontUseNativeDialog);
    if (path.isEmpty()) return;
    const auto& points = m_measuring.points();
    const auto measured = session::measure(m_measuring.crs(), points, m_measuring.isArea());
    const auto table = session::measurementTable(m_measuring.crs(), points, measured);
    const auto done = session::aside([&] { return io::writeTable(table, path.toStdString(), {}); });
    if (!done) return m_workspace.say(qtext(done.error().text()), true);
    Q_EMIT kept(path);
}

}  // namespace ledge::app
