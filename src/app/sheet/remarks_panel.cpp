#include "app/sheet/remarks_panel.h"

#include "app/theme.h"
#include "app/widgets/rows.h"

namespace ledge::app {
namespace {
constexpr std::size_t kMostShown = 12;
}

RemarksPanel::RemarksPanel(Workspace& workspace, QWidget* parent)
    : QWidget(parent), m_workspace(workspace), m_said(makeLabel("", "muted")) {
    auto* all = new QVBoxLayout(this);
    all->setContentsMargins(0, 0, 0, 0);
    all->setSpacing(4);
    all->addWidget(makeLabel(tr("Before it is exported"), "heading"));
    all->addWidget(m_said);
    auto* rows = new QWidget;
    m_rows = new QVBoxLayout(rows);
    m_rows->setContentsMargins(0, 0, 0, 0);
    m_rows->setSpacing(6);
    all->addWidget(rows);
    setObjectName("sheetRemarks");
}

void RemarksPanel::look(double dpi) {
    const auto snapshot = m_workspace.session().snapshot();
    const doc::Id sheet = m_workspace.sheetId();
    if (sheet == 0 || (snapshot == m_of && sheet == m_sheet && dpi == m_dpi)) return;
    m_of = snapshot, m_sheet = sheet, m_dpi = dpi;
    m_isLooking = true;
    if (m_remarks.empty()) m_said->setText(tr("Looking…"));
    m_worker.start([this, snapshot, sheet, dpi,
                    sources = m_workspace.session().sources()](const std::stop_token& stop) {
        const doc::Sheet* shown = snapshot->sheet(sheet);
        if (!shown) return;
        auto remarks = session::sheetRemarks(*snapshot, *shown, *sources, dpi, {stop, {}});
        if (stop.stop_requested()) return;
        QMetaObject::invokeMethod(this, [this, snapshot, remarks = std::move(remarks)]() mutable {
            if (snapshot != m_of) return;
            m_remarks = std::move(remarks);
            m_isLooking = false;
            list();
            Q_EMIT looked();
        });
    });
}

void RemarksPanel::list() {
    clearRows(m_rows);
    m_said->setText(m_remarks.empty() ? tr("Nothing to mend.")
                                      : tr("To look at: %1").arg(m_remarks.size()));
    for (std::size_t i = 0; i < std::min(m_remarks.size(), kMostShown); ++i) {
        const session::SheetRemark& remark = m_remarks[i];
        auto* row = new QWidget;
        auto* layout = new QVBoxLayout(row);
        layout->setContentsMargins(8, 0, 0, 0);
        layout->setSpacing(0);
        row->setObjectName(QString("remark%1").arg(i));
        auto* said = makeLabel("· " + remark.said);
        layout->addWidget(said);
        auto* acts = new QHBoxLayout;
        acts->setContentsMargins(8, 0, 0, 0);
        if (!remark.edit.empty()) {
            auto* mend = makeLink(remark.mend, remark.said);
            mend->setObjectName(QString("mend%1").arg(i));
            connect(mend, &QPushButton::clicked, this,
                    [this, remark] { m_workspace.perform(remark.edit.c_str(), remark.words); });
            acts->addWidget(mend);
        }
        if (remark.item != 0 && remark.item != m_workspace.selectedItem()) {
            auto* show = makeLink(tr("Show"), tr("Select the item"));
            connect(show, &QPushButton::clicked, this,
                    [this, id = remark.item] { m_workspace.selectItem(id); });
            acts->addWidget(show);
        }
        acts->addStretch(1);
        layout->addLayout(acts);
        m_rows->addWidget(row);
    }
    if (m_remarks.size() > kMostShown)
        m_rows->addWidget(makeLabel(
            tr("and %n more", "", static_cast<int>(m_remarks.size() - kMostShown)), "muted"));
}

}  // namespace ledge::app
