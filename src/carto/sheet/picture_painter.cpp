#include "carto/sheet/picture_painter.h"

#include <QFileInfo>
#include <QImageReader>
#include <QSvgRenderer>
#include <mutex>

namespace ledge::carto {
namespace {
constexpr double kMostPixels = 2e8;
constexpr qint64 kMostSvgBytes = 20'000'000;

QString pathOf(const std::filesystem::path& file) { return QString::fromStdString(file.string()); }

Error problem(ErrorCode code, const std::filesystem::path& file, std::string why,
              std::string mend) {
    return {code, file.filename().string(), std::move(why), std::move(mend)};
}

bool isSvg(const QString& path) {
    const QString suffix = QFileInfo(path).suffix().toLower();
    return suffix == "svg" || suffix == "svgz";
}

Result<void> checked(const std::filesystem::path& file) {
    if (file.empty())
        return problem(ErrorCode::NotFound, "picture", "no file is chosen", "choose one");
    const QFileInfo info(pathOf(file));
    if (!info.isFile())
        return problem(ErrorCode::NotFound, file, "is not there",
                       "choose the file where it is now");
    if (isSvg(info.filePath()) && info.size() > kMostSvgBytes)
        return problem(ErrorCode::LimitExceeded, file, "is a drawing of more than 20 MB",
                       "use a simpler one, or a picture of it");
    return {};
}

// The pictures drawn last, as their files were then; sheets are drawn many times.
Result<QImage> imageOf(const std::filesystem::path& file) {
    struct Kept {
        QString path;
        QDateTime modified;
        QImage image;
    };
    static std::mutex mutex;
    static std::vector<Kept> known;  // the latest first
    constexpr std::size_t kMost = 6;
    const QFileInfo info(pathOf(file));
    const std::lock_guard lock(mutex);
    for (auto it = known.begin(); it != known.end(); ++it)
        if (it->path == info.filePath() && it->modified == info.lastModified()) {
            std::rotate(known.begin(), it, it + 1);
            return known.front().image;
        }
    QImageReader reader(info.filePath());
    reader.setAutoTransform(true);
    const QSize size = reader.size();
    if (size.isValid() && double(size.width()) * size.height() > kMostPixels)
        return problem(ErrorCode::LimitExceeded, file, "has more than 200 million pixels",
                       "use a smaller copy");
    QImage image = reader.read();
    if (image.isNull())
        return problem(ErrorCode::Unsupported, file,
                       "is no picture that can be read: " + reader.errorString().toStdString(),
                       "use PNG, JPEG, TIFF or SVG");
    known.insert(known.begin(), {info.filePath(), info.lastModified(), image});
    if (known.size() > kMost) known.pop_back();
    return image;
}
}  // namespace

Result<PictureFacts> pictureFacts(const std::filesystem::path& file) {
    if (const auto fine = checked(file); !fine) return fine.error();
    if (isSvg(pathOf(file))) {
        const QSvgRenderer renderer(pathOf(file));
        if (!renderer.isValid())
            return problem(ErrorCode::Unsupported, file, "is no SVG drawing",
                           "choose another file");
        return PictureFacts{true, renderer.defaultSize()};
    }
    const auto image = imageOf(file);
    if (!image) return image.error();
    return PictureFacts{false, image->size()};
}

QRectF pictureRect(const QRectF& rect, QSizeF picture, const doc::PictureItem& item) {
    if (!item.keepsShape || picture.isEmpty()) return rect;
    const QSizeF size = picture.scaled(rect.size(), Qt::KeepAspectRatio);
    const double room = rect.width() - size.width();
    const double left = item.align == doc::Align::Left    ? 0
                        : item.align == doc::Align::Right ? room
                                                          : room / 2;
    return {rect.topLeft() + QPointF(left, (rect.height() - size.height()) / 2), size};
}

Result<void> paintPicture(QPainter& painter, const QRectF& rect, const doc::PictureItem& item) {
    if (const auto fine = checked(item.file); !fine) return fine;
    if (isSvg(pathOf(item.file))) {
        QSvgRenderer renderer(pathOf(item.file));
        if (!renderer.isValid())
            return problem(ErrorCode::Unsupported, item.file, "is no SVG drawing",
                           "choose another file");
        renderer.render(&painter, pictureRect(rect, renderer.defaultSize(), item));
        return {};
    }
    const auto image = imageOf(item.file);
    if (!image) return image.error();
    painter.save();
    painter.setRenderHint(QPainter::SmoothPixmapTransform);
    painter.drawImage(pictureRect(rect, image->size(), item), *image);
    painter.restore();
    return {};
}

}  // namespace ledge::carto
