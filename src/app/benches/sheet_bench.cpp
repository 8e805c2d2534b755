#include "app/benches/sheet_bench.h"

#include <QFileDialog>
#include <QFileInfo>
#include <QMenu>
#include <QSettings>

#include "app/theme.h"
#include "carto/sheet_painter.h"
#include "core/base/numbers.h"
#include "document/edits/sheet_edits.h"
#include "document/json/members.h"
#include "document/map_crs.h"
#include "session/export_sheet.h"

namespace ledge::app {
namespace {
std::string placeText(Point at) { return exactNumber(at.x) + "," + exactNumber(at.y); }
std::string turnText(const doc::MapView& view) {
    return exactNumber(std::remainder(view.rotation, 360.0));
}
}  // namespace

SheetBench::SheetBench(Workspace& workspace, QWidget* parent)
    : BenchPage(workspace, tr("Sheet"), parent), m_sheetList(new QWidget) {
    m_sheets = new QVBoxLayout(m_sheetList);
    m_sheets->setContentsMargins(0, 0, 0, 0);
    m_sheets->setSpacing(4);
    add(m_sheetList);
    connect(&workspace.session(), &session::Session::replaced, this,
            [this] { m_exportFolder.clear(); });
    makePagePart();
    makePlacePart();
    makePanelPart();
    makeTextPart();
    makeLegendPart();
    makeProfilePart();
    makeActions();
}

void SheetBench::makePagePart() {
    m_pagePart = new QWidget;
    auto* part = new QVBoxLayout(m_pagePart);
    part->setContentsMargins(0, 0, 0, 0);
    part->setSpacing(6);
    m_pageWidth = makeNumber(tr("Page width"), 20, 5000, 1, " mm", 10);
    m_pageHeight = makeNumber(tr("Page height"), 20, 5000, 1, " mm", 10);
    m_pageWidth->setObjectName("pageWidth");
    m_fits = new QCheckBox(tr("Fit items to the new size"));
    m_fits->setChecked(true);
    part->addWidget(makeLabel(tr("Page"), "heading"));
    part->addWidget(
        sideBySide({captioned(tr("Width"), m_pageWidth), captioned(tr("Height"), m_pageHeight)}));
    part->addWidget(m_fits);
    add(m_pagePart);
    const auto resize = [this] {
        workspace().perform("sheet-size", {{"sheet", Workspace::target(workspace().sheetId())},
                                           {"width", exactNumber(m_pageWidth->value())},
                                           {"height", exactNumber(m_pageHeight->value())},
                                           {"fit", m_fits->isChecked() ? "yes" : "no"}});
    };
    connect(m_pageWidth, &QDoubleSpinBox::valueChanged, this, resize);
    connect(m_pageHeight, &QDoubleSpinBox::valueChanged, this, resize);
}

void SheetBench::makePlacePart() {
    m_placePart = new QWidget;
    auto* part = new QVBoxLayout(m_placePart);
    part->setContentsMargins(0, 0, 0, 0);
    part->setSpacing(6);
    m_name = makeText(tr("Name of the item"));
    m_left = makeNumber(tr("Left"), -5000, 5000, 1, " mm");
    m_top = makeNumber(tr("Top"), -5000, 5000, 1, " mm");
    m_width = makeNumber(tr("Width"), 1, 5000, 1, " mm");
    m_height = makeNumber(tr("Height"), 1, 5000, 1, " mm");
    m_left->setObjectName("itemLeft");
    m_width->setObjectName("itemWidth");
    m_locked = new QCheckBox(tr("Locked in place"));
    part->addWidget(captioned(tr("Name"), m_name));
    part->addWidget(makeLabel(tr("Place on the page"), "heading"));
    part->addWidget(sideBySide({captioned(tr("Left"), m_left), captioned(tr("Top"), m_top)}));
    part->addWidget(
        sideBySide({captioned(tr("Width"), m_width), captioned(tr("Height"), m_height)}));
    part->addWidget(m_locked);
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
        if (!name.empty()) workspace().performOnItem("item-name", {{"name", name}});
    });
    connect(m_locked, &QCheckBox::clicked, this, [this](bool on) {
        workspace().performOnItem("item-locked", {{"locked", on ? "yes" : "no"}});
    });
}

