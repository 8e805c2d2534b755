#include "session/job_runner.h"

#include <QEventLoop>

namespace ledge::session {

JobRunner::JobRunner(QObject* parent) : QObject(parent) {}

JobRunner::~JobRunner() {
    for (auto& [id, job] : m_jobs) job.thread.request_stop();
    m_jobs.clear();  // joins
}

int JobRunner::start(const QString& name, Work work, Done done) {
    const int id = m_next++;
    Job& job = m_jobs[id];
    job.name = name;
    job.done = std::move(done);
    job.clock.start();
    job.thread = std::jthread([this, id, work = std::move(work)](const std::stop_token& stop) {
        Progress progress{stop, {}};
        auto last = std::make_shared<std::atomic<int>>(-1);
        progress.report = [this, id, last](double share) {
            const int percent = static_cast<int>(share * 200);
            if (last->exchange(percent) == percent) return;
            QMetaObject::invokeMethod(this, [this, id, share] {
                const auto it = m_jobs.find(id);
                if (it == m_jobs.end()) return;
                it->second.share = share;
                it->second.said.clear();
                Q_EMIT progressed(id);
            });
        };
        progress.say = [this, id](const std::string& text) {
            QMetaObject::invokeMethod(this, [this, id, text] {
                const auto it = m_jobs.find(id);
                if (it == m_jobs.end()) return;
                it->second.said = QString::fromStdString(text);
                Q_EMIT progressed(id);
            });
        };
        Result<void> outcome;
        try {
            outcome = work(progress);
        } catch (const std::bad_alloc&) {
            outcome = Error{ErrorCode::LimitExceeded, "this job", "not enough memory",
                            "close other programs or work on a smaller part"};
        } catch (const std::exception& problem) {
            outcome = Error{ErrorCode::IoFailure, "this job", problem.what(), ""};
        }
        QMetaObject::invokeMethod(this, [this, id, outcome] { finish(id, outcome); });
    });
    Q_EMIT started(id);
    return id;
}

void JobRunner::stop(int id) {
    if (const auto it = m_jobs.find(id); it != m_jobs.end()) it->second.thread.request_stop();
}

void JobRunner::finish(int id, const Result<void>& outcome) {
    const auto it = m_jobs.find(id);
    if (it == m_jobs.end()) return;
    it->second.thread.join();
    const Done done = std::move(it->second.done);
    m_jobs.erase(it);
    if (done) done(outcome);
    const bool isStopped = !outcome && outcome.error().code == ErrorCode::Cancelled;
    Q_EMIT finished(id, outcome.has_value(),
                    outcome || isStopped ? QString()
                                         : QString::fromStdString(outcome.error().text()));
}

void JobRunner::wait() {
    while (!m_jobs.empty()) {
        QEventLoop loop;
        connect(this, &JobRunner::finished, &loop, &QEventLoop::quit);
        loop.exec();
    }
}

JobRunner::State JobRunner::state(int id) const {
    const auto it = m_jobs.find(id);
    if (it == m_jobs.end()) return {};
    const Job& job = it->second;
    const double seconds = static_cast<double>(job.clock.elapsed()) / 1000;
    const double left = job.share > 0.03 ? seconds / job.share * (1 - job.share) : -1;
    return {job.name, job.share, left, job.said};
}

std::vector<int> JobRunner::running() const {
    std::vector<int> out;
    for (const auto& [id, job] : m_jobs) out.push_back(id);
    return out;
}

}  // namespace ledge::session
