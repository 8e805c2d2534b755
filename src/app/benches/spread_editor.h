#pragma once
#include "app/widgets/form.h"
#include "app/workspace.h"

namespace ledge::app {

/// How the colours of a raster's ramp are spread over its values: evenly, by ratios, in steps; what
/// is cut at each end; and which rasters share the ramp.
class SpreadEditor : public QWidget {
    Q_OBJECT

public:
    explicit SpreadEditor(Workspace& workspace, QWidget* parent = nullptr);
    void show(const doc::Layer& layer);

private:
    /// Reads the values and sets the ramp, as one edit; `cut` below 0 keeps the limits.
    void spread(const std::function<void(doc::RasterStyle&)>& change, double cut);
    void spread(doc::Id layer, const std::function<void(doc::RasterStyle&)>& change, double cut);
    void share(doc::Id other);

    Workspace& m_workspace;
    QComboBox *m_spread, *m_method, *m_share;
    QDoubleSpinBox *m_count, *m_cut;
    QWidget* m_stepPart;
};

}  // namespace ledge::app
