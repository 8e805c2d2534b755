#include <QImage>
#include <QPdfWriter>
#include <QProcess>
#include <QRegularExpression>
#include <QTemporaryDir>
#include <QTest>

#include "core/crs/transformation.h"
#include "document/edits/edit_table.h"
#include "document/edits/layer_edits.h"
#include "document/edits/sheet_edits.h"
#include "document/map_crs.h"
#include "document/panels.h"
#include "io/files/atomic_file.h"
#include "io/registry.h"
#include "session/export_sheet.h"
#include "session/project_store.h"
#include "session/sheet_checks.h"
#include "support/coarse_demo.h"

using namespace ledge;
using namespace ledge::session;
namespace fs = std::filesystem;

/// Sheets written as files: what other programs read of them is what the sheet says.
class SheetExportTest : public QObject {
    Q_OBJECT

private:
    QTemporaryDir m_dir;
    doc::Document m_document;
    std::shared_ptr<SourceCache> m_cache = std::make_shared<SourceCache>();

    fs::path path(const char* name) const { return fs::path(m_dir.path().toStdString()) / name; }
    static QString run(const QString& program, const QStringList& arguments, int* code = nullptr) {
        QProcess process;
        process.start(program, arguments);
        process.waitForFinished(120000);
        if (code) *code = process.exitCode();
        return QString::fromUtf8(process.readAllStandardOutput());
    }
    QString file(const char* name) const { return QString::fromStdString(path(name).string()); }
    const doc::Sheet& sheet(const char* name) const {
        for (const doc::Sheet& one : m_document.sheets)
            if (one.name == name) return one;
        return m_document.sheets.front();
    }
    doc::Document after(const char* name, const doc::EditWords& words) const {
        auto next = doc::applied(m_document, name, words);
        if (!next) qWarning("%s", next.error().text().c_str());
        return next ? next->document : m_document;
    }
    bool write(const char* name, const char* to, SheetExport options = {}) {
        if (options.dpi == 300) options.dpi = 100;
        const auto done = exportSheet(m_document, sheet(name), m_cache, path(to), options, {});
        if (!done) qWarning("%s", done.error().text().c_str());
        return done.has_value();
    }

private slots:
    void initTestCase() {
        const auto loaded = loadProject(test::coarseDemo());
        QVERIFY(loaded.has_value());
        m_document = *loaded;
        m_document.author = "R. Hamar";
        QCOMPARE(m_document.sheets.size(), std::size_t{5});
    }

    void writesSoundPdfs_data() {
        QTest::addColumn<QString>("name");
        QTest::addColumn<bool>("archival");
        for (const char* name :
             {"Overview", "Glen survey", "Three measures", "Districts", "Wall map"})
            QTest::newRow(name) << name << false;
        QTest::newRow("for archives") << "Overview" << true;
    }
    // A second program finds nothing wrong; the page is as large as the sheet to 0.1 mm; texts can
    // be searched; fonts are in it.
    void writesSoundPdfs() {
        QFETCH(QString, name);
        QFETCH(bool, archival);
        SheetExport options;
        options.isArchival = archival;
        QVERIFY(write(qPrintable(name), "sheet.pdf", options));
        int code = -1;
        const QString said = run("qpdf", {"--check", file("sheet.pdf")}, &code);
        QVERIFY2(code == 0 && said.contains("No syntax"), qPrintable(said));
        const QString info = run("pdfinfo", {file("sheet.pdf")});
        const auto size = QRegularExpression("Page size:\\s+([\\d.]+) x ([\\d.]+) pts").match(info);
        QVERIFY2(size.hasMatch(), qPrintable(info));
        const doc::Sheet& of = sheet(qPrintable(name));
        QVERIFY(std::abs(size.captured(1).toDouble() * 25.4 / 72 - of.widthMm) < 0.1);
        QVERIFY(std::abs(size.captured(2).toDouble() * 25.4 / 72 - of.heightMm) < 0.1);
        QVERIFY2(info.contains("R. Hamar") && info.contains(name), qPrintable(info));
        const QString fonts = run("pdffonts", {file("sheet.pdf")});
        for (const QString& line : fonts.split('\n', Qt::SkipEmptyParts).mid(2))
            QVERIFY2(line.contains(" yes "), qPrintable(line));
        const auto pages = carto::SeriesPages::of(m_document, of, *m_cache);
        QCOMPARE(QRegularExpression("Pages:\\s+(\\d+)").match(info).captured(1).toULongLong(),
                 pages->size());
        const auto bytes = io::readText(path("sheet.pdf"));
        if (archival)
            QVERIFY(bytes->find("GTS_PDFA1") != std::string::npos ||
                    run("qpdf", {"--qdf", "--object-streams=disable", file("sheet.pdf"), "-"})
                        .contains("GTS_PDFA1"));
    }
    void saysItsTexts() {
        QVERIFY(write("Districts", "districts.pdf"));
        const QString text = run("pdftotext", {"-layout", file("districts.pdf"), "-"});
        const auto pages = carto::SeriesPages::of(m_document, sheet("Districts"), *m_cache);
        for (std::size_t i = 0; i < pages->size(); ++i) {
            QVERIFY2(text.contains(pages->name(i)), qPrintable(pages->name(i)));
            QVERIFY(text.contains(QString("Page %1 of %2").arg(i + 1).arg(pages->size())));
        }
        QVERIFY(!text.contains('{'));
    }
    void keepsLayersApart() {
        QVERIFY(write("Overview", "layers.pdf"));
        QVERIFY(QProcess::execute("qpdf", {"--qdf", "--object-streams=disable", file("layers.pdf"),
                                           file("plain.pdf")}) == 0);
        const auto text = io::readText(path("plain.pdf"));
        for (const char* name : {"Hill paths", "Roads", "Coast", "Labels"})
            QVERIFY2(text->find(std::string("(") + name + ")") != std::string::npos, name);
        QVERIFY(text->find("/OCProperties") != std::string::npos);
    }

