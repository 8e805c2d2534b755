#include "app/widgets/light_shelf.h"

#include <QGridLayout>
#include <QMenu>

#include "carto/relief.h"
#include "core/crs/transformation.h"
#include "document/edits/light_edits.h"

namespace ledge::app {
namespace {
constexpr int kWidth = 74, kHeight = 52, kColumns = 3;
// So much of the map is shown at most: more would be too small to tell lights apart.
constexpr double kMostMm = 60;

// The middle of what the map shows of the terrain.
void lookAtTerrain(carto::MapFrame& frame, const RasterInfo& terrain) {
    frame.pxPerMm = frame.widthPx / kMostMm;
    const auto way = crs::Transformation::between(terrain.crs, frame.crs);
    if (!way) return;
    carto::MapFrame map = frame;  // as wide and high as maps on screens are
    map.widthPx *= 3, map.heightPx *= 3;
    const Box shown = map.extent().intersected(way->forward(terrain.extent()));
    if (shown.isEmpty() || !(shown.width() > 0) || !(shown.height() > 0)) return;
    frame.view.centre = shown.centre();
    const double fits = std::min(shown.width() / (frame.widthPx * frame.unitsPerPx()),
                                 shown.height() / (frame.heightPx * frame.unitsPerPx()));
    frame.view.scale *= std::min(1.0, fits);
}
}  // namespace

LightShelf::LightShelf(QWidget* parent) : QWidget(parent) {
    setObjectName("lightShelf");
    setAccessibleName(tr("Kept lights"));
    auto* grid = new QGridLayout(this);
    grid->setContentsMargins(0, 0, 0, 0);
    grid->setSpacing(6);
    grid->setColumnStretch(kColumns, 1);
}

void LightShelf::rebuild(const std::vector<terrain::Light>& lights) {
    m_lights = lights;
    auto* grid = static_cast<QGridLayout*>(layout());
    for (QToolButton* button : m_buttons) button->hide(), button->deleteLater();
    m_buttons.clear();
    for (std::size_t i = 0; i < lights.size(); ++i) {
        auto* button = new QToolButton;
        button->setToolButtonStyle(Qt::ToolButtonTextUnderIcon);
        button->setIconSize(QSize(kWidth, kHeight));
        button->setText(QString::fromStdString(doc::lightNumbers(lights[i])));
        button->setAccessibleName(tr("Light from %1 degrees at %2 degrees")
                                      .arg(lights[i].azimuth)
                                      .arg(lights[i].altitude));
        button->setToolTip(tr("Use this light; the menu key or right click removes it"));
        button->setContextMenuPolicy(Qt::CustomContextMenu);
        connect(button, &QToolButton::clicked, this, [this, i] { Q_EMIT chosen(m_lights[i]); });
        connect(button, &QWidget::customContextMenuRequested, this, [this, i, button] {
            QMenu menu(this);
            menu.addAction(tr("Remove from the shelf"), this,
                           [this, i] { Q_EMIT removed(static_cast<int>(i)); });
            menu.exec(button->mapToGlobal(QPoint(4, button->height())));
        });
        grid->addWidget(button, static_cast<int>(i) / kColumns, static_cast<int>(i) % kColumns);
        m_buttons.push_back(button);
    }
}

void LightShelf::show(const doc::HillshadeStyle& style, const doc::SourceRef& source,
                      const crs::CrsPtr& crs, const doc::MapView& view,
                      const std::shared_ptr<const doc::DrawingData>& sources) {
    if (style.kept != m_lights) rebuild(style.kept);
    setVisible(!m_lights.empty());
    if (m_lights.empty()) return;
    const double ratio = devicePixelRatioF();
    carto::MapFrame frame;
    frame.crs = crs;
    frame.view = view;
    frame.widthPx = qRound(kWidth * ratio), frame.heightPx = qRound(kHeight * ratio);
    m_worker.start([this, style, source, frame, sources, ratio](const std::stop_token& stop) {
        const auto pyramid = sources->raster(source);
        if (!pyramid) return;
        auto near = frame;
        lookAtTerrain(near, (*pyramid)->source().info());
        const auto heights = carto::frameHeights(**pyramid, near, Resampling::Bilinear, {stop, {}});
        if (!heights) return;
        for (std::size_t i = 0; i < style.kept.size(); ++i) {
            doc::HillshadeStyle one = style;
            one.lights = {style.kept[i]};
            auto picture =
                carto::plainShade(*heights, near, one, doc::metresPerHeight(source), {}, stop);
            if (!picture) return;
            picture->setDevicePixelRatio(ratio);
            QMetaObject::invokeMethod(this, [this, i, image = *picture, light = style.kept[i]] {
                if (i < m_lights.size() && m_lights[i] == light)
                    m_buttons[i]->setIcon(QPixmap::fromImage(image));
            });
        }
    });
}

}  // namespace ledge::app