void SheetBench::makePanelPart() {
    m_panelPart = new QWidget;
    auto* part = new QVBoxLayout(m_panelPart);
    part->setContentsMargins(0, 0, 0, 0);
    part->setSpacing(6);
    m_shows = makeChoice(tr("Set where it looks"), {});
    m_shows->setObjectName("panelShows");
    m_scale = makeNumber(tr("Scale of the panel"), 1, 1e9, 0, {}, 5000);
    m_scale->setObjectName("panelScale");
    m_scale->setPrefix("1 : ");
    m_rotation = makeNumber(tr("Rotation of the panel"), -180, 180, 1, "°", 5);
    m_frame = makeNumber(tr("Width of the neat line"), 0, 5, 2, " mm", 0.05);
    m_ticks = new QCheckBox(tr("Coordinates outside the neat line"));
    m_frozen = new QCheckBox(tr("Keep layers and styles as they are now"));
    part->addWidget(captioned(tr("Set where it looks, from"), m_shows));
    part->addWidget(makeLabel(tr("A panel keeps its own view; the map never moves it."), "muted"));
    part->addWidget(
        sideBySide({captioned(tr("Scale"), m_scale), captioned(tr("Rotation"), m_rotation)}));
    part->addWidget(captioned(tr("Neat line"), m_frame));
    part->addWidget(m_ticks);
    part->addWidget(m_frozen);
    add(m_panelPart);
    connect(m_shows, &QComboBox::activated, this, [this](int index) {
        if (index <= 0) return;
        doc::MapView view = workspace().view();
        const auto& views = workspace().document().views;
        if (index >= 2 && static_cast<std::size_t>(index - 2) < views.size())
            view = views[static_cast<std::size_t>(index - 2)].view;
        const double scale = doc::groundScale(view, workspace().session().mapCrs());
        workspace().performOnItem("panel-place", {{"centre", placeText(view.centre)},
                                                  {"scale", exactNumber(scale)},
                                                  {"rotation", turnText(view)}});
    });
    connect(m_scale, &QDoubleSpinBox::valueChanged, this, [this](double v) {
        workspace().performOnItem("panel-scale", {{"scale", exactNumber(v)}}, "scale");
    });
    connect(m_rotation, &QDoubleSpinBox::valueChanged, this, [this](double v) {
        workspace().performOnItem("panel-rotation", {{"degrees", exactNumber(v)}}, "turn");
    });
    connect(m_frame, &QDoubleSpinBox::valueChanged, this,
            [this](double v) { setMember("frame_mm", exactNumber(v), "frame"); });
    connect(m_ticks, &QCheckBox::clicked, this,
            [this](bool on) { setMember("ticks", on ? "yes" : "no"); });
    connect(m_frozen, &QCheckBox::clicked, this, [this](bool on) {
        workspace().performOnItem("panel-keep", {{"keep", doc::word(on)}});
    });
}

void SheetBench::makeTextPart() {
    m_textPart = new QWidget;
    auto* part = new QVBoxLayout(m_textPart);
    part->setContentsMargins(0, 0, 0, 0);
    part->setSpacing(6);
    m_text = new QPlainTextEdit;
    m_text->setObjectName("itemText");
    m_text->setAccessibleName(tr("Text"));
    m_text->setToolTip(
        tr("Text of the item; {project}, {sheet}, {crs}, {scale} and {date} are filled in, "
           "and {Layer: sum(field)} with what a formula over a layer gives"));
    m_text->setFixedHeight(64);
    m_text->setTabChangesFocus(true);
    m_size = makeNumber(tr("Size of type"), 3, 200, 1, " pt", 0.5);
    m_size->setObjectName("itemSize");
    m_bold = new QCheckBox(tr("Bold"));
    m_bold->setObjectName("itemBold");
    m_align = makeChoice(tr("Alignment"), {tr("Left"), tr("Centre"), tr("Right")});
    m_align->setObjectName("itemAlign");
    part->addWidget(
        captioned(tr("Text · {project} {sheet} {crs} {scale} {date} are live"), m_text));
    part->addWidget(
        sideBySide({captioned(tr("Size"), m_size), captioned(tr("Alignment"), m_align)}));
    part->addWidget(m_bold);
    add(m_textPart);
    connect(m_text, &QPlainTextEdit::textChanged, this, [this] {
        const auto* item = workspace().item();
        setMember(item && item->as<doc::CreditsItem>() ? "added" : "text",
                  m_text->toPlainText().toStdString(), "text");
    });
    connect(m_size, &QDoubleSpinBox::valueChanged, this,
            [this](double v) { setMember("size_pt", exactNumber(v), "size"); });
    connect(m_bold, &QCheckBox::clicked, this,
            [this](bool on) { setMember("bold", on ? "yes" : "no"); });
    connect(m_align, &QComboBox::activated, this, [this](int index) {
        setMember("align", doc::kAlignNames[static_cast<std::size_t>(index)]);
    });
}

