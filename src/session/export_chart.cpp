#include "session/export_chart.h"

#include <QImage>
#include <QSvgGenerator>

#include "core/base/numbers.h"
#include "io/files/atomic_file.h"
#include "session/checked_file.h"

namespace ledge::session {
namespace {
constexpr int kDpi = 300;
constexpr double kPxPerMm = kDpi / 25.4;
}  // namespace

Result<void> exportChart(carto::ProfileChart chart, const QString& title,
                         const std::filesystem::path& path) {
    const std::string suffix = lowered(path.extension().string());
    if (suffix != ".svg" && suffix != ".png")
        return Error{ErrorCode::Unsupported, path.string(), "cannot be written as " + suffix,
                     "use .svg, .png or .csv"};
    const QSize size(qRound(180 * kPxPerMm), qRound(60 * kPxPerMm));
    const QRectF room = QRectF(QPointF(0, 0), size).adjusted(20, 20, -20, -20);
    chart.marked = carto::ProfileChart::kNoMark;
    io::AtomicFile file(path);
    CheckedFile out(file.temporary());
    if (!out.begin())
        return io::ioFailure(path, "could not be created",
                             "check that the folder exists and can be written");
    bool isDone = true;
    if (suffix == ".svg") {
        QSvgGenerator drawing;
        drawing.setOutputDevice(&out);
        drawing.setSize(size);
        drawing.setViewBox(QRect(QPoint(0, 0), size));
        drawing.setResolution(kDpi);
        drawing.setTitle(title);
        QPainter painter(&drawing);
        carto::paintProfileChart(painter, room, chart, kPxPerMm);
        isDone = painter.end();
    } else {
        QImage picture(size, QImage::Format_RGB32);
        picture.fill(Qt::white);
        QPainter painter(&picture);
        carto::paintProfileChart(painter, room, chart, kPxPerMm);
        painter.end();
        isDone = picture.save(&out, "PNG");
    }
    if (const auto done = out.finish(path); !done) return done;
    if (!isDone) return io::writeFailure(path, {});
    return file.commit();
}

}  // namespace ledge::session
