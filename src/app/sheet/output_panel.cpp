#include "app/sheet/output_panel.h"

#include <QApplication>
#include <QClipboard>
#include <QFileDialog>
#include <QFileInfo>
#include <QPainter>
#include <QPrintPreviewDialog>
#include <QSettings>

#include "app/benches/bench_page.h"
#include "carto/sheet_painter.h"
#include "session/aside.h"
#include "session/export_sheet.h"

namespace ledge::app {

OutputPanel::OutputPanel(Workspace& workspace, QWidget* parent)
    : QWidget(parent), m_workspace(workspace),
      m_dpi(makeNumber(tr("Resolution of the export"), 30, 2400, 0, " dpi", 50)),
      m_archival(new QCheckBox(tr("PDF for archives (PDF/A-2)"))),
      m_jpeg(new QCheckBox(tr("Smaller PDF: pictures as JPEG"))),
      m_alone(makeLink(tr("Export this map alone…"),
                       tr("The panel's map as a picture, with a world file and its CRS beside it, "
                          "or a GeoTIFF"))),
      m_pixels(makeLabel("", "muted")) {
    auto* part = new QVBoxLayout(this);
    part->setContentsMargins(0, 0, 0, 0);
    part->setSpacing(6);
    m_dpi->setValue(300);
    m_dpi->setObjectName("exportDpi");
    m_archival->setObjectName("archival");
    m_jpeg->setObjectName("jpegInPdf");
    m_jpeg->setToolTip(tr("Pictures lose a little: edges of classes blur"));
    m_alone->setObjectName("exportAlone");
    auto* out =
        makeButton(tr("Export…"), tr("Write this sheet as PDF, SVG or a picture (Ctrl+E)"), true);
    out->setObjectName("exportSheet");
    auto* print = makeButton(tr("Print…"), tr("Preview and print this sheet (Ctrl+P)"));
    print->setObjectName("printSheet");
    auto* copy =
        makeButton(tr("Copy picture"), tr("This sheet as a picture, for pasting elsewhere"));
    copy->setObjectName("copySheet");
    part->addWidget(out);
    part->addWidget(m_alone);
    part->addWidget(captioned(tr("Resolution"), m_dpi));
    part->addWidget(m_pixels);
    part->addWidget(m_archival);
    part->addWidget(m_jpeg);
    part->addWidget(sideBySide({print, copy}));
    connect(out, &QPushButton::clicked, this, [this] { chooseExport(); });
    connect(m_alone, &QPushButton::clicked, this, [this] {
        if (const auto* item = m_workspace.item(); item && item->as<doc::MapPanel>())
            chooseExport(item->id);
    });
    connect(print, &QPushButton::clicked, this, &OutputPanel::print);
    connect(copy, &QPushButton::clicked, this, &OutputPanel::copyPicture);
    connect(m_dpi, &QDoubleSpinBox::valueChanged, this, &OutputPanel::resolutionChanged);
    connect(&workspace.session(), &session::Session::replaced, this, [this] { m_folder.clear(); });
}

void OutputPanel::refresh() {
    const auto* sheet = m_workspace.sheet();
    if (!sheet) return;
    const auto* item = m_workspace.item();
    m_alone->setVisible(item && item->as<doc::MapPanel>());
    const QSize pixels = carto::pagePixels(*sheet, m_dpi->value());
    m_pixels->setText(tr("PNG: %1 × %2 pixels").arg(pixels.width()).arg(pixels.height()));
}

void OutputPanel::chooseExport(doc::Id onlyPanel) {
    const auto* sheet = m_workspace.sheet();
    if (!sheet) return;
    const auto* panel = onlyPanel != 0 ? sheet->item(onlyPanel) : nullptr;
    const QString name = qtext(panel ? panel->name : sheet->name);
    QFileDialog dialog(this, tr("Export %1").arg(name));
    dialog.setAcceptMode(QFileDialog::AcceptSave);
    dialog.setOption(QFileDialog::DontUseNativeDialog);
    QStringList filters;
    for (const session::SheetFormatInfo& one : session::sheetFormats())
        if (!panel || one.isPicture)
            filters << QString("%1 (*%2)")
                           .arg(QString::fromUtf8(one.name.data(), qsizetype(one.name.size())),
                                QString::fromUtf8(one.suffix.data(), qsizetype(one.suffix.size())));
    dialog.setNameFilters(filters);
    const auto suffixOf = [](const QString& filter) {
        return filter.section("*.", 1).section(")", 0, 0);
    };
    connect(&dialog, &QFileDialog::filterSelected, &dialog,
            [&](const QString& filter) { dialog.setDefaultSuffix(suffixOf(filter)); });
    const auto& project = m_workspace.session().path();
    const QString beside = project.empty() ? QString() : qtext(project.parent_path().string());
    const QString last = m_folder.isEmpty() ? beside : m_folder;
    if (!last.isEmpty()) dialog.setDirectory(last);
    const QString type =
        panel ? QStringLiteral("png") : QSettings().value("export_type", "pdf").toString();
    for (const QString& filter : dialog.nameFilters())
        if (suffixOf(filter) == type) dialog.selectNameFilter(filter);
    dialog.setDefaultSuffix(type);
    dialog.selectFile(name.toLower().replace(' ', '_') + "." + type);
    if (dialog.exec() != QDialog::Accepted || dialog.selectedFiles().isEmpty()) return;
    const QFileInfo chosen(dialog.selectedFiles().first());
    m_folder = chosen.absolutePath();
    if (!panel) QSettings().setValue("export_type", chosen.suffix().toLower());
    exportTo(chosen.filePath(), m_dpi->value(), onlyPanel);
}

void OutputPanel::exportTo(const QString& path, double dpi, doc::Id onlyPanel) {
    const auto snapshot = m_workspace.session().snapshot();
    const auto* sheet = m_workspace.sheet();
    if (!sheet) return;
    const QStringList missing = carto::missingCredits(*snapshot, *sheet);
    if (!missing.isEmpty() && onlyPanel == 0)
        m_workspace.say(tr("No credits item on the sheet shows: %1").arg(missing.join(", ")), true);
    auto report = std::make_shared<carto::MapReport>();
    session::SheetExport options;
    options.dpi = dpi, options.isArchival = m_archival->isChecked();
    options.mayLoseColours = m_jpeg->isChecked(), options.onlyPanel = onlyPanel;
    if (onlyPanel != 0) options.onlyPage = m_workspace.shownPage();
    m_workspace.session().jobs().start(
        tr("Exporting %1").arg(qtext(sheet->name)),
        [snapshot, id = sheet->id, path, options, report,
         sources = m_workspace.session().sources()](const Progress& progress) -> Result<void> {
            auto done = session::exportSheet(*snapshot, *snapshot->sheet(id), sources,
                                             path.toStdString(), options, progress);
            if (!done) return done.error();
            *report = *std::move(done);
            return {};
        },
        [this, path, report](const Result<void>& done) {
            if (!done) return;
            if (report->problems.empty()) return m_workspace.say(tr("Exported %1").arg(path));
            m_workspace.say(tr("Exported %1 without a layer: %2")
                                .arg(path, qtext(report->problems.front().text)),
                            true);
        });
}

void OutputPanel::copyPicture() {
    const auto snapshot = m_workspace.session().snapshot();
    const auto* sheet = m_workspace.sheet();
    if (!sheet) return;
    auto image = std::make_shared<QImage>();
    const int page = m_workspace.shownPage();
    m_workspace.session().jobs().start(
        tr("Copying %1").arg(qtext(sheet->name)),
        [snapshot, id = sheet->id, page, image, dpi = std::min(300.0, m_dpi->value()),
         sources = m_workspace.session().sources()](const Progress& progress) -> Result<void> {
            const auto pages =
                carto::SeriesPages::of(*snapshot, *snapshot->sheet(id), *sources, progress);
            if (!pages) return pages.error();
            carto::MapReport report;
            const std::size_t i = std::min(static_cast<std::size_t>(page), pages->size()) - 1;
            auto made = session::sheetPicture(pages->page(i), sources, dpi, progress, report);
            if (!made) return made.error();
            *image = *std::move(made);
            return {};
        },
        [this, image](const Result<void>& done) {
            if (!done) return;
            QApplication::clipboard()->setImage(*image);
            m_workspace.say(tr("Copied as a picture of %1 × %2 pixels")
                                .arg(image->width())
                                .arg(image->height()));
        });
}

void OutputPanel::setPaper(QPrinter& printer, const doc::Sheet& sheet) {
    printer.setPageSize(QPageSize(
        QSizeF(std::min(sheet.widthMm, sheet.heightMm), std::max(sheet.widthMm, sheet.heightMm)),
        QPageSize::Millimeter));
    printer.setPageOrientation(sheet.widthMm > sheet.heightMm ? QPageLayout::Landscape
                                                              : QPageLayout::Portrait);
    printer.setFullPage(true);
}

void OutputPanel::print() {
    const auto* sheet = m_workspace.sheet();
    if (!sheet) return;
    QPrinter printer(QPrinter::HighResolution);
    printer.setDocName(qtext(sheet->name));
    setPaper(printer, *sheet);
    QPrintPreviewDialog preview(&printer, this);
    preview.setWindowTitle(tr("Print %1").arg(qtext(sheet->name)));
    connect(&preview, &QPrintPreviewDialog::paintRequested, this,
            [this](QPrinter* to) { printOn(*to); });
    preview.exec();
}

void OutputPanel::printOn(QPrinter& printer) {
    // What a printer's queue, and a preview, can bear at once.
    constexpr int kMostPages = 100;
    const auto* sheet = m_workspace.sheet();
    if (!sheet) return;
    const auto snapshot = m_workspace.session().snapshot();
    const auto sources = m_workspace.session().sources();
    const auto pages = session::aside([&, id = sheet->id] {
        return carto::SeriesPages::of(*snapshot, *snapshot->sheet(id), *sources);
    });
    if (!pages) return m_workspace.say(qtext(pages.error().text()), true);
    const int count = static_cast<int>(pages->size());
    const bool isRange = printer.printRange() == QPrinter::PageRange && printer.fromPage() > 0;
    const int first = isRange ? std::min(printer.fromPage(), count) : 1;
    const int wanted = isRange && printer.toPage() > 0 ? std::min(printer.toPage(), count) : count;
    const int last = std::min(wanted, first + kMostPages - 1);
    if (last < wanted)
        m_workspace.say(tr("Pages %1 to %2 are printed at once; print the others as a range, or "
                           "export the series as a PDF")
                            .arg(first)
                            .arg(last),
                        true);
    QPainter painter(&printer);
    for (int number = first; number <= last; ++number) {
        if (number > first) printer.newPage();
        const carto::SheetPage page = pages->page(static_cast<std::size_t>(number) - 1);
        carto::MapReport report;
        // Sheets are painted as pictures: printers differ in what they make of blending.
        const auto picture =
            session::aside([&] { return session::sheetPicture(page, sources, 300, {}, report); });
        if (!picture) return m_workspace.say(qtext(picture.error().text()), true);
        const double px = printer.resolution() / 25.4;
        painter.drawImage(QRectF(0, 0, page.sheet.widthMm * px, page.sheet.heightMm * px),
                          *picture);
    }
}

}  // namespace ledge::app
