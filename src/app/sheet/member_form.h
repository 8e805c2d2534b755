#pragma once
#include <map>

#include "app/sheet/item_members.h"
#include "app/widgets/form.h"
#include "app/workspace.h"
#include "session/fact_book.h"

namespace ledge::app {

/// Fields for members of the selected items, made from their rows. Each change is an edit of all
/// selected items that have the member; what several items have differently shows the current
/// one's.
class MemberForm : public QWidget {
    Q_OBJECT

public:
    MemberForm(Workspace& workspace, session::FactBook& facts, QWidget* parent = nullptr);
    /// Builds the fields anew only where they are others than those there are.
    void show(const doc::SheetItem& item, const std::vector<MemberRow>& rows);

private:
    struct Field {
        MemberRow row;
        QWidget* box = nullptr;
        std::function<void(const doc::SheetItem&)> show;
    };
    void build(const std::vector<MemberRow>& rows);
    Field make(const MemberRow& row);
    QWidget* framed(const Field& field) const;
    void set(const MemberRow& row, const std::string& value, bool isDragged = false);

    Workspace& m_workspace;
    session::FactBook& m_facts;
    QVBoxLayout* m_rows;
    std::vector<Field> m_fields;
    std::string m_shape;  ///< of the rows there are
};

}  // namespace ledge::app
