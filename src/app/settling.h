#pragma once
#include <QTimer>

#include "app/listed.h"

namespace ledge::app {

/// Fires once, a while after what was started last: letters typed, a wheel turned, a map moved.
class Settling : public QTimer, public Listed<Settling> {
public:
    explicit Settling(int milliseconds) {
        setSingleShot(true);
        setInterval(milliseconds);
        connect(this, &QTimer::timeout, this, [=, this] { setInterval(milliseconds); });
    }
    static bool isAny() {
        return any([](const Settling& one) { return one.isActive(); });
    }
    /// For who has to wait for all of them: as if their time were over.
    static void hurryAll() {
        each([](Settling& one) {
            if (one.isActive()) one.start(0);
        });
    }
};

}  // namespace ledge::app
