#include <QImage>
#include <QTemporaryDir>
#include <QTest>
#include <random>

#include "core/base/parallel.h"
#include "io/files/atomic_file.h"
#include "io/picture/paper_png.h"

using namespace ledge;
using namespace ledge::io;

/// Pictures deflated on all cores are those that were given, for us and for another reader.
class PaperPngTest : public QObject {
    Q_OBJECT

private slots:
    void cleanup() { setThreadCount(0); }

    void readsBackAlike_data() {
        QTest::addColumn<int>("width");
        QTest::addColumn<int>("height");
        QTest::addColumn<int>("bands");
        QTest::addColumn<int>("threads");
        for (const int bands : {1, 3, 4})
            for (const int threads : {1, 2, 5}) {
                const auto row = [&](int width, int height) {
                    QTest::addRow("%d x %d, %d bands, %d threads", width, height, bands, threads)
                        << width << height << bands << threads;
                };
                row(1, 1);
                row(37, 3);
                row(1000, 1200);  // some stretches
                row(400'000, 3);  // each row more than one
                row(1023, 2049 / bands);
            }
    }
    void readsBackAlike() {
        QFETCH(int, width);
        QFETCH(int, height);
        QFETCH(int, bands);
        QFETCH(int, threads);
        setThreadCount(unsigned(threads));
        Picture shape;
        shape.width = std::size_t(width), shape.height = std::size_t(height);
        shape.bands = std::size_t(bands), shape.dotsPerInch = 300;
        QVERIFY(isPaperPng(shape));
        // Even areas, slopes, and noise, as maps have them.
        std::mt19937 random(4);
        std::vector<std::byte> values(shape.width * shape.height * shape.bands);
        for (std::size_t i = 0; i < values.size(); ++i)
            values[i] = std::byte(i / 5000 % 3 == 0 ? 77 : i / 5000 % 3 == 1 ? i / 16 : random());
        QTemporaryDir folder;
        const std::filesystem::path path = folder.filePath("p.png").toStdString();
        std::size_t expected = 0;
        const auto done = encodePng(shape, path, [&](std::size_t row, std::span<std::byte> out) {
            if (row != expected++)
                return Result<void>(Error{ErrorCode::IoFailure, "", "order", ""});
            std::copy_n(values.begin() + std::ptrdiff_t(row * out.size()), out.size(), out.begin());
            return Result<void>();
        });
        QVERIFY2(done.has_value(), done ? "" : done.error().text().c_str());
        const auto bytes = readText(path, 1 << 28);
        const auto read = decodePicture(std::as_bytes(std::span(*bytes)), path);
        QVERIFY2(read.has_value(), read ? "" : read.error().text().c_str());
        QVERIFY(read->values == values);
        const QImage image(folder.filePath("p.png"));
        QCOMPARE(image.size(), QSize(width, height));
        QCOMPARE(image.dotsPerMeterX(), 11811);
        if (bands == 3 && width > 30)
            QCOMPARE(qRed(image.pixel(30, height - 1)),
                     int(values[(shape.width * (shape.height - 1) + 30) * 3]));
    }

    // Stretches know the end of the one before: even areas cost next to nothing.
    void staysSmall() {
        Picture shape;
        shape.width = 3000, shape.height = 2000, shape.bands = 3, shape.dotsPerInch = 300;
        QTemporaryDir folder;
        const std::filesystem::path path = folder.filePath("p.png").toStdString();
        QVERIFY(encodePng(shape, path, [](std::size_t row, std::span<std::byte> out) {
                    for (std::size_t i = 0; i < out.size(); ++i)
                        out[i] = std::byte((i / 90 + row / 40) % 7 * 30);
                    return Result<void>();
                }).has_value());
        QVERIFY(std::filesystem::file_size(path) < 3000 * 2000 * 3 / 80);
    }

    void endsWhereRowsEnd() {
        Picture shape;
        shape.width = 100, shape.height = 100, shape.bands = 3, shape.dotsPerInch = 72;
        QTemporaryDir folder;
        const std::filesystem::path path = folder.filePath("p.png").toStdString();
        const auto stop = [](std::size_t row, std::span<std::byte>) {
            return row < 50 ? Result<void>()
                            : Result<void>(Error{ErrorCode::Cancelled, "x", "y", ""});
        };
        const auto done = encodePng(shape, path, stop);
        QVERIFY(!done && done.error().code == ErrorCode::Cancelled);
        QVERIFY(!encodePng(shape, "/no/such/folder/p.png", stop));
        QVERIFY(!encodePng(shape, "/dev/full", [](std::size_t, std::span<std::byte> out) {
            std::fill(out.begin(), out.end(), std::byte{1});
            return Result<void>();
        }));
        shape.bytesPerValue = 2;
        QVERIFY(!isPaperPng(shape));
    }
};

QTEST_GUILESS_MAIN(PaperPngTest)
#include "paper_png_test.moc"
