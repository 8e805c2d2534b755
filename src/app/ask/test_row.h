#pragma once
#include <QComboBox>
#include <QWidget>

#include "app/ask/condition_editor.h"

namespace ledge::app {

/// One comparison: a field, how, a value with those that occur.
class TestRow : public QWidget {
    Q_OBJECT

public:
    TestRow(const std::vector<Field>& fields, ValuesOf valuesOf, const query::PlainTest& test,
            QWidget* parent = nullptr);
    query::PlainTest test() const;
    void focusField() { m_field->setFocus(); }

Q_SIGNALS:
    void edited();
    void removeAsked();

protected:
    bool eventFilter(QObject* watched, QEvent* event) override;

private:
    void offerValues();
    void refresh();

    ValuesOf m_valuesOf;
    QComboBox *m_field, *m_how, *m_value;
    QString m_offered;  ///< the field whose values are listed
};

}  // namespace ledge::app
