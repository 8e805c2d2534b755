#include "session/overview_store.h"

#include <QTemporaryDir>
#include <QTest>
#include <cmath>
#include <fstream>

#include "core/raster/pyramid.h"
#include "core/raster/typed_raster.h"
#include "session/derive/lineage.h"

using namespace ledge;
using namespace ledge::session;
namespace fs = std::filesystem;

namespace {
// Larger than memory would like, computed instead of stored.
class Waves final : public TypedRaster<Waves> {
public:
    Waves() {
        m_info.width = 9000, m_info.height = 8000;
        m_info.bands = {{CellType::Int16, -9999.0, "metre"}};
        m_info.toWorld = {1, 0, 0, 0, -1, 0};
    }
    const RasterInfo& info() const override { return m_info; }

private:
    friend class TypedRaster<Waves>;
    template <typename T>
    static Result<void> readAs(int, CellWindow w, BlockView<T> out) {
        for (std::size_t r = 0; r < out.rows(); ++r)
            for (std::size_t c = 0; c < out.cols(); ++c)
                out(r, c) = T((w.row + std::int64_t(r)) / 16 + (w.col + std::int64_t(c)) / 32);
        return {};
    }
    RasterInfo m_info;
};
}  // namespace

/// Reduced copies of large rasters, kept apart from them.
class OverviewStoreTest : public QObject {
    Q_OBJECT

private slots:
    void keepsCopiesUntilTheFileChanges() {
        QTemporaryDir dir;
        const fs::path folder = fs::path(dir.path().toStdString());
        const fs::path file = folder / "waves.tif";
        std::ofstream(file) << "first";
        const OverviewStore store(folder / "kept");
        const RasterPtr raster = std::make_shared<Waves>();
        QVERIFY(OverviewStore::wants(*raster));
        QCOMPARE(store.attached(raster, file), raster);
        double last = 0;
        const auto done =
            store.build(raster, file, {{}, [&](double share) { last = std::max(last, share); }});
        QVERIFY2(done.has_value(), done ? "" : done.error().text().c_str());
        QVERIFY(last > 0.9);
        const auto with = store.attached(raster, file);
        QVERIFY(with != raster);
        QVERIFY(!OverviewStore::wants(*with));
        const Pyramid pyramid(with, 0, 0);
        QVERIFY(pyramid.hasOverviews());
        const auto cells = pyramid.read(3, {500, 300, 4, 4});
        QVERIFY(cells.has_value());
        // Means of steps of 16 rows and 32 columns.
        QVERIFY(std::abs((*cells)(0, 0) - (300 * 8 / 16 + 500 * 8 / 32)) < 1e-3F);
        // Numbers still come from the file itself.
        QCOMPARE(valueAt(*with, 0, {40.5, -20.5}), 2.0);

        std::ofstream(file) << "changed since";
        QCOMPARE(store.attached(raster, file), raster);
    }

    void leavesNothingBehindWhenStopped() {
        QTemporaryDir dir;
        const fs::path folder = fs::path(dir.path().toStdString());
        std::ofstream(folder / "a.tif") << "a";
        const OverviewStore store(folder / "kept");
        std::stop_source stop;
        const auto done = store.build(std::make_shared<Waves>(), folder / "a.tif",
                                      {stop.get_token(), [&](double share) {
                                           if (share > 0.3) stop.request_stop();
                                       }});
        QVERIFY(!done && done.error().code == ErrorCode::Cancelled);
        QVERIFY(fs::is_empty(folder / "kept"));
    }

    void makesRoomForNewCopies() {
        QTemporaryDir dir;
        const fs::path folder = fs::path(dir.path().toStdString());
        const fs::path kept = folder / "kept";
        fs::create_directories(kept);
        for (const int hours : {1, 2, 3}) {
            const auto copy = kept / (std::to_string(hours) + ".tif");
            std::ofstream(copy) << std::string(1000, 'x');
            fs::last_write_time(copy, fs::file_time_type::clock::now() - std::chrono::hours(hours));
        }
        std::ofstream(folder / "a.tif") << "a";
        std::stop_source stop;
        stop.request_stop();
        const OverviewStore store(kept, 2100);
        (void)store.build(std::make_shared<Waves>(), folder / "a.tif", {stop.get_token(), {}});
        QVERIFY(fs::exists(kept / "1.tif") && fs::exists(kept / "2.tif"));
        QVERIFY(!fs::exists(kept / "3.tif"));  // the longest unused
    }

    void saysWhereItCannotBeKept() {
        QTemporaryDir dir;
        const fs::path folder = fs::path(dir.path().toStdString());
        std::ofstream(folder / "file") << "in the way";
        std::ofstream(folder / "a.tif") << "a";
        const auto done = OverviewStore(folder / "file" / "kept")
                              .build(std::make_shared<Waves>(), folder / "a.tif", {});
        QVERIFY(!done && !done.error().mend.empty());
    }
};

QTEST_GUILESS_MAIN(OverviewStoreTest)
#include "overview_store_test.moc"
