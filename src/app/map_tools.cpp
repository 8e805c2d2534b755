#include "app/map_tools.h"

#include "app/theme.h"

namespace ledge::app {
namespace {
constexpr int kMostLines = 3;
constexpr int kEdge = 36;  // beside the buttons of a line, on both sides together
}  // namespace

/// A button: what clicks on the map are for, or something done at once.
struct MapTools::Row {
    const char* id;
    QString name, tip;
    const char* key;
    std::optional<Tool> tool;
    std::function<void(Workspace&)> act = {};
};

MapTools::MapTools(Workspace& workspace, QWidget* map)
    : QWidget(map), m_workspace(workspace), m_map(map) {
    setObjectName("tools");
    setAttribute(Qt::WA_StyledBackground);
    setStyleSheet(
        QString("QWidget#tools { background: %1; border: 1px solid %2; border-radius: 17px; }")
            .arg(theme().surface.name(), theme().line.name()));
    auto* rows = new QVBoxLayout(this);
    rows->setContentsMargins(4, 3, 4, 3);
    rows->setSpacing(2);
    for (int i = 0; i < kMostLines; ++i) {
        m_lines << new QHBoxLayout;
        m_lines.back()->setSpacing(2);
        rows->addLayout(m_lines.back());
    }
    const Row all[] = {
        {"Move", tr("Move"), tr("Move the map by dragging"), "Alt+G", Tool::Move},
        {"Probe", tr("Probe"), tr("Click to read everything at a spot"), "Alt+R", Tool::Probe},
        {"Pick", tr("Pick"),
         tr("Click features of the selected layer, or drag a frame around them; with Ctrl also "
            "these, with Alt these no longer"),
         "Alt+K", Tool::Pick},
        {"Draw", tr("Draw"),
         tr("Draw features into the selected layer or a new one, and change the shape of the "
            "picked one"),
         "Alt+D", Tool::Draw},
        {"Measure", tr("Measure"),
         tr("Distance, area and bearing on the ellipsoid and in the plane"), "Alt+U",
         Tool::Measure},
        {"Profile", tr("Profile"),
         tr("Draw a line and see the heights along it in a drawer below the map"), "Alt+H",
         Tool::Profile},
        {"Label", tr("Labels"),
         tr("Drag a label to where it reads best; Page Down chooses the next, arrows move it, "
            "brackets turn it, plus and minus size it, Delete hides it, Backspace lets it go"),
         "Alt+L", Tool::Label},
        {"Curtain", tr("Curtain"),
         tr("Drag a divider: the map with the selected layer on the left, without it on the "
            "right"),
         "Alt+C", Tool::Curtain},
        {"Whole",
         tr("Show all"),
         tr("Show everything that is lit"),
         "Alt+W",
         {},
         [](Workspace& w) { Q_EMIT w.fitAsked(0); }},
        {"Back",
         tr("Back"),
         tr("Where the map looked before"),
         "Alt+Left",
         {},
         [](Workspace& w) { w.goBack(); }},
        {"Forward",
         tr("Forward"),
         tr("Where the map looked after"),
         "Alt+Right",
         {},
         [](Workspace& w) { w.goForward(); }},
    };
    for (const Row& row : all) add(row);
    adjustSize();
}

void MapTools::add(const Row& row) {
    auto* button = new QToolButton(this);
    const QString tip = QString("%1 (%2)").arg(row.tip, row.key);
    button->setText(row.name);
    button->setObjectName(QString("tool") + row.id);
    button->setToolTip(tip);
    button->setAccessibleName(tip);
    button->setShortcut(QKeySequence(row.key));
    button->setCheckable(row.tool.has_value());
    const auto paint = [this, button, tool = row.tool] {
        const bool isOn = tool && m_workspace.tool() == *tool;
        button->setChecked(isOn);
        button->setStyleSheet(
            QString("QToolButton { border-radius: 13px; padding: 5px 9px; font-weight: 500; "
                    "color: %1; background: %2; border: 1px solid transparent; } "
                    "QToolButton:focus { border: 1px solid %3; }")
                .arg(isOn ? theme().surface.name() : theme().text.name(),
                     isOn ? theme().indigo.name() : QString("transparent"), theme().lichen.name()));
    };
    connect(button, &QToolButton::clicked, this, [this, tool = row.tool, act = row.act] {
        if (tool) m_workspace.setTool(*tool);
        if (act) act(m_workspace);
    });
    connect(&m_workspace, &Workspace::toolChanged, button, paint);
    paint();
}

void MapTools::arrange() {
    const auto all = buttons();
    int width = kEdge;
    for (const QToolButton* one : all) width += one->sizeHint().width() + 2;
    const bool isNarrow = width > m_map->width();
    const int room = isNarrow ? m_map->width() : 0;
    if (room != m_room) {
        m_room = room;
        for (QHBoxLayout* line : m_lines)
            while (QLayoutItem* item = line->takeAt(0)) delete item;
        // As many in a line as it holds; what no click on the map is for begins a line of its own
        // where all else stands in one.
        const int whole = m_map->width() - kEdge;
        int left = whole, at = 0;
        bool wasPointer = true;
        for (QToolButton* one : all) {
            const int needed = one->sizeHint().width() + 2;
            const bool isFirstOther = wasPointer && !one->isCheckable();
            wasPointer = one->isCheckable();
            const bool isFull = left < needed || (isFirstOther && at == 0);
            if (isNarrow && isFull && at + 1 < m_lines.size()) ++at, left = whole;
            left -= needed;
            m_lines[at]->addWidget(one);
        }
        for (QHBoxLayout* line : m_lines) line->addStretch(1);
    }
    layout()->activate();
    adjustSize();
    move(14, 12);
}

}  // namespace ledge::app