void SheetBench::makeLegendPart() {
    m_legendPart = new QWidget;
    auto* part = new QVBoxLayout(m_legendPart);
    part->setContentsMargins(0, 0, 0, 0);
    part->setSpacing(6);
    m_columns = makeNumber(tr("Columns"), 1, 12, 0);
    m_columns->setObjectName("legendColumns");
    m_legendTitle = makeText(tr("Heading of the legend"), tr("none"));
    m_legendTitle->setObjectName("legendTitle");
    part->addWidget(
        sideBySide({captioned(tr("Columns"), m_columns), captioned(tr("Heading"), m_legendTitle)}));
    part->addWidget(makeLabel(tr("Entries (rename here without touching the layer)"), "muted"));
    auto* rows = new QWidget;
    m_legendRows = new QVBoxLayout(rows);
    m_legendRows->setContentsMargins(0, 0, 0, 0);
    m_legendRows->setSpacing(2);
    part->addWidget(rows);
    add(m_legendPart);
    connect(m_columns, &QDoubleSpinBox::valueChanged, this,
            [this](double v) { setMember("columns", exactNumber(v)); });
    connect(m_legendTitle, &QLineEdit::editingFinished, this,
            [this] { setMember("title", m_legendTitle->text().toStdString()); });
}

void SheetBench::makeProfilePart() {
    m_profilePart = new QWidget;
    auto* part = new QVBoxLayout(m_profilePart);
    part->setContentsMargins(0, 0, 0, 0);
    part->setSpacing(6);
    m_profile = makeChoice(tr("Profile shown"), {});
    m_profile->setObjectName("profileShown");
    m_profileSize = makeNumber(tr("Size of type in the chart"), 3, 30, 1, " pt", 0.5);
    part->addWidget(
        sideBySide({captioned(tr("Profile"), m_profile), captioned(tr("Size"), m_profileSize)}));
    add(m_profilePart);
    connect(m_profile, &QComboBox::activated, this, [this](int index) {
        setMember("profile", std::to_string(m_profile->itemData(index).value<doc::Id>()));
    });
    connect(m_profileSize, &QDoubleSpinBox::valueChanged, this,
            [this](double v) { setMember("size_pt", exactNumber(v), "chart"); });
}

void SheetBench::makeActions() {
    m_actions = new QWidget;
    auto* part = new QVBoxLayout(m_actions);
    part->setContentsMargins(0, 6, 0, 0);
    part->setSpacing(6);
    m_dpi = makeNumber(tr("Resolution of the export"), 30, 2400, 0, " dpi", 50);
    m_dpi->setValue(300);
    m_pixels = makeLabel("", "muted");
    auto* more = makeButton(
        tr("Add item"), tr("A map panel, text, legend, scale bar, north arrow, credits or a kept "
                           "profile"));
    more->setObjectName("addItem");
    connect(more, &QPushButton::clicked, this, &SheetBench::addItemMenu);
    auto* out = makeButton(tr("Export…"), tr("Write this sheet as PDF, PNG or JPEG"), true);
    out->setObjectName("exportSheet");
    connect(out, &QPushButton::clicked, this, &SheetBench::chooseExport);
    auto* map = makeButton(tr("Back to the map"), tr("Show the map on the canvas (Alt+M)"));
    connect(map, &QPushButton::clicked, this, [this] { workspace().showMap(); });
    part->addWidget(captioned(tr("Resolution"), m_dpi));
    part->addWidget(m_pixels);
    part->addWidget(sideBySide({out, more}));
    part->addWidget(map);
    add(m_actions);
    connect(m_dpi, &QDoubleSpinBox::valueChanged, this, [this] { refresh(); });
}

