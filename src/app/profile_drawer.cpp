#include "app/profile_drawer.h"

#include <QFileDialog>
#include <QHBoxLayout>
#include <QKeyEvent>
#include <QMouseEvent>
#include <QPainter>

#include "app/benches/bench_page.h"
#include "app/theme.h"
#include "app/widgets/form.h"
#include "core/base/numbers.h"
#include "core/crs/transformation.h"
#include "document/edits/sheet_edits.h"
#include "io/files/atomic_file.h"
#include "session/aside.h"
#include "session/export_chart.h"
#include "session/new_layers.h"
#include "session/probe.h"

namespace ledge::app {
namespace {
constexpr int kHeight = 214;
constexpr double kScreenPxPerMm = 96 / 25.4;

Colour colourOf(const QColor& c) {
    return {static_cast<std::uint8_t>(c.red()), static_cast<std::uint8_t>(c.green()),
            static_cast<std::uint8_t>(c.blue())};
}

QString metres(double value) {
    return QString::fromStdString(formatNumber(std::round(value), {0, true})) + QString(" m");
}
}  // namespace

ProfileView::ProfileView(QWidget* parent) : QWidget(parent) {
    setObjectName("profileChart");
    setAccessibleName(tr("Profile chart"));
    setToolTip(tr("Point along the chart, or use the arrow keys, to mark the place on the map"));
    setMouseTracking(true);
    setFocusPolicy(Qt::StrongFocus);
    setMinimumHeight(120);
}

void ProfileView::setChart(carto::ProfileChart chart) {
    m_chart = std::move(chart);
    update();
}

void ProfileView::setMarked(double distance) {
    m_chart.marked = distance;
    update();
}

void ProfileView::paintEvent(QPaintEvent*) {
    QPainter painter(this);
    if (m_chart.series.empty()) return;
    auto chart = m_chart;
    chart.ink = colourOf(theme().text);
    chart.quiet = colourOf(theme().muted);
    chart.lines = colourOf(theme().line);
    carto::paintProfileChart(painter, rect(), chart, kScreenPxPerMm);
    if (hasFocus()) {
        painter.setPen(theme().lichen);
        painter.drawRect(rect().adjusted(0, 0, -1, -1));
    }
}

void ProfileView::mouseMoveEvent(QMouseEvent* event) {
    const auto frame = carto::chartFrame(rect(), m_chart, kScreenPxPerMm);
    const double distance = frame.distanceAt(event->position().x());
    setMarked(distance);
    Q_EMIT hovered(distance);
}

void ProfileView::leaveEvent(QEvent*) {
    setMarked(carto::ProfileChart::kNoMark);
    Q_EMIT hovered(carto::ProfileChart::kNoMark);
}

void ProfileView::keyPressEvent(QKeyEvent* event) {
    const int step = event->key() == Qt::Key_Right ? 1 : event->key() == Qt::Key_Left ? -1 : 0;
    if (step == 0) return QWidget::keyPressEvent(event);
    const double length = carto::chartFrame(rect(), m_chart, kScreenPxPerMm).length;
    const double from = std::isfinite(m_chart.marked) ? m_chart.marked : 0;
    setMarked(std::clamp(from + step * length / 200, 0.0, length));
    Q_EMIT hovered(m_chart.marked);
}

ProfileDrawer::ProfileDrawer(Workspace& workspace, MeasureOverlay& path, QWidget* parent)
    : QFrame(parent), m_workspace(workspace), m_path(path), m_chart(new ProfileView),
      m_name(makeText(tr("Name of the profile"))), m_facts(makeLabel("", "muted")),
      m_hint(
          makeLabel(tr("Click a line on the map to take it, or points to draw one (with Shift from "
                       "a line, too); a double click ends it."),
                    "muted")),
      m_keep(makeButton(tr("Keep as card"), tr("Keep this profile on the ledge"), true)),
      m_write(makeButton(tr("Write…"), tr("Write the profile as CSV, SVG or PNG"))) {
    setObjectName("profileDrawer");
    setFixedHeight(kHeight);
    setStyleSheet(QString("QFrame#profileDrawer { background: %1; border-top: 1px solid %2; }")
                      .arg(theme().surface.name(), theme().line.name()));
    m_keep->setObjectName("keepProfile");
    m_write->setObjectName("writeProfile");
    m_facts->setObjectName("profileFacts");
    m_facts->setTextFormat(Qt::RichText);
    m_facts->setWordWrap(true);
    m_hint->setWordWrap(true);
    auto* close = makeLink(tr("Close"), tr("Close the drawer (Esc)"));
    connect(close, &QPushButton::clicked, this, [this] {
        hide();
        if (m_workspace.tool() == Tool::Profile) m_workspace.setTool(Tool::Move);
        Q_EMIT lineShown({});
        Q_EMIT marked(kNowhere);
    });
    auto* top = new QHBoxLayout;
    m_name->setMaximumWidth(190);
    top->addWidget(m_name, 1);
    top->addWidget(close);
    auto* side = new QVBoxLayout;
    side->setSpacing(6);
    side->addLayout(top);
    side->addWidget(m_hint);
    side->addWidget(m_facts, 1, Qt::AlignTop);
    auto* buttons = new QHBoxLayout;
    buttons->addWidget(m_keep);
    buttons->addWidget(m_write);
    side->addLayout(buttons);
    auto* panel = new QWidget;
    panel->setFixedWidth(258);
    panel->setLayout(side);
    side->setContentsMargins(0, 0, 0, 0);
    auto* layout = new QHBoxLayout(this);
    layout->setContentsMargins(12, 10, 12, 10);
    layout->setSpacing(14);
    layout->addWidget(m_chart, 1);
    layout->addWidget(panel);
    connect(m_keep, &QPushButton::clicked, this, &ProfileDrawer::keep);
    connect(m_write, &QPushButton::clicked, this, &ProfileDrawer::write);
    m_facts->setTextInteractionFlags(Qt::TextBrowserInteraction);
    connect(m_facts, &QLabel::linkActivated, this,
            [this](const QString& at) { markAt(at.toDouble()); });
    connect(m_chart, &ProfileView::hovered, this, &ProfileDrawer::markAt);
    connect(&m_path, &MeasureOverlay::changed, this, [this] {
        if (m_workspace.tool() == Tool::Profile && m_path.points().size() > 1)
            showAlong(m_path.points());
    });
    connect(&workspace, &Workspace::toolChanged, this, [this] {
        if (m_workspace.tool() != Tool::Profile) return;
        m_path.setArea(false);
        setVisible(true);
        m_runs.clear();
        show({});
    });
    show({});
    hide();
}

Point ProfileDrawer::toMap(Point at) const {
    const auto from = crs::parseCrs(m_profile.crs);
    const auto way =
        crs::Transformation::between(from ? *from : nullptr, m_workspace.session().mapCrs());
    return way ? way->forward(at) : kNowhere;
}

void ProfileDrawer::showKept(doc::Id id) {
    const auto* kept = m_workspace.document().profile(id);
    if (!kept) return;
    m_workspace.showMap();
    setVisible(true);
    run(*kept);
    std::vector<Point> line;
    for (const Point p : kept->line) line.push_back(toMap(p));
    Q_EMIT lineShown(line);
}

void ProfileDrawer::showAlong(const std::vector<Point>& line, const QString& name) {
    doc::SavedProfile profile;
    profile.name = name.isEmpty()
                       ? session::newProfileName(m_workspace.document())
                       : session::freeProfileName(m_workspace.document(), name.toStdString());
    if (!name.isEmpty()) m_name->clear();
    profile.crs = session::crsText(m_workspace.session().mapCrs());
    profile.line = line;
    profile.sources = session::surfacesOf(m_workspace.document());
    setVisible(true);
    run(std::move(profile));
}

std::vector<Point> ProfileDrawer::showAlso(std::vector<Point> line) {
    if (!isVisible() || m_runs.empty() || line.empty()) {
        showAlong(line);
        return line;
    }
    std::vector<Point> whole;
    for (const Point p : m_profile.line) whole.push_back(toMap(p));
    if (distance(whole.back(), line.back()) < distance(whole.back(), line.front()))
        std::reverse(line.begin(), line.end());
    whole.insert(whole.end(), line.begin(), line.end());
    showAlong(whole);
    return whole;
}

void ProfileDrawer::run(doc::SavedProfile profile) {
    const bool isOther = profile.id != m_profile.id || profile.id != 0 || m_name->text().isEmpty();
    m_profile = std::move(profile);
    if (isOther) showText(m_name, qtext(m_profile.name));
    m_worker.start([this, profile = m_profile, snapshot = m_workspace.session().snapshot(),
                    sources = m_workspace.session().sources()](const std::stop_token& stop) {
        auto runs = carto::runProfile(*snapshot, *sources, profile, {stop, {}});
        if (stop.stop_requested()) return;
        QMetaObject::invokeMethod(this, [this, runs = std::move(runs)] {
            if (!runs) m_workspace.say(qtext(runs.error().text()), true);
            show(runs ? *runs : std::vector<session::ProfileRun>{});
        });
    });
}

void ProfileDrawer::show(std::vector<session::ProfileRun> runs) {
    m_runs = std::move(runs);
    m_chart->setChart(carto::chartOf(m_runs, m_workspace.document().display.lengths));
    const bool hasSome = !m_runs.empty();
    m_hint->setVisible(!hasSome);
    m_name->setVisible(hasSome);
    m_keep->setEnabled(hasSome);
    m_write->setEnabled(hasSome);
    refreshFacts(kNaN);
}

void ProfileDrawer::markAt(double distance) {
    const bool isOn = std::isfinite(distance) && !m_runs.empty();
    const Point at = isOn ? toMap(session::positionAt(m_runs[0], distance)) : kNowhere;
    m_chart->setMarked(isOn ? distance : carto::ProfileChart::kNoMark);
    refreshFacts(isOn ? distance : kNaN);
    if (at.isFinite() && !m_workspace.viewExtent().isEmpty() &&
        !m_workspace.viewExtent().contains(at)) {
        doc::MapView view = m_workspace.view();
        view.centre = at;
        m_workspace.setView(view, false);
    }
    Q_EMIT marked(at);
}

void ProfileDrawer::refreshFacts(double distance) {
    if (m_runs.empty()) return m_facts->setText({});
    const auto unit = m_workspace.document().display.lengths;
    const auto length = [&](double m) { return qtext(formatLength(m, unit)); };
    const auto row = [](const QString& name, const QString& value) {
        return QString("<tr><td style='padding-right:10px'>%1</td><td align='right'>%2</td></tr>")
            .arg(name, value);
    };
    QString rows;
    if (std::isfinite(distance)) {
        rows += row(tr("At"), length(distance));
        if (const Point at = toMap(session::positionAt(m_runs[0], distance)); at.isFinite())
            rows += QString("<tr><td colspan='2'>%1</td></tr>")
                        .arg(qtext(session::positionText(m_workspace.session().mapCrs(), at,
                                                         m_workspace.document().display))
                                 .toHtmlEscaped());
        for (const auto& run : m_runs) {
            const auto it = std::lower_bound(
                run.points.begin(), run.points.end(), distance,
                [](const terrain::ProfilePoint& p, double wanted) { return p.distance < wanted; });
            const bool isThere = it != run.points.end() && std::isfinite(it->height);
            rows += row(qtext(run.name).toHtmlEscaped(),
                        isThere ? qtext(formatNumber(it->height, {1, true})) + QString(" m")
                                : tr("no data"));
        }
    } else {
        const auto& s = m_runs[0].summary;
        rows += row(tr("Length"), length(s.length));
        rows += row(tr("Surface length"), length(s.surfaceLength));
        rows += row(tr("Ascent, descent"), metres(s.ascent) + ", " + metres(s.descent));
        const auto place = [&](double at) {
            return QString("<a href='%1' style='color:%2'>%3</a>")
                .arg(qtext(exactNumber(at)), theme().indigo.name(), length(at));
        };
        if (std::isfinite(s.highest)) {
            rows += row(tr("Highest"), tr("%1 at %2").arg(metres(s.highest), place(s.highestAt)));
            rows += row(tr("Lowest"), tr("%1 at %2").arg(metres(s.lowest), place(s.lowestAt)));
        }
        if (std::isfinite(s.steepest))
            rows += row(tr("Steepest"),
                        tr("%1 % at %2").arg(qRound(s.steepest * 100)).arg(place(s.steepestFrom)));
    }
    m_facts->setText("<table cellspacing='0'>" + rows + "</table>");
}

void ProfileDrawer::markNear(Point at) {
    if (!isVisible() || m_runs.empty() || !at.isFinite()) return;
    const auto to = crs::parseCrs(m_profile.crs);
    const auto way =
        crs::Transformation::between(m_workspace.session().mapCrs(), to ? *to : nullptr);
    if (!way) return;
    const double distance = session::distanceNear(m_runs[0], way->forward(at));
    m_chart->setMarked(distance);
    refreshFacts(distance);
    Q_EMIT marked(toMap(session::positionAt(m_runs[0], distance)));
}

void ProfileDrawer::keep() {
    if (const QString name = m_name->text().trimmed(); !name.isEmpty())
        m_profile.name = name.toStdString();
    std::string line, sources;
    for (const Point at : m_profile.line)
        line += (line.empty() ? "" : ",") + exactNumber(at.x) + "," + exactNumber(at.y);
    for (const doc::Id source : m_profile.sources)
        sources += (sources.empty() ? "" : ",") + Workspace::target(source);
    if (!m_workspace.perform("profile-save", {{"name", m_profile.name},
                                              {"line", line},
                                              {"crs", m_profile.crs},
                                              {"sources", sources}}))
        return;
    for (const doc::SavedProfile& kept : m_workspace.document().profiles)
        if (kept.name == m_profile.name) m_profile.id = kept.id;
    m_workspace.say(tr("Kept %1 on the ledge").arg(qtext(m_profile.name)));
}

void ProfileDrawer::write() {
    const QString suggested = qtext(m_profile.name).toLower().replace(' ', '_') + ".csv";
    QString filter;
    const QString path = QFileDialog::getSaveFileName(
        this, tr("Write profile"), suggested, tr("Table (*.csv);;Drawing (*.svg);;Picture (*.png)"),
        &filter, QFileDialog::DontUseNativeDialog);
    if (path.isEmpty()) return;
    const QString suffix = QFileInfo(path).suffix().toLower();
    const auto named = crs::parseCrs(m_profile.crs);
    const crs::CrsPtr lineCrs = named ? *named : nullptr;
    const auto done = session::aside([&, to = std::filesystem::path(path.toStdString())] {
        return suffix == "svg" || suffix == "png"
                   ? session::exportChart(m_chart->chart(), qtext(m_profile.name), to)
                   : io::writeText(to, session::profileCsv(m_runs, lineCrs));
    });
    m_workspace.say(done ? tr("Wrote %1").arg(path) : qtext(done.error().text()), !done);
}

}  // namespace ledge::app
