#pragma once
#include <QToolButton>
#include <QVBoxLayout>

#include "app/widgets/formula_text.h"
#include "core/geometry/geometry.h"
#include "document/style.h"

namespace ledge::app {

/// Rules one below another: what each holds for, at which scales, what the legend calls it. The
/// first that holds draws a feature.
class RuleEditor : public QWidget {
    Q_OBJECT

public:
    explicit RuleEditor(QWidget* parent = nullptr);
    /// `chosen`: whose look is being edited; nothing for none.
    void show(const doc::VectorStyle& style, GeometryType geometry,
              const std::vector<Field>& fields, std::optional<std::size_t> chosen);

Q_SIGNALS:
    void edited(const QString& member, const std::string& value, const QString& mergeKey);
    void chosen(int rule);

private:
    struct Row {
        QWidget* widget;
        QCheckBox* lamp;
        QToolButton* look;
        FormulaText* keep;
        QLineEdit* label;
        QDoubleSpinBox* widest;
        QDoubleSpinBox* closest;
    };
    Row makeRow(std::size_t i);
    void change(const std::vector<doc::StyleRule>& rules);

    doc::VectorStyle m_style;
    QVBoxLayout* m_list;
    std::vector<Row> m_rows;
    QCheckBox* m_others;
};

}  // namespace ledge::app
