#include "session/history.h"

namespace ledge::session {

History::History(doc::Document first) {
    m_steps.push_back({std::make_shared<const doc::Document>(std::move(first)), "", ""});
    m_saved = current();
}

bool History::push(doc::Document next, std::string label, std::string mergeKey) {
    if (next == *current()) return false;
    const bool merges = !mergeKey.empty() && m_at > 0 && m_steps[m_at].mergeKey == mergeKey &&
                        m_at + 1 == m_steps.size() && m_steps[m_at].document != m_saved;
    m_steps.resize(m_at + 1);
    auto value = std::make_shared<const doc::Document>(std::move(next));
    if (merges) {
        m_steps[m_at].document = std::move(value);
        return true;
    }
    m_steps.push_back({std::move(value), std::move(label), std::move(mergeKey)});
    ++m_at;
    return true;
}

void History::undo() {
    if (!canUndo()) return;
    seal();
    --m_at;
    seal();
}

void History::redo() {
    if (canRedo()) ++m_at;
    seal();
}

}  // namespace ledge::session
