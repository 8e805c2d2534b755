#pragma once
#include "app/widgets/form.h"
#include "app/workspace.h"

namespace ledge::app {

/// Where the selected map panel looks and what it shows: place, scale, lamps, what it follows,
/// insets and lines of coordinates.
class PanelEditor : public QWidget {
    Q_OBJECT

public:
    explicit PanelEditor(Workspace& workspace, QWidget* parent = nullptr);
    void show(const doc::SheetItem& item);

Q_SIGNALS:
    /// Everything of the project is to be seen in the panel.
    void fitAsked();

private:
    void makePlace();
    void makeLamps();
    void makeInset();
    void makeGrids();
    void showGrids(const doc::MapPanel& panel);
    void setGrids(const std::vector<doc::PanelGrid>& grids);
    /// Fills a choice with the saved views and, of the sheet, the panels but this one.
    void listOthers(QComboBox* box, bool withViews, const doc::SheetItem& item) const;

    Workspace& m_workspace;
    QVBoxLayout* m_rows;
    QComboBox *m_shows, *m_follows, *m_like, *m_lamps, *m_shownIn;
    QDoubleSpinBox *m_scale, *m_rotation;
    QPushButton *m_content, *m_labels;
    QCheckBox *m_frozen, *m_leaders;
    QLabel* m_said;
    QVBoxLayout* m_grids;
    std::string m_shownGrids;
};

}  // namespace ledge::app