void SheetBench::setMember(const char* member, const std::string& value, const QString& mergeKey) {
    workspace().performOnItem("item-set", {{"member", member}, {"value", value}}, mergeKey);
}

void SheetBench::listSheets() {
    while (QLayoutItem* item = m_sheets->takeAt(0)) {
        if (item->widget()) item->widget()->hide(), item->widget()->deleteLater();
        delete item;
    }
    for (const doc::Sheet& sheet : workspace().document().sheets) {
        auto* row = makeButton(QString("%1   %2 × %3 mm")
                                   .arg(qtext(sheet.name))
                                   .arg(sheet.widthMm)
                                   .arg(sheet.heightMm),
                               tr("Show this sheet"));
        const doc::Id id = sheet.id;
        connect(row, &QPushButton::clicked, this, [this, id] { workspace().showSheet(id); });
        m_sheets->addWidget(row);
    }
    auto* fresh = makeButton(
        tr("New sheet of this view"),
        tr("A4 across, with map, title, legend, scale bar, north arrow and credits"), true);
    fresh->setObjectName("newSheet");
    connect(fresh, &QPushButton::clicked, this, [this] {
        const auto crs = workspace().session().mapCrs();
        const auto view = doc::atGroundScale(
            workspace().view(), crs, doc::roundScale(doc::groundScale(workspace().view(), crs)));
        const auto isTaken = [this](const std::string& name) {
            const auto& all = workspace().document().sheets;
            return std::any_of(all.begin(), all.end(),
                               [&](const doc::Sheet& sheet) { return sheet.name == name; });
        };
        std::size_t number = workspace().document().sheets.size() + 1;
        while (isTaken(tr("Sheet %1").arg(number).toStdString())) ++number;
        if (workspace().perform("sheet-add", {{"name", tr("Sheet %1").arg(number).toStdString()},
                                              {"width", "297"},
                                              {"height", "210"},
                                              {"centre", placeText(view.centre)},
                                              {"scale", exactNumber(doc::groundScale(view, crs))},
                                              {"rotation", turnText(view)}}))
            workspace().showSheet(workspace().document().sheets.back()->id);
    });
    m_sheets->addWidget(fresh);
}

void SheetBench::addItemMenu() {
    QMenu menu(this);
    const auto offer = [&](const QString& name, const char* kind, const char* rect,
                           const doc::EditWords& more = {}) {
        menu.addAction(name, this,
                       [this, name, kind, rect, more] { addItem(name, kind, rect, more); });
    };
    const doc::MapView& view = workspace().view();
    const double scale = doc::groundScale(view, workspace().session().mapCrs());
    offer(tr("Map panel"), "map panel", "20,20,80,60",
          {{"centre", placeText(view.centre)},
           {"scale", exactNumber(scale)},
           {"rotation", turnText(view)}});
    offer(tr("Text"), "text", "20,20,60,10", {{"text", tr("Text").toStdString()}});
    offer(tr("Legend"), "legend", "20,20,60,50");
    offer(tr("Scale bar"), "scale bar", "20,20,80,9");
    offer(tr("North arrow"), "north arrow", "20,20,9,13");
    offer(tr("Credits"), "credits", "20,20,80,6");
    for (const auto& kept : workspace().document().profiles)
        offer(qtext(kept.name), "profile", "20,20,120,40",
              {{"profile", Workspace::target(kept.id)}});
    menu.exec(QCursor::pos());
}

void SheetBench::addItem(const QString& name, const char* kind, const char* rect,
                         doc::EditWords more) {
    const auto* sheet = workspace().sheet();
    if (!sheet) return;
    const auto isTaken = [sheet](const QString& wanted) {
        return std::any_of(sheet->items.begin(), sheet->items.end(),
                           [&](const doc::SheetItem& i) { return qtext(i.name) == wanted; });
    };
    QString called = name;
    for (int number = 2; isTaken(called); ++number) called = QString("%1 %2").arg(name).arg(number);
    more.insert({{"sheet", Workspace::target(sheet->id)},
                 {"kind", kind},
                 {"name", called.toStdString()},
                 {"rect", rect}});
    if (workspace().perform("item-add", more))
        workspace().selectItem(workspace().sheet()->items.front()->id);
}

