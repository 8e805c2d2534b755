#pragma once
#include "app/widgets/form.h"
#include "app/widgets/formula_choice.h"
#include "app/widgets/formula_text.h"
#include "app/workspace.h"
#include "session/fact_book.h"

namespace ledge::app {

/// What the sheet on the canvas is repeated over, and which of its pages the canvas shows.
class SeriesEditor : public QWidget {
    Q_OBJECT

public:
    SeriesEditor(Workspace& workspace, session::FactBook& facts, QWidget* parent = nullptr);
    void show(const doc::Sheet& sheet);

private:
    void set(const char* member, const std::string& value, const QString& mergeKey = {});
    const std::vector<Field>* fields(const doc::Sheet& sheet);
    void showFilter(const doc::Sheet& sheet);
    void listThings(const doc::Sheet& sheet);
    void setThing(std::size_t at, bool isOn);

    Workspace& m_workspace;
    session::FactBook& m_facts;
    QComboBox *m_over, *m_layer, *m_panel, *m_index, *m_filtered;
    FormulaChoice *m_sort, *m_naming;
    FormulaText* m_keep;
    QLineEdit* m_filter;
    QDoubleSpinBox *m_margin, *m_scale, *m_page;
    QCheckBox* m_alone;
    QWidget *m_featurePart, *m_layerPart, *m_thingPart, *m_pagePart;
    QVBoxLayout* m_things;
    struct Thing {
        QString shown;
        std::string word;  ///< a field, or an id
    };
    struct ThingRow {
        QCheckBox* widget;
    };
    std::vector<Thing> m_all;
    std::vector<ThingRow> m_thingRows;
};

}  // namespace ledge::app
