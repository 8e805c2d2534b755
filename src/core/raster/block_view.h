#pragma once
#include <cassert>
#include <cstddef>
#include <span>
#include <type_traits>
#include <vector>

namespace ledge {

/// Rows and columns over cells owned elsewhere; row 0 is the northern row. `stride` cells from one
/// row to the next.
template <typename T>
class BlockView {
public:
    BlockView() = default;
    BlockView(std::span<T> cells, std::size_t rows, std::size_t cols)
        : BlockView(cells.data(), rows, cols, cols) {
        assert(cells.size() >= rows * cols);
    }
    BlockView(T* cells, std::size_t rows, std::size_t cols, std::size_t stride)
        : m_cells(cells), m_rows(rows), m_cols(cols), m_stride(stride) {}
    operator BlockView<const T>() const requires(!std::is_const_v<T>) {
        return {m_cells, m_rows, m_cols, m_stride};
    }

    std::size_t rows() const { return m_rows; }
    std::size_t cols() const { return m_cols; }
    std::span<T> row(std::size_t r) const { return {m_cells + r * m_stride, m_cols}; }
    T& operator()(std::size_t r, std::size_t c) const { return m_cells[r * m_stride + c]; }
    BlockView part(std::size_t row, std::size_t col, std::size_t rows, std::size_t cols) const {
        assert(row + rows <= m_rows && col + cols <= m_cols);
        return {m_cells + row * m_stride + col, rows, cols, m_stride};
    }

private:
    T* m_cells = nullptr;
    std::size_t m_rows = 0, m_cols = 0, m_stride = 0;
};

/// Cells that own themselves, packed row by row.
template <typename T>
class Grid {
public:
    Grid() = default;
    Grid(std::size_t rows, std::size_t cols, T value = {})
        : m_rows(rows), m_cols(cols), m_cells(rows * cols, value) {}

    std::size_t rows() const { return m_rows; }
    std::size_t cols() const { return m_cols; }
    bool isEmpty() const { return m_cells.empty(); }
    T& operator()(std::size_t r, std::size_t c) { return m_cells[r * m_cols + c]; }
    const T& operator()(std::size_t r, std::size_t c) const { return m_cells[r * m_cols + c]; }
    std::span<T> cells() & { return m_cells; }
    std::span<const T> cells() const& { return m_cells; }
    void cells() && = delete;  // the cells of a temporary would dangle
    std::span<T> row(std::size_t r) { return std::span(m_cells).subspan(r * m_cols, m_cols); }
    std::span<const T> row(std::size_t r) const {
        return std::span(m_cells).subspan(r * m_cols, m_cols);
    }
    BlockView<T> view() { return {m_cells.data(), m_rows, m_cols, m_cols}; }
    BlockView<const T> view() const { return {m_cells.data(), m_rows, m_cols, m_cols}; }
    bool operator==(const Grid&) const = default;

private:
    std::size_t m_rows = 0, m_cols = 0;
    std::vector<T> m_cells;
};

/// How a cell lies over the ground, in metres: a step along the columns goes `xMetres` east and
/// `colNorth` north, one down the rows `yMetres` south and `rowEast` east. Upright cells have both
/// sizes positive and no shear.
struct CellSize {
    double xMetres = 1, yMetres = 1;
    double colNorth = 0, rowEast = 0;

    /// Square metres, negative for mirrored grids.
    double area() const { return xMetres * yMetres + colNorth * rowEast; }
};

}  // namespace ledge