void SheetBench::chooseExport() {
    const auto* sheet = workspace().sheet();
    if (!sheet) return;
    QFileDialog dialog(this, tr("Export %1").arg(qtext(sheet->name)));
    dialog.setAcceptMode(QFileDialog::AcceptSave);
    dialog.setOption(QFileDialog::DontUseNativeDialog);
    dialog.setNameFilters({tr("PDF (*.pdf)"), tr("PNG (*.png)"), tr("JPEG (*.jpg)")});
    const auto suffixOf = [](const QString& filter) {
        return filter.section("*.", 1).section(")", 0, 0);
    };
    connect(&dialog, &QFileDialog::filterSelected, &dialog,
            [&](const QString& filter) { dialog.setDefaultSuffix(suffixOf(filter)); });
    const auto& project = workspace().session().path();
    const QString beside = project.empty() ? QString() : qtext(project.parent_path().string());
    const QString last = m_exportFolder.isEmpty() ? beside : m_exportFolder;
    if (!last.isEmpty()) dialog.setDirectory(last);
    const QString type = QSettings().value("export_type", "pdf").toString();
    for (const QString& filter : dialog.nameFilters())
        if (suffixOf(filter) == type) dialog.selectNameFilter(filter);
    dialog.setDefaultSuffix(type);
    dialog.selectFile(qtext(sheet->name).toLower().replace(' ', '_') + "." + type);
    if (dialog.exec() != QDialog::Accepted || dialog.selectedFiles().isEmpty()) return;
    const QFileInfo chosen(dialog.selectedFiles().first());
    m_exportFolder = chosen.absolutePath();
    QSettings().setValue("export_type", chosen.suffix().toLower());
    exportTo(chosen.filePath(), m_dpi->value());
}

