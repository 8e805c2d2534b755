#pragma once
#include <QElapsedTimer>
#include <QObject>
#include <QString>
#include <map>
#include <thread>

#include "core/base/progress.h"

namespace ledge::session {

/// Runs long work off the interface's thread, one thread a job. Results come back in the thread of
/// this object.
class JobRunner : public QObject {
    Q_OBJECT

public:
    using Work = std::function<Result<void>(const Progress&)>;
    using Done = std::function<void(const Result<void>&)>;

    explicit JobRunner(QObject* parent = nullptr);
    ~JobRunner() override;  ///< stops and joins what runs

    /// Starts work; `done` is called with its outcome, also when it was stopped.
    int start(const QString& name, Work work, Done done);
    void stop(int job);
    bool isRunning() const { return !m_jobs.empty(); }
    /// Waits in the event loop until nothing runs, for tests and pictures.
    void wait();

    struct State {
        QString name;
        double share = 0;
        double secondsLeft = -1;  ///< negative: not known yet
        QString said;             ///< what it waits for; empty: it does not
    };
    State state(int job) const;
    std::vector<int> running() const;

Q_SIGNALS:
    void started(int job);
    void progressed(int job);
    void finished(int job, bool succeeded, const QString& problem);

private:
    struct Job {
        QString name;
        double share = 0;
        QString said;
        QElapsedTimer clock;
        Done done;
        std::jthread thread;
    };
    void finish(int id, const Result<void>& outcome);

    std::map<int, Job> m_jobs;
    int m_next = 1;
};

}  // namespace ledge::session
