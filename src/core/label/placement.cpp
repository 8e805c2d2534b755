#include "core/label/placement.h"

#include <algorithm>
#include <numeric>

#include "core/label/taken.h"

namespace ledge::label {
namespace {
constexpr int kChain = 3;   // labels moved one after another for one
constexpr int kTries = 32;  // at other places for the labels in one's way

// Labels moved at once for one; where there are very many, one alone, for the time's sake.
std::size_t mostMoved(std::size_t requests) { return requests > 8000 ? 1 : 2; }

// Requests in the order in which they take their places.
std::vector<std::uint32_t> turns(std::span<const Request> requests) {
    std::vector<std::uint32_t> order(requests.size());
    std::iota(order.begin(), order.end(), 0U);
    std::stable_sort(order.begin(), order.end(), [&](std::uint32_t a, std::uint32_t b) {
        const Request &one = requests[a], &two = requests[b];
        if (one.rank != two.rank) return one.rank > two.rank;
        if (one.kept.has_value() != two.kept.has_value()) return one.kept.has_value();
        return one.size > two.size;
    });
    return order;
}

// A placement being made. The places of a label stand in one array, the cheapest first.
class Placing {
public:
    Placing(std::span<const Request> requests, std::span<const Box> obstacles, const Box& frame)
        : m_requests(requests), m_taken(frame), m_order(turns(requests)),
          m_chosen(requests.size(), kNowhere) {
        m_taken.add(Taken::kObstacle, obstacles);
        m_first.reserve(requests.size() + 1);
        std::vector<std::uint32_t> byCost;
        for (const Request& request : requests) {
            m_first.push_back(static_cast<std::uint32_t>(m_places.size()));
            byCost.resize(request.candidates.size());
            std::iota(byCost.begin(), byCost.end(), 0U);
            const auto isCheaper = [&](std::uint32_t a, std::uint32_t b) {
                return request.candidates[a].cost < request.candidates[b].cost;
            };
            if (!std::is_sorted(byCost.begin(), byCost.end(), isCheaper))
                std::stable_sort(byCost.begin(), byCost.end(), isCheaper);
            for (const std::uint32_t k : byCost) {
                const auto& boxes = request.candidates[k].boxes;
                m_places.push_back({static_cast<std::uint32_t>(m_boxes.size()),
                                    static_cast<std::uint32_t>(boxes.size()), k});
                m_boxes.insert(m_boxes.end(), boxes.begin(), boxes.end());
            }
        }
        m_first.push_back(static_cast<std::uint32_t>(m_places.size()));
    }

    void takeInTurn() {
        for (const std::uint32_t i : m_order)
            if (!takeKept(i)) takeFree(i);
    }
    void improve() {
        for (const std::uint32_t i : m_order)
            if (m_chosen[i] == kNowhere) makeRoom(i);
        for (const std::uint32_t i : m_order) settle(i);
    }
    Choice chosen() const {
        Choice out(m_chosen.size());
        for (std::size_t i = 0; i < out.size(); ++i)
            if (m_chosen[i] != kNowhere) out[i] = m_places[m_chosen[i]].candidate;
        return out;
    }

private:
    static constexpr std::uint32_t kNowhere = UINT32_MAX;
    struct Place {
        std::uint32_t firstBox, boxCount, candidate;
    };
    std::span<const Box> boxesOf(std::uint32_t place) const {
        const Place& at = m_places[place];
        return std::span(m_boxes).subspan(at.firstBox, at.boxCount);
    }
    // Every change is noted, so that what led nowhere can be taken back.
    void change(std::uint32_t i, std::uint32_t to) {
        m_trail.emplace_back(i, m_chosen[i]);
        stand(i, to);
    }
    void stand(std::uint32_t i, std::uint32_t to) {
        if (m_chosen[i] != kNowhere) m_taken.remove(i, boxesOf(m_chosen[i]));
        m_chosen[i] = to;
        if (to != kNowhere) m_taken.add(i, boxesOf(to));
    }
    void takeBack(std::size_t mark) {
        for (; m_trail.size() > mark; m_trail.pop_back())
            stand(m_trail.back().first, m_trail.back().second);
    }
    bool takeKept(std::uint32_t i) {
        if (!m_requests[i].kept) return false;
        for (std::uint32_t p = m_first[i]; p < m_first[i + 1]; ++p)
            if (m_places[p].candidate == *m_requests[i].kept)
                return m_taken.isFree(boxesOf(p)) && (stand(i, p), true);
        return false;
    }
    bool takeFree(std::uint32_t i) {
        for (std::uint32_t p = m_first[i]; p < m_first[i + 1]; ++p)
            if (m_taken.isFree(boxesOf(p))) return change(i, p), true;
        return false;
    }
    bool mayMove(std::uint32_t i) const {
        return !m_requests[i].kept &&
               std::find(m_locked.begin(), m_locked.end(), i) == m_locked.end();
    }

