#pragma once
#include <cstdint>
#include <optional>
#include <vector>

#include "document/style.h"

namespace ledge::doc {

/// Whether the place of a pin holds at a scale: from half to twice of the one it was set at. One
/// set at no scale holds at all, and all hold where there is none (0).
bool holdsAt(const LabelPin& pin, double scale);

/// Into the order of LabelStyle::pins.
void sortPins(std::vector<LabelPin>& pins);

/// The pin of a feature that holds at a scale. Where there is none it is made, worded and sized
/// like the nearest: places set for other scales stay what they are. Sort after changing its scale.
LabelPin& pinAt(LabelStyle& labels, std::int64_t key, double scale);

/// Takes away the pins of a feature: all, or those that hold at a scale.
void unpin(LabelStyle& labels, std::int64_t key, std::optional<double> scale = {});

}  // namespace ledge::doc
