#include "app/stack/item_row.h"

#include <QHBoxLayout>
#include <QMouseEvent>

#include "app/widgets/elided_label.h"
#include "document/kinds.h"

namespace ledge::app {

ItemRow::ItemRow(Workspace& workspace, doc::Id item, QWidget* parent)
    : RowFrame(parent), m_workspace(workspace), m_item(item), m_lamp(makeLamp(this)),
      m_name(new ElidedLabel(this)), m_kind(new QLabel(this)) {
    setObjectName(QString("item%1").arg(item));
    m_lamp->setToolTip(tr("Show or hide on the sheet"));
    m_name->setStyleSheet("font-weight: 600;");
    m_name->setSizePolicy(QSizePolicy::Ignored, QSizePolicy::Preferred);
    m_kind->setProperty("role", "muted");
    auto* layout = new QHBoxLayout(this);
    layout->setContentsMargins(6, 3, 10, 3);
    layout->addWidget(m_lamp);
    layout->addWidget(m_name, 1);
    layout->addWidget(m_kind);
    connect(m_lamp, &QToolButton::clicked, this, [this](bool on) {
        m_workspace.perform("item-visible", {{"sheet", Workspace::target(m_workspace.sheetId())},
                                             {"item", Workspace::target(m_item)},
                                             {"visible", on ? "yes" : "no"}});
    });
    refresh();
}

void ItemRow::refresh() {
    const doc::Sheet* sheet = m_workspace.sheet();
    const doc::SheetItem* item = sheet ? sheet->item(m_item) : nullptr;
    if (!item) return;
    const QString name = QString::fromStdString(item->name);
    const QString kind = QString::fromStdString(doc::itemKind(*item));
    m_lamp->setChecked(!item->isHidden);
    m_lamp->setIcon(lampIcon(!item->isHidden));
    m_lamp->setAccessibleName(tr("Show %1 on the sheet").arg(name));
    static_cast<ElidedLabel*>(m_name)->setPlain(name);
    m_kind->setText(item->as<doc::UnknownItem>() ? tr("%1 · can't be shown here").arg(kind) : kind);
    setAccessibleName(tr("%1 on the sheet, %2").arg(name, kind));
    const auto& selected = m_workspace.selectedItems();
    setSelected(std::find(selected.begin(), selected.end(), m_item) != selected.end(),
                m_workspace.selectedItem() == m_item);
}

void ItemRow::mousePressEvent(QMouseEvent* event) {
    if (event->button() != Qt::LeftButton) return;
    auto items = m_workspace.selectedItems();
    const auto at = std::find(items.begin(), items.end(), m_item);
    if (!(event->modifiers() & (Qt::ControlModifier | Qt::ShiftModifier))) {
        m_workspace.selectItem(m_item);
    } else if (at == items.end()) {
        items.push_back(m_item);
        m_workspace.selectItems(items, m_item);
    } else {
        items.erase(at);
        m_workspace.selectItems(items, items.empty() ? 0 : items.back());
    }
    m_workspace.setBench(Bench::Sheet);
}

}  // namespace ledge::app
