#pragma once
#include <QTemporaryDir>

#include "demo/demo.h"
#include "session/project_store.h"

namespace ledge::test {

/// The demo on a coarse grid, made once for a test program: in cells of 60 m, or of 30 m where more
/// features are wanted.
inline std::filesystem::path coarseDemo(double cell = 60) {
    static QTemporaryDir folder;
    static const std::filesystem::path project = [cell] {
        const auto made = demo::writeDemo(folder.path().toStdString(), {29, cell}, {});
        if (!made) qFatal("demo: %s", made.error().text().c_str());
        return *made;
    }();
    return project;
}

}  // namespace ledge::test
