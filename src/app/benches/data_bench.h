#pragma once
#include "app/benches/bench_page.h"
#include "session/fact_book.h"

namespace ledge::app {

/// What a layer's source is: its CRS in words, extent, fields, notes; declaring a CRS, the height
/// unit, the credit; and the files in the project's folder.
class DataBench : public BenchPage {
    Q_OBJECT

public:
    DataBench(Workspace& workspace, session::FactBook& facts, QWidget* parent = nullptr);

Q_SIGNALS:
    void addAsked();
    void fileAsked(const QString& path);

protected:
    void refresh() override;

private:
    void declareCrs();
    void listFolder();

    session::FactBook& m_facts;
    QLabel* m_facts_;
    QLabel* m_notes;
    QWidget* m_sourcePart;
    QLineEdit* m_crs;
    QLabel* m_crsHint;
    QComboBox* m_heightUnit;
    QWidget* m_heightPart;
    QLineEdit* m_credit;
    QLabel* m_fields;
    QVBoxLayout* m_folder;
};

}  // namespace ledge::app
