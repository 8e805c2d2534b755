#include "app/widgets/formula_edit.h"

#include <QAbstractItemView>
#include <QCompleter>
#include <QKeyEvent>
#include <QScrollBar>
#include <QStandardItemModel>

#include "app/theme.h"
#include "carto/qtext.h"
#include "core/query/function_table.h"

namespace ledge::app {
namespace {
constexpr int kInsertRole = Qt::UserRole + 1;
}  // namespace

FormulaEdit::FormulaEdit(const QString& name, const QString& placeholder, int lines,
                         QWidget* parent)
    : QPlainTextEdit(parent), m_lines(lines), m_completer(new QCompleter(this)),
      m_words(new QStandardItemModel(this)) {
    setAccessibleName(name);
    setPlaceholderText(placeholder);
    setTabChangesFocus(true);
    setSizePolicy(QSizePolicy::Expanding, QSizePolicy::Fixed);
    m_completer->setModel(m_words);
    m_completer->setWidget(this);
    m_completer->setCaseSensitivity(Qt::CaseInsensitive);
    m_completer->setCompletionMode(QCompleter::PopupCompletion);
    m_completer->popup()->setObjectName("formulaWords");
    connect(m_completer, qOverload<const QModelIndex&>(&QCompleter::activated), this,
            [this](const QModelIndex& at) { complete(at.data(kInsertRole).toString()); });
    setFields({});
}

void FormulaEdit::setFields(const std::vector<Field>& fields) {
    m_words->clear();
    const auto add = [this](const QString& word, const QString& insert, const QString& tip) {
        auto* item = new QStandardItem(word);
        item->setData(insert, kInsertRole);
        item->setToolTip(tip);
        m_words->appendRow(item);
    };
    for (const Field& field : fields)
        add(qtext(field.name), qtext(query::nameText(field.name)),
            qtext(fieldTypeName(field.type)));
    for (const query::Function& f : query::functions())
        add(qtext(f.name) + "(" + qtext(f.arguments) + ")", qtext(f.name) + "(", qtext(f.help));
}

void FormulaEdit::markWrong(query::Place place) {
    QList<QTextEdit::ExtraSelection> marks;
    if (place.to > place.from) {
        const QByteArray bytes = toPlainText().toUtf8();
        const auto position = [&](std::size_t at) {
            return static_cast<int>(QString::fromUtf8(bytes.left(qsizetype(at))).size());
        };
        QTextEdit::ExtraSelection mark;
        mark.cursor = textCursor();
        mark.cursor.setPosition(std::min(position(place.from), int(toPlainText().size())));
        mark.cursor.setPosition(std::min(position(place.to), int(toPlainText().size())),
                                QTextCursor::KeepAnchor);
        mark.format.setUnderlineStyle(QTextCharFormat::WaveUnderline);
        mark.format.setUnderlineColor(theme().rust);
        marks.push_back(mark);
    }
    setExtraSelections(marks);
}

void FormulaEdit::put(const QString& text) {
    insertPlainText(text);
    setFocus();
}

void FormulaEdit::showText(const QString& text) {
    if (toPlainText() != text) setPlainText(text);
}

QString FormulaEdit::wordBefore() const {
    const QString before = toPlainText().left(textCursor().position());
    qsizetype from = before.size();
    while (from > 0 && (before[from - 1].isLetterOrNumber() || before[from - 1] == '_')) --from;
    return before.mid(from);
}

void FormulaEdit::complete(const QString& word) {
    QTextCursor cursor = textCursor();
    cursor.movePosition(QTextCursor::Left, QTextCursor::KeepAnchor, int(wordBefore().size()));
    cursor.insertText(word);
    setTextCursor(cursor);
}

void FormulaEdit::keyPressEvent(QKeyEvent* event) {
    const bool isOpen = m_completer->popup()->isVisible();
    const bool isChosen = event->key() == Qt::Key_Return || event->key() == Qt::Key_Enter ||
                          event->key() == Qt::Key_Tab || event->key() == Qt::Key_Escape;
    if (isOpen && isChosen) return event->ignore();  // the list's
    const bool isReturn = event->key() == Qt::Key_Return || event->key() == Qt::Key_Enter;
    if (isReturn && (event->modifiers() & Qt::ControlModifier) != 0) {
        Q_EMIT entered();
        document()->clearUndoRedoStacks();  // what was typed has been used
        return;
    }
    const bool isAsked =
        event->key() == Qt::Key_Space && (event->modifiers() & Qt::ControlModifier) != 0;
    if (!isAsked) QPlainTextEdit::keyPressEvent(event);
    const QString word = wordBefore();
    const bool isTyped = !event->text().isEmpty() && event->text()[0].isLetterOrNumber();
    if (!isAsked && (!isTyped || word.size() < 2)) return m_completer->popup()->hide();
    m_completer->setCompletionPrefix(word);
    const bool isOnly =
        m_completer->completionCount() == 0 ||
        (m_completer->completionCount() == 1 && m_completer->currentCompletion() == word);
    if (isOnly) return m_completer->popup()->hide();
    m_completer->popup()->setCurrentIndex(m_completer->completionModel()->index(0, 0));
    QRect at = cursorRect();
    at.setWidth(m_completer->popup()->sizeHintForColumn(0) +
                m_completer->popup()->verticalScrollBar()->sizeHint().width() + 12);
    m_completer->complete(at);
}

QSize FormulaEdit::sizeHint() const { return {200, fontMetrics().lineSpacing() * m_lines + 18}; }

}  // namespace ledge::app
