#pragma once
#include <QCheckBox>
#include <QFrame>
#include <QLabel>
#include <QScrollArea>
#include <QToolButton>
#include <QVBoxLayout>

#include "app/workspace.h"
#include "session/probe.h"

namespace ledge::app {

/// What one layer says at the probed spot.
class ProbeCard : public QFrame {
    Q_OBJECT

public:
    explicit ProbeCard(QWidget* parent = nullptr);
    void setCurrent(bool isCurrent);

Q_SIGNALS:
    void chosen();

protected:
    void mousePressEvent(QMouseEvent*) override;

private:
    bool m_isCurrent = true;
};

/// What the probe read at a spot, floating on the canvas: a card for each layer and feature there,
/// one of them shown on the map.
class ProbePanel : public QFrame {
    Q_OBJECT

public:
    explicit ProbePanel(Workspace& workspace, QWidget* parent);
    void show(const Point& at, const std::vector<session::ProbeHit>& hits);
    /// Pixels that its content needs.
    int neededHeight() const;
    /// Makes one of the cards the one shown on the map.
    void choose(int index);
    int current() const { return m_current; }

Q_SIGNALS:
    /// A profile along a line feature was asked for.
    void profileAsked(const std::vector<Point>& line, const QString& name);
    void profileAddAsked(const std::vector<Point>& line, const QString& name);
    /// The row of a feature is to be shown in its table.
    void rowAsked(doc::Id layer, FeatureKey key);
    /// One of the hits is to be shown on the map.
    void flashAsked(const ledge::session::ProbeHit& hit);
    /// The same spot is to be read again: only the selected layer, or all.
    void onlySelectedAsked(bool isOnly);

protected:
    void keyPressEvent(QKeyEvent*) override;

private:
    ProbeCard* card(const session::ProbeHit& hit);
    Workspace& m_workspace;
    QScrollArea* m_scroll;
    QLabel* m_count;
    QCheckBox* m_only;
    QToolButton *m_back, *m_next;
    std::vector<session::ProbeHit> m_hits;
    std::vector<ProbeCard*> m_cards;
    int m_current = 0;
};

}  // namespace ledge::app
