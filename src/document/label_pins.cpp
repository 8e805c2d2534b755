#include "document/label_pins.h"

#include <algorithm>
#include <cmath>
#include <tuple>

namespace ledge::doc {
namespace {
// A place holds from half to twice of its scale; one for all scales gives way to those nearer.
const double kReach = std::log(2.0) + 1e-9;

double away(const LabelPin& pin, double scale) {
    if (!(pin.scale > 0) || !(scale > 0)) return kReach;
    return std::abs(std::log(scale / pin.scale));
}
bool isBefore(const LabelPin& one, const LabelPin& other) {
    return std::tuple(one.key, one.scale) < std::tuple(other.key, other.scale);
}
}  // namespace

bool holdsAt(const LabelPin& pin, double scale) { return away(pin, scale) <= kReach; }

void sortPins(std::vector<LabelPin>& pins) { std::stable_sort(pins.begin(), pins.end(), isBefore); }

const LabelPin* LabelStyle::pin(std::int64_t key, double scale) const {
    const LabelPin* best = nullptr;
    auto it =
        std::lower_bound(pins.begin(), pins.end(), key,
                         [](const LabelPin& one, std::int64_t wanted) { return one.key < wanted; });
    for (; it != pins.end() && it->key == key; ++it)
        if (!best || away(*it, scale) < away(*best, scale)) best = &*it;
    return best;
}

LabelPin& pinAt(LabelStyle& labels, std::int64_t key, double scale) {
    LabelPin made;
    if (const LabelPin* nearest = labels.pin(key, scale)) {
        if (holdsAt(*nearest, scale)) return labels.pins[std::size_t(nearest - labels.pins.data())];
        made.text = nearest->text;
        made.sizePt = nearest->sizePt;
        made.colour = nearest->colour;
    }
    made.key = key;
    made.scale = scale;
    const auto at = std::upper_bound(labels.pins.begin(), labels.pins.end(), made, isBefore);
    return *labels.pins.insert(at, std::move(made));
}

void unpin(LabelStyle& labels, std::int64_t key, std::optional<double> scale) {
    std::erase_if(labels.pins, [&](const LabelPin& pin) {
        return pin.key == key && (!scale || holdsAt(pin, *scale));
    });
}

}  // namespace ledge::doc
