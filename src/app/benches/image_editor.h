#pragma once
#include <QCheckBox>
#include <QComboBox>
#include <QDoubleSpinBox>

#include "core/raster/raster_source.h"
#include "document/style.h"

namespace ledge::app {

/// Edits how a picture of several bands is shown: which bands, stretch, gamma.
class ImageEditor : public QWidget {
    Q_OBJECT

public:
    explicit ImageEditor(QWidget* parent = nullptr);
    void show(const doc::ImageStyle& style, const std::vector<BandInfo>& bands);

Q_SIGNALS:
    void edited(const ledge::doc::ImageStyle& style);
    /// Limits from the whole raster are wanted for this style.
    void limitsAsked(const ledge::doc::ImageStyle& style);

private:
    void take(bool needsLimits);

    doc::ImageStyle m_style;
    std::array<QComboBox*, 3> m_bands;
    QComboBox* m_combination;
    QComboBox* m_stretch;
    QDoubleSpinBox* m_amount;
    QComboBox* m_extent;
    QDoubleSpinBox* m_gamma;
    int m_count = 0;
};

/// Ways to lay bands on red, green and blue that a raster of so many bands allows, by what they
/// show; each with its three bands.
std::vector<std::pair<QString, std::array<int, 3>>> bandCombinations(int bands);

}  // namespace ledge::app