    // The georeference is read back: of a known place the millimetres on the page come out.
    void knowsWhereItsMapLies() {
        QVERIFY(write("Overview", "geo.pdf"));
        QVERIFY(QProcess::execute("qpdf", {"--qdf", "--object-streams=disable", file("geo.pdf"),
                                           file("geo.txt")}) == 0);
        const QString text =
            QString::fromLatin1(QByteArray::fromStdString(*io::readText(path("geo.txt"))));
        const auto numbers = [&](const char* key) {
            const auto found =
                QRegularExpression(QString("/%1 \\[([^\\]]*)\\]").arg(key)).match(text);
            std::vector<double> out;
            for (const QString& one :
                 found.captured(1).split(QRegularExpression("\\s+"), Qt::SkipEmptyParts))
                out.push_back(one.toDouble());
            return out;
        };
        QVERIFY(text.contains("/EPSG 32629"));
        const auto gpts = numbers("GPTS"), box = [&] {
            // The viewport's, not a form's: it stands with its name.
            const auto at = text.indexOf("/Viewport");
            const auto from = text.lastIndexOf("<<", at), to = text.indexOf(">>", at);
            std::vector<double> out;
            const auto found =
                QRegularExpression("/BBox \\[([^\\]]*)\\]").match(text.mid(from, to - from));
            for (const QString& one :
                 found.captured(1).split(QRegularExpression("\\s+"), Qt::SkipEmptyParts))
                out.push_back(one.toDouble());
            return out;
        }();
        QCOMPARE(gpts.size(), std::size_t{8});
        QCOMPARE(box.size(), std::size_t{4});
        const doc::Sheet& of = sheet("Overview");
        const doc::SheetItem& panel = *of.panel(0);
        const doc::MapPanel map = doc::resolved(m_document, *panel.as<doc::MapPanel>());
        const auto crs = doc::crsIn(m_document, map.crs);
        // Corners through the CRS, then across the box: the panel's middle is the map's.
        const auto base = std::make_shared<crs::Crs>(crs::geographicBase(*crs));
        const auto way = crs::Transformation::between(base, crs);
        std::vector<Point> corners;
        for (std::size_t i = 0; i < 4; ++i)
            corners.push_back(way->forward(Point{gpts[2 * i + 1], gpts[2 * i]}));
        for (const Point known :
             {map.centre, map.centre + Point{2500, -1800}, map.centre + Point{-4000, 900}}) {
            const Point right = corners[3] - corners[0], up = corners[1] - corners[0],
                        at = known - corners[0];
            const double det = right.x * up.y - right.y * up.x;
            const double u = (at.x * up.y - at.y * up.x) / det,
                         v = (right.x * at.y - right.y * at.x) / det;
            const double xMm = (box[0] + u * (box[2] - box[0])) * 25.4 / 72;
            const double yMm = of.heightMm - (box[1] + v * (box[3] - box[1])) * 25.4 / 72;
            const double mm = 1000 / map.scale;
            const double xTrue =
                panel.rect.left + panel.rect.width / 2 + (known.x - map.centre.x) * mm;
            const double yTrue =
                panel.rect.top + panel.rect.height / 2 - (known.y - map.centre.y) * mm;
            QVERIFY2(
                std::hypot(xMm - xTrue, yMm - yTrue) < 0.2,
                qPrintable(QString("%1 %2, not %3 %4").arg(xMm).arg(yMm).arg(xTrue).arg(yTrue)));
        }
    }

