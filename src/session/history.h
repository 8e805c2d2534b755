#pragma once
#include <string>
#include <vector>

#include "document/document.h"

namespace ledge::session {

/// Every document there was, so that undo and redo have no limit. Values share what did not change.
class History {
public:
    explicit History(doc::Document first);

    const doc::DocumentPtr& current() const { return m_steps[m_at].document; }
    /// Adds a step; steps with the same non-empty merge key that follow each other become one.
    /// A document equal to the current one adds nothing and returns false.
    bool push(doc::Document next, std::string label, std::string mergeKey);
    /// Later steps no longer merge into the last one, for example when a drag ends.
    void seal() { m_steps[m_at].mergeKey.clear(); }
    bool canUndo() const { return m_at > 0; }
    bool canRedo() const { return m_at + 1 < m_steps.size(); }
    std::size_t undoCount() const { return m_at; }
    void undo();
    void redo();
    std::string undoLabel() const { return canUndo() ? m_steps[m_at].label : ""; }
    std::string redoLabel() const { return canRedo() ? m_steps[m_at + 1].label : ""; }
    void markSaved() { m_saved = current(); }
    bool isModified() const { return m_saved != current(); }

private:
    struct Step {
        doc::DocumentPtr document;
        std::string label, mergeKey;
    };
    std::vector<Step> m_steps;
    std::size_t m_at = 0;
    doc::DocumentPtr m_saved;
};

}  // namespace ledge::session
