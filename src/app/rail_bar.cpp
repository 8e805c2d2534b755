#include "app/rail_bar.h"

#include <QPainter>
#include <QShortcut>
#include <QVBoxLayout>

#include "app/theme.h"

namespace ledge::app {
namespace {
constexpr const char* kIcons[] = {"database", "mountain-snow", "palette",
                                  "tag",      "list-filter",   "scroll-text"};
}

RailBar::RailBar(Workspace& workspace, QWidget* parent) : QWidget(parent), m_workspace(workspace) {
    setObjectName("rail");
    setFixedWidth(67);
    auto* layout = new QVBoxLayout(this);
    layout->setContentsMargins(6, 10, 6, 10);
    layout->setSpacing(6);
    const QStringList names{tr("Data"),   tr("Terrain"), tr("Style"),
                            tr("Labels"), tr("Ask"),     tr("Sheet")};
    for (int i = 0; i < names.size(); ++i) {
        auto* button = new QToolButton;
        button->setObjectName("bench" + QString::number(i));
        button->setText(names[i]);
        button->setAccessibleName(tr("%1 bench").arg(names[i]));
        button->setToolTip(tr("%1 bench (Alt+%2)").arg(names[i]).arg(i + 1));
        auto* keys = new QShortcut(QKeySequence(QString("Alt+%1").arg(i + 1)), this);
        connect(keys, &QShortcut::activated, this, [this, i] {
            m_workspace.setBench(static_cast<Bench>(i));
            Q_EMIT focusAsked();
        });
        button->setCheckable(true);
        button->setToolButtonStyle(Qt::ToolButtonTextUnderIcon);
        button->setIconSize(QSize(22, 22));
        button->setFixedSize(55, 54);
        connect(button, &QToolButton::clicked, this, [this, i] {
            m_workspace.setBench(static_cast<Bench>(i));
            refresh();
        });
        layout->addWidget(button);
        m_buttons.push_back(button);
    }
    layout->addStretch(1);
    connect(&workspace, &Workspace::benchChanged, this, &RailBar::refresh);
    refresh();
}

QString RailBar::nameOf(Bench bench) const {
    return m_buttons[static_cast<std::size_t>(bench)]->accessibleName();
}

void RailBar::refresh() {
    for (std::size_t i = 0; i < m_buttons.size(); ++i) {
        const bool isOn = static_cast<std::size_t>(m_workspace.bench()) == i;
        const QColor colour = isOn ? theme().indigo : theme().muted;
        m_buttons[i]->setChecked(isOn);
        m_buttons[i]->setIcon(lineIcon(kIcons[i], colour));
        m_buttons[i]->setStyleSheet(
            QString(
                "QToolButton { border-radius: 8px; font-size: 11px; padding: 3px 0; color: %1; "
                "background: %2; font-weight: %3; border: 1px solid transparent; }"
                "QToolButton:hover { background: %4; } QToolButton:focus { border: 1px solid %5; }")
                .arg(colour.name(), isOn ? theme().surface.name() : QString("transparent"))
                .arg(isOn ? 600 : 400)
                .arg(theme().surface.name(), theme().indigo.name()));
    }
    update();
}

void RailBar::paintEvent(QPaintEvent*) {
    QPainter painter(this);
    painter.fillRect(rect(), theme().stone);
    painter.fillRect(QRect(width() - 1, 0, 1, height()), theme().line);
    const QWidget* on = m_buttons[static_cast<std::size_t>(m_workspace.bench())];
    painter.setRenderHint(QPainter::Antialiasing);
    painter.setPen(Qt::NoPen);
    painter.setBrush(theme().lichen);
    painter.drawRoundedRect(QRectF(-3, on->y() + 10, 6, on->height() - 20), 3, 3);
}

}  // namespace ledge::app