    // The same picture in all formats: no tile of 4 mm differs by more than what smoothing does.
    void looksTheSameInAllFormats() {
        QVERIFY(write("Overview", "same.png") && write("Overview", "same.pdf") &&
                write("Overview", "same.tif") && write("Overview", "same.jpg"));
        run("pdftoppm", {"-r", "100", "-png", "-singlefile", file("same.pdf"), file("same-pdf")});
        const QImage png = QImage(file("same.png")).convertToFormat(QImage::Format_RGB32);
        const doc::Sheet& of = sheet("Overview");
        QCOMPARE(png.size(), carto::pagePixels(of, 100));
        QCOMPARE(qRound(png.dotsPerMeterX() * 0.0254), 100);
        const auto worst = [&](const QImage& other, int side) {
            double most = 0;
            for (int y = 0; y + side <= std::min(png.height(), other.height()); y += side)
                for (int x = 0; x + side <= std::min(png.width(), other.width()); x += side) {
                    double off[3] = {0, 0, 0};
                    for (int dy = 0; dy < side; ++dy)
                        for (int dx = 0; dx < side; ++dx) {
                            const QRgb a = png.pixel(x + dx, y + dy),
                                       b = other.pixel(x + dx, y + dy);
                            off[0] += qRed(a) - qRed(b), off[1] += qGreen(a) - qGreen(b),
                                off[2] += qBlue(a) - qBlue(b);
                        }
                    for (const double sum : off)
                        most = std::max(most, std::abs(sum) / (side * side));
                }
            return most;
        };
        const QImage pdf(file("same-pdf.png"));
        QVERIFY(std::abs(pdf.width() - png.width()) <= 1 &&
                std::abs(pdf.height() - png.height()) <= 1);
        QVERIFY2(worst(pdf, 16) < 40, qPrintable(QString::number(worst(pdf, 16))));
        QVERIFY(worst(QImage(file("same.jpg")), 16) < 6);
    }
    // A layer that is see-through is so as a whole, in all formats, and stays lines in a PDF.
    void keepsOpacityOfWholeLayers() {
        const doc::Document before = m_document;
        const auto contours = [](const doc::LayerPtr& layer) { return layer->name == "Roads"; };
        const auto all = doc::allLayers(m_document.layers);
        const auto found = std::find_if(all.begin(), all.end(), contours);
        QVERIFY(found != all.end());
        m_document =
            after("layer-opacity", {{"layer", std::to_string((*found)->id)}, {"percent", "40"}});
        const bool isWritten = write("Overview", "thin.pdf") && write("Overview", "thin.svg");
        m_document = before;
        QVERIFY(isWritten);
        QVERIFY(QProcess::execute("qpdf", {"--qdf", "--object-streams=disable", file("thin.pdf"),
                                           file("thin-plain.pdf")}) == 0);
        const auto pdf = io::readText(path("thin-plain.pdf"));
        QVERIFY(pdf->find("/ca 0.4") != std::string::npos);
        QVERIFY(pdf->find("/S /Transparency") != std::string::npos);
        const QString svg =
            QString::fromUtf8(QByteArray::fromStdString(*io::readText(path("thin.svg"))));
        QVERIFY(
            QRegularExpression("data-name=\"Roads\"[^>]*opacity=\"0.4\"").match(svg).hasMatch());
    }

