#pragma once
#include <cstdint>
#include <span>
#include <vector>

namespace ledge::terrain {

/// How many levels do not pass a height: the height's place among them, -1 for no data.
class LevelRanks {
public:
    /// `levels` ascending, at least one.
    explicit LevelRanks(const std::vector<double>& levels);
    void row(std::span<const float> heights, std::span<std::int32_t> out) const;

private:
    void searchRow(std::span<const float> heights, std::span<std::int32_t> out) const;

    const std::vector<double>& m_levels;
    double m_step;  ///< between levels; 0 when they are not even
};

/// Marks the squares between two rows of ranks whose corners differ: one less than the ranks.
void markBusy(std::span<const std::int32_t> upper, std::span<const std::int32_t> lower,
              std::span<std::uint8_t> busy);

}  // namespace ledge::terrain
