#pragma once
#include <QComboBox>
#include <QLabel>
#include <QLineEdit>
#include <QPushButton>
#include <QTableWidget>
#include <set>

#include "document/style.h"
#include "session/class_table.h"

namespace ledge::app {

/// The table of a raster of classes: lamp, colour, name, numbers and the columns added; sorted by a
/// click on a heading, picked by text or a condition, shown alone, inverted. Columns are added,
/// hidden, computed by a formula, and summed up below.
class ClassEditor : public QWidget {
    Q_OBJECT

public:
    explicit ClassEditor(QWidget* parent = nullptr);
    /// `areas` empty when the ground size of cells is not known (yet).
    void show(const doc::RasterStyle& style, const session::ClassAreas& areas);
    /// Selects the row of a value.
    void pick(double value);
    std::set<double> picked() const;

Q_SIGNALS:
    void edited(const QString& label, const ledge::doc::RasterStyle& style);
    void pickedChanged();
    /// The table is to be written beside the raster.
    void sidecarAsked();
    /// Something that was typed cannot be used, in words.
    void refused(const QString& why);

private:
    QWidget* makePickPart();
    QWidget* makeColumnPart();
    void openColumnMenu(const QPoint& at);
    void addColumn();
    void compute();
    void fill();
    void fillRow(int row, const std::vector<std::string>& columns);
    void refreshSummary();
    void refreshComputing();
    void onItemChanged(QTableWidgetItem* item);
    void chooseColour(int row);
    void selectRows(const std::set<double>& values);
    void setShown(const std::function<bool(const doc::RasterClass&, bool isPicked)>& rule,
                  const QString& label);
    double valueOf(int row) const;

    doc::RasterStyle m_style;
    session::ClassAreas m_areas;
    std::vector<std::string> m_columns;  ///< of numbers, as shown
    QComboBox* m_unit;
    QLineEdit* m_filter;
    QTableWidget* m_table;
    QLabel* m_summary;
    QComboBox* m_target;
    QLineEdit* m_formula;
    QLabel* m_formulaWrong;
    QPushButton* m_compute;
};

}  // namespace ledge::app
