#pragma once
#include <QImage>
#include <QObject>

#include "session/job_runner.h"
#include "session/source_cache.h"

namespace ledge::session {

/// Band pictures in small, as the map shows them: the middle of the picture in its own CRS. One at
/// a time is drawn beside the interface; it is kept until its source or style changes.
class PhotoBook : public QObject {
    Q_OBJECT

public:
    explicit PhotoBook(std::shared_ptr<SourceCache> sources, QObject* parent = nullptr);

    /// The newest there is, to be asked for again at each ready(); null where there is none yet and
    /// where it cannot be drawn. The size is in device pixels.
    QImage photo(const doc::Layer& layer, const doc::SourceRef& source, QSize px);
    bool isDrawing() const { return m_drawers.isRunning(); }

Q_SIGNALS:
    void ready();

private:
    struct Known {
        doc::SourceRef source;
        doc::RasterStyle style;
        QSize px;
        QImage picture;
    };
    std::shared_ptr<SourceCache> m_sources;
    std::map<doc::Id, Known> m_known;
    JobRunner m_drawers;
};

/// Blocks. Errors: those of reading and drawing.
Result<QImage> drawPhoto(const std::shared_ptr<const SourceCache>& sources, const doc::Layer& layer,
                         const doc::SourceRef& source, QSize px, const Progress& progress);

}  // namespace ledge::session