    // Lines that are blended stay lines in a PDF, and look as they do in a picture.
    void keepsBlendsOfVectors() {
        const doc::Document before = m_document;
        const auto all = doc::allLayers(m_document.layers);
        const auto found = std::find_if(all.begin(), all.end(), [](const doc::LayerPtr& layer) {
            return layer->name == "Roads";
        });
        QVERIFY(found != all.end());
        m_document =
            after("layer-blend", {{"layer", std::to_string((*found)->id)}, {"mode", "multiply"}});
        const bool isWritten = write("Overview", "blend.pdf") && write("Overview", "blend.png");
        m_document = before;
        QVERIFY(isWritten);
        QVERIFY(QProcess::execute("qpdf", {"--qdf", "--object-streams=disable", file("blend.pdf"),
                                           file("blend-plain.pdf")}) == 0);
        const auto pdf = io::readText(path("blend-plain.pdf"));
        QVERIFY(pdf->find("/BM /Multiply") != std::string::npos);
        QVERIFY(pdf->find("(Roads)") != std::string::npos);  // a layer of its own
        run("pdftoppm", {"-r", "100", "-png", "-singlefile", file("blend.pdf"), file("blend-pdf")});
        const QImage one(file("blend-pdf.png")), two(file("blend.png"));
        // The mean of squares of 16 pixels tells more than what smoothing does.
        double most = 0;
        for (int y = 0; y + 16 <= std::min(one.height(), two.height()); y += 16)
            for (int x = 0; x + 16 <= std::min(one.width(), two.width()); x += 16) {
                double off = 0;
                for (int k = 0; k < 256; ++k) {
                    const QRgb a = one.pixel(x + k % 16, y + k / 16),
                               b = two.pixel(x + k % 16, y + k / 16);
                    off += qGreen(a) - qGreen(b);
                }
                most = std::max(most, std::abs(off) / 256);
            }
        QVERIFY2(most < 40, qPrintable(QString::number(most)));
    }

    // Pictures are there once, without loss and at the export's resolution; as JPEG where asked
    // for.
    void keepsPicturesWhole_data() {
        QTest::addColumn<bool>("isJpeg");
        QTest::newRow("lossless") << false;
        QTest::newRow("JPEG") << true;
    }
    void keepsPicturesWhole() {
        QFETCH(bool, isJpeg);
        SheetExport options;
        options.mayLoseColours = isJpeg;
        QVERIFY(write("Overview", "pictures.pdf", options));
        int rows = 0;
        for (const QString& line :
             run("pdfimages", {"-list", file("pictures.pdf")}).split('\n').mid(2)) {
            const QStringList words = line.simplified().split(' ');
            // page, number, type, width, height, colour, components, bits, encoding, …, x-ppi
            // The bar of a legend is a picture of one row, too.
            if (words.size() < 14 || words[2] != "image" || words[4] == "1") continue;
            ++rows;
            QVERIFY2(words[3].toInt() > 100 && words[4].toInt() > 50, qPrintable(line));
            QCOMPARE(words[8], isJpeg ? QString("jpeg") : QString("image"));
            QVERIFY2(std::abs(words[12].toInt() - 100) <= 1, qPrintable(line));
        }
        QVERIFY(rows > 0);
    }
    void placesPicturesOnTheMap() {
        QVERIFY(write("Overview", "placed.tif"));
        const auto opened = io::openSource(path("placed.tif"));
        QVERIFY2(opened.has_value(), opened ? "" : opened.error().text().c_str());
        const RasterPtr raster = std::get<RasterPtr>(*opened);
        const RasterInfo& info = raster->info();
        QCOMPARE(info.crs->code, 32629);
        QCOMPARE(int(info.bands.size()), 3);
        const doc::SheetItem& panel = *sheet("Overview").panel(0);
        const auto map = doc::resolved(m_document, *panel.as<doc::MapPanel>());
        const Point middle = info.toWorld({(panel.rect.left + panel.rect.width / 2) / 25.4 * 100,
                                           (panel.rect.top + panel.rect.height / 2) / 25.4 * 100});
        QVERIFY2(
            std::hypot(middle.x - map.centre.x, middle.y - map.centre.y) * 1000 / map.scale < 0.2,
            qPrintable(QString("%1 %2").arg(middle.x - map.centre.x).arg(middle.y - map.centre.y)));
        // One panel alone, with a world file and the CRS beside it.
        SheetExport options;
        options.onlyPanel = panel.id;
        QVERIFY(write("Overview", "alone.png", options));
        QVERIFY(fs::exists(path("alone.pgw")) && fs::exists(path("alone.prj")));
        const auto read = io::openSource(path("alone.png"));
        QVERIFY(read.has_value());
        const RasterPtr alone = std::get<RasterPtr>(*read);
        QCOMPARE(alone->info().crs->code, 32629);
        const auto extent = alone->info().extent();
        QVERIFY(std::hypot(extent.centre().x - map.centre.x, extent.centre().y - map.centre.y) *
                    1000 / map.scale <
                0.2);
        const auto refused =
            exportSheet(m_document, sheet("Overview"), m_cache, path("alone.pdf"), options, {});
        QVERIFY(!refused);
    }
    void writesDrawings() {
        QVERIFY(write("Overview", "sheet.svg"));
        const QString svg =
            QString::fromUtf8(QByteArray::fromStdString(*io::readText(path("sheet.svg"))));
        QVERIFY(svg.contains("width=\"297.000mm\"") && svg.contains("height=\"210.000mm\""));
        QVERIFY(svg.contains("<title>Hill paths</title>") && svg.contains("clip-path=\"url(#clip"));
        QVERIFY(!svg.contains("ledge-part"));
        QVERIFY(svg.contains("Hill paths to be re-routed"));
        QCOMPARE(svg.count("<g "), svg.count("</g>") - (svg.count("<g>")));
    }

