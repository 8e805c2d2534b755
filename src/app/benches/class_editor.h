#pragma once
#include <QComboBox>
#include <QLabel>
#include <QLineEdit>
#include <QTableWidget>

#include "document/style.h"

namespace ledge::app {

/// The table of a raster of classes: lamp, colour, name, cells, area and share; sorted by a click
/// on a heading, picked by text, shown alone, inverted.
class ClassEditor : public QWidget {
    Q_OBJECT

public:
    explicit ClassEditor(QWidget* parent = nullptr);
    /// `cellSquareMetres` 0 when the ground size of cells is not known.
    void show(const std::vector<doc::RasterClass>& classes, double cellSquareMetres);
    /// Selects the row of a value.
    void pick(double value);

Q_SIGNALS:
    void edited(const QString& label, const std::vector<ledge::doc::RasterClass>& classes);

private:
    void fill();
    void refreshSummary();
    std::vector<double> pickedValues() const;
    void setShown(const std::function<bool(const doc::RasterClass&, bool isPicked)>& rule,
                  const QString& label);

    std::vector<doc::RasterClass> m_classes;
    double m_cellSquareMetres = 0;
    QComboBox* m_unit;
    QLineEdit* m_filter;
    QTableWidget* m_table;
    QLabel* m_summary;
};

}  // namespace ledge::app
