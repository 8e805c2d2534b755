#include "carto/sheet/table_painter.h"

#include <QObject>

#include <algorithm>
#include <cmath>

#include "carto/map_frame.h"
#include "carto/text.h"
#include "core/query/named_formula.h"
#include "core/query/row_values.h"
#include "document/map_crs.h"
#include "document/shown_value.h"

namespace ledge::carto {
namespace {
constexpr std::size_t kUsualFields = 4;
const Colour kTableInk{0x23, 0x26, 0x3F}, kTableMuted{0x6B, 0x6F, 0x8E}, kTableLine{0xB9, 0xBC, 0xD2};

doc::ColumnLook lookOf(const doc::VectorLayer& layer, const std::string& field) {
    for (const doc::ColumnLook& look : layer.columns)
        if (look.field == field) return look;
    doc::ColumnLook out;
    out.field = field;
    return out;
}

// Numbers by size, all else as text; what is missing last.
bool isLess(const Value& a, const Value& b) {
    if (isMissing(a) || isMissing(b)) return !isMissing(a) && isMissing(b);
    const double x = numberOf(a), y = numberOf(b);
    if (std::isfinite(x) && std::isfinite(y)) return x < y;
    return exactText(a) < exactText(b);
}

Result<std::vector<std::size_t>> rowsOf(const FeatureTable& table, const doc::TableItem& item) {
    std::vector<std::size_t> rows;
    std::optional<query::RowValues> keeps;
    if (!item.keep.empty()) {
        auto read = query::RowValues::of(item.keep, table);
        if (!read) return read.error();
        keeps = *std::move(read);
    }
    for (std::size_t row = 0; row < table.size(); ++row)
        if (!keeps || keeps->isTrue(row)) rows.push_back(row);
    if (item.sortBy.empty()) return rows;
    auto by = query::RowValues::of(item.sortBy, table);
    if (!by) return by.error();
    std::vector<std::pair<Value, std::size_t>> order;
    order.reserve(rows.size());
    for (const std::size_t row : rows) order.emplace_back(by->value(row), row);
    std::stable_sort(order.begin(), order.end(), [&](const auto& one, const auto& two) {
        if (!item.isDescending || isMissing(one.first) || isMissing(two.first))
            return isLess(one.first, two.first);
        return isLess(two.first, one.first);
    });
    for (std::size_t i = 0; i < rows.size(); ++i) rows[i] = order[i].second;
    return rows;
}

struct Column {
    QString head;
    doc::ColumnLook look;
    query::RowValues values;
};
// A field by its name, else what a name and a field or formula say; without any the first fields
// that the layer does not hide.
Result<std::vector<Column>> columnsOf(const FeatureTable& table, const doc::Layer& layer,
                                      const doc::TableItem& item) {
    const auto& vector = *layer.as<doc::VectorLayer>();
    std::vector<std::string> wanted = item.fields;
    for (const Field& field : table.info.fields)
        if (item.fields.empty() && wanted.size() < kUsualFields &&
            !lookOf(vector, field.name).isHidden)
            wanted.push_back(field.name);
    std::vector<Column> out;
    for (const std::string& said : wanted) {
        const auto named = table.fieldIndex(said) >= 0 ? query::NamedFormula{said, said}
                                                       : query::NamedFormula::of(said);
        auto values = query::RowValues::of(named.formula, table);
        if (!values)
            return Error{ErrorCode::NotFound, layer.name + ": column \"" + named.name + "\"",
                         values.error().why, "choose the table's columns anew"};
        out.push_back({QString::fromStdString(named.name), lookOf(vector, named.formula),
                       *std::move(values)});
    }
    return out;
}
}  // namespace

Result<TableText> tableText(const doc::Document& document, const doc::TableItem& item,
                            const doc::DrawingData& data) {
    const doc::Layer* layer = document.layer(item.layer);
    const auto* vector = layer ? layer->as<doc::VectorLayer>() : nullptr;
    const doc::SourceRef* source = layer ? document.source(layer->source) : nullptr;
    if (!vector || !source)
        return Error{ErrorCode::NotFound, "table", "its layer is no longer there",
                     "choose a layer with features for this item"};
    const auto features = data.features(doc::readBy(*layer, *source), doc::mapCrs(document));
    if (!features) return features.error();
    const FeatureTable& table = *(*features)->table;
    auto columns = columnsOf(table, *layer, item);
    if (!columns) return columns.error();
    const auto rows = rowsOf(table, item);
    if (!rows) return rows.error();
    TableText out;
    const std::size_t shown = std::min(rows->size(), static_cast<std::size_t>(item.mostRows));
    out.rows.resize(shown);
    for (Column& column : *columns) {
        bool areNumbers = true;
        for (std::size_t i = 0; i < shown; ++i) {
            const Value value = column.values.value((*rows)[i]);
            areNumbers = areNumbers && (isMissing(value) || std::isfinite(numberOf(value)));
            out.rows[i].push_back(QString::fromStdString(doc::shownText(value, column.look)));
        }
        out.heads.push_back(column.head);
        out.areNumbers.push_back(areNumbers);
    }
    out.left = rows->size() - shown;
    return out;
}

namespace {
class TableLayout {
public:
    TableLayout(const QRectF& rect, const TableText& text, const doc::TableItem& item, double mm)
        : m_rect(rect), m_text(text), m_item(item),
          m_mm(mm), m_body{item.sizePt, false, false, kTableInk, false, 0},
          m_head{item.sizePt * 0.92, true, false, kTableMuted, false, 0},
          m_line(item.sizePt * kMmPerPoint * mm * 1.55) {
        const double gap = 2.5 * mm;
        double sum = 0;
        for (std::size_t k = 0; k < text.heads.size(); ++k) {
            double width = item.hasHead ? measure(text.heads[k], m_head, mm).width : 0;
            for (const auto& row : text.rows)
                width = std::max(width, measure(row[k], m_body, mm).width);
            m_widths.push_back(width);
            sum += width;
        }
        const double room =
            rect.width() -
            gap * static_cast<double>(std::max<std::size_t>(1, text.heads.size()) - 1);
        if (sum > room && sum > 0)
            for (double& width : m_widths) width *= std::max(0.0, room) / sum;
        double x = rect.left();
        for (const double width : m_widths) m_lefts.push_back(x), x += width + gap;
        m_right = std::min(rect.right(), x - gap);
    }

