#pragma once
#include <QImage>
#include <QToolButton>
#include <QWidget>

#include "app/canvas/latest_worker.h"
#include "carto/map_frame.h"
#include "document/drawing_data.h"

namespace ledge::app {

/// Lights kept side by side, each a small live picture of the terrain in view.
class LightShelf : public QWidget {
    Q_OBJECT

public:
    explicit LightShelf(QWidget* parent = nullptr);
    /// Draws the kept lights of a hillshade where the map looks.
    void show(const doc::HillshadeStyle& style, const doc::SourceRef& source,
              const crs::CrsPtr& crs, const doc::MapView& view,
              const std::shared_ptr<const doc::DrawingData>& sources);

Q_SIGNALS:
    void chosen(const ledge::terrain::Light& light);
    void removed(int index);

private:
    void rebuild(const std::vector<terrain::Light>& lights);

    std::vector<terrain::Light> m_lights;
    std::vector<QToolButton*> m_buttons;
    LatestWorker m_worker;
};

}  // namespace ledge::app
