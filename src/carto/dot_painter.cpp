#include "carto/dot_painter.h"

#include <mutex>
#include <unordered_map>

#include "carto/text.h"
#include "core/query/row_values.h"
#include "core/symbol/dots.h"

namespace ledge::carto {
namespace {
// Dots of the areas of one table under one rule, by row.
class Strewn {
public:
    static std::shared_ptr<Strewn> of(const TablePtr& table, const doc::DotRule& rule,
                                      const TablePtr& keptOff) {
        static std::mutex mutex;
        static std::vector<std::shared_ptr<Strewn>> known;  // the latest first
        constexpr std::size_t kMost = 4;
        doc::DotRule shown = rule;  // colours and sizes do not move dots
        shown.dotMm = 0;
        for (doc::DotField& field : shown.fields) field.colour = {};
        const std::lock_guard lock(mutex);
        for (auto it = known.begin(); it != known.end(); ++it)
            if ((*it)->m_table.lock() == table && (*it)->m_keptOff.lock() == keptOff &&
                (*it)->m_rule == shown) {
                std::rotate(known.begin(), it, it + 1);
                return known.front();
            }
        auto made = std::make_shared<Strewn>();
        made->m_table = table;
        made->m_keptOff = keptOff;
        made->m_rule = shown;
        known.insert(known.begin(), made);
        if (known.size() > kMost) known.pop_back();
        return made;
    }
    std::shared_ptr<const StrewnDots> find(std::size_t row) {
        const std::lock_guard lock(m_mutex);
        const auto it = m_dots.find(row);
        return it == m_dots.end() ? nullptr : it->second;
    }
    void keep(std::size_t row, std::shared_ptr<const StrewnDots> dots) {
        constexpr std::size_t kMostDots = 3'000'000;
        const std::lock_guard lock(m_mutex);
        if ((m_held += dots->at.size()) > kMostDots) m_dots.clear(), m_held = dots->at.size();
        m_dots[row] = std::move(dots);
    }

private:
    std::weak_ptr<const FeatureTable> m_table, m_keptOff;
    doc::DotRule m_rule;
    std::mutex m_mutex;  // guards the two below
    std::unordered_map<std::size_t, std::shared_ptr<const StrewnDots>> m_dots;
    std::size_t m_held = 0;
};

std::int64_t dotsFor(double number, double each) {
    return number > 0 && std::isfinite(number) && number / each < 1e15
               ? static_cast<std::int64_t>(std::llround(number / each))
               : 0;
}
}  // namespace

Result<void> paintDots(QPainter& painter, const MapFrame& frame, const doc::MapFeatures& features,
                       const doc::DotRule& rule, std::span<const std::size_t> rows,
                       const Progress& progress, const doc::MapFeatures* keptOff) {
    if (!(rule.each > 0) || rule.fields.empty()) return {};
    const FeatureTable& table = *features.table;
    std::vector<std::optional<query::RowValues>> values;
    for (const doc::DotField& field : rule.fields) {
        auto read = query::RowValues::of(field.field, table, progress);
        values.push_back(read ? std::optional(*std::move(read)) : std::nullopt);
    }
    const auto kept = Strewn::of(features.table, rule, keptOff ? keptOff->table : nullptr);
    const Affine way = frame.toPixels();
    const double r = std::max(0.45, frame.mm(rule.dotMm / 2));
    const Box page = Box{0, 0, double(frame.widthPx), double(frame.heightPx)}.grown(r);
    painter.setRenderHint(QPainter::Antialiasing);
    painter.setPen(Qt::NoPen);
    std::vector<std::int64_t> counts(values.size());
    for (const std::size_t row : rows) {
        if (progress.stopped()) return cancelled("drawing");
        const GeometryView shape = table.geometry(row);
        if (shape.type != GeometryType::Polygon) continue;
        auto dots = kept->find(row);
        if (!dots) {
            for (std::size_t k = 0; k < values.size(); ++k)
                counts[k] = values[k] ? dotsFor(values[k]->number(row), rule.each) : 0;
            const auto seed =
                static_cast<std::uint64_t>(rule.seed) * std::uint64_t{0x9E3779B97F4A7C15} ^
                static_cast<std::uint64_t>(table.key(row));
            std::vector<GeometryView> excluded;
            if (keptOff)
                for (const std::size_t other : keptOff->index.meeting(table.box(row)))
                    excluded.push_back(keptOff->table->geometry(other));
            dots = std::make_shared<const StrewnDots>(strewn(shape, counts, seed, excluded));
            kept->keep(row, dots);
        }
        int brushOf = -1;
        for (std::size_t i = 0; i < dots->at.size(); ++i) {
            const Point at = way(dots->at[i]);
            if (!page.contains(at)) continue;
            if (brushOf != dots->kind[i]) {
                brushOf = dots->kind[i];
                painter.setBrush(qt(rule.fields[dots->kind[i]].colour));
            }
            painter.drawEllipse(qt(at), r, r);
        }
    }
    return {};
}

}  // namespace ledge::carto
