#pragma once
#include "app/benches/bench_page.h"
#include "app/widgets/code_view.h"
#include "app/widgets/light_shelf.h"
#include "app/widgets/sun_dial.h"
#include "app/widgets/thin_slider.h"
#include "session/derive/lineage.h"
#include "session/derive/operations.h"
#include "session/fact_book.h"

namespace ledge::app {

/// Light, contours and other derivatives of an elevation model, live and written to files.
class TerrainBench : public BenchPage {
    Q_OBJECT

public:
    TerrainBench(Workspace& workspace, session::FactBook& facts, QWidget* parent = nullptr);

Q_SIGNALS:
    /// A derivative is to be written to a file.
    void writeAsked(const ledge::doc::Lineage& lineage, const QString& path);
    /// A derivative is to be shown as a live strip.
    void liveAsked(const ledge::doc::Lineage& lineage);

protected:
    void refresh() override;

private:
    void makeLightPart();
    void makeContourPart();
    void makeActions();
    void setLight(terrain::Light light, const QString& mergeKey);
    void setInterval(double metres);
    void listLevels();
    /// The hillshade that is selected; null for other strips.
    const doc::Hillshade* shownShade() const;
    void refreshShelf();
    void buildRelief();
    /// Contours at an interval that suits the DEM and the scale, made as a job.
    void makeContours(const std::function<void(const doc::Layer&)>& use);
    /// Writes the selected derivative; contours as lines or as the areas between them.
    void showMade(const doc::SourceRef& source, const session::Operation& operation);
    void write(bool isFilled = false);
    QString lineage() const;

    session::FactBook& m_facts;
    QLabel* m_empty;
    QWidget* m_lightPart;
    SunDial* m_dial;
    QDoubleSpinBox* m_azimuth;
    QDoubleSpinBox* m_altitude;
    QWidget* m_scalePart;
    QLabel* m_scaleText;
    QComboBox* m_scaleMode;
    QDoubleSpinBox* m_scale;
    QComboBox* m_gradient;
    QComboBox* m_blend;
    QCheckBox* m_shadows;
    QCheckBox* m_blended;
    QLineEdit* m_prefix;
    LightShelf* m_shelf;
    QWidget* m_contourPart;
    QDoubleSpinBox* m_interval;
    ThinSlider* m_drag;
    QLineEdit* m_levels;
    QLabel* m_levelsWrong;
    QDoubleSpinBox* m_base;
    QDoubleSpinBox* m_indexEvery;
    QCheckBox* m_thins;
    QDoubleSpinBox* m_smoothing;
    CodeView* m_lineage;
    QLabel* m_lineageHeading;
    QPushButton* m_toLineage;
    QWidget* m_actions;
    QPushButton* m_write;
};

}  // namespace ledge::app