void SheetBench::exportTo(const QString& path, double dpi) {
    const auto snapshot = workspace().session().snapshot();
    const auto* sheet = workspace().sheet();
    if (!sheet) return;
    const QStringList missing = carto::missingCredits(*snapshot, *sheet);
    if (!missing.isEmpty())
        workspace().say(tr("No credits item on the sheet shows: %1").arg(missing.join(", ")), true);
    auto report = std::make_shared<carto::MapReport>();
    workspace().session().jobs().start(
        tr("Exporting %1").arg(qtext(sheet->name)),
        [snapshot, id = sheet->id, path, dpi, report,
         sources = workspace().session().sources()](const Progress& progress) -> Result<void> {
            auto done = session::exportSheet(*snapshot, *snapshot->sheet(id), sources,
                                             path.toStdString(), {dpi}, progress);
            if (!done) return done.error();
            *report = *std::move(done);
            return {};
        },
        [this, path, report](const Result<void>& done) {
            if (!done) return;
            if (report->problems.empty()) return workspace().say(tr("Exported %1").arg(path));
            workspace().say(tr("Exported %1 without a layer: %2")
                                .arg(path, qtext(report->problems.front().text)),
                            true);
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
    if (const auto* panel = item.as<doc::MapPanel>()) {
        const QSignalBlocker quiet(m_shows);
        m_shows->clear();
        m_shows->addItems({tr("its own view"), tr("the map as it is now")});
        for (const auto& view : workspace().document().views)
            m_shows->addItem(tr("%1 (saved view)").arg(qtext(view.name)));
        showNumber(m_scale, shownScale(doc::groundScale(
                                *panel, doc::crsIn(workspace().document(), panel->crs))));
        showNumber(m_rotation, panel->rotation);
        showNumber(m_frame, panel->frameMm);
        showCheck(m_ticks, panel->hasTicks);
        showCheck(m_frozen, panel->frozen.has_value());
    }
    const QSignalBlocker quietText(m_text);
    const auto showBody = [this](const std::string& said) {
        if (m_text->toPlainText() != qtext(said)) m_text->setPlainText(qtext(said));
    };
    m_bold->setVisible(item.as<doc::TextItem>());  // credits have one weight
    if (const auto* text = item.as<doc::TextItem>()) {
        showBody(text->text);
        showNumber(m_size, text->sizePt);
        showCheck(m_bold, text->isBold);
        showChoice(m_align, static_cast<int>(text->align));
    }
    if (const auto* credits = item.as<doc::CreditsItem>()) {
        showBody(credits->added);
        showNumber(m_size, credits->sizePt);
        showChoice(m_align, static_cast<int>(credits->align));
    }
    if (const auto* chart = item.as<doc::ProfileItem>()) {
        const QSignalBlocker quiet(m_profile);
        m_profile->clear();
        for (const auto& kept : workspace().document().profiles) {
            m_profile->addItem(qtext(kept.name), QVariant::fromValue(kept.id));
            if (kept.id == chart->profile) m_profile->setCurrentIndex(m_profile->count() - 1);
        }
        showNumber(m_profileSize, chart->sizePt);
    }
    if (const auto* legend = item.as<doc::LegendItem>()) {
        showNumber(m_columns, legend->columns);
        showText(m_legendTitle, qtext(legend->title));
        while (QLayoutItem* old = m_legendRows->takeAt(0)) {
            if (old->widget()) old->widget()->hide(), old->widget()->deleteLater();
            delete old;
        }
        for (const auto& drawn : doc::drawnLayers(workspace().document().layers)) {
            const doc::Layer& layer = *drawn.layer;
            if (layer.as<doc::Hillshade>() || layer.as<doc::Steepness>()) continue;
            const doc::Id id = layer.id;
            auto* row = new QWidget;
            auto* layout = new QHBoxLayout(row);
            layout->setContentsMargins(0, 0, 0, 0);
            auto* listed = new QCheckBox;
            listed->setChecked(std::find(legend->left_out.begin(), legend->left_out.end(), id) ==
                               legend->left_out.end());
            listed->setAccessibleName(tr("List %1").arg(qtext(layer.name)));
            auto* name =
                makeText(tr("Name in the legend of %1").arg(qtext(layer.name)), qtext(layer.name));
            const auto it = legend->names.find(id);
            if (it != legend->names.end()) name->setText(qtext(it->second));
            connect(listed, &QCheckBox::clicked, this, [this, id](bool on) {
                workspace().performOnItem(
                    "legend-listed", {{"layer", Workspace::target(id)}, {"listed", doc::word(on)}});
            });
            connect(name, &QLineEdit::editingFinished, this, [this, id, name] {
                workspace().performOnItem("legend-name",
                                          {{"layer", Workspace::target(id)},
                                           {"name", name->text().trimmed().toStdString()}});
            });
            layout->addWidget(listed);
            layout->addWidget(name, 1);
            m_legendRows->insertWidget(0, row);
        }
    }
}

void SheetBench::refresh() {
    const auto* sheet = workspace().sheet();
    const auto* item = workspace().item();
    const auto is = [item](auto probe) { return item && item->as<decltype(probe)>(); };
    m_sheetList->setVisible(!sheet);
    m_pagePart->setVisible(sheet && !item);
    m_placePart->setVisible(item);
    m_panelPart->setVisible(is(doc::MapPanel{}));
    m_textPart->setVisible(is(doc::TextItem{}) || is(doc::CreditsItem{}));
    m_profilePart->setVisible(is(doc::ProfileItem{}));
    m_legendPart->setVisible(is(doc::LegendItem{}));
    m_actions->setVisible(sheet);
    if (!sheet) {
        setTitle(tr("Sheet"), workspace().document().sheets.empty()
                                  ? tr("No sheet yet.")
                                  : tr("Choose a sheet, or make one of what the map shows."));
        return listSheets();
    }
    setTitle(item ? qtext(item->name) : qtext(sheet->name),
             item ? tr("%1 on %2").arg(qtext(doc::itemKind(*item)), qtext(sheet->name))
                  : tr("sheet · select an item to edit it"));
    showNumber(m_pageWidth, sheet->widthMm);
    showNumber(m_pageHeight, sheet->heightMm);
    const QSize pixels = carto::pagePixels(*sheet, m_dpi->value());
    m_pixels->setText(tr("PNG: %1 × %2 pixels").arg(pixels.width()).arg(pixels.height()));
    if (item) refreshItem(*item);
}

}  // namespace ledge::app
