#pragma once
#include <QPlainTextEdit>

#include "app/benches/bench_page.h"

namespace ledge::app {

/// The sheets there are; the page; and the selected item of the sheet on the canvas.
class SheetBench : public BenchPage {
    Q_OBJECT

public:
    explicit SheetBench(Workspace& workspace, QWidget* parent = nullptr);
    /// Exports the shown sheet as a job; the suffix chooses the format.
    /// Asks for a file: beside the project, or where and as what the last one was written.
    void chooseExport();
    void exportTo(const QString& path, double dpi);

protected:
    void refresh() override;

private:
    void makePagePart();
    void makePlacePart();
    void makePanelPart();
    void makeTextPart();
    void makeLegendPart();
    void makeProfilePart();
    void makeActions();
    void listSheets();
    void refreshItem(const doc::SheetItem& item);
    void addItemMenu();
    void addItem(const QString& name, const char* kind, const char* rect, doc::EditWords more);
    /// Sets a member of the selected item, as the project names it.
    void setMember(const char* member, const std::string& value, const QString& mergeKey = {});

    QVBoxLayout* m_sheets;
    QWidget* m_sheetList;
    QWidget* m_pagePart;
    QDoubleSpinBox* m_pageWidth;
    QDoubleSpinBox* m_pageHeight;
    QCheckBox* m_fits;
    QWidget* m_placePart;
    QLineEdit* m_name;
    QDoubleSpinBox* m_left;
    QDoubleSpinBox* m_top;
    QDoubleSpinBox* m_width;
    QDoubleSpinBox* m_height;
    QCheckBox* m_locked;
    QString m_exportFolder;  ///< of the last export of this project
    QWidget* m_panelPart;
    QComboBox* m_shows;
    QDoubleSpinBox* m_scale;
    QDoubleSpinBox* m_rotation;
    QDoubleSpinBox* m_frame;
    QCheckBox* m_ticks;
    QCheckBox* m_frozen;
    QWidget* m_textPart;
    QPlainTextEdit* m_text;
    QDoubleSpinBox* m_size;
    QCheckBox* m_bold;
    QComboBox* m_align;
    QWidget* m_legendPart;
    QDoubleSpinBox* m_columns;
    QLineEdit* m_legendTitle;
    QVBoxLayout* m_legendRows;
    QWidget* m_profilePart;
    QComboBox* m_profile;
    QDoubleSpinBox* m_profileSize;
    QWidget* m_actions;
    QDoubleSpinBox* m_dpi;
    QLabel* m_pixels;
};

}  // namespace ledge::app
