#pragma once
#include <QComboBox>
#include <QFrame>
#include <QVBoxLayout>
#include <functional>

#include "core/query/plain.h"

namespace ledge::app {

/// The values that occur in a field, with how often; asked for when its list is opened.
using ValuesOf =
    std::function<void(const std::string& field, std::function<void(const QStringList&)> use)>;

/// A condition in plain controls: of several comparisons all, any or none must hold; a part may be
/// a group of its own.
class ConditionEditor : public QFrame {
    Q_OBJECT

public:
    ConditionEditor(ValuesOf valuesOf, bool isInner, QWidget* parent = nullptr);
    void setFields(const std::vector<Field>& fields);
    void show(const query::PlainGroup& group);
    query::PlainGroup group() const;

Q_SIGNALS:
    void edited();
    void removeAsked();

private:
    void addTest(const query::PlainTest& test);
    void addGroup(const query::PlainGroup& group);
    void rebuild(const query::PlainGroup& wanted);
    void remove(QWidget* row);
    void refreshJoin();

    ValuesOf m_valuesOf;
    std::vector<Field> m_fields;
    QComboBox* m_join;
    QVBoxLayout* m_rows;
    std::vector<QWidget*> m_parts;
};

}  // namespace ledge::app
