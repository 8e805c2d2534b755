#include "app/benches/numbers_panel.h"

#include "app/benches/bench_page.h"

namespace ledge::app {
namespace {
constexpr std::size_t kBins = 64;
constexpr std::size_t kMostKnown = 64;
}  // namespace

NumbersPanel::NumbersPanel(Workspace& workspace, session::FactBook& facts, QWidget* parent)
    : QWidget(parent), m_workspace(workspace), m_facts(facts), m_numbers(makeLabel("", "muted")),
      m_histogram(new HistogramView),
      m_count(
          makeButton(tr("Count every cell"), tr("Read all of it, for numbers that are exact"))) {
    m_numbers->setObjectName("rasterNumbers");
    m_numbers->setTextInteractionFlags(Qt::TextSelectableByMouse);
    m_count->setObjectName("countCells");
    auto* rows = new QVBoxLayout(this);
    rows->setContentsMargins(0, 0, 0, 0);
    rows->setSpacing(6);
    rows->addWidget(makeLabel(tr("Values"), "heading"));
    rows->addWidget(m_histogram);
    rows->addWidget(m_numbers);
    rows->addWidget(m_count);
    connect(m_count, &QPushButton::clicked, this, &NumbersPanel::countCells);
}

NumbersPanel::Wanted NumbersPanel::wanted() const {
    const auto* source = m_workspace.source();
    const auto* layer = m_workspace.layer();
    const auto* raster = layer ? layer->as<doc::RasterLayer>() : nullptr;
    const int band = !raster               ? 0
                     : raster->style.image ? raster->style.image->bands[0]
                                           : raster->style.band;
    return {source ? *source : doc::SourceRef{}, band};
}

void NumbersPanel::keep(const Wanted& wanted, const session::RasterNumbers& numbers) {
    std::erase_if(m_known, [&](const auto& one) { return one.first == wanted; });
    if (m_known.size() >= kMostKnown) m_known.erase(m_known.begin());
    m_known.emplace_back(wanted, numbers);
    if (isVisible()) refresh();
}

void NumbersPanel::refresh() {
    const auto* source = m_workspace.source();
    const auto* facts = source ? m_facts.facts(*source) : nullptr;
    setVisible(facts && !facts->bands.empty());
    if (!facts || facts->bands.empty()) return;
    const Wanted now = wanted();
    for (const auto& [key, numbers] : m_known)
        if (key == now) return show(numbers);
    m_numbers->setText(tr("Reading…"));
    m_histogram->setHistogram({});
    m_count->setVisible(false);
    m_worker.start([this, now,
                    sources = m_workspace.session().sources()](const std::stop_token& stop) {
        const auto pyramid = sources->raster(now.first, now.second);
        if (!pyramid || stop.stop_requested()) return;
        const auto numbers = session::sampledNumbers(**pyramid, kBins, {stop, {}});
        if (!numbers || stop.stop_requested()) return;
        QMetaObject::invokeMethod(this, [this, now, numbers = *numbers] { keep(now, numbers); });
    });
}

void NumbersPanel::show(const session::RasterNumbers& numbers) {
    const Wanted now = wanted();
    const auto* facts = m_facts.facts(now.first);
    const auto band = static_cast<std::size_t>(now.second);
    const std::string unit =
        facts && band < facts->bands.size() ? facts->bands[band].unit : std::string();
    m_histogram->setHistogram(numbers.histogram);
    const auto* layer = m_workspace.layer();
    const auto* raster = layer ? layer->as<doc::RasterLayer>() : nullptr;
    m_numbers->setText(raster && !raster->style.classes.empty()
                           ? tr("Codes of classes (%n). What each covers is in the table of the "
                                "Style bench; a mean of codes would say nothing.",
                                nullptr, static_cast<int>(raster->style.classes.size()))
                           : qtext(session::numbersText(numbers, unit)));
    m_count->setVisible(numbers.isSampled);
}

void NumbersPanel::countCells() {
    const Wanted now = wanted();
    auto counted = std::make_shared<session::RasterNumbers>();
    m_workspace.session().jobs().start(
        tr("Counting %1").arg(qtext(now.first.name)),
        [counted, now,
         sources = m_workspace.session().sources()](const Progress& progress) -> Result<void> {
            const auto pyramid = sources->raster(now.first);
            if (!pyramid) return pyramid.error();
            auto numbers = session::exactNumbers((*pyramid)->source(), now.second, kBins, progress);
            if (!numbers) return numbers.error();
            *counted = *std::move(numbers);
            return {};
        },
        [this, counted, now](const Result<void>& done) {
            if (done) keep(now, *counted);
        });
}

}  // namespace ledge::app
