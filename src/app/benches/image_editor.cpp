#include "app/benches/image_editor.h"

#include "app/benches/bench_page.h"
#include "app/widgets/form.h"

namespace ledge::app {

std::vector<std::pair<QString, std::array<int, 3>>> bandCombinations(int bands) {
    std::vector<std::pair<QString, std::array<int, 3>>> out;
    if (bands >= 3) out.push_back({QObject::tr("Natural: 1 2 3"), {0, 1, 2}});
    if (bands >= 4) out.push_back({QObject::tr("Infrared as red: 4 1 2"), {3, 0, 1}});
    if (bands >= 4) out.push_back({QObject::tr("Infrared as green: 1 4 3"), {0, 3, 2}});
    for (int band = 0; band < std::min(bands, 12); ++band)
        out.push_back({QObject::tr("Band %1 in grey").arg(band + 1), {band, band, band}});
    return out;
}

ImageEditor::ImageEditor(QWidget* parent)
    : QWidget(parent), m_combination(makeChoice(tr("Band combination"), {})),
      m_stretch(makeChoice(tr("Stretch"), {tr("Full range"), tr("Percentiles"),
                                           tr("Standard deviations"), tr("None: as stored")})),
      m_amount(makeNumber(tr("Cut at each end"), 0, 49, 1, " %", 0.5)),
      m_extent(makeChoice(tr("Limits from"), {tr("the whole raster"), tr("what is in view")})),
      m_gamma(makeNumber(tr("Gamma"), 0.1, 10, 2, {}, 0.1)) {
    setObjectName("imageEditor");
    m_combination->setObjectName("bandCombination");
    m_stretch->setObjectName("stretch");
    m_gamma->setObjectName("gamma");
    auto* layout = new QVBoxLayout(this);
    layout->setContentsMargins(0, 0, 0, 0);
    layout->setSpacing(8);
    layout->addWidget(captioned(tr("Bands"), m_combination));
    const QStringList names{tr("Red"), tr("Green"), tr("Blue")};
    QList<QWidget*> row;
    for (int i = 0; i < 3; ++i) {
        auto* box = makeChoice(tr("Band shown as %1").arg(names[i].toLower()), {});
        box->setMinimumContentsLength(2);
        m_bands[static_cast<std::size_t>(i)] = box;
        row << captioned(names[i], box);
        connect(box, &QComboBox::activated, this, [this, i](int band) {
            m_style.bands[static_cast<std::size_t>(i)] = band;
            take(true);
        });
    }
    layout->addWidget(sideBySide(row));
    layout->addWidget(captioned(tr("Stretch"), m_stretch));
    layout->addWidget(
        sideBySide({captioned(tr("Cut at each end"), m_amount), captioned(tr("Gamma"), m_gamma)}));
    layout->addWidget(captioned(tr("Limits from"), m_extent));
    connect(m_combination, &QComboBox::activated, this, [this](int at) {
        const auto all = bandCombinations(m_count);
        if (static_cast<std::size_t>(at) >= all.size()) return;
        m_style.bands = all[static_cast<std::size_t>(at)].second;
        take(true);
    });
    connect(m_stretch, &QComboBox::activated, this, [this](int kind) {
        m_style.stretch = static_cast<Stretch>(kind);
        take(true);
    });
    connect(m_amount, &QDoubleSpinBox::valueChanged, this, [this](double v) {
        (m_style.stretch == Stretch::Spread ? m_style.spreadDeviations : m_style.trimPercent) =
            std::max(v, m_style.stretch == Stretch::Spread ? 0.1 : 0.0);
        take(true);
    });
    connect(m_extent, &QComboBox::activated, this, [this](int of) {
        m_style.isOfView = of == 1;
        take(of == 0);
    });
    connect(m_gamma, &QDoubleSpinBox::valueChanged, this, [this](double v) {
        m_style.gamma = v;
        take(false);
    });
}

void ImageEditor::take(bool needsLimits) {
    if (needsLimits && !m_style.isOfView)
        Q_EMIT limitsAsked(m_style);
    else
        Q_EMIT edited(m_style);
}

void ImageEditor::show(const doc::ImageStyle& style, const std::vector<BandInfo>& bands) {
    m_style = style;
    m_count = static_cast<int>(bands.size());
    const auto all = bandCombinations(m_count);
    {
        const QSignalBlocker quiet(m_combination);
        m_combination->clear();
        int chosen = -1;
        for (const auto& [name, of] : all) {
            if (of == style.bands) chosen = m_combination->count();
            m_combination->addItem(name);
        }
        if (chosen < 0) m_combination->addItem(tr("As set below"));
        m_combination->setCurrentIndex(chosen < 0 ? m_combination->count() - 1 : chosen);
    }
    for (std::size_t i = 0; i < 3; ++i) {
        const QSignalBlocker quiet(m_bands[i]);
        m_bands[i]->clear();
        for (std::size_t b = 0; b < bands.size(); ++b)
            m_bands[i]->addItem(bands[b].name.empty() ? QString::number(b + 1)
                                                      : qtext(bands[b].name));
        m_bands[i]->setCurrentIndex(style.bands[i]);
    }
    showChoice(m_stretch, static_cast<int>(style.stretch));
    const QSignalBlocker quiet(m_amount);
    m_amount->setSuffix(style.stretch == Stretch::Spread ? tr(" σ") : " %");
    m_amount->setEnabled(style.stretch == Stretch::Trimmed || style.stretch == Stretch::Spread);
    m_extent->setEnabled(style.stretch != Stretch::Stored);
    showNumber(m_amount, style.amount());
    showChoice(m_extent, style.isOfView ? 1 : 0);
    showNumber(m_gamma, style.gamma);
}

}  // namespace ledge::app
