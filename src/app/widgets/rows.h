#pragma once
#include <QLayout>
#include <QWidget>
#include <vector>

namespace ledge::app {

/// Takes all out of a layout. What stood in it may be what led here: it is hidden, found by no name
/// any more, and deleted later.
inline void clearRows(QLayout* layout) {
    while (QLayoutItem* item = layout->takeAt(0)) {
        if (QWidget* gone = item->widget()) {
            gone->hide();
            gone->setObjectName({});
            for (QWidget* part : gone->findChildren<QWidget*>()) part->setObjectName({});
            gone->deleteLater();
        }
        delete item;
    }
}

/// As many rows as are wanted: those that are there stay, so that the focus does, too many go, and
/// `make` makes what is missing. A row has its `widget`.
template <typename Row, typename Make>
void keepRows(std::vector<Row>& rows, std::size_t count, QLayout* layout, const Make& make) {
    while (rows.size() > count) {
        rows.back().widget->hide();
        rows.back().widget->deleteLater();
        rows.pop_back();
    }
    while (rows.size() < count) {
        rows.push_back(make(rows.size()));
        layout->addWidget(rows.back().widget);
    }
}

}  // namespace ledge::app
