#pragma once
#include <cmath>

#include "core/label/placement.h"

namespace ledge::label {

/// What of a frame is covered, by whom: cells of a grid with the labels that reach into them.
/// Labels are few in a cell, since none covers another.
class Taken {
public:
    static constexpr std::uint32_t kObstacle = UINT32_MAX;

    explicit Taken(const Box& frame) : m_frame(frame) {
        m_columns = static_cast<std::size_t>(std::max(1.0, std::ceil(frame.width() / kCell)));
        m_rows = static_cast<std::size_t>(std::max(1.0, std::ceil(frame.height() / kCell)));
        m_cells.resize(m_columns * m_rows);
    }

    void add(std::uint32_t owner, std::span<const Box> boxes) {
        for (const Box& box : boxes)
            forCells(box, [&](std::vector<Piece>& cell) {
                cell.push_back({box, owner});
                return true;
            });
    }
    void remove(std::uint32_t owner, std::span<const Box> boxes) {
        for (const Box& box : boxes)
            forCells(box, [&](std::vector<Piece>& cell) {
                std::erase_if(cell, [owner](const Piece& piece) { return piece.owner == owner; });
                return true;
            });
    }
    bool isInside(std::span<const Box> boxes) const {
        for (const Box& box : boxes)
            if (box.xMin < m_frame.xMin || box.yMin < m_frame.yMin || box.xMax > m_frame.xMax ||
                box.yMax > m_frame.yMax)
                return false;
        return true;
    }
    bool isFree(std::span<const Box> boxes) const {
        if (!isInside(boxes)) return false;
        for (const Box& box : boxes)
            if (!forPieces(box, [](const Piece&) { return false; })) return false;
        return true;
    }
    /// The labels in the way, each once; false when an obstacle, the edge or more than `most` are.
    bool inTheWay(std::span<const Box> boxes, std::size_t most,
                  std::vector<std::uint32_t>& owners) const {
        owners.clear();
        if (!isInside(boxes)) return false;
        for (const Box& box : boxes)
            if (!forPieces(box, [&](const Piece& piece) {
                    if (piece.owner == kObstacle) return false;
                    for (const std::uint32_t known : owners)
                        if (known == piece.owner) return true;
                    owners.push_back(piece.owner);
                    return owners.size() <= most;
                }))
                return false;
        return true;
    }

private:
    static constexpr double kCell = 40;
    // Labels beside each other stay apart by a share of their height, or they read as one.
    static constexpr double kApart = 0.3;
    struct Piece {
        Box box;
        std::uint32_t owner;
    };
    std::size_t place(double v, std::size_t count) const {
        return std::min(count - 1, static_cast<std::size_t>(std::max(0.0, v / kCell)));
    }
    template <typename Act>
    void forCells(const Box& box, const Act& act) {
        if (box.isEmpty()) return;
        for (std::size_t y = place(box.yMin - m_frame.yMin, m_rows);
             y <= place(box.yMax - m_frame.yMin, m_rows); ++y)
            for (std::size_t x = place(box.xMin - m_frame.xMin, m_columns);
                 x <= place(box.xMax - m_frame.xMin, m_columns); ++x)
                act(m_cells[y * m_columns + x]);
    }
    // Calls `act` for what meets a box until it says no; whether it never did.
    template <typename Act>
    bool forPieces(const Box& box, const Act& act) const {
        if (box.isEmpty()) return true;
        const double most = kApart * box.height();
        const auto meets = [&box](const Piece& piece) {
            const double apart =
                piece.owner == kObstacle ? 0 : kApart * std::min(box.height(), piece.box.height());
            return piece.box.xMin < box.xMax + apart && box.xMin - apart < piece.box.xMax &&
                   piece.box.yMin < box.yMax && box.yMin < piece.box.yMax;
        };
        for (std::size_t y = place(box.yMin - m_frame.yMin, m_rows);
             y <= place(box.yMax - m_frame.yMin, m_rows); ++y)
            for (std::size_t x = place(box.xMin - most - m_frame.xMin, m_columns);
                 x <= place(box.xMax + most - m_frame.xMin, m_columns); ++x)
                for (const Piece& piece : m_cells[y * m_columns + x])
                    if (meets(piece) && !act(piece)) return false;
        return true;
    }

    Box m_frame;
    std::size_t m_columns = 1, m_rows = 1;
    std::vector<std::vector<Piece>> m_cells;
};

}  // namespace ledge::label
