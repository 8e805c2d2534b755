#pragma once
#include <QToolButton>
#include <QVBoxLayout>
#include <map>

#include "app/widgets/form.h"
#include "core/geometry/geometry.h"
#include "document/style.h"

namespace ledge::app {

/// The categories of a style, a row each: lamp, look, what the legend says, how often it occurs.
/// Rows stay while there are as many, so that the focus does.
class CategoryEditor : public QWidget {
    Q_OBJECT

public:
    explicit CategoryEditor(QWidget* parent = nullptr);
    /// `counts`: of values by their exact text; empty while they are not known. `chosen`: the value
    /// whose look is being edited.
    void show(const doc::VectorStyle& style, GeometryType geometry,
              const std::map<std::string, std::int64_t>& counts, const std::string& chosen);

Q_SIGNALS:
    void edited(const QString& member, const std::string& value, const QString& mergeKey);
    void chosen(const std::string& value);

private:
    struct Row {
        QWidget* widget;
        QCheckBox* lamp;
        QToolButton* look;
        QLineEdit* label;
        QLabel* count;
        QToolButton* more;
    };
    Row makeRow(std::size_t i);
    std::int64_t countOf(const doc::Category& category) const;
    void fillMenu(QMenu& menu, std::size_t i);
    void change(const std::vector<doc::Category>& categories);
    void order(int how);

    doc::VectorStyle m_style;
    std::map<std::string, std::int64_t> m_counts;
    QVBoxLayout* m_list;
    std::vector<Row> m_rows;
    QComboBox* m_order;
    QCheckBox* m_others;
    QLabel* m_note;
};

}  // namespace ledge::app
