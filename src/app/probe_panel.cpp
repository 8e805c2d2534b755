#include "app/probe_panel.h"

#include <QApplication>
#include <QClipboard>
#include <QGridLayout>
#include <QKeyEvent>

#include "app/theme.h"
#include "app/widgets/form.h"
#include "carto/qtext.h"
#include "core/base/numbers.h"

namespace ledge::app {
namespace {
}  // namespace

ProbePanel::ProbePanel(Workspace& workspace, QWidget* parent)
    : QFrame(parent), m_workspace(workspace), m_scroll(new QScrollArea),
      m_count(makeLabel("", "muted")), m_only(new QCheckBox(tr("Only the selected layer"))),
      m_back(new QToolButton), m_next(new QToolButton) {
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
    m_count->setObjectName("probeCount");
    m_count->setWordWrap(false);
    m_back->setObjectName("probeBack");
    m_next->setObjectName("probeNext");
    m_back->setText("\u2039");
    m_next->setText("\u203A");
    m_back->setAccessibleName(tr("The one before"));
    m_next->setAccessibleName(tr("The next one"));
    m_back->setToolTip(tr("Show the one before on the map (Up)"));
    m_next->setToolTip(tr("Show the next one on the map (Down)"));
    connect(m_back, &QToolButton::clicked, this, [this] { choose(m_current - 1); });
    connect(m_next, &QToolButton::clicked, this, [this] { choose(m_current + 1); });
    head->addWidget(title, 1);
    for (QWidget* one : {static_cast<QWidget*>(m_count), static_cast<QWidget*>(m_back),
                         static_cast<QWidget*>(m_next), static_cast<QWidget*>(close)})
        head->addWidget(one);
    setFocusPolicy(Qt::StrongFocus);
    m_scroll->setWidgetResizable(true);
    m_scroll->setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
    auto* layout = new QVBoxLayout(this);
    layout->setContentsMargins(12, 6, 6, 8);
    layout->setSpacing(2);
    layout->addLayout(head);
    m_only->setObjectName("probeOnly");
    m_only->setToolTip(tr("Read the layer selected in the stack alone, whether it is lit or not"));
    connect(m_only, &QCheckBox::toggled, this, &ProbePanel::onlySelectedAsked);
    layout->addWidget(m_only);
    layout->addWidget(m_scroll, 1);
    hide();
}

ProbeCard::ProbeCard(QWidget* parent) : QFrame(parent) {
    setObjectName("probeCard");
    setCurrent(false);
}

void ProbeCard::setCurrent(bool isCurrent) {
    if (m_isCurrent == isCurrent) return;
    m_isCurrent = isCurrent;
    setStyleSheet(QString("QFrame#probeCard { border: none; border-left: 3px solid %1; }")
                      .arg(isCurrent ? theme().lichen.name() : QString("transparent")));
}

void ProbeCard::mousePressEvent(QMouseEvent*) { Q_EMIT chosen(); }

ProbeCard* ProbePanel::card(const session::ProbeHit& hit) {
    auto* out = new ProbeCard;
    auto* grid = new QGridLayout(out);
    grid->setContentsMargins(8, 2, 6, 6);
    grid->setHorizontalSpacing(10);
    grid->setVerticalSpacing(2);
    auto* layer = makeLink(qtext(hit.layerName), tr("Select this layer"));
    layer->setStyleSheet("font-size: 11px; padding: 2px 0; color: " + theme().muted.name());
    connect(layer, &QPushButton::clicked, this,
            [this, id = hit.layer] { m_workspace.selectLayer(id); });
    grid->addWidget(layer, 0, 0, 1, 2, Qt::AlignLeft);
    int row = 1;
    if (hit.outline.isEmpty()) {
        grid->addWidget(makeLabel(hit.values.empty() ? "" : qtext(hit.values[0].first), "muted"),
                        row, 0);
        grid->addWidget(makeLabel(qtext(hit.title)), row, 1);
        grid->setColumnStretch(1, 1);
        return out;
    }
    auto* title = makeLabel(qtext(hit.title), "heading");
    grid->addWidget(title, row++, 0, 1, 2);
    for (const auto& [name, value] : hit.values) {
        auto* key = makeLabel(qtext(name), "muted");
        key->setWordWrap(false);
        auto* said = makeLabel(qtext(value));
        said->setTextInteractionFlags(Qt::TextSelectableByMouse);
        grid->addWidget(key, row, 0, Qt::AlignTop);
        grid->addWidget(said, row++, 1);
    }
    for (const auto& [name, value] : hit.measures) {
        auto* key = makeLabel(qtext(name), "muted");
        key->setToolTip(tr("Measured on the ellipsoid"));
        auto* said = makeLabel(qtext(value), "muted");
        said->setToolTip(key->toolTip());
        said->setTextInteractionFlags(Qt::TextSelectableByMouse);
        grid->addWidget(key, row, 0, Qt::AlignTop);
        grid->addWidget(said, row++, 1);
    }
    if (hit.outline.type == GeometryType::Line || hit.outline.type == GeometryType::Polygon) {
        const auto part = hit.outline.part(0);
        const std::vector<Point> line(part.begin(), part.end());
        const auto offer = [&](const QString& name, const QString& tip, const char* id,
                               void (ProbePanel::*asked)(const std::vector<Point>&,
                                                         const QString&)) {
            auto* link = makeLink(name, tip);
            link->setObjectName(id);
            link->setStyleSheet("padding: 2px 0; color: " + theme().indigo.name());
            connect(link, &QPushButton::clicked, this, [this, line, asked, name = qtext(hit.title)] {
                Q_EMIT(this->*asked)(line, name);
            });
            grid->addWidget(link, row++, 0, 1, 2, Qt::AlignLeft);
        };
        offer(tr("Profile along it"), tr("Show the heights along this feature"), "profileAlong",
              &ProbePanel::profileAsked);
        offer(tr("Add to the profile"),
              tr("Go on with this feature after those of the profile shown"), "profileAdd",
              &ProbePanel::profileAddAsked);
    }
    if (hit.feature) {
        auto* links = new QHBoxLayout;
        links->setSpacing(12);
        const auto link = [&](const QString& name, const QString& tip, const char* id, auto act) {
            auto* one = makeLink(name, tip);
            one->setObjectName(id);
            one->setStyleSheet("padding: 2px 0; color: " + theme().indigo.name());
            connect(one, &QPushButton::clicked, this, act);
            links->addWidget(one);
        };
        link(tr("Pick"), tr("Pick this feature too"), "probePick",
             [this, id = hit.source, key = *hit.feature] {
                 m_workspace.pick(id, {key}, Workspace::Joining::Also);
             });
        link(tr("Its row"), tr("Show its row in the attribute table"), "probeRow",
             [this, id = hit.layer, key = *hit.feature] { Q_EMIT rowAsked(id, key); });
        link(tr("Copy"), tr("Copy its values, a line each"), "probeCopy",
             [this, values = hit.values, measures = hit.measures]() mutable {
                 values.insert(values.end(), measures.begin(), measures.end());
                 measures.clear();
                 QString all;
                 for (const auto& [name, value] : values)
                     all += qtext(name) + "\t" + qtext(value) + "\n";
                 QApplication::clipboard()->setText(all);
                 m_workspace.say(tr("Copied %1 values").arg(values.size()));
             });
        links->addStretch(1);
        grid->addLayout(links, row++, 0, 1, 2);
    }
    grid->setColumnStretch(1, 1);
    return out;
}

int ProbePanel::neededHeight() const {
    return m_scroll->widget() ? m_scroll->widget()->sizeHint().height() + 80 : 110;
}

void ProbePanel::show(const Point& at, const std::vector<session::ProbeHit>& hits) {
    if (!at.isFinite()) return hide();
    auto* body = new QWidget;
    auto* layout = new QVBoxLayout(body);
    layout->setContentsMargins(0, 0, 0, 0);
    layout->setSpacing(4);
    m_hits = hits;
    m_cards.clear();
    for (const auto& hit : hits) {
        auto* one = card(hit);
        connect(one, &ProbeCard::chosen, this,
                [this, at = static_cast<int>(m_cards.size())] { choose(at); });
        m_cards.push_back(one);
        layout->addWidget(one);
    }
    if (hits.empty())
        layout->addWidget(makeLabel(m_only->isChecked()
                                        ? tr("Nothing of the selected layer lies here.")
                                        : tr("Nothing of the lit layers lies here."),
                                    "muted"));
    layout->addStretch(1);
    m_scroll->setWidget(body);
    setVisible(true);
    raise();
    m_current = 0;
    choose(0);
}

void ProbePanel::choose(int index) {
    const int count = static_cast<int>(m_cards.size());
    const bool isSome = index >= 0 && index < count;
    if (isSome) m_current = index;
    m_back->setEnabled(m_current > 0);
    m_next->setEnabled(m_current + 1 < count);
    m_count->setText(count > 1 ? tr("%1 of %2").arg(m_current + 1).arg(count) : QString());
    for (QWidget* one : {static_cast<QWidget*>(m_back), static_cast<QWidget*>(m_next)})
        one->setVisible(count > 1);
    if (!isSome) return;
    for (int i = 0; i < count; ++i) m_cards[static_cast<std::size_t>(i)]->setCurrent(i == index);
    m_scroll->ensureWidgetVisible(m_cards[static_cast<std::size_t>(index)], 0, 8);
    Q_EMIT flashAsked(m_hits[static_cast<std::size_t>(index)]);
}

void ProbePanel::keyPressEvent(QKeyEvent* event) {
    switch (event->key()) {
    case Qt::Key_Up: return choose(m_current - 1);
    case Qt::Key_Down: return choose(m_current + 1);
    case Qt::Key_Escape: return hide();
    default: QFrame::keyPressEvent(event);
    }
}

}  // namespace ledge::app
