#pragma once
#include "app/benches/bench_page.h"
#include "app/sheet/legend_editor.h"
#include "app/sheet/member_form.h"
#include "app/sheet/output_panel.h"
#include "app/sheet/panel_editor.h"
#include "app/sheet/remarks_panel.h"
#include "app/sheet/series_editor.h"

namespace ledge::app {

/// The sheets there are; the page, its series and what is to be looked at; and the selected items
/// of the sheet on the canvas.
class SheetBench : public BenchPage {
    Q_OBJECT

public:
    SheetBench(Workspace& workspace, session::FactBook& facts, QWidget* parent = nullptr);
    OutputPanel& output() { return *m_output; }
    RemarksPanel& remarks() { return *m_remarks; }

protected:
    void refresh() override;

private:
    void makePagePart();
    void makePlacePart();
    void makeActions();
    void listSheets();
    void newSheet(const std::string& name);
    void sheetFromFile();
    void keepAsFile();
    void refreshItem(const doc::SheetItem& item);
    void resizePage(double widthMm, double heightMm);
    void fitPanel();
    QString freeName(const QString& wanted) const;

    session::FactBook& m_facts;
    QVBoxLayout* m_sheets;
    QWidget *m_sheetList, *m_pagePart, *m_placePart, *m_frameBox, *m_actions;
    QComboBox *m_pageName, *m_template = nullptr;
    QLineEdit *m_pageWidth, *m_pageHeight, *m_sheetName, *m_author;
    QLabel* m_pageTrouble;
    QPushButton* m_across;
    QCheckBox *m_fits, *m_fitsType;
    QDoubleSpinBox *m_margin, *m_bleed;
    QLineEdit* m_name;
    QDoubleSpinBox *m_left, *m_top, *m_width, *m_height;
    QCheckBox* m_locked;
    PanelEditor* m_panel;
    LegendEditor* m_legend;
    MemberForm *m_content, *m_frame;
    SeriesEditor* m_series;
    RemarksPanel* m_remarks;
    OutputPanel* m_output;
};

}  // namespace ledge::app
