#pragma once
#include <functional>

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
    struct GridRow {
        QWidget* widget;
        QComboBox *kind, *form;
        QLineEdit* crs;
        QLabel* crsWrong;
        QDoubleSpinBox* interval;
        QCheckBox* values;
    };
    void makePlace();
    void makeLamps();
    void makeInset();
    void makeGrids();
    void showGrids(const doc::MapPanel& panel);
    GridRow makeGridRow(std::size_t at);
    void setGridCrs(std::size_t at);
    /// The grids of the panel shown, as `change` leaves them.
    void changeGrids(const std::function<void(std::vector<doc::PanelGrid>&)>& change,
                     const QString& mergeKey = {});
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
    std::vector<GridRow> m_gridRows;
};

}  // namespace ledge::app
