#include "core/label/label_scene.h"

namespace ledge::label {

std::size_t Scene::add(Wish wish) {
    m_wishes.push_back(std::move(wish));
    return m_wishes.size() - 1;
}

std::vector<Scene::Placed> Scene::place() const {
    std::vector<Box> taken = m_obstacles;
    std::vector<Request> requests;
    for (std::size_t i = 0; i < m_wishes.size(); ++i) {
        const Wish& wish = m_wishes[i];
        if (wish.pin) {
            taken.insert(taken.end(), wish.pin->boxes.begin(), wish.pin->boxes.end());
        } else {
            requests.push_back(wish.request);
            if (!m_field.isEmpty())
                for (Candidate& candidate : requests.back().candidates)
                    candidate.cost += m_field.over(candidate.boxes);
        }
    }
    const auto chosen = m_effort == Effort::Improved ? ledge::label::place(requests, taken, m_frame)
                                                     : placeInTurn(requests, taken, m_frame);
    std::vector<Placed> out;
    std::size_t next = 0;
    for (std::size_t i = 0; i < m_wishes.size(); ++i) {
        const Wish& wish = m_wishes[i];
        if (wish.pin) {
            out.push_back({wish.key, i, *wish.pin});
            continue;
        }
        if (const auto& place = chosen[next++])
            out.push_back({wish.key, i, wish.request.candidates[*place]});
    }
    return out;
}

}  // namespace ledge::label
