#pragma once
#include <QPainter>

#include "document/drawing_data.h"

namespace ledge::carto {

/// What a table item says: heads and rows as they are shown, numbers to the right.
struct TableText {
    std::vector<QString> heads;
    std::vector<bool> areNumbers;
    std::vector<std::vector<QString>> rows;
    std::size_t left = 0;  ///< rows that its most leaves out
};
/// Rows that the item keeps, in its order. Errors: of the layer, its fields and formulas.
Result<TableText> tableText(const doc::Document& document, const doc::TableItem& item,
                            const doc::DrawingData& data);

/// Columns as wide as what they hold, shrunk and cut with an ellipsis where all is too wide; rows
/// that do not fit are counted at its foot. Returns how many did not.
std::size_t paintTable(QPainter& painter, const QRectF& rect, const TableText& text,
                       const doc::TableItem& item, double pxPerMm);

}  // namespace ledge::carto
