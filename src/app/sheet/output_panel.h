#pragma once
#include <QPrinter>

#include "app/widgets/form.h"
#include "app/workspace.h"

namespace ledge::app {

/// What leaves the program: the sheet on the canvas as a file, on paper, or on the clipboard; the
/// selected map panel alone.
class OutputPanel : public QWidget {
    Q_OBJECT

public:
    explicit OutputPanel(Workspace& workspace, QWidget* parent = nullptr);
    void refresh();
    double dpi() const { return m_dpi->value(); }
    /// Asks for a file: beside the project, or where and as what the last one was written.
    /// `onlyPanel`: a map panel written alone, as a picture that knows where it lies; 0: the sheet.
    void chooseExport(doc::Id onlyPanel = 0);
    /// Exports the shown sheet, or a panel of it, as a job; the suffix chooses the format.
    void exportTo(const QString& path, double dpi, doc::Id onlyPanel = 0);
    /// The page as it will be printed, with the system's settings for paper.
    void print();
    /// The pages that the printer asks for, each at the size of its paper.
    void printOn(QPrinter& printer);
    /// Paper of the sheet's own size.
    static void setPaper(QPrinter& printer, const doc::Sheet& sheet);

Q_SIGNALS:
    void resolutionChanged();

private:
    void copyPicture();

    Workspace& m_workspace;
    QString m_folder;  ///< of the last export of this project
    QDoubleSpinBox* m_dpi;
    QCheckBox *m_archival, *m_jpeg;
    QPushButton* m_alone;
    QLabel* m_pixels;
};

}  // namespace ledge::app