    void writesSeriesAsFiles() {
        QDir().mkpath(m_dir.filePath("pages"));
        QVERIFY(write("Three measures", "pages/figure.png"));
        const auto pages = carto::SeriesPages::of(m_document, sheet("Three measures"), *m_cache);
        QCOMPARE(pages->size(), std::size_t{3});
        QSet<QString> pictures;
        for (std::size_t i = 0; i < 3; ++i) {
            const QString page = m_dir.filePath("pages/figure_" + pages->fileName(i) + ".png");
            QVERIFY2(QFile::exists(page), qPrintable(page));
            const QImage image(page);
            // Six inches, at 100 dots each.
            QCOMPARE(image.size(), QSize(600, 600));
            pictures.insert(QString::fromLatin1(QByteArray::number(qHash(QByteArray(
                reinterpret_cast<const char*>(image.constBits()), image.sizeInBytes())))));
        }
        QCOMPARE(pictures.size(), 3);
        SheetExport options;
        options.onlyPage = 2;
        QVERIFY(write("Three measures", "second.png", options));
        QVERIFY(QFile::exists(file("second.png")));
        options.onlyPage = 4;
        QVERIFY(!exportSheet(m_document, sheet("Three measures"), m_cache, path("fourth.png"),
                             options, {}));
    }
    // Stopped half-way: the pages written so far are whole, and nothing is half-written.
    void stopsBetweenPages() {
        QDir().mkpath(m_dir.filePath("stopped"));
        std::stop_source stop;
        Progress progress{stop.get_token(), [&](double share) {
                              if (share > 0.4) stop.request_stop();
                          }};
        const auto done = exportSheet(m_document, sheet("Three measures"), m_cache,
                                      path("stopped/page.png"), {40}, progress);
        if (!done) QCOMPARE(done.error().code, ErrorCode::Cancelled);
        for (const QFileInfo& one : QDir(m_dir.filePath("stopped")).entryInfoList(QDir::Files)) {
            QVERIFY2(one.suffix() == "png", qPrintable(one.fileName()));
            QVERIFY(!QImage(one.filePath()).isNull());
        }
    }
    void stopsInTenThousandPages_data() {
        QTest::addColumn<QString>("to");
        QTest::newRow("one file") << "many/book.pdf";
        QTest::newRow("a file a page") << "many/page.png";
    }
    // A long series stopped after some pages: soon over, what is written is whole, and a book that
    // is not whole is not there.
    void stopsInTenThousandPages() {
        QFETCH(QString, to);
        QDir(m_dir.filePath("many")).removeRecursively();
        QDir().mkpath(m_dir.filePath("many"));
        std::string table = "name,x,y\n";
        for (int i = 0; i < 10'000; ++i)
            table += "post " + std::to_string(i) + "," + std::to_string(i % 100 * 50) + "," +
                     std::to_string(i / 100 * 50) + "\n";
        QVERIFY(io::writeText(path("posts.csv"), table).has_value());
        doc::Document d;
        const auto did = [&d](const char* name, const doc::EditWords& words) {
            auto next = doc::applied(d, name, words);
            QVERIFY2(next.has_value(), next ? "" : next.error().text().c_str());
            d = next->document;
        };
        doc::SourceRef source;
        source.name = "Posts", source.path = path("posts.csv");
        auto [with, id] = doc::addSource(d, source);
        doc::Layer posts;
        posts.name = "Posts", posts.source = id;
        doc::VectorLayer vector;
        vector.geometry = GeometryType::Point;
        posts.content = vector;
        d = doc::addLayer(std::move(with), posts).first;
        const std::string layer = std::to_string(d.layers.front()->id);
        did("sheet-add",
            {{"name", "Cards"}, {"template", "empty"}, {"width", "40"}, {"height", "30"}});
        did("item-add", {{"sheet", "Cards"},
                         {"kind", "map panel"},
                         {"name", "Map"},
                         {"rect", "1,1,38,28"},
                         {"centre", "0,0"},
                         {"scale", "1000"}});
        did("sheet-set", {{"sheet", "Cards"}, {"member", "series.over"}, {"value", "features"}});
        did("sheet-set", {{"sheet", "Cards"}, {"member", "series.layer"}, {"value", layer}});
        did("sheet-set", {{"sheet", "Cards"}, {"member", "series.naming"}, {"value", "name"}});
        const auto pages = carto::SeriesPages::of(d, d.sheets[0], *m_cache);
        QVERIFY2(pages.has_value(), pages ? "" : pages.error().text().c_str());
        QCOMPARE(pages->size(), std::size_t{10'000});
        std::stop_source stop;
        double reached = 0;
        const Progress progress{stop.get_token(), [&](double share) {
                                    reached = std::max(reached, share);
                                    if (share > 0.002) stop.request_stop();
                                }};
        const auto done =
            exportSheet(d, d.sheets[0], m_cache, path(qPrintable(to)), {40}, progress);
        QVERIFY(!done);
        QCOMPARE(done.error().code, ErrorCode::Cancelled);
        QVERIFY2(reached < 0.1, qPrintable(QString::number(reached)));
        const auto left = QDir(m_dir.filePath("many")).entryInfoList(QDir::Files);
        if (to.endsWith(".pdf")) {
            QVERIFY(left.isEmpty());
            return;
        }
        QVERIFY(left.size() >= 15 && left.size() < 1000);
        for (const QFileInfo& one : left) {
            QCOMPARE(one.suffix(), QString("png"));
            QCOMPARE(QImage(one.filePath()).size(), QSize(63, 47));
        }
    }
    void refusesWhatItCannotWrite_data() {
        QTest::addColumn<QString>("to");
        for (const char* to : {"/no/such/folder/x.svg", "/no/such/folder/x.tif",
                               "/no/such/folder/x.pdf", "/no/such/folder/x.png", "x.docx", "x"})
            QTest::newRow(to) << to;
    }
    void refusesWhatItCannotWrite() {
        QFETCH(QString, to);
        const auto done =
            exportSheet(m_document, sheet("Overview"), m_cache, to.toStdString(), {40}, {});
        QVERIFY(!done);
        QVERIFY(!done.error().why.empty() && !done.error().mend.empty());
    }

    void remarksOnWhatReadersStumbleOver_data() {
        QTest::addColumn<QString>("edit");
        QTest::addColumn<QStringList>("words");
        QTest::addColumn<QString>("said");
        QTest::addColumn<bool>("mends");
        const auto row = [](const char* name, const char* edit, const QStringList& words,
                            const char* said,
                            bool mends) { QTest::newRow(name) << edit << words << said << mends; };
        row("small type", "item-set", {"item", "Subtitle", "member", "size_pt", "value", "4"},
            "4 pt", true);
        row("pale type", "item-set", {"item", "Subtitle", "member", "colour", "value", "#E0E0E0"},
            "pale", true);
        row("font", "item-set", {"item", "Title", "member", "font", "value", "Nobody Sans"},
            "Nobody Sans", true);
        row("off the page", "item-rect", {"item", "North", "rect", "290,5,20,20"},
            "beyond the page", true);
        row("low box", "item-rect", {"item", "Title", "rect", "10,160,60,3"}, "more height", true);
        row("over another", "item-rect", {"item", "Subtitle", "rect", "10,160,200,9"}, "lies over",
            true);
        row("odd scale", "panel-scale", {"item", "Main map", "scale", "123456"}, "not round", true);
        row("elsewhere", "item-set",
            {"item", "Main map", "member", "centre", "value", "[100000, 100000]"}, "shows nothing",
            true);
        row("mostly empty", "panel-scale", {"item", "Main map", "scale", "800000"}, "fills", true);
        row("no credits", "item-remove", {"item", "Sources"}, "Not credited", true);
        row("no legend", "item-remove", {"item", "Key"}, "No legend", true);
        row("legend too small", "item-rect", {"item", "Key", "rect", "10,175,20,8"}, "do not fit",
            true);
        row("gone picture", "item-add",
            {"kind", "picture", "name", "Crest", "rect", "250,20,20,20", "file",
             "/no/such/crest.png"},
            "crest.png", true);
        row("hardly there", "item-rect", {"item", "North", "rect", "250,20,0.2,0.2"},
            "hardly a size", true);
        row("not listed", "legend-listed", {"item", "Key", "layer", "Hill paths", "listed", "no"},
            "No legend", true);
        row("long table", "item-add",
            {"kind", "table", "name", "List", "rect", "250,20,40,20", "layer", "Crofts"},
            "Rows that do not fit", true);
        row("no profile", "item-add",
            {"kind", "profile", "name", "Way", "rect", "250,20,40,20", "with",
             R"({"profile": 4711})"},
            "no longer kept", true);
        row("no layer", "item-add",
            {"kind", "chart", "name", "Bars", "rect", "250,20,40,20", "with", R"({"layer": 4711})"},
            "is gone", true);
        row("grid of no CRS", "item-set",
            {"item", "Main map", "member", "grids", "value", R"([{"style": {"crs": "EPSG:1"}}])"},
            "CRS that cannot be read", true);
    }
    void remarksOnWhatReadersStumbleOver() {
        QFETCH(QString, edit);
        QFETCH(QStringList, words);
        QFETCH(QString, said);
        QFETCH(bool, mends);
        const doc::Id id = sheet("Overview").id;
        const auto remarksOf = [&](const doc::Document& d) {
            return sheetRemarks(d, *d.sheet(id), *m_cache, 300, {});
        };
        const auto tells = [&](const std::vector<SheetRemark>& all) {
            return std::find_if(all.begin(), all.end(),
                                [&](const SheetRemark& one) { return one.said.contains(said); });
        };
        const auto before = remarksOf(m_document);
        QVERIFY2(tells(before) == before.end(), qPrintable(said));
        doc::EditWords given{{"sheet", "Overview"}};
        for (qsizetype i = 0; i + 1 < words.size(); i += 2)
            given[words[i].toStdString()] = words[i + 1].toStdString();
        const doc::Document marred = after(qPrintable(edit), given);
        const auto all = remarksOf(marred);
        const auto told = tells(all);
        QString list;
        for (const SheetRemark& one : all) list += one.said + "; ";
        QVERIFY2(told != all.end(), qPrintable(list));
        QCOMPARE(!told->edit.empty(), mends);
        if (!mends) return;
        QVERIFY(!told->mend.isEmpty());
        const auto mended = doc::applied(marred, told->edit, told->words);
        QVERIFY2(mended.has_value(), mended ? "" : mended.error().text().c_str());
        const auto now = remarksOf(mended->document);
        QVERIFY2(tells(now) == now.end(), qPrintable(said + " is still said"));
    }
    // The demo's own sheets are as one would sign them.
    void findsNothingOnTheDemosSheets_data() {
        QTest::addColumn<QString>("name");
        for (const char* name :
             {"Overview", "Glen survey", "Three measures", "Districts", "Wall map"})
            QTest::newRow(name) << name;
    }
    void findsNothingOnTheDemosSheets() {
        QFETCH(QString, name);
        QString list;
        for (const SheetRemark& one :
             sheetRemarks(m_document, sheet(qPrintable(name)), *m_cache, 300, {}))
            list += one.said + "; ";
        QVERIFY2(list.isEmpty(), qPrintable(list));
    }
    // WCAG 2.1: black on white is 21, the same on the same 1; #767676 on white 4.54.
    void reckonsContrast() {
        QVERIFY(std::abs(contrastRatio({0, 0, 0}, {255, 255, 255}) - 21) < 1e-9);
        QVERIFY(std::abs(contrastRatio({9, 9, 9}, {9, 9, 9}) - 1) < 1e-9);
        QVERIFY(std::abs(contrastRatio({0x76, 0x76, 0x76}, {255, 255, 255}) - 4.54) < 0.01);
    }
};

QTEST_MAIN(SheetExportTest)
#include "sheet_export_test.moc"
