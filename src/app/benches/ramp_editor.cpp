#include "app/benches/ramp_editor.h"

#include <QPainter>
#include <QSignalBlocker>
#include <cmath>

#include "app/theme.h"
#include "carto/swatch.h"
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

class RampEditor::Strip : public QWidget {
public:
    Strip() {
        setFixedHeight(22);
        setAccessibleName(RampEditor::tr("Ramp"));
    }
    Ramp ramp;

protected:
    void paintEvent(QPaintEvent*) override {
        QPainter painter(this);
        carto::drawRamp(painter, rect().adjusted(1, 1, -1, -1), ramp);
        painter.setPen(theme().line);
        painter.drawRoundedRect(rect().adjusted(0, 0, -1, -1), 4, 4);
    }
};

RampEditor::RampEditor(QWidget* parent)
    : QWidget(parent), m_strip(new Strip), m_families(makeChoice(tr("Colours"), {})),
      m_grey(makeButton(tr("Plain grey"), tr("From dark to light, without colours"))),
      m_stops(new RampStops), m_low(makeNumber(tr("Lower limit"), -1e12, 1e12, 2)),
      m_high(makeNumber(tr("Upper limit"), -1e12, 1e12, 2)) {
    m_families->setPlaceholderText(tr("own colours"));
    m_low->setObjectName("rampLow");
    m_high->setObjectName("rampHigh");
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
        if (!(m_low->value() < m_high->value())) {
            Q_EMIT refused(tr("The lower limit of a ramp must be below its upper one"));
            return show(m_ramp, m_family, m_isTint);
        }
        // Tints are rebuilt, so that the shore stays at 0; other ramps stretch.
        Q_EMIT edited(m_isTint && !m_family.empty()
                          ? made(m_family, m_low->value(), m_high->value())
                          : m_ramp.stretched(m_low->value(), m_high->value()),
                      m_family);
    };
    connect(m_low, &QDoubleSpinBox::valueChanged, this, limits);
    connect(m_high, &QDoubleSpinBox::valueChanged, this, limits);
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
