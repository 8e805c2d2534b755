#pragma once
#include <QString>
#include <functional>
#include <vector>

namespace ledge::app {

/// Something to do that the jump field finds by its words.
struct JumpAction {
    QString title;
    QString words;  ///< more that it is found by
    QString where;  ///< "menu", "tool", "bench", in words for people
    std::function<void()> run;

    bool matches(const QString& typed) const {
        return title.contains(typed, Qt::CaseInsensitive) ||
               words.contains(typed, Qt::CaseInsensitive);
    }
};
using JumpActions = std::function<std::vector<JumpAction>()>;

}  // namespace ledge::app
