#pragma once
#include <QPlainTextEdit>

#include "core/feature/feature_table.h"
#include "core/query/tree.h"

class QCompleter;
class QStandardItemModel;

namespace ledge::app {

/// A field for formulas and conditions: names of fields and functions are offered while typing, and
/// where something is wrong is underlined.
class FormulaEdit : public QPlainTextEdit {
    Q_OBJECT

public:
    FormulaEdit(const QString& name, const QString& placeholder, int lines = 3,
                QWidget* parent = nullptr);
    /// What may be named.
    void setFields(const std::vector<Field>& fields);
    /// Underlines a part of the text, in bytes; an empty place underlines nothing.
    void markWrong(query::Place place);
    /// Puts a text where the cursor stands.
    void put(const QString& text);
    QString text() const { return toPlainText(); }
    /// As if it had been typed whole, when it is another.
    void showText(const QString& text);
    QCompleter* completer() const { return m_completer; }

Q_SIGNALS:
    /// Ctrl+Return.
    void entered();

protected:
    void keyPressEvent(QKeyEvent* event) override;
    QSize sizeHint() const override;
    QSize minimumSizeHint() const override { return sizeHint(); }

private:
    QString wordBefore() const;
    void complete(const QString& word);

    int m_lines;
    QCompleter* m_completer;
    QStandardItemModel* m_words;
};

}  // namespace ledge::app
