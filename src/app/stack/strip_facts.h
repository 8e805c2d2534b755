#pragma once
#include "app/workspace.h"
#include "session/fact_book.h"

namespace ledge::app {

/// The line below a strip's name.
struct StripFacts {
    QString line;
    QString act;  ///< a link at its end that leads to the Data bench; empty: none
    QString tip;  ///< more about it
};
StripFacts stripFacts(const Workspace& workspace, session::FactBook& facts,
                      const doc::Layer& layer);

}  // namespace ledge::app
