#include "app/draw_panel.h"

#include <QCheckBox>
#include <QFileDialog>
#include <QToolButton>

#include "app/benches/bench_page.h"
#include "app/theme.h"
#include "app/widgets/file_filters.h"
#include "app/widgets/form.h"
#include "core/base/numbers.h"
#include "session/aside.h"

namespace ledge::app {
namespace {
// What one draws into a layer of a kind.
DrawMode usualMode(GeometryType type) {
    switch (type) {
    case GeometryType::Point: return DrawMode::Point;
    case GeometryType::Line: return DrawMode::Line;
    case GeometryType::Polygon:
    case GeometryType::None: break;
    }
    return DrawMode::Area;
}
GeometryType typeOf(DrawMode mode) {
    return mode == DrawMode::Point  ? GeometryType::Point
           : mode == DrawMode::Line ? GeometryType::Line
                                    : GeometryType::Polygon;
}
bool isNew(DrawMode mode) {
    return mode == DrawMode::Point || mode == DrawMode::Line || mode == DrawMode::Area;
}
}  // namespace

DrawPanel::DrawPanel(Workspace& workspace, DrawTool& drawing, MeasureOverlay& path, QWidget* parent)
    : QFrame(parent), m_workspace(workspace), m_drawing(drawing), m_path(path),
      m_mode(makeChoice(tr("What is drawn"),
                        {tr("Points"), tr("Lines"), tr("Areas"), tr("Vertices of the picked one"),
                         tr("Cut along a line"), tr("Hole in the picked area"),
                         tr("Further part of the picked one")})),
      m_into(makeLabel("")), m_hint(makeLabel("", "muted")),
      m_typed(makeText(tr("Next point"), tr("61.58 -10.7, or 120 m 45"))),
      m_wrong(makeLabel("", "trouble")), m_figures(makeLabel("", "muted")),
      m_done(makeButton(tr("Done"), tr("What is drawn is whole (double click, Ctrl+Enter)"), true)),
      m_back(makeButton(tr("Take back"), tr("Without the last point (Backspace)"))),
      m_new(makeLink(tr("New layer…"), tr("Write a file for what is drawn, and add it"))),
      m_pathPart(new QWidget), m_vertexPart(new QWidget),
      m_less(makeButton(tr("Remove vertex"), tr("Without the chosen vertex (Delete)"))),
      m_lessPart(makeButton(tr("Remove part"), tr("Without the part of the chosen vertex"))),
      m_merge(makeButton(tr("Merge picked"), tr("Picked features become the first of them"))),
      m_apart(makeButton(tr("Parts apart"), tr("Parts of picked features become features"))) {
    setObjectName("drawPanel");
    setAccessibleName(tr("Draw"));
    setStyleSheet(
        QString("QFrame#drawPanel { background: %1; border: 1px solid %2; border-radius: 8px; }")
            .arg(theme().surface.name(), theme().line.name()));
    m_mode->setObjectName("drawMode");
    m_into->setObjectName("drawInto");
    m_hint->setObjectName("drawHint");
    m_typed->setObjectName("drawTyped");
    m_wrong->setObjectName("drawWrong");
    m_done->setObjectName("drawDone");
    m_back->setObjectName("drawBack");
    m_new->setObjectName("drawNewLayer");
    m_less->setObjectName("drawRemoveVertex");
    m_lessPart->setObjectName("drawRemovePart");
    m_merge->setObjectName("drawMerge");
    m_apart->setObjectName("drawApart");
    m_typed->setToolTip(tr("A place, or the length and bearing of the next side: \"120 m 45\", "
                           "\"1.2 km N 30 E\"; metres where no unit is said"));
    auto* close = new QToolButton;
    close->setIcon(lineIcon("x", theme().muted));
    close->setAccessibleName(tr("End drawing"));
    close->setToolTip(tr("Back to moving the map (Alt+G)"));
    connect(close, &QToolButton::clicked, this, [this] { m_workspace.setTool(Tool::Move); });
    auto* head = new QHBoxLayout;
    head->addWidget(makeLabel(tr("Draw"), "heading"), 1);
    head->addWidget(close);
    auto* snap = new QCheckBox(tr("Snap to vertices"));
    snap->setObjectName("drawSnap");
    snap->setChecked(path.snaps());
    snap->setToolTip(tr("Points take the place of a vertex nearby, else of a side"));
    connect(snap, &QCheckBox::toggled, this, [this](bool on) { m_path.setSnaps(on); });
    auto* pathRows = new QVBoxLayout(m_pathPart);
    pathRows->setContentsMargins(0, 0, 0, 0);
    pathRows->setSpacing(6);
    pathRows->addWidget(captioned(tr("Next point"), m_typed));
    pathRows->addWidget(m_wrong);
    pathRows->addWidget(m_figures);
    pathRows->addWidget(sideBySide({m_done, m_back}));
    auto* vertexRows = new QVBoxLayout(m_vertexPart);
    vertexRows->setContentsMargins(0, 0, 0, 0);
    vertexRows->addWidget(sideBySide({m_less, m_lessPart}));
    auto* layout = new QVBoxLayout(this);
    layout->setContentsMargins(12, 6, 8, 10);
    layout->setSpacing(6);
    layout->addLayout(head);
    layout->addWidget(m_mode);
    auto* into = new QHBoxLayout;
    into->addWidget(m_into, 1);
    into->addWidget(m_new, 0, Qt::AlignTop);
    layout->addLayout(into);
    layout->addWidget(m_hint);
    layout->addWidget(m_pathPart);
    layout->addWidget(m_vertexPart);
    layout->addWidget(snap);
    m_pickedPart = sideBySide({m_merge, m_apart});
    layout->addWidget(m_pickedPart);
    m_wrong->hide();
    connect(m_mode, &QComboBox::activated, this,
            [this](int index) { m_drawing.setMode(static_cast<DrawMode>(index)); });
    connect(m_typed, &QLineEdit::returnPressed, this, &DrawPanel::takeTyped);
    connect(m_typed, &QLineEdit::textEdited, this, [this] { m_wrong->hide(); });
    connect(m_done, &QPushButton::clicked, &m_drawing, &DrawTool::finish);
    connect(m_back, &QPushButton::clicked, &m_path, &MeasureOverlay::removeLast);
    connect(m_new, &QPushButton::clicked, this, &DrawPanel::makeLayer);
    connect(m_less, &QPushButton::clicked, &m_drawing, &DrawTool::removeVertex);
    connect(m_lessPart, &QPushButton::clicked, &m_drawing, &DrawTool::removePart);
    connect(m_merge, &QPushButton::clicked, &m_drawing, &DrawTool::merge);
    connect(m_apart, &QPushButton::clicked, &m_drawing, &DrawTool::partAway);
    connect(&drawing, &DrawTool::changed, this, &DrawPanel::refresh);
    connect(&path, &MeasureOverlay::changed, this, [this] {
        if (isVisible()) refresh();
    });
    connect(&workspace, &Workspace::layerSelected, this, &DrawPanel::refresh);
    connect(&workspace, &Workspace::featuresPicked, this, &DrawPanel::refresh);
    connect(&workspace, &Workspace::toolChanged, this, &DrawPanel::refresh);
    hide();
}

void DrawPanel::takeTyped() {
    const QString typed = m_typed->text().trimmed();
    if (typed.isEmpty()) return m_drawing.finish();
    const auto wrong = m_drawing.addTyped(typed);
    m_wrong->setText(wrong.value_or(QString()));
    m_wrong->setVisible(wrong.has_value());
    if (!wrong) m_typed->clear();
}

QString DrawPanel::hint() const {
    switch (m_drawing.mode()) {
    case DrawMode::Point: return tr("Click where it is.");
    case DrawMode::Line:
    case DrawMode::Area: return tr("Click point by point; a double click ends it.");
    case DrawMode::Vertices:
        if (m_drawing.shape().isEmpty()) return tr("Click a feature of the layer to pick it.");
        return tr("Drag a vertex, or a side for a new one. Page Down chooses the next, arrows move "
                  "it.");
    case DrawMode::Cut: return tr("Draw a line across what is picked.");
    case DrawMode::Hole: return tr("Draw it inside the one picked area.");
    case DrawMode::Part: return tr("Draw what belongs to the one picked feature.");
    }
    return {};
}

void DrawPanel::refresh() {
    // A layer that was just selected is drawn into as what it holds.
    const auto* layer = m_workspace.layer();
    if (m_workspace.tool() == Tool::Draw &&
        (m_seenLayer != m_workspace.selectedLayer() || m_seenType != m_drawing.targetType())) {
        m_seenLayer = m_workspace.selectedLayer();
        m_seenType = m_drawing.targetType();
        if (isNew(m_drawing.mode()) && m_seenType != GeometryType::None)
            m_drawing.setMode(usualMode(m_seenType));
    }
    QString why;
    const bool fits = m_drawing.target(&why) != nullptr;
    const DrawMode mode = m_drawing.mode();
    showChoice(m_mode, static_cast<int>(mode));
    const bool isOther = fits && isNew(mode) && m_drawing.targetType() != GeometryType::None &&
                         m_drawing.targetType() != typeOf(mode);
    m_into->setText(isOther ? tr("%1 holds %2: choose a new layer.")
                                  .arg(qtext(layer->name),
                                       qtext(geometryTypeName(m_drawing.targetType(), true)))
                    : fits ? tr("Into %1").arg(qtext(layer->name))
                           : why);
    m_hint->setText(hint());
    m_pathPart->setVisible(m_drawing.drawsPath());
    m_vertexPart->setVisible(!m_drawing.drawsPath());
    const auto& points = m_path.points();
    m_done->setEnabled(points.size() > 1);
    m_back->setEnabled(!points.empty());
    const auto m = m_path.measured();
    const LengthUnit unit = m_workspace.document().display.lengths;
    QStringList figures;
    const double last = std::isfinite(m.lastEllipsoidal) ? m.lastEllipsoidal : m.lastPlanar;
    if (std::isfinite(last))
        figures << tr("side %1 at %2")
                       .arg(qtext(formatLength(last, unit)), qtext(formatBearing(m.bearing)));
    const double area = std::isfinite(m.ellipsoidalArea) ? m.ellipsoidalArea : m.planarArea;
    if (m.isArea && std::isfinite(area)) figures << qtext(formatArea(area, unit));
    m_figures->setText(figures.join(" · "));
    m_figures->setVisible(!figures.isEmpty());
    m_less->setEnabled(m_drawing.vertex().has_value());
    m_lessPart->setEnabled(m_drawing.vertex().has_value());
    const auto* source = m_drawing.target();
    const std::size_t picked = source ? m_workspace.picked(source->id).size() : 0;
    m_pickedPart->setVisible(picked > 0);
    m_merge->setEnabled(picked > 1);
    m_apart->setEnabled(picked > 0);
}

void DrawPanel::makeLayer() {
    const GeometryType type = typeOf(m_drawing.mode());
    const auto& project = m_workspace.session().path();
    const QString suggested =
        (project.empty() ? QString() : qtext(project.parent_path().string()) + "/") +
        (type == GeometryType::Point  ? "drawn_points.gpkg"
         : type == GeometryType::Line ? "drawn_lines.gpkg"
                                      : "drawn_areas.gpkg");
    const QString path = QFileDialog::getSaveFileName(this, tr("A layer to draw into"), suggested,
                                                      saveFilter(io::Writes::Tables, ".gpkg"),
                                                      nullptr, QFileDialog::DontUseNativeDialog);
    if (path.isEmpty()) return;
    const auto done = session::aside([&] {
        return session::writeEmptyLayer(path.toStdString(), type, m_workspace.session().mapCrs());
    });
    if (!done) return m_workspace.say(qtext(done.error().text()), true);
    Q_EMIT layerMade(path);
}

}  // namespace ledge::app