    // Another place for a label that was lifted, over others that move in their turn.
    bool relocate(std::uint32_t i, int chain) {
        if (takeFree(i)) return true;
        if (chain == 0 || --m_tries < 0) return false;
        m_locked.push_back(i);
        std::vector<std::uint32_t> inTheWay;
        for (std::uint32_t p = m_first[i]; p < m_first[i + 1]; ++p) {
            if (!m_taken.inTheWay(boxesOf(p), 1, inTheWay)) continue;
            const std::uint32_t other = inTheWay.front();
            if (!mayMove(other)) continue;
            const std::size_t mark = m_trail.size();
            change(other, kNowhere);
            change(i, p);
            if (relocate(other, chain - 1)) return m_locked.pop_back(), true;
            takeBack(mark);
        }
        m_locked.pop_back();
        return false;
    }

    // Room for one without: all that is in the way at one of its places stands elsewhere then.
    void makeRoom(std::uint32_t i) {
        m_tries = kTries;
        std::vector<std::uint32_t> inTheWay;
        for (std::uint32_t p = m_first[i]; p < m_first[i + 1]; ++p) {
            m_trail.clear();
            if (!m_taken.inTheWay(boxesOf(p), mostMoved(m_requests.size()), inTheWay)) continue;
            if (!std::all_of(inTheWay.begin(), inTheWay.end(),
                             [&](std::uint32_t other) { return mayMove(other); }))
                continue;
            for (const std::uint32_t other : inTheWay) change(other, kNowhere);
            change(i, p);
            m_locked.assign(1, i);
            const bool isDone =
                std::all_of(inTheWay.begin(), inTheWay.end(),
                            [&](std::uint32_t other) { return relocate(other, kChain - 1); });
            m_locked.clear();
            if (isDone) return;
            takeBack(0);
        }
    }

    // The cheapest place that is free, for what may move.
    void settle(std::uint32_t i) {
        const std::uint32_t before = m_chosen[i];
        if (before == kNowhere || before == m_first[i] || m_requests[i].kept) return;
        stand(i, kNowhere);
        for (std::uint32_t p = m_first[i];; ++p)
            if (p == before || m_taken.isFree(boxesOf(p))) return stand(i, p);
    }

    std::span<const Request> m_requests;
    Taken m_taken;
    std::vector<std::uint32_t> m_order;
    std::vector<std::uint32_t> m_chosen;  ///< into m_places
    std::vector<std::uint32_t> m_first;   ///< of a label's places
    std::vector<Place> m_places;
    std::vector<Box> m_boxes;
    std::vector<std::pair<std::uint32_t, std::uint32_t>> m_trail;
    std::vector<std::uint32_t> m_locked;  ///< on the move
    int m_tries = 0;                      ///< left
};

Box textBox(Point origin, TextSize t) {
    return {origin.x, origin.y - t.ascent, origin.x + t.width, origin.y + t.descent};
}
}  // namespace

Choice placeInTurn(std::span<const Request> requests, std::span<const Box> obstacles,
                   const Box& frame) {
    Placing placing(requests, obstacles, frame);
    placing.takeInTurn();
    return placing.chosen();
}

Choice place(std::span<const Request> requests, std::span<const Box> obstacles, const Box& frame) {
    Placing placing(requests, obstacles, frame);
    placing.takeInTurn();
    placing.improve();
    return placing.chosen();
}

std::vector<Candidate> aroundPoint(Point a, double radius, TextSize t) {
    const double near = radius * 0.75, far = radius * 1.3;
    const double middle = (t.ascent - t.descent) / 2;
    const Point origins[] = {{a.x + near, a.y - near - t.descent},
                             {a.x - near - t.width, a.y - near - t.descent},
                             {a.x + near, a.y + near + t.ascent},
                             {a.x - near - t.width, a.y + near + t.ascent},
                             {a.x + far, a.y + middle},
                             {a.x - far - t.width, a.y + middle},
                             {a.x - t.width / 2, a.y - far - t.descent},
                             {a.x - t.width / 2, a.y + far + t.ascent}};
    std::vector<Candidate> out;
    for (const Point origin : origins)
        out.push_back({origin, 0, {textBox(origin, t)}, static_cast<double>(out.size())});
    return out;
}

std::vector<Candidate> centredOn(Point a, TextSize t) {
    const Point origin{a.x - t.width / 2, a.y + (t.ascent - t.descent) / 2};
    return {{origin, 0, {textBox(origin, t)}, 0}};
}

}  // namespace ledge::label
