#include "app/canvas/sheet_canvas.h"

#include <QMouseEvent>
#include <QPainter>

#include "app/theme.h"
#include "core/base/numbers.h"
#include "document/edits/sheet_edits.h"

namespace ledge::app {
namespace {
constexpr double kMarginPx = 28;
constexpr double kReachPx = 6;
}  // namespace

Grip gripAt(const doc::PageRect& r, QPointF p, double reach) {
    Grip out;
    const double right = r.left + r.width, bottom = r.top + r.height;
    if (p.x() < r.left - reach || p.x() > right + reach || p.y() < r.top - reach ||
        p.y() > bottom + reach)
        return out;
    if (std::abs(p.x() - r.left) <= reach)
        out.horizontal = -1;
    else if (std::abs(p.x() - right) <= reach)
        out.horizontal = 1;
    if (std::abs(p.y() - r.top) <= reach)
        out.vertical = -1;
    else if (std::abs(p.y() - bottom) <= reach)
        out.vertical = 1;
    out.isInside = true;
    return out;
}

doc::PageRect dragged(const doc::PageRect& r, const Grip& grip, QPointF by, double least) {
    doc::PageRect out = r;
    if (!grip.isHandle()) {
        out.left += by.x(), out.top += by.y();
        return out;
    }
    if (grip.horizontal < 0) {
        out.width = std::max(least, r.width - by.x());
        out.left = r.left + r.width - out.width;
    } else if (grip.horizontal > 0) {
        out.width = std::max(least, r.width + by.x());
    }
    if (grip.vertical < 0) {
        out.height = std::max(least, r.height - by.y());
        out.top = r.top + r.height - out.height;
    } else if (grip.vertical > 0) {
        out.height = std::max(least, r.height + by.y());
    }
    return out;
}

doc::PageRect snapped(doc::PageRect r, const Grip& grip, const doc::Sheet& sheet, doc::Id item,
                      double reach) {
    std::vector<double> xs{0, sheet.widthMm}, ys{0, sheet.heightMm};
    for (const doc::SheetItem& other : sheet.items) {
        if (other.id == item || other.isHidden) continue;
        xs.insert(xs.end(), {other.rect.left, other.rect.left + other.rect.width});
        ys.insert(ys.end(), {other.rect.top, other.rect.top + other.rect.height});
    }
    const auto nearest = [reach](const std::vector<double>& guides, double v) {
        double best = reach, shift = 0;
        for (const double g : guides)
            if (std::abs(g - v) < best) best = std::abs(g - v), shift = g - v;
        return shift;
    };
    const auto settle = [&](double& start, double& length, int side,
                            const std::vector<double>& guides) {
        if (!grip.isHandle()) {
            const double atStart = nearest(guides, start), atEnd = nearest(guides, start + length);
            start += atStart != 0 ? atStart : atEnd;
        } else if (side < 0) {
            const double shift = nearest(guides, start);
            start += shift, length -= shift;
        } else if (side > 0) {
            length += nearest(guides, start + length);
        }
    };
    settle(r.left, r.width, grip.horizontal, xs);
    settle(r.top, r.height, grip.vertical, ys);
    return r;
}

SheetCanvas::SheetCanvas(Workspace& workspace, QWidget* parent)
    : QWidget(parent), m_workspace(workspace),
      m_renderers(std::make_shared<std::map<doc::Id, carto::MapRenderer>>()) {
    setObjectName("sheetCanvas");
    setAccessibleName(tr("Sheet"));
    setMouseTracking(true);
    setFocusPolicy(Qt::StrongFocus);
    connect(&workspace.session(), &session::Session::changed, this,
            [this](const doc::Change& change) {
                const bool isOfOthers = !change.touchesMap() && !change.isOther &&
                                        change.profiles.empty() &&
                                        !change.sheets.contains(m_workspace.sheetId());
                if (!isOfOthers) redraw();
            });
    connect(&workspace.session(), &session::Session::replaced, this,
            [this] { m_renderers = std::make_shared<std::map<doc::Id, carto::MapRenderer>>(); });
    connect(&workspace, &Workspace::canvasChanged, this, [this] {
        m_zoom = 1;
        m_shift = {};
        redraw();
    });
    connect(&workspace, &Workspace::itemSelected, this, qOverload<>(&QWidget::update));
}

double SheetCanvas::pxPerMm() const {
    const doc::Sheet* sheet = m_workspace.sheet();
    if (!sheet) return 1;
    const double fit = std::min((width() - 2 * kMarginPx) / sheet->widthMm,
                                (height() - 2 * kMarginPx) / sheet->heightMm);
    return std::max(0.1, fit * m_zoom);
}

QPointF SheetCanvas::pageOrigin() const {
    const doc::Sheet* sheet = m_workspace.sheet();
    if (!sheet) return {};
    return QPointF(width() - sheet->widthMm * pxPerMm(), height() - sheet->heightMm * pxPerMm()) /
               2 +
           m_shift;
}
QPointF SheetCanvas::toWidget(QPointF mm) const { return pageOrigin() + mm * pxPerMm(); }
QPointF SheetCanvas::toPage(QPointF widget) const { return (widget - pageOrigin()) / pxPerMm(); }

void SheetCanvas::redraw() {
    if (!isVisible() || !m_workspace.sheet()) return update();
    m_isStale = true;
    const int generation = ++m_generation;
    const double scale = pxPerMm() * devicePixelRatioF();
    m_worker.start([this, generation, scale, sheetId = m_workspace.sheetId(),
                    renderers = m_renderers, snapshot = m_workspace.session().snapshot(),
                    sources = m_workspace.session().sources()](const std::stop_token& stop) {
        const doc::Sheet* sheet = snapshot->sheet(sheetId);
        if (!sheet) return;
        QImage page(QSize(qRound(sheet->widthMm * scale), qRound(sheet->heightMm * scale)),
                    QImage::Format_ARGB32_Premultiplied);
        if (page.isNull()) return;
        page.fill(Qt::white);
        QPainter painter(&page);
        carto::MapReport report;
        const auto done = carto::paintSheet(
            painter, *snapshot, *sheet, scale, *sources,
            [&](QPainter& p, const doc::SheetItem& item,
                const carto::MapFrame& frame) -> Result<void> {
                auto& renderer = renderers->try_emplace(item.id, sources).first->second;
                const auto picture = renderer.picture(
                    *snapshot, carto::panelLayers(*snapshot, *item.as<doc::MapPanel>()), frame,
                    {stop, {}}, report);
                if (!picture) return picture.error();
                p.drawImage(0, 0, *picture);
                return {};
            });
        painter.end();
        if (!done || stop.stop_requested()) return;
        QMetaObject::invokeMethod(this, [this, page, sheetId, generation] {
            m_page = page;
            m_pageOf = sheetId;
            if (generation == m_generation) m_isStale = false;
            update();
            Q_EMIT drawn();
        });
    });
}

void SheetCanvas::paintEvent(QPaintEvent*) {
    QPainter painter(this);
    painter.fillRect(rect(), theme().isDark ? QColor("#14162A") : QColor("#DFE0EC"));
    const doc::Sheet* sheet = m_workspace.sheet();
    if (!sheet) return;
    painter.setRenderHint(QPainter::Antialiasing);
    const QRectF page(pageOrigin(), QSizeF(sheet->widthMm, sheet->heightMm) * pxPerMm());
    painter.fillRect(page.translated(4, 4), QColor(35, 38, 90, 50));
    painter.fillRect(page, Qt::white);
    if (!m_page.isNull() && m_pageOf == sheet->id) {
        painter.setRenderHint(QPainter::SmoothPixmapTransform);
        painter.drawImage(page, m_page);
    }
    const doc::SheetItem* item = m_workspace.item();
    if (!item) return;
    const QRectF box(toWidget({item->rect.left, item->rect.top}),
                     QSizeF(item->rect.width, item->rect.height) * pxPerMm());
    painter.setBrush(Qt::NoBrush);
    painter.setPen(QPen(QColor("#F6F6FB"), 3));
    painter.drawRect(box);
    painter.setPen(QPen(theme().lichen, 1.4));
    painter.drawRect(box);
    if (item->isLocked) return;
    painter.setBrush(Qt::white);
    for (const double u : {0.0, 0.5, 1.0})
        for (const double v : {0.0, 0.5, 1.0})
            if (u != 0.5 || v != 0.5)
                painter.drawRect(QRectF(box.left() + box.width() * u - 3,
                                        box.top() + box.height() * v - 3, 6, 6));
}

void SheetCanvas::resizeEvent(QResizeEvent*) { redraw(); }
void SheetCanvas::showEvent(QShowEvent*) { redraw(); }

void SheetCanvas::wheelEvent(QWheelEvent* event) {
    const QPointF beneath = toPage(event->position());
    m_zoom = std::clamp(m_zoom * std::pow(1.2, event->angleDelta().y() / 120.0), 0.5, 12.0);
    m_shift += event->position() - toWidget(beneath);
    redraw();
    update();
}

void SheetCanvas::mousePressEvent(QMouseEvent* event) {
    setFocus();
    const doc::Sheet* sheet = m_workspace.sheet();
    if (!sheet || event->button() != Qt::LeftButton) return;
    const QPointF mm = toPage(event->position());
    const double reach = kReachPx / pxPerMm();
    m_grip = {};
    // The selected item's handles come first, then whatever is on top.
    if (const auto* item = m_workspace.item(); item && !item->isLocked)
        m_grip = gripAt(item->rect, mm, reach);
    if (!m_grip.isInside || !m_grip.isHandle()) {
        const doc::SheetItem* hit = nullptr;
        for (const doc::SheetItem& item : sheet->items)
            if (!item.isHidden && gripAt(item.rect, mm, 0).isInside) {
                hit = &item;
                break;
            }
        m_workspace.selectItem(hit ? hit->id : 0);
        m_grip = {hit != nullptr && !hit->isLocked, 0, 0};
        if (hit) m_workspace.setBench(Bench::Sheet);
    }
    m_pressedAt = mm;
    if (const auto* item = m_workspace.item()) m_rectAtPress = item->rect;
}

void SheetCanvas::mouseMoveEvent(QMouseEvent* event) {
    const QPointF mm = toPage(event->position());
    const auto* item = m_workspace.item();
    if (!(event->buttons() & Qt::LeftButton)) {
        const Grip over =
            item && !item->isLocked ? gripAt(item->rect, mm, kReachPx / pxPerMm()) : Grip{};
        setCursor(
            !over.isHandle() ? Qt::ArrowCursor
            : over.horizontal != 0 && over.vertical != 0
                ? (over.horizontal == over.vertical ? Qt::SizeFDiagCursor : Qt::SizeBDiagCursor)
            : over.horizontal != 0 ? Qt::SizeHorCursor
                                   : Qt::SizeVerCursor);
        return;
    }
    if (!item || !m_grip.isInside) return;
    doc::PageRect rect = dragged(m_rectAtPress, m_grip, mm - m_pressedAt);
    if (!(event->modifiers() & Qt::ShiftModifier))
        rect = snapped(rect, m_grip, *m_workspace.sheet(), item->id, kReachPx / pxPerMm());
    const auto round = [](double v) { return std::round(v * 10) / 10; };
    rect = {round(rect.left), round(rect.top), round(rect.width), round(rect.height)};
    place(rect);
}

void SheetCanvas::place(const doc::PageRect& r) {
    std::string rect;
    for (const double side : {r.left, r.top, r.width, r.height})
        rect += (rect.empty() ? "" : ",") + exactNumber(side);
    m_workspace.performOnItem("item-rect", {{"rect", rect}}, "rect");
}

void SheetCanvas::mouseReleaseEvent(QMouseEvent*) {
    m_grip = {};
    m_workspace.session().seal();
}

void SheetCanvas::keyPressEvent(QKeyEvent* event) {
    const auto* item = m_workspace.item();
    const double step = event->modifiers() & Qt::ShiftModifier ? 0.1 : 1;
    const auto move = [&](double x, double y) {
        doc::PageRect rect = item->rect;
        rect.left += x, rect.top += y;
        place(rect);
    };
    if (item && !item->isLocked) {
        switch (event->key()) {
        case Qt::Key_Left: return move(-step, 0);
        case Qt::Key_Right: return move(step, 0);
        case Qt::Key_Up: return move(0, -step);
        case Qt::Key_Down: return move(0, step);
        case Qt::Key_Delete: return void(m_workspace.performOnItem("item-remove", {}));
        default: break;
        }
    }
    if (event->key() == Qt::Key_Escape) return m_workspace.selectItem(0);
    if (event->key() == Qt::Key_Tab) return QWidget::keyPressEvent(event);
    QWidget::keyPressEvent(event);
}

}  // namespace ledge::app
