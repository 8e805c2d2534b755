#pragma once
#include <QWidget>

#include "app/widgets/form.h"
#include "app/workspace.h"
#include "session/fact_book.h"

namespace ledge::app {

/// How the text of a source is read, where that can be chosen: its encoding, and of tables of text
/// what divides cells, the decimal sign, and whether the first row names the columns.
class ReadingPanel : public QWidget {
    Q_OBJECT

public:
    explicit ReadingPanel(Workspace& workspace, QWidget* parent = nullptr);
    void show(const doc::SourceRef& source, const session::SourceFacts& facts);

private:
    void set(const char* what, const std::string& value);

    Workspace& m_workspace;
    QComboBox *m_encoding, *m_delimiter, *m_decimals, *m_header;
    QWidget* m_tablePart;
    doc::Id m_source = 0;
};

}  // namespace ledge::app
