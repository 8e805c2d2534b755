#pragma once
#include <QFrame>
#include <QLabel>
#include <QLineEdit>
#include <QScrollArea>
#include <QToolButton>
#include <map>

#include "app/widgets/elided_label.h"
#include "app/widgets/thin_slider.h"
#include "app/workspace.h"
#include "session/fact_book.h"

class QMenu;

namespace ledge::app {

/// One layer of the stack: lamp, swatch, name, a line of facts, opacity.
class Strip : public QFrame {
    Q_OBJECT

public:
    Strip(Workspace& workspace, session::FactBook& facts, doc::Id layer, QWidget* parent = nullptr);
    doc::Id layer() const { return m_layer; }
    void refresh();
    void startRenaming();
    /// While strips are put in order, focus passes over them and means nothing.
    void setQuiet(bool isQuiet) { m_isQuiet = isQuiet; }

Q_SIGNALS:
    void dragged(int globalY, bool isEnd);

protected:
    void mousePressEvent(QMouseEvent*) override;
    void mouseMoveEvent(QMouseEvent*) override;
    void mouseReleaseEvent(QMouseEvent*) override;
    void mouseDoubleClickEvent(QMouseEvent*) override;
    void contextMenuEvent(QContextMenuEvent*) override;
    void keyPressEvent(QKeyEvent*) override;
    void focusInEvent(QFocusEvent*) override;
    void paintEvent(QPaintEvent*) override;

private:
    QString factsText(const doc::Layer& layer, QString& act);
    void finishRenaming();
    void addComparison(QMenu& menu);

    Workspace& m_workspace;
    session::FactBook& m_facts;
    doc::Id m_layer;
    QToolButton* m_lamp;
    QLabel* m_swatch;
    QLabel* m_name;
    QLineEdit* m_rename;
    ElidedLabel* m_line;
    QToolButton* m_fold;
    ThinSlider* m_opacity;
    doc::Layer m_shown;
    QPoint m_pressedAt;
    bool m_isDragging = false;
    bool m_isQuiet = false;
};

/// The drawing order, top first. On a sheet it begins with the items on the sheet.
class StackPanel : public QWidget {
    Q_OBJECT

public:
    StackPanel(Workspace& workspace, session::FactBook& facts, QWidget* parent = nullptr);
    Strip* strip(doc::Id layer) const;

Q_SIGNALS:
    void addAsked();

private:
    void refresh();
    void rebuild(const std::vector<std::pair<doc::Id, int>>& order);
    void onDrag(Strip* strip, int globalY, bool isEnd);
    QWidget* makeItemRow(const doc::SheetItem& item);

    Workspace& m_workspace;
    session::FactBook& m_facts;
    QScrollArea* m_scroll;
    QWidget* m_list;
    QFrame* m_dropLine;
    std::vector<std::pair<doc::Id, int>> m_order;  // layer and depth
    std::vector<doc::Shared<doc::SheetItem>> m_items;
    doc::Id m_shownSheet = 0, m_shownItem = 0;
    std::map<doc::Id, Strip*> m_strips;
};

/// Strips that show, top first, with their depth; children of folded groups do not.
std::vector<std::pair<doc::Id, int>> visibleStrips(const std::vector<doc::LayerPtr>& layers,
                                                   int depth = 0);

}  // namespace ledge::app
