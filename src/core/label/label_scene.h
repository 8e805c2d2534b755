#pragma once
#include <compare>

#include "core/label/cost_field.h"
#include "core/label/placement.h"

namespace ledge::label {

/// Names one label for good: it is the same from frame to frame, so that it can be pinned, hidden
/// and found again.
struct Key {
    std::int64_t layer = 0;
    std::int64_t thing = 0;  ///< key of a feature, number of a contour or grid line
    int part = 0;            ///< of several on one thing
    auto operator<=>(const Key&) const = default;
};

/// All that wants to be written on one frame (names, heights of contours, numbers of a grid),
/// placed together: pins first where they are pinned, then by rank, size and order.
class Scene {
public:
    explicit Scene(const Box& frame, Effort effort = Effort::Improved)
        : m_frame(frame), m_effort(effort), m_field(frame) {}

    struct Wish {
        Key key;
        Request request;
        std::optional<Candidate> pin;  ///< where it stands, whatever else there is
    };
    struct Placed {
        Key key;
        std::size_t wish = 0;  ///< in the order in which they were added
        Candidate at;
    };
    /// What no label may cover.
    void avoid(const Box& box) { m_obstacles.push_back(box); }
    /// What labels should keep off.
    CostField& field() { return m_field; }
    /// The number of the wish.
    std::size_t add(Wish wish);
    /// In the order of the wishes. The same scene gives the same result.
    std::vector<Placed> place() const;
    std::size_t size() const { return m_wishes.size(); }
    const Wish& wish(std::size_t i) const { return m_wishes[i]; }

private:
    Box m_frame;
    Effort m_effort;
    CostField m_field;
    std::vector<Wish> m_wishes;
    std::vector<Box> m_obstacles;
};

}  // namespace ledge::label