    std::size_t paint(QPainter& painter) const {
        double y = m_rect.top();
        if (m_item.hasHead) {
            row(painter, y, m_text.heads, m_head);
            y += m_line;
            rule(painter, y, 0.25);
        }
        const double most = m_rect.bottom() + 1e-6;
        std::size_t done = 0;
        for (; done < m_text.rows.size() && y + m_line <= most; ++done) {
            // The last line that fits says what does not.
            const bool isLast = done + 1 < m_text.rows.size() && y + 2 * m_line > most;
            if (isLast) break;
            row(painter, y, m_text.rows[done], m_body);
            y += m_line;
            if (m_item.hasLines) rule(painter, y, 0.08);
        }
        const std::size_t left = m_text.rows.size() - done;
        if (left > 0) {
            TextStyle style = m_body;
            style.isItalic = true, style.colour = kTableMuted;
            drawText(painter, {m_rect.left(), y + m_line * 0.72}, 0,
                     QObject::tr("and %n more", "", static_cast<int>(left)), style, m_mm);
        }
        return m_text.rows.size() - done;
    }

private:
    void row(QPainter& painter, double y, const std::vector<QString>& cells,
             const TextStyle& style) const {
        for (std::size_t k = 0; k < cells.size(); ++k) {
            QString said = cells[k];
            while (said.size() > 1 && measure(said, style, m_mm).width > m_widths[k] * 1.001)
                said = said.chopped(said.endsWith(QChar(0x2026)) ? 2 : 1) + QChar(0x2026);
            double x = m_lefts[k];
            if (m_text.areNumbers[k]) x += m_widths[k] - measure(said, style, m_mm).width;
            drawText(painter, {x, y + m_line * 0.72}, 0, said, style, m_mm);
        }
    }
    void rule(QPainter& painter, double y, double widthMm) const {
        painter.setPen(QPen(qt(kTableLine), widthMm * m_mm));
        painter.drawLine(QPointF(m_rect.left(), y), QPointF(m_right, y));
    }
    QRectF m_rect;
    const TableText& m_text;
    const doc::TableItem& m_item;
    double m_mm;
    TextStyle m_body, m_head;
    double m_line, m_right = 0;
    std::vector<double> m_widths, m_lefts;
};
}  // namespace

std::size_t paintTable(QPainter& painter, const QRectF& rect, const TableText& text,
                       const doc::TableItem& item, double mm) {
    return TableLayout(rect, text, item, mm).paint(painter);
}

}  // namespace ledge::carto
