#include "app/benches/ramp_editor.h"

#include <QMouseEvent>
#include <QPainter>
#include <QSignalBlocker>
#include <cmath>

#include "app/theme.h"
#include "carto/swatch.h"
#include "carto/text.h"
#include "core/base/numbers.h"

namespace ledge::app {

namespace {
constexpr int kIconWidth = 56, kIconHeight = 12;
}  // namespace

QIcon familyIcon(const Ramp& ramp) {
    QIcon out;
    for (const double ratio : {1.0, 2.0}) {
        QPixmap pixmap(QSize(kIconWidth, kIconHeight) * ratio);
        pixmap.fill(Qt::white);
        QPainter painter(&pixmap);
        painter.scale(ratio, ratio);
        carto::drawRamp(painter, QRectF(0, 0, kIconWidth, kIconHeight), ramp);
        painter.end();
        pixmap.setDevicePixelRatio(ratio);
        out.addPixmap(pixmap);
    }
    return out;
}

// The ramp between its limits, with a grip at each end and at each stop that is dragged; what lies
// beyond the limits is shown at either side, and how light the colours are as a line.
class RampEditor::Strip : public QWidget {
public:
    explicit Strip(RampEditor& editor) : m_editor(editor) {
        setFixedHeight(kRampPx + kGripPx + kCurvePx);
        setAccessibleName(RampEditor::tr("Ramp"));
        setToolTip(RampEditor::tr("Drag the ends to set the limits, the stops between to move "
                                  "them; the line shows how light the colours are"));
        setMouseTracking(true);
    }
    Ramp ramp;

protected:
    void paintEvent(QPaintEvent*) override {
        QPainter painter(this);
        painter.setRenderHint(QPainter::Antialiasing);
        const QRectF bar(0, 0, width(), kRampPx);
        for (int x = 0; x < width(); ++x)
            painter.fillRect(x, 0, 1, kRampPx, carto::qt(ramp.at(valueAt(x))));
        painter.setPen(theme().line);
        painter.drawRoundedRect(bar.adjusted(0, 0, -1, -1), 4, 4);
        painter.setPen(QPen(theme().muted, 0.8));
        QPolygonF curve;
        for (int x = 0; x < width(); x += 2) {
            const double light = toOkLab(ramp.at(valueAt(x))).lightness;
            curve << QPointF(x, kRampPx + kGripPx + kCurvePx - 1 - light * (kCurvePx - 2));
        }
        painter.drawPolyline(curve);
        for (std::size_t i = 0; i < ramp.stops.size(); ++i) {
            const bool isEnd = i == 0 || i + 1 == ramp.stops.size();
            const double x = xOf(ramp.stops[i].value), r = isEnd ? 5 : 3.2;
            painter.setBrush(isEnd ? theme().indigo : theme().muted);
            painter.setPen(QPen(Qt::white, 1));
            painter.drawPolygon(QPolygonF(
                {{x, kRampPx - 2.0}, {x + r, kRampPx + r * 1.5}, {x - r, kRampPx + r * 1.5}}));
        }
    }
    void mousePressEvent(QMouseEvent* event) override {
        m_dragged = stopAt(event->position().x());
        m_before = ramp;
    }
    void mouseMoveEvent(QMouseEvent* event) override {
        if (!(event->buttons() & Qt::LeftButton) || m_dragged >= ramp.stops.size()) {
            setCursor(stopAt(event->position().x()) < ramp.stops.size() ? Qt::SizeHorCursor
                                                                        : Qt::ArrowCursor);
            return;
        }
        const double x = event->position().x(), span = m_before.high() - m_before.low();
        const double step = roundDownTo125(span > 0 ? span / 200 : 0.005);
        const double value = std::round(valueIn(m_before, x) / step) * step;
        m_isMoving = m_editor.m_isDragging = true;
        if (m_dragged == 0) {
            if (value < m_before.high()) m_editor.setLimits(value, m_before.high());
        } else if (m_dragged + 1 == m_before.stops.size()) {
            if (value > m_before.low()) m_editor.setLimits(m_before.low(), value);
        } else {
            Ramp next = m_before;
            const double low = next.stops[m_dragged - 1].value,
                         high = next.stops[m_dragged + 1].value;
            next.stops[m_dragged].value = std::clamp(value, low, high);
            Q_EMIT m_editor.edited(next, "");
        }
        update();
    }
    void mouseReleaseEvent(QMouseEvent*) override {
        m_dragged = SIZE_MAX;
        if (m_isMoving) Q_EMIT m_editor.settled();
        m_isMoving = m_editor.m_isDragging = false;
        update();
    }

private:
    static constexpr int kRampPx = 22, kGripPx = 9, kCurvePx = 16;
    static constexpr double kBeyond = 0.08;  // of the width on either side
    // While a limit is dragged the strip keeps its measure.
    const Ramp& measure() const { return m_isMoving ? m_before : ramp; }
    double valueIn(const Ramp& by, double x) const {
        const double share = (x / width() - kBeyond) / (1 - 2 * kBeyond);
        return by.low() + (by.high() - by.low()) * share;
    }
    double valueAt(double x) const { return valueIn(measure(), x); }
    double xOf(double value) const {
        const Ramp& by = measure();
        const double span = by.high() - by.low();
        const double share = span > 0 ? (value - by.low()) / span : 0;
        return (kBeyond + share * (1 - 2 * kBeyond)) * width();
    }
    std::size_t stopAt(double x) const {
        std::size_t best = SIZE_MAX;
        double least = 8;
        for (std::size_t i = 0; i < ramp.stops.size(); ++i)
            if (const double away = std::abs(xOf(ramp.stops[i].value) - x); away < least)
                least = away, best = i;
        return best;
    }
    RampEditor& m_editor;
    Ramp m_before;
    std::size_t m_dragged = SIZE_MAX;
    bool m_isMoving = false;
};

RampEditor::RampEditor(QWidget* parent)
    : QWidget(parent), m_strip(new Strip(*this)), m_families(makeChoice(tr("Colours"), {})),
      m_grey(makeButton(tr("Plain grey"), tr("From dark to light, without colours"))),
      m_stops(new RampStops), m_low(makeNumber(tr("Lower limit"), -1e12, 1e12, 2)),
      m_high(makeNumber(tr("Upper limit"), -1e12, 1e12, 2)) {
    m_families->setPlaceholderText(tr("own colours"));
    m_low->setObjectName("rampLow");
    m_high->setObjectName("rampHigh");
    // As wide as there is room, not as the largest number they could hold.
    for (QDoubleSpinBox* limit : {m_low, m_high})
        limit->setSizePolicy(QSizePolicy::Ignored, QSizePolicy::Fixed);
    auto* flip = makeButton(tr("Flip"), tr("The same colours the other way round"));
    flip->setObjectName("flipRamp");
    auto* layout = new QVBoxLayout(this);
    layout->setContentsMargins(0, 0, 0, 0);
    layout->setSpacing(8);
    layout->addWidget(m_strip);
    layout->addWidget(sideBySide({captioned(tr("From"), m_low), captioned(tr("To"), m_high)}));
    layout->addWidget(m_families);
    layout->addWidget(sideBySide({flip, m_grey}));
    auto* stops = new QCheckBox(tr("Change its stops"));
    stops->setObjectName("showsStops");
    stops->setToolTip(tr("Values and colours one by one"));
    layout->addWidget(stops);
    layout->addWidget(m_stops);
    m_stops->hide();
    m_families->setObjectName("rampFamily");
    m_families->setIconSize(QSize(kIconWidth, kIconHeight));
    m_grey->setObjectName("plainGrey");
    connect(stops, &QCheckBox::toggled, m_stops, &QWidget::setVisible);
    connect(m_stops, &RampStops::edited, this,
            [this](const Ramp& ramp) { Q_EMIT edited(ramp, ""); });
    connect(m_stops, &RampStops::refused, this, &RampEditor::refused);
    connect(m_grey, &QPushButton::clicked, this,
            [this] { Q_EMIT edited(made(kGreyRamp, m_ramp.low(), m_ramp.high()), kGreyRamp); });
    connect(flip, &QPushButton::clicked, this,
            [this] { Q_EMIT edited(m_ramp.flipped(), m_family); });
    connect(m_families, &QComboBox::activated, this, [this] {
        const std::string family = m_families->currentData().toString().toStdString();
        Q_EMIT edited(made(family, m_ramp.low(), m_ramp.high()), family);
    });
    const auto limits = [this] {
        if (m_low->value() < m_high->value()) return setLimits(m_low->value(), m_high->value());
        Q_EMIT refused(tr("The lower limit of a ramp must be below its upper one"));
        show(m_ramp, m_family, m_isTint);
    };
    connect(m_low, &QDoubleSpinBox::valueChanged, this, limits);
    connect(m_high, &QDoubleSpinBox::valueChanged, this, limits);
}

// Tints are rebuilt, so that the shore stays at 0; other ramps stretch.
void RampEditor::setLimits(double low, double high) {
    Q_EMIT edited(m_isTint && !m_family.empty() ? made(m_family, low, high)
                                                : m_ramp.stretched(low, high),
                  m_family);
}

Ramp RampEditor::made(const std::string& family, double low, double high) const {
    return m_isTint ? heightTint(family, low, high) : rampOf(family, low, high);
}

void RampEditor::fillFamilies(bool isTint) {
    if (m_hasFamilies && isTint == m_isTint) return;
    m_isTint = isTint;
    m_hasFamilies = true;
    m_families->clear();
    const auto add = [this](const std::string& id, const std::string& name) {
        m_families->addItem(familyIcon(made(id, 0, 1)), QString::fromStdString(name),
                            QString::fromStdString(id));
    };
    if (isTint)
        for (const TintFamily& f : tintFamilies()) add(f.id, f.name);
    else
        for (const RampFamily& f : rampFamilies()) add(f.id, f.name);
}

void RampEditor::show(const Ramp& ramp, const std::string& family, bool isTint) {
    fillFamilies(isTint);
    m_ramp = ramp;
    m_family = family;
    m_strip->ramp = ramp;
    m_strip->update();
    showChoice(m_families, m_families->findData(QString::fromStdString(family)));
    // Steps and decimals by what the ramp spans: an index from -1 to 1 and heights alike.
    const double span = ramp.high() - ramp.low();
    const double step = roundDownTo125(span > 0 ? span / 20 : 1);
    const int decimals = std::clamp(1 - static_cast<int>(std::floor(std::log10(step))), 0, 9);
    for (QDoubleSpinBox* box : {m_low, m_high}) {
        const QSignalBlocker quiet(box);
        box->setDecimals(std::max(2, decimals));
        box->setSingleStep(step);
    }
    showNumber(m_low, ramp.low());
    showNumber(m_high, ramp.high());
    m_stops->show(ramp, std::max(2, decimals), step);
}

}  // namespace ledge::app
