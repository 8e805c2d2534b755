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
    /// An entry of a legend, or a credit.
    struct Entry {
        doc::Id layer = 0;  ///< 0: a credit
        QString called;
        QString name;  ///< here; empty: as it is called
        bool isListed = true;
        bool isFirst = false;  ///< of a group: it goes no further up
    };
    struct Row {
        QWidget* widget;
        QCheckBox* listed;
        QLineEdit* name;
        QPushButton *everywhere, *up;
    };
    std::vector<Entry> entriesOf(const doc::LegendItem& legend) const;
    std::vector<Entry> entriesOf(const doc::CreditsItem& credits, const QStringList& all) const;
    Row makeRow(std::size_t at);
    void list(std::size_t at, bool isListed);
    void rename(std::size_t at);
    void showRow(std::size_t at);

    Workspace& m_workspace;
    QLabel* m_said;
    QVBoxLayout* m_list;
    std::vector<Entry> m_entries;
    std::vector<Row> m_rows;
};

}  // namespace ledge::app
