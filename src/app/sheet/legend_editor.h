#pragma once
#include "app/widgets/form.h"
#include "app/workspace.h"

namespace ledge::app {

/// The entries of the selected legend, or the credits of the selected credits item: listed or not,
/// called otherwise, in their order.
class LegendEditor : public QWidget {
    Q_OBJECT

public:
    explicit LegendEditor(Workspace& workspace, QWidget* parent = nullptr);
    void show(const doc::SheetItem& item);

private:
    void showLegend(const doc::LegendItem& legend);
    void showCredits(const doc::CreditsItem& credits);
    void addRow(QCheckBox* listed, QLineEdit* name, QPushButton* everywhere, QPushButton* up);

    Workspace& m_workspace;
    QLabel* m_said;
    QVBoxLayout* m_rows;
    std::string m_shown;
};

}  // namespace ledge::app
