// What the table's drawer changes in its table, and takes from it.
#include <QApplication>
#include <QClipboard>

#include "app/table/table_drawer.h"
#include "carto/qtext.h"
#include "core/base/numbers.h"
#include "session/table_saving.h"

namespace ledge::app {
namespace {
constexpr std::size_t kMostCopied = 64U << 20;  // bytes
constexpr std::size_t kMostPasted = 100000;     // cells
}  // namespace

void TableDrawer::copy() {
    if (!m_table) return;
    const auto selection = m_view->selectionModel()->selection();
    if (selection.isEmpty()) return;
    const QItemSelectionRange& range = selection.first();
    std::vector<session::ShownColumn> columns;
    for (int i = range.left(); i <= range.right(); ++i)
        columns.push_back(m_model.columns()[static_cast<std::size_t>(i)]);
    const std::vector<std::uint32_t> rows(m_model.rows().begin() + range.top(),
                                          m_model.rows().begin() + range.bottom() + 1);
    const auto [text, isWhole] = session::tabbedText(*m_table, columns, rows, kMostCopied);
    QApplication::clipboard()->setText(qtext(text));
    if (isWhole)
        m_workspace.say(tr("Copied %1 rows with their names").arg(counted(rows.size())));
    else
        m_workspace.say(tr("Too much to copy: write the layer to a file instead"), true);
}

// A block of cells goes down and right from the current one; a single value fills what is selected.
void TableDrawer::paste() {
    const QModelIndex at = m_view->currentIndex();
    if (!at.isValid() || !m_table) return;
    QString text = QApplication::clipboard()->text();
    while (text.endsWith('\n') || text.endsWith('\r')) text.chop(1);
    QStringList lines = text.split('\n');
    // Names of columns, as copying puts them first, are not pasted.
    if (lines.size() > 1) {
        const QStringList names = lines.front().split('\t');
        bool areNames = true;
        for (qsizetype k = 0; k < names.size(); ++k)
            areNames = areNames && at.column() + k < m_model.columnCount() &&
                       names[k].trimmed() == qtext(m_model.field(at.column() + int(k)).name);
        if (areNames) lines.removeFirst();
    }
    std::vector<std::pair<QModelIndex, QString>> cells;
    if (lines.size() == 1 && !lines.front().contains('\t')) {
        for (const QModelIndex& one : m_view->selectionModel()->selectedIndexes())
            cells.emplace_back(one, lines.front());
    } else {
        for (qsizetype r = 0; r < lines.size(); ++r) {
            const QStringList values = lines[r].remove('\r').split('\t');
            for (qsizetype k = 0; k < values.size(); ++k) {
                const auto cell = m_model.index(at.row() + int(r), at.column() + int(k));
                if (cell.isValid()) cells.emplace_back(cell, values[k]);
            }
        }
    }
    setCells(cells);
}

void TableDrawer::clearCells() {
    std::vector<std::pair<QModelIndex, QString>> cells;
    for (const QModelIndex& one : m_view->selectionModel()->selectedIndexes())
        cells.emplace_back(one, QString());
    setCells(cells);
}

// All or none: a value that does not fit is told, and nothing changes.
void TableDrawer::setCells(const std::vector<std::pair<QModelIndex, QString>>& cells) {
    const auto* layer = shownLayer();
    if (!layer || cells.empty()) return;
    if (cells.size() > kMostPasted)
        return m_workspace.say(tr("Too many cells at once: compute the column instead"), true);
    std::string text;
    for (const auto& [at, value] : cells) {
        const Field& field = m_model.field(at.column());
        if (!value.isEmpty())
            if (const auto fits = valueOf(value.toStdString(), field.type); !fits)
                return m_workspace.say(tr("Row %1, %2: %3")
                                           .arg(at.row() + 1)
                                           .arg(qtext(field.name), qtext(fits.error().why)),
                                       true);
        QString plain = value;
        text +=
            std::to_string(m_model.keyOf(at.row())) + "\t" + field.name +
            (value.isEmpty() ? std::string()
                             : "\t" + plain.replace('\t', ' ').replace('\n', ' ').toStdString()) +
            "\n";
    }
    m_workspace.perform("cells-set",
                        {{"source", Workspace::target(layer->source)}, {"cells", text}});
}

void TableDrawer::openFormula(const QString& column) {
    const auto* layer = shownLayer();
    const auto* from = source();
    if (!layer || !from || !m_table) return;
    if (!from->isFile())
        return m_workspace.say(tr("Write the layer to a file first, then compute columns"), true);
    m_formula->open(layer->source, m_table, column);
    // What filled it last is a good beginning.
    for (const TableEdit& edit : from->edits->edits)
        if (const auto* filled = std::get_if<ColumnComputed>(&edit))
            if (qtext(filled->name) == column)
                m_formula->formula()->showText(qtext(filled->formula));
}

void TableDrawer::openReplace() {
    const auto* layer = shownLayer();
    if (layer && m_table) m_replace->open(layer->source, m_table, m_model.rows(), m_find->text());
}

void TableDrawer::addRow() {
    const auto* layer = shownLayer();
    if (!layer || !m_table) return;
    FeatureKey most = 0;
    for (std::size_t i = 0; i < m_table->size(); ++i) most = std::max(most, m_table->key(i));
    m_wanted = most + 1;
    m_workspace.perform("row-add", {{"source", Workspace::target(layer->source)},
                                    {"row", std::to_string(most + 1)}});
}

void TableDrawer::removePicked() {
    const auto* layer = shownLayer();
    if (!layer) return;
    std::string keys;
    for (const FeatureKey key : m_workspace.picked(layer->source))
        keys += (keys.empty() ? "" : ",") + std::to_string(key);
    if (m_workspace.perform("rows-remove",
                            {{"source", Workspace::target(layer->source)}, {"rows", keys}}))
        m_workspace.pick(layer->source, {});
}

void TableDrawer::saveEdits() {
    const auto* from = source();
    if (!from) return;
    m_workspace.session().jobs().start(
        tr("Save %1").arg(qtext(from->name)),
        [from = *from, sources = m_workspace.session().sources()](const Progress& progress) {
            return session::saveEdits(from, *sources, progress);
        },
        [this, id = from->id](const Result<void>& done) {
            if (!done) return m_workspace.say(qtext(done.error().text()), true);
            m_workspace.perform("table-saved", {{"source", Workspace::target(id)}});
            m_workspace.say(tr("The edits are in the file"));
        });
}

}  // namespace ledge::app
