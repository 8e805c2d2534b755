#pragma once
#include <QCoreApplication>
#include <QEventLoop>
#include <QThread>
#include <optional>
#include <thread>

namespace ledge::session {

/// The result of work that waits for files. On the thread of the interface it is done beside it:
/// pictures go on, input is kept until it is done. `work` must not throw.
template <typename Work>
auto aside(const Work& work) {
    using Outcome = decltype(work());
    const auto* application = QCoreApplication::instance();
    if (!application || QThread::currentThread() != application->thread()) return work();
    std::optional<Outcome> outcome;
    QEventLoop loop;
    std::thread worker([&] {
        outcome.emplace(work());
        // Queued, so that it is not lost when the work ends before the loop begins.
        QMetaObject::invokeMethod(&loop, &QEventLoop::quit, Qt::QueuedConnection);
    });
    loop.exec(QEventLoop::ExcludeUserInputEvents);
    worker.join();
    return *std::move(outcome);
}

}  // namespace ledge::session
