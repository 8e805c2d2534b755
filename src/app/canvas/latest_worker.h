#pragma once
#include <QObject>
#include <condition_variable>
#include <cstdio>
#include <functional>
#include <mutex>
#include <optional>
#include <string>
#include <thread>
#include <utility>

#include "app/listed.h"

namespace ledge::app {

/// A thread that does only the newest task given to it: a newer one cancels the one at work and
/// replaces one that waits. A task that throws ends alone: what it threw is told on the standard
/// error stream and kept for problem(), and the next task is done. Lives in a thread with an event
/// loop, to which its tasks post what they found.
class LatestWorker : public Listed<LatestWorker> {
public:
    using Task = std::function<void(const std::stop_token&)>;

    LatestWorker() : m_thread([this](const std::stop_token& stop) { run(stop); }) {}
    ~LatestWorker() {
        // Under the lock, so that the thread cannot be between looking and falling asleep.
        const std::lock_guard lock(m_mutex);
        m_current.request_stop();
        m_next.reset();
        m_thread.request_stop();
        m_wake.notify_all();
    }

    void start(Task task) {
        const std::lock_guard lock(m_mutex);
        m_current.request_stop();
        m_next = std::move(task);
        m_wake.notify_all();
    }
    /// As start(), but lets the task at work end first: for what comes so fast that nothing would
    /// ever be finished.
    void follow(Task task) {
        const std::lock_guard lock(m_mutex);
        m_next = std::move(task);
        m_wake.notify_all();
    }
    void cancel() {
        const std::lock_guard lock(m_mutex);
        m_current.request_stop();
        m_next.reset();
    }
    /// What the last task that threw said; empty when none did.
    std::string problem() const {
        const std::lock_guard lock(m_mutex);
        return m_problem;
    }
    /// Until what the last task posted has been shown, not only found.
    bool isBusy() const {
        const std::lock_guard lock(m_mutex);
        return m_isWorking || m_next.has_value() || m_posted > 0;
    }
    static bool isAnyBusy() {
        return any([](const LatestWorker& one) { return one.isBusy(); });
    }

private:
    void run(const std::stop_token& stop) {
        while (true) {
            Task task;
            std::stop_token token;
            {
                std::unique_lock lock(m_mutex);
                if (std::exchange(m_isWorking, false)) postEnd();
                m_wake.wait(lock, [&] { return m_next.has_value() || stop.stop_requested(); });
                if (stop.stop_requested()) return;
                task = std::move(*m_next);
                m_next.reset();
                m_current = std::stop_source();
                token = m_current.get_token();
                m_isWorking = true;
            }
            try {
                task(token);
            } catch (const std::exception& problem) {
                note(problem.what());
            } catch (...) {
                note("unknown exception");
            }
        }
    }
    // Events of a thread come in the order in which they were posted: this one after all answers.
    void postEnd() {
        ++m_posted;
        QMetaObject::invokeMethod(
            &m_home,
            [this] {
                const std::lock_guard lock(m_mutex);
                --m_posted;
            },
            Qt::QueuedConnection);
    }
    void note(const char* what) {
        std::fprintf(stderr, "indigo-ledge: a drawing task failed: %s\n", what);
        const std::lock_guard lock(m_mutex);
        m_problem = what;
    }

    mutable std::mutex m_mutex;  // guards the members below
    std::condition_variable m_wake;
    std::optional<Task> m_next;
    std::stop_source m_current;
    bool m_isWorking = false;
    int m_posted = 0;  ///< tasks that ended, whose answers may still be on their way
    std::string m_problem;
    QObject m_home;         // where the worker lives; what is posted to it ends with it
    std::jthread m_thread;  // last: ends before what it uses
};

}  // namespace ledge::app
