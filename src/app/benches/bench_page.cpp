#include "app/benches/bench_page.h"

namespace ledge::app {

BenchPage::BenchPage(Workspace& workspace, const QString& title, QWidget* parent)
    : QWidget(parent), m_workspace(workspace), m_title(makeLabel(title, "title")),
      m_subtitle(makeLabel("", "muted")), m_rows(new QVBoxLayout) {
    m_rows->setContentsMargins(16, 12, 16, 12);
    m_rows->setSpacing(8);
    // Aligning the rows to the top would give them the height they have where no text wraps.
    auto* page = new QVBoxLayout(this);
    page->setContentsMargins(0, 0, 0, 0);
    page->setSpacing(0);
    page->addLayout(m_rows);
    page->addStretch(1);
    m_rows->addWidget(m_title);
    m_rows->addWidget(m_subtitle);
    const auto update = [this] {
        if (isVisible()) refresh();
    };
    connect(&workspace.session(), &session::Session::changed, this, update);
    connect(&workspace, &Workspace::layerSelected, this, update);
    connect(&workspace, &Workspace::itemSelected, this, update);
    connect(&workspace, &Workspace::canvasChanged, this, update);
}

QLabel* BenchPage::heading(const QString& text) {
    auto* label = makeLabel(text, "heading");
    label->setContentsMargins(0, 8, 0, 0);
    m_rows->addWidget(label);
    return label;
}

void BenchPage::setTitle(const QString& title, const QString& subtitle) {
    m_title->setText(title);
    m_subtitle->setText(subtitle);
    m_subtitle->setVisible(!subtitle.isEmpty());
}

}  // namespace ledge::app
