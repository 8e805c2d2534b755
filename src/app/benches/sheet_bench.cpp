#include "app/benches/sheet_bench.h"

#include <QFileDialog>
#include <QFileInfo>
#include <QMenu>

#include "app/sheet/item_menu.h"
#include "app/sheet/on_paper.h"
#include "app/theme.h"
#include "app/widgets/rows.h"
#include "core/base/numbers.h"
#include "core/base/paper.h"
#include "document/edits/sheet_edits.h"
#include "document/edits/sheet_templates.h"
#include "document/json/members.h"
#include "document/json/sheet_text.h"
#include "document/map_crs.h"
#include "io/files/atomic_file.h"
#include "session/aside.h"
#include "session/panel_extent.h"

namespace ledge::app {
namespace {

QString mmText(double mm) {
    return QString::fromStdString(formatNumber(std::round(mm * 100) / 100, {-1, false})) + " mm";
}
}  // namespace

SheetBench::SheetBench(Workspace& workspace, session::FactBook& facts, QWidget* parent)
    : BenchPage(workspace, tr("Sheet"), parent), m_facts(facts), m_sheetList(new QWidget) {
    m_sheets = new QVBoxLayout(m_sheetList);
    m_sheets->setContentsMargins(0, 0, 0, 0);
    m_sheets->setSpacing(4);
    add(m_sheetList);
    makePagePart();
    m_series = new SeriesEditor(workspace, facts);
    m_remarks = new RemarksPanel(workspace);
    makePlacePart();
    add(m_series);
    makeActions();
    add(m_remarks);
    connect(&workspace, &Workspace::pageChanged, this, [this] { refresh(); });
    connect(&facts, &session::FactBook::ready, this, [this] {
        if (isVisible()) refresh();
    });
}

void SheetBench::makePagePart() {
    m_pagePart = new QWidget;
    auto* part = new QVBoxLayout(m_pagePart);
    part->setContentsMargins(0, 0, 0, 0);
    part->setSpacing(6);
    m_sheetName = makeText(tr("Name of the sheet"));
    m_sheetName->setObjectName("sheetName");
    QStringList names{tr("own size")};
    for (const NamedPage& page : namedPages())
        names << QString::fromUtf8(page.name.data(), qsizetype(page.name.size()));
    m_pageName = makeChoice(tr("Page size"), names);
    m_pageName->setObjectName("pageName");
    m_across = makeButton(tr("Turn page"), tr("Width and height change places"));
    m_across->setObjectName("turnPage");
    m_pageWidth = makeText(tr("Page width: mm, or with cm, in or pt, such as 6 in"));
    m_pageHeight = makeText(tr("Page height: mm, or with cm, in or pt"));
    m_pageWidth->setObjectName("pageWidth");
    m_pageHeight->setObjectName("pageHeight");
    m_pageTrouble = makeLabel("", "trouble");
    m_pageTrouble->setStyleSheet("color: " + theme().rust.name());
    m_pageTrouble->hide();
    m_fits = new QCheckBox(tr("Fit items to the new size"));
    m_fits->setObjectName("pageFits");
    m_fits->setChecked(true);
    m_fitsType = new QCheckBox(tr("Fit sizes of type too"));
    m_fitsType->setObjectName("pageFitsType");
    m_margin = makeNumber(tr("Margin that items snap to"), 0, 500, 1, " mm");
    m_bleed = makeNumber(tr("Bleed beyond the page in PDF"), 0, 50, 1, " mm");
    part->addWidget(captioned(tr("Name"), m_sheetName));
    part->addWidget(makeLabel(tr("Page"), "heading"));
    part->addWidget(sideBySide({m_pageName, m_across}));
    part->addWidget(
        sideBySide({captioned(tr("Width"), m_pageWidth), captioned(tr("Height"), m_pageHeight)}));
    part->addWidget(m_pageTrouble);
    part->addWidget(m_fits);
    part->addWidget(m_fitsType);
    part->addWidget(
        sideBySide({captioned(tr("Margin"), m_margin), captioned(tr("Bleed"), m_bleed)}));
    m_author = makeText(tr("Author, as texts with {author} and PDFs say it"), tr("nobody named"));
    m_author->setObjectName("projectAuthor");
    part->addWidget(captioned(tr("Author of the project"), m_author));
    add(m_pagePart);
    connect(m_author, &QLineEdit::editingFinished, this, [this] {
        const std::string author = m_author->text().trimmed().toStdString();
        if (author != workspace().document().author)
            workspace().perform("project-author", {{"author", author}});
    });
    connect(m_sheetName, &QLineEdit::editingFinished, this, [this] {
        const std::string name = m_sheetName->text().trimmed().toStdString();
        if (!name.empty() && workspace().sheet() && workspace().sheet()->name != name)
            workspace().performOnSheet("sheet-name", {{"name", name}});
    });
    connect(m_pageName, &QComboBox::activated, this, [this](int i) {
        const auto* sheet = workspace().sheet();
        if (i <= 0 || !sheet) return;
        const NamedPage& page = namedPages()[static_cast<std::size_t>(i) - 1];
        if (sheet->widthMm > sheet->heightMm)
            resizePage(page.heightMm, page.widthMm);
        else
            resizePage(page.widthMm, page.heightMm);
    });
    connect(m_across, &QPushButton::clicked, this, [this] {
        if (const auto* sheet = workspace().sheet()) resizePage(sheet->heightMm, sheet->widthMm);
    });
    // What cannot be used is said beside the field, and the old value stays.
    const auto typed = [this](QLineEdit* edit, bool isWidth) {
        const auto* sheet = workspace().sheet();
        if (!sheet || edit->text() == mmText(isWidth ? sheet->widthMm : sheet->heightMm))
            return m_pageTrouble->hide();
        const auto mm = paperMm(edit->text().toStdString());
        const bool isUsable = mm && *mm >= 10 && *mm <= 5000;
        m_pageTrouble->setVisible(!isUsable);
        if (!mm) return m_pageTrouble->setText(qtext(mm.error().text()));
        if (!isUsable) return m_pageTrouble->setText(tr("A page has 10 to 5000 mm"));
        resizePage(isWidth ? *mm : sheet->widthMm, isWidth ? sheet->heightMm : *mm);
    };
    connect(m_pageWidth, &QLineEdit::editingFinished, this,
            [this, typed] { typed(m_pageWidth, true); });
    connect(m_pageHeight, &QLineEdit::editingFinished, this,
            [this, typed] { typed(m_pageHeight, false); });
    connect(m_margin, &QDoubleSpinBox::valueChanged, this, [this](double v) {
        workspace().performOnSheet("sheet-set",
                                   {{"member", "margin_mm"}, {"value", exactNumber(v)}}, "margin");
    });
    connect(m_bleed, &QDoubleSpinBox::valueChanged, this, [this](double v) {
        workspace().performOnSheet("sheet-set", {{"member", "bleed_mm"}, {"value", exactNumber(v)}},
                                   "bleed");
    });
}

void SheetBench::resizePage(double width, double height) {
    workspace().performOnSheet("sheet-size", {{"width", exactNumber(width)},
                                              {"height", exactNumber(height)},
                                              {"fit", doc::word(m_fits->isChecked())},
                                              {"fit_type", doc::word(m_fitsType->isChecked())}});
}

void SheetBench::makePlacePart() {
    m_placePart = new QWidget;
    auto* part = new QVBoxLayout(m_placePart);
    part->setContentsMargins(0, 0, 0, 0);
    part->setSpacing(6);
    m_name = makeText(tr("Name of the item"));
    m_name->setObjectName("itemName");
    m_panel = new PanelEditor(workspace());
    m_content = new MemberForm(workspace(), m_facts);
    m_legend = new LegendEditor(workspace());
    m_frame = new MemberForm(workspace(), m_facts);
    m_left = makeNumber(tr("Left"), -5000, 5000, 1, " mm");
    m_top = makeNumber(tr("Top"), -5000, 5000, 1, " mm");
    m_width = makeNumber(tr("Width"), 0.1, 5000, 1, " mm");
    m_height = makeNumber(tr("Height"), 0.1, 5000, 1, " mm");
    m_left->setObjectName("itemLeft");
    m_top->setObjectName("itemTop");
    m_width->setObjectName("itemWidth");
    m_height->setObjectName("itemHeight");
    m_locked = new QCheckBox(tr("Locked in place"));
    m_locked->setObjectName("itemLocked");
    auto* arrange = makeButton(
        tr("Arrange…"), tr("Align, distribute, order, group and pin (Shift+F10 on the sheet)"));
    arrange->setObjectName("arrangeItems");
    m_frameBox = new QWidget;
    auto* frame = new QVBoxLayout(m_frameBox);
    frame->setContentsMargins(0, 0, 0, 0);
    frame->addWidget(m_frame);
    auto* more = new QCheckBox(tr("Frame, background, turn"));
    more->setObjectName("itemMore");
    connect(more, &QCheckBox::toggled, m_frameBox, &QWidget::setVisible);
    m_frameBox->hide();
    part->addWidget(captioned(tr("Name"), m_name));
    part->addWidget(m_panel);
    part->addWidget(m_content);
    part->addWidget(m_legend);
    part->addWidget(makeLabel(tr("Place on the page"), "heading"));
    part->addWidget(sideBySide({captioned(tr("Left"), m_left), captioned(tr("Top"), m_top)}));
    part->addWidget(
        sideBySide({captioned(tr("Width"), m_width), captioned(tr("Height"), m_height)}));
    part->addWidget(sideBySide({m_locked, arrange}));
    part->addWidget(more);
    part->addWidget(m_frameBox);
    add(m_placePart);
    const auto place = [this] {
        std::string rect;
        for (const QDoubleSpinBox* box : {m_left, m_top, m_width, m_height})
            rect += (rect.empty() ? "" : ",") + exactNumber(box->value());
        workspace().performOnItem("item-rect", {{"rect", rect}});
    };
    for (QDoubleSpinBox* box : {m_left, m_top, m_width, m_height})
        connect(box, &QDoubleSpinBox::valueChanged, this, place);
    connect(m_name, &QLineEdit::editingFinished, this, [this] {
        const std::string name = m_name->text().trimmed().toStdString();
        if (!name.empty() && workspace().item() && workspace().item()->name != name)
            workspace().performOnItem("item-name", {{"name", name}});
    });
    connect(m_locked, &QCheckBox::clicked, this,
            [this](bool on) { workspace().setItemMember("locked", doc::word(on)); });
    connect(arrange, &QPushButton::clicked, this, [this, arrange] {
        ItemMenu menu(workspace(), this);
        menu.exec(arrange->mapToGlobal(QPoint(0, arrange->height())));
    });
    connect(m_panel, &PanelEditor::fitAsked, this, &SheetBench::fitPanel);
}

void SheetBench::makeActions() {
    m_actions = new QWidget;
    auto* part = new QVBoxLayout(m_actions);
    part->setContentsMargins(0, 6, 0, 0);
    part->setSpacing(6);
    auto* more =
        makeButton(tr("Add item"), tr("A map panel, text, legend, scale bar, arrow, picture, "
                                      "shape, table, chart, credits or a kept profile"));
    more->setObjectName("addItem");
    connect(more, &QPushButton::clicked, this, [this, more] {
        AddMenu menu(workspace(), this);
        menu.exec(more->mapToGlobal(QPoint(0, more->height())));
    });
    auto* keep = makeLink(tr("Keep as a template…"),
                          tr("Write the sheet as a file from which others can be made"));
    connect(keep, &QPushButton::clicked, this, &SheetBench::keepAsFile);
    auto* twin = makeLink(tr("Copy of this sheet"), tr("Another sheet with the same items"));
    twin->setObjectName("copyOfSheet");
    connect(twin, &QPushButton::clicked, this, [this] {
        const auto* sheet = workspace().sheet();
        if (!sheet) return;
        const QString name = freeName(tr("%1, copy").arg(qtext(sheet->name)));
        if (workspace().performOnSheet("sheet-copy", {{"name", name.toStdString()}}))
            workspace().showSheet(workspace().document().sheets.back()->id);
    });
    auto* map = makeButton(tr("Back to the map"), tr("Show the map on the canvas (Alt+M)"));
    connect(map, &QPushButton::clicked, this, [this] { workspace().showMap(); });
    m_output = new OutputPanel(workspace());
    part->addWidget(more);
    part->addWidget(m_output);
    part->addWidget(sideBySide({twin, keep}));
    part->addWidget(map);
    add(m_actions);
    connect(m_output, &OutputPanel::resolutionChanged, this, [this] { refresh(); });
}

QString SheetBench::freeName(const QString& wanted) const {
    const auto isTaken = [this](const QString& name) {
        const auto& all = workspace().document().sheets;
        return std::any_of(all.begin(), all.end(),
                           [&](const doc::Sheet& sheet) { return qtext(sheet.name) == name; });
    };
    QString out = wanted;
    for (int number = 2; isTaken(out); ++number) out = QString("%1 %2").arg(wanted).arg(number);
    return out;
}

void SheetBench::listSheets() {
    clearRows(m_sheets);
    for (const doc::Sheet& sheet : workspace().document().sheets) {
        auto* row =
            makeButton(QString("%1   %2").arg(qtext(sheet.name),
                                              qtext(pageText(sheet.widthMm, sheet.heightMm))),
                       tr("Show this sheet"));
        const doc::Id id = sheet.id;
        connect(row, &QPushButton::clicked, this, [this, id] { workspace().showSheet(id); });
        m_sheets->addWidget(row);
    }
    const QString chosen = m_template ? m_template->currentData().toString() : QString();
    m_template = makeChoice(tr("What a new sheet begins with"), {});
    m_template->setObjectName("sheetTemplate");
    for (const doc::SheetTemplate& one : doc::sheetTemplates()) {
        const QString name = QString::fromUtf8(one.name.data(), qsizetype(one.name.size()));
        const QString said = QString::fromUtf8(one.said.data(), qsizetype(one.said.size()));
        QString shown = name;
        shown[0] = shown[0].toUpper();
        m_template->addItem(
            QString("%1 · %2").arg(shown, qtext(pageText(one.widthMm, one.heightMm))), name);
        m_template->setItemData(m_template->count() - 1, said, Qt::ToolTipRole);
        if (name == chosen) m_template->setCurrentIndex(m_template->count() - 1);
    }
    auto* fresh = makeButton(tr("New sheet of this view"),
                             tr("A sheet that looks where the map does now"), true);
    fresh->setObjectName("newSheet");
    connect(fresh, &QPushButton::clicked, this,
            [this] { newSheet(m_template->currentData().toString().toStdString()); });
    auto* file = makeLink(tr("From a file…"), tr("A sheet that was kept as a template"));
    connect(file, &QPushButton::clicked, this, &SheetBench::sheetFromFile);
    m_sheets->addWidget(captioned(tr("A new sheet begins with"), m_template));
    m_sheets->addWidget(fresh);
    m_sheets->addWidget(file);
}

void SheetBench::newSheet(const std::string& from) {
    const auto crs = workspace().session().mapCrs();
    const auto view = doc::atGroundScale(
        workspace().view(), crs, doc::roundScale(doc::groundScale(workspace().view(), crs)));
    const auto isTaken = [this](const QString& name) { return freeName(name) != name; };
    std::size_t number = workspace().document().sheets.size() + 1;
    while (isTaken(tr("Sheet %1").arg(number))) ++number;
    if (workspace().perform("sheet-add",
                            {{"name", tr("Sheet %1").arg(number).toStdString()},
                             {"template", from},
                             {"centre", placeText(view.centre)},
                             {"scale", exactNumber(doc::groundScale(view, crs))},
                             {"rotation", exactNumber(std::remainder(view.rotation, 360.0))}}))
        workspace().showSheet(workspace().document().sheets.back()->id);
}

void SheetBench::sheetFromFile() {
    const QString path = QFileDialog::getOpenFileName(this, tr("Sheet"), {},
                                                      tr("Sheets (*%1)").arg(doc::kSheetSuffix),
                                                      nullptr, QFileDialog::DontUseNativeDialog);
    if (path.isEmpty()) return;
    const auto text = session::aside([&] { return io::readText(path.toStdString(), 20'000'000); });
    if (!text) return workspace().say(qtext(text.error().text()), true);
    const auto view = workspace().view();
    const auto crs = workspace().session().mapCrs();
    if (workspace().perform("sheet-from",
                            {{"name", freeName(QFileInfo(path).completeBaseName()).toStdString()},
                             {"text", *text},
                             {"folder", QFileInfo(path).absolutePath().toStdString()},
                             {"centre", placeText(view.centre)},
                             {"scale", exactNumber(doc::groundScale(view, crs))},
                             {"rotation", exactNumber(std::remainder(view.rotation, 360.0))}}))
        workspace().showSheet(workspace().document().sheets.back()->id);
}

void SheetBench::keepAsFile() {
    const auto* sheet = workspace().sheet();
    if (!sheet) return;
    QString path = QFileDialog::getSaveFileName(
        this, tr("Keep as a template"), qtext(sheet->name) + doc::kSheetSuffix,
        tr("Sheets (*%1)").arg(doc::kSheetSuffix), nullptr, QFileDialog::DontUseNativeDialog);
    if (path.isEmpty()) return;
    if (!path.endsWith(doc::kSheetSuffix)) path += doc::kSheetSuffix;
    const std::filesystem::path file = path.toStdString();
    const auto done = session::aside(
        [&] { return io::writeText(file, doc::sheetText(*sheet, file.parent_path())); });
    if (!done) return workspace().say(qtext(done.error().text()), true);
    workspace().say(tr("Kept as %1").arg(path));
}

// Everything that is lit, in the panel's CRS, off the interface's thread.
void SheetBench::fitPanel() {
    const auto* item = workspace().item();
    if (!item || !item->as<doc::MapPanel>()) return;
    const auto snapshot = workspace().session().snapshot();
    const doc::Id sheet = workspace().sheetId(), id = item->id;
    auto box = std::make_shared<Box>();
    workspace().session().jobs().start(
        tr("Looking for what %1 shows").arg(qtext(item->name)),
        [snapshot, sheet, id, box,
         sources = workspace().session().sources()](const Progress& progress) -> Result<void> {
            *box = session::panelExtent(*snapshot, *snapshot->sheet(sheet)->item(id), *sources,
                                        progress);
            return {};
        },
        [this, snapshot, sheet, id, box](const Result<void>& done) {
            const doc::Sheet* now = workspace().document().sheet(sheet);
            const doc::SheetItem* panel = now ? now->item(id) : nullptr;
            if (!done || !panel || box->isEmpty())
                return workspace().say(tr("Nothing is lit that could be looked at"), true);
            const doc::MapPanel shown =
                doc::resolved(workspace().document(), *panel->as<doc::MapPanel>());
            const auto crs = doc::crsIn(workspace().document(), shown.crs);
            doc::MapView view = carto::viewOf(*box, crs, static_cast<int>(panel->rect.width * 4),
                                              static_cast<int>(panel->rect.height * 4), 4);
            const double round = doc::roundScale(doc::groundScale(view, crs));
            const Point middle = view.centre;
            workspace().perform("item-set",
                                {{"sheet", Workspace::target(sheet)},
                                 {"item", Workspace::target(id)},
                                 {"member", "follows"},
                                 {"value", "0"}},
                                "fit");
            workspace().perform(
                "item-set",
                {{"sheet", Workspace::target(sheet)},
                 {"item", Workspace::target(id)},
                 {"member", "centre"},
                 {"value", "[" + exactNumber(middle.x) + "," + exactNumber(middle.y) + "]"}},
                "fit");
            workspace().perform("panel-scale",
                                {{"sheet", Workspace::target(sheet)},
                                 {"item", Workspace::target(id)},
                                 {"scale", exactNumber(round)}},
                                "fit");
            workspace().session().seal();
        });
}

void SheetBench::refreshItem(const doc::SheetItem& item) {
    const doc::PageRect& r = item.rect;
    showText(m_name, qtext(item.name));
    showNumber(m_left, r.left);
    showNumber(m_top, r.top);
    showNumber(m_width, r.width);
    showNumber(m_height, r.height);
    showCheck(m_locked, item.isLocked);
    const bool isOne = workspace().selectedItems().size() <= 1;
    m_panel->setVisible(isOne && item.as<doc::MapPanel>());
    if (m_panel->isVisibleTo(this)) m_panel->show(item);
    const bool hasEntries = isOne && (item.as<doc::LegendItem>() || item.as<doc::CreditsItem>());
    m_legend->setVisible(hasEntries);
    if (hasEntries) m_legend->show(item);
    m_content->show(item, contentMembers(item));
    m_frame->show(item, frameMembers());
}

void SheetBench::refresh() {
    const auto* sheet = workspace().sheet();
    const auto* item = workspace().item();
    m_sheetList->setVisible(!sheet);
    m_pagePart->setVisible(sheet && !item);
    m_series->setVisible(sheet && !item);
    m_remarks->setVisible(sheet && !item);
    m_placePart->setVisible(item);
    m_actions->setVisible(sheet);
    if (!sheet) {
        setTitle(tr("Sheet"), workspace().document().sheets.empty()
                                  ? tr("No sheet yet.")
                                  : tr("Choose a sheet, or make one of what the map shows."));
        return listSheets();
    }
    const std::size_t selected = workspace().selectedItems().size();
    setTitle(selected > 1 ? tr("%n items", "", static_cast<int>(selected))
             : item       ? qtext(item->name)
                          : qtext(sheet->name),
             selected > 1 ? tr("what is changed is changed for all that have it")
             : item       ? tr("%1 on %2").arg(qtext(doc::itemKind(*item)), qtext(sheet->name))
                          : tr("sheet · select an item to edit it"));
    m_output->refresh();
    if (item) return refreshItem(*item);
    showText(m_sheetName, qtext(sheet->name));
    showText(m_author, qtext(workspace().document().author));
    if (!m_pageWidth->hasFocus()) m_pageWidth->setText(mmText(sheet->widthMm));
    if (!m_pageHeight->hasFocus()) m_pageHeight->setText(mmText(sheet->heightMm));
    int named = 0;
    for (std::size_t i = 0; i < namedPages().size(); ++i)
        if (pageText(sheet->widthMm, sheet->heightMm)
                .starts_with(std::string(namedPages()[i].name) + " "))
            named = static_cast<int>(i) + 1;
    showChoice(m_pageName, named);
    showNumber(m_margin, sheet->marginMm);
    showNumber(m_bleed, sheet->bleedMm);
    m_series->show(*sheet);
    m_remarks->look(m_output->dpi());
}

}  // namespace ledge::app
