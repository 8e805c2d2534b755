#include "app/canvas/picked_overlay.h"

#include <QPainter>
#include <algorithm>
#include <array>

#include "app/theme.h"
#include "carto/vector_painter.h"
#include "session/source_cache.h"

namespace ledge::app {
namespace {
/// Features of a layer that are to be outlined.
struct Picked {
    doc::SourceRef source;
    std::vector<FeatureKey> keys, answer;
};
}  // namespace

PickedOverlay::PickedOverlay(Workspace& workspace, QObject* parent)
    : QObject(parent), m_workspace(workspace) {
    connect(&m_later, &QTimer::timeout, this, &PickedOverlay::draw);
    connect(&workspace, &Workspace::featuresPicked, &m_later, qOverload<>(&QTimer::start));
    connect(&workspace.session(), &session::Session::changed, this,
            [this](const doc::Change& change) {
                if (change.touchesMap()) m_later.start();
            });
    connect(&workspace.session(), &session::Session::replaced, this, [this] {
        m_picture = {};
        Q_EMIT changed();
    });
}

void PickedOverlay::follow(const carto::MapFrame& frame) {
    if (m_wanted == frame) return;
    m_wanted = frame;
    m_later.start();
}

void PickedOverlay::setAnswer(doc::Id source, std::vector<FeatureKey> keys) {
    std::sort(keys.begin(), keys.end());
    if (m_answerOf == source && m_answer == keys) return;
    m_answerOf = source;
    m_answer = std::move(keys);
    m_later.start();
}

void PickedOverlay::draw() {
    std::vector<Picked> all;
    for (const auto& one : doc::drawnLayers(m_workspace.document().layers)) {
        const auto* source = m_workspace.document().source(one.layer->source);
        if (!source || !one.layer->as<doc::VectorLayer>()) continue;
        const auto& keys = m_workspace.picked(source->id);
        std::vector<FeatureKey> answer;
        if (source->id == m_answerOf)
            std::set_difference(m_answer.begin(), m_answer.end(), keys.begin(), keys.end(),
                                std::back_inserter(answer));
        const auto isSame = [&](const Picked& p) { return p.source == *source; };
        if ((!keys.empty() || !answer.empty()) && std::none_of(all.begin(), all.end(), isSame))
            all.push_back({*source, keys, std::move(answer)});
    }
    if (all.empty()) {
        m_worker.cancel();
        m_picture = {};
        Q_EMIT changed();
        return;
    }
    m_worker.start([this, all = std::move(all), frame = m_wanted,
                    sources = m_workspace.session().sources()](const std::stop_token& stop) {
        if (frame.widthPx <= 0 || frame.heightPx <= 0) return;
        QImage picture(frame.widthPx, frame.heightPx, QImage::Format_ARGB32_Premultiplied);
        picture.fill(Qt::transparent);
        QPainter painter(&picture);
        for (const Picked& picked : all) {
            const auto features = sources->features(picked.source, frame.crs, frame.tolerance());
            if (!features) continue;
            const FeatureTable& table = *(*features)->table;
            // Outlines of what is tiny would hide one another and all beneath.
            const double dot = 2 * frame.mm(1) * frame.unitsPerPx();
            const Affine toPixels = frame.toPixels();
            std::array<QPolygonF, 2> dots;
            for (const std::size_t i : (*features)->index.meeting(frame.extent())) {
                if (stop.stop_requested()) return;
                const FeatureKey key = table.key(i);
                const bool isPicked =
                    std::binary_search(picked.keys.begin(), picked.keys.end(), key);
                if (!isPicked &&
                    !std::binary_search(picked.answer.begin(), picked.answer.end(), key))
                    continue;
                const auto of = isPicked ? carto::Outline::Picked : carto::Outline::Answer;
                const Box& box = table.box(i);
                const bool isDot = table.geometry(i).type != GeometryType::Point &&
                                   std::max(box.width(), box.height()) < dot;
                if (isDot)
                    dots[isPicked ? 1 : 0] << carto::qt(toPixels(box.centre()));
                else
                    carto::paintOutline(painter, frame, table.geometry(i), (*features)->seamsOf(i),
                                        of);
            }
            const double width = frame.mm(0.5);
            painter.setPen(QPen(theme().indigo, width));
            painter.drawPoints(dots[0]);
            painter.setPen(QPen(theme().lichen, width));
            painter.drawPoints(dots[1]);
        }
        painter.end();
        QMetaObject::invokeMethod(this, [this, picture, frame] {
            m_picture = picture;
            m_frame = frame;
            Q_EMIT changed();
        });
    });
}

}  // namespace ledge::app
