#pragma once
#include <QTemporaryDir>

#include "demo/demo.h"
#include "session/project_store.h"

namespace ledge::test {

/// The demo on a coarse grid, made once for a test program.
inline std::filesystem::path coarseDemo() {
    static QTemporaryDir folder;
    static const std::filesystem::path project = [] {
        const auto made = demo::writeDemo(folder.path().toStdString(), {29, 60}, {});
        if (!made) qFatal("demo: %s", made.error().text().c_str());
        return *made;
    }();
    return project;
}

}  // namespace ledge::test
