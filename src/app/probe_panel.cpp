#include "app/probe_panel.h"

#include <QGridLayout>
#include <QToolButton>

#include "app/theme.h"
#include "app/widgets/form.h"
#include "core/base/numbers.h"

namespace ledge::app {
namespace {
QString text(const std::string& s) { return QString::fromStdString(s); }
}  // namespace

ProbePanel::ProbePanel(Workspace& workspace, QWidget* parent)
    : QFrame(parent), m_workspace(workspace), m_scroll(new QScrollArea) {
    setObjectName("probePanel");
    setAccessibleName(tr("Probe"));
    setStyleSheet(
        QString("QFrame#probePanel { background: %1; border: 1px solid %2; border-radius: 8px; }")
            .arg(theme().surface.name(), theme().line.name()));
    auto* title = makeLabel(tr("Probe"), "heading");
    auto* close = new QToolButton;
    close->setIcon(lineIcon("x", theme().muted));
    close->setAccessibleName(tr("Close the probe"));
    close->setToolTip(tr("Close (Esc on the map)"));
    connect(close, &QToolButton::clicked, this, &QWidget::hide);
    auto* head = new QHBoxLayout;
    head->addWidget(title, 1);
    head->addWidget(close);
    m_scroll->setWidgetResizable(true);
    m_scroll->setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
    auto* layout = new QVBoxLayout(this);
    layout->setContentsMargins(12, 6, 6, 8);
    layout->setSpacing(2);
    layout->addLayout(head);
    layout->addWidget(m_scroll, 1);
    hide();
}

QWidget* ProbePanel::card(const session::ProbeHit& hit) {
    auto* out = new QWidget;
    auto* grid = new QGridLayout(out);
    grid->setContentsMargins(0, 2, 6, 8);
    grid->setHorizontalSpacing(10);
    grid->setVerticalSpacing(2);
    auto* layer = makeLink(text(hit.layerName), tr("Select this layer"));
    layer->setStyleSheet("font-size: 11px; color: " + theme().muted.name());
    connect(layer, &QPushButton::clicked, this,
            [this, id = hit.layer] { m_workspace.selectLayer(id); });
    grid->addWidget(layer, 0, 0, 1, 2, Qt::AlignLeft);
    int row = 1;
    if (hit.outline.isEmpty()) {
        grid->addWidget(makeLabel(hit.values.empty() ? "" : text(hit.values[0].first), "muted"),
                        row, 0);
        grid->addWidget(makeLabel(text(hit.title)), row, 1);
        grid->setColumnStretch(1, 1);
        return out;
    }
    auto* title = makeLabel(text(hit.title), "heading");
    grid->addWidget(title, row++, 0, 1, 2);
    for (const auto& [name, value] : hit.values) {
        auto* key = makeLabel(text(name), "muted");
        key->setWordWrap(false);
        auto* said = makeLabel(text(value));
        said->setTextInteractionFlags(Qt::TextSelectableByMouse);
        grid->addWidget(key, row, 0, Qt::AlignTop);
        grid->addWidget(said, row++, 1);
    }
    if (hit.outline.type == GeometryType::Line || hit.outline.type == GeometryType::Polygon) {
        const auto part = hit.outline.part(0);
        const std::vector<Point> line(part.begin(), part.end());
        const auto offer = [&](const QString& name, const QString& tip, const char* id,
                               void (ProbePanel::*asked)(const std::vector<Point>&)) {
            auto* link = makeLink(name, tip);
            link->setObjectName(id);
            link->setStyleSheet("color: " + theme().indigo.name());
            connect(link, &QPushButton::clicked, this, [this, line, asked] {
                Q_EMIT(this->*asked)(line);
            });
            grid->addWidget(link, row++, 0, 1, 2, Qt::AlignLeft);
        };
        offer(tr("Profile along it"), tr("Show the heights along this feature"), "profileAlong",
              &ProbePanel::profileAsked);
        offer(tr("Add to the profile"),
              tr("Go on with this feature after those of the profile shown"), "profileAdd",
              &ProbePanel::profileAddAsked);
    }
    grid->setColumnStretch(1, 1);
    return out;
}

int ProbePanel::neededHeight() const {
    return m_scroll->widget() ? m_scroll->widget()->sizeHint().height() + 52 : 80;
}

void ProbePanel::show(const Point& at, const std::vector<session::ProbeHit>& hits) {
    if (!at.isFinite()) return hide();
    auto* body = new QWidget;
    auto* layout = new QVBoxLayout(body);
    layout->setContentsMargins(0, 0, 0, 0);
    layout->setSpacing(0);
    for (const auto& hit : hits) layout->addWidget(card(hit));
    if (hits.empty())
        layout->addWidget(makeLabel(tr("Nothing of the lit layers lies here."), "muted"));
    layout->addStretch(1);
    m_scroll->setWidget(body);
    setVisible(true);
    raise();
}

}  // namespace ledge::app
