#pragma once
#include <QToolButton>
#include <QWidget>

#include "app/workspace.h"

namespace ledge::app {

/// The benches in the order of the work.
class RailBar : public QWidget {
    Q_OBJECT

public:
    explicit RailBar(Workspace& workspace, QWidget* parent = nullptr);
    QString nameOf(Bench bench) const;

Q_SIGNALS:
    /// A bench was asked for by its keys: work goes on there.
    void focusAsked();

protected:
    void paintEvent(QPaintEvent*) override;

private:
    void refresh();
    Workspace& m_workspace;
    std::vector<QToolButton*> m_buttons;
};

}  // namespace ledge::app
