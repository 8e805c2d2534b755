#pragma once
#include <algorithm>
#include <cmath>
#include <span>
#include <vector>

#include "core/geometry/point.h"

namespace ledge::label {

/// How much labels should keep off the places of a frame: lines and edges of other layers, weighed,
/// in small cells. A label over the heaviest lines stands worse, but may.
class CostField {
public:
    explicit CostField(const Box& frame)
        : m_frame(frame), m_columns(cellsOf(frame.width())), m_rows(cellsOf(frame.height())) {}

    bool isEmpty() const { return m_cells.empty(); }
    /// A line in drawing units; the heaviest that crosses a cell counts.
    void add(std::span<const Point> line, double weight) {
        if (!(weight > 0)) return;
        if (m_cells.empty()) m_cells.resize(m_columns * m_rows, 0);
        for (std::size_t i = 1; i < line.size(); ++i) {
            const Point d = line[i] - line[i - 1];
            const double steps = std::ceil(std::max(std::abs(d.x), std::abs(d.y)) / kCell);
            if (!(steps < 1e5)) continue;
            for (double k = 0; k <= steps; ++k)
                mark(line[i - 1] + d * (steps > 0 ? k / steps : 0), weight);
        }
    }
    /// The mean weight of the cells that boxes cover, 0 without any.
    double over(std::span<const Box> boxes) const {
        if (m_cells.empty()) return 0;
        double sum = 0, count = 0;
        for (const Box& box : boxes)
            for (std::size_t y = cell(box.yMin - m_frame.yMin, m_rows);
                 y <= cell(box.yMax - m_frame.yMin, m_rows); ++y)
                for (std::size_t x = cell(box.xMin - m_frame.xMin, m_columns);
                     x <= cell(box.xMax - m_frame.xMin, m_columns); ++x)
                    sum += static_cast<double>(m_cells[y * m_columns + x]), ++count;
        return count > 0 ? sum / count : 0;
    }

private:
    static constexpr double kCell = 4;
    static std::size_t cellsOf(double side) {
        return static_cast<std::size_t>(std::clamp(std::ceil(side / kCell), 1.0, 20000.0));
    }
    static std::size_t cell(double v, std::size_t count) {
        return std::min(count - 1, static_cast<std::size_t>(std::max(0.0, v / kCell)));
    }
    void mark(Point p, double weight) {
        if (!m_frame.contains(p)) return;
        float& at = m_cells[cell(p.y - m_frame.yMin, m_rows) * m_columns +
                            cell(p.x - m_frame.xMin, m_columns)];
        at = std::max(at, static_cast<float>(weight));
    }

    Box m_frame;
    std::size_t m_columns, m_rows;
    std::vector<float> m_cells;
};

}  // namespace ledge::label
