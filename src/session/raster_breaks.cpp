#include "session/raster_breaks.h"

#include <cmath>

#include "core/raster/pyramid.h"

namespace ledge::session {

Result<classify::Sample> rasterSample(const doc::SourceRef& source, int band,
                                      const doc::DrawingData& data, const Progress& progress) {
    const auto pyramid = data.raster(source, band);
    if (!pyramid) return pyramid.error();
    const RasterSource& raster = (*pyramid)->source();
    const RasterInfo& info = raster.info();
    constexpr double kMost = 250'000;
    const double cells = static_cast<double>(info.width) * static_cast<double>(info.height);
    const auto step = static_cast<std::int64_t>(std::max(1.0, std::ceil(std::sqrt(cells / kMost))));
    std::vector<double> values;
    Grid<double> row(1, static_cast<std::size_t>(info.width));
    for (std::int64_t r = step / 2; r < info.height; r += step) {
        if (progress.stopped()) return cancelled("reading " + source.name);
        if (const auto done = raster.read(band, {0, r, info.width, 1}, row.view()); !done)
            return done.error();
        for (std::int64_t c = step / 2; c < info.width; c += step)
            if (const double v = row(0, static_cast<std::size_t>(c)); std::isfinite(v))
                values.push_back(v);
        progress.report(static_cast<double>(r) / static_cast<double>(info.height));
    }
    return classify::Sample(std::move(values));
}

Result<Ramp> spreadRamp(const doc::RasterStyle& style, double low, double high,
                        const classify::Sample* sample) {
    const std::string family = style.family.empty() ? rampFamilies().front().id : style.family;
    switch (style.spread) {
    case doc::Spread::Even: return rampOf(family, low, high);
    case doc::Spread::Logarithmic:
        if (!(low > 0))
            return Error{ErrorCode::InvalidArgument, "logarithmic colours",
                         "begin at " + std::to_string(low), "set a lower limit above zero"};
        return logarithmicRamp(family, low, high);
    case doc::Spread::Steps: break;
    }
    std::vector<double> breaks;
    if (sample && !sample->isEmpty()) {
        auto found = classify::breaksOf(*sample, style.method, style.stepCount);
        if (!found) return found.error();
        breaks = *std::move(found);
    } else {
        for (int i = 1; i < style.stepCount; ++i)
            breaks.push_back(low + (high - low) * i / style.stepCount);
    }
    return steppedRamp(family, low, high, breaks);
}

Result<doc::RasterStyle> spreadAnew(doc::RasterStyle style, const doc::SourceRef& source,
                                    double cutPercent, const doc::DrawingData& data,
                                    const Progress& progress) {
    const auto sample = rasterSample(source, style.band, data, progress);
    if (!sample) return sample.error();
    if (sample->isEmpty())
        return Error{ErrorCode::InvalidArgument, source.name, "has no values",
                     "choose another band"};
    double low = style.ramp.low(), high = style.ramp.high();
    if (cutPercent >= 0) {
        low = sample->low(), high = sample->high();
        const auto cut =
            static_cast<std::int64_t>(static_cast<double>(sample->count()) * cutPercent / 100);
        const auto values = sample->values();
        for (std::size_t i = 0; i < values.size(); ++i)
            if (sample->upTo(i) > cut) {
                low = values[i];
                break;
            }
        for (std::size_t i = 0; i < values.size(); ++i)
            if (sample->upTo(i) >= sample->count() - cut) {
                high = values[i];
                break;
            }
        if (style.spread == doc::Spread::Logarithmic && !(low > 0))
            for (const double v : values)
                if (v > 0) {
                    low = v;
                    break;
                }
    }
    if (!(high > low)) high = low + 1;
    auto ramp = spreadRamp(style, low, high, &*sample);
    if (!ramp) return ramp.error();
    style.ramp = *std::move(ramp);
    return style;
}

}  // namespace ledge::session
