#pragma once
#include <QImage>
#include <QObject>

#include "app/canvas/latest_worker.h"
#include "app/settling.h"
#include "app/workspace.h"
#include "carto/map_frame.h"

namespace ledge::app {

/// The outlines of the features that are picked, over the map: drawn by a worker, shown where the
/// map moves to until they are drawn anew.
class PickedOverlay : public QObject {
    Q_OBJECT

public:
    explicit PickedOverlay(Workspace& workspace, QObject* parent = nullptr);
    /// What the map shows is another frame.
    void follow(const carto::MapFrame& frame);
    /// Features that answer a question, lightly outlined beside those picked; none with source 0.
    void setAnswer(doc::Id source, std::vector<FeatureKey> keys);
    const QImage& picture() const { return m_picture; }
    const carto::MapFrame& frame() const { return m_frame; }

Q_SIGNALS:
    void changed();

private:
    void draw();

    Workspace& m_workspace;
    doc::Id m_answerOf = 0;
    std::vector<FeatureKey> m_answer;
    QImage m_picture;
    carto::MapFrame m_frame, m_wanted;
    Settling m_later{60};   ///< ms
    LatestWorker m_worker;  // last: ends before what it draws for
};

}  // namespace ledge::app
