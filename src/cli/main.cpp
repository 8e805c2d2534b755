#include <unistd.h>

#include <QGuiApplication>
#include <cerrno>
#include <chrono>
#include <csignal>
#include <cstdio>
#include <cstring>
#include <iostream>
#include <mutex>
#include <thread>

#include "cli/arguments.h"
#include "core/base/numbers.h"
#include "core/base/parallel.h"
#include "core/raster/block_cache.h"
#include "io/files/atomic_file.h"
#include "io/files/reading_limit.h"

namespace ledge::cli {
namespace {
std::stop_source g_stop;

// Ctrl+C and SIGTERM come to a thread of their own: work hears "stop" and ends in order. What
// cannot hear it, such as a read from a pipe that nothing comes through, is ended from here.
void listenForStop() {
    sigset_t stops;
    sigemptyset(&stops);
    sigaddset(&stops, SIGINT);
    sigaddset(&stops, SIGTERM);
    pthread_sigmask(SIG_BLOCK, &stops, nullptr);
    std::thread([stops] {
        int signal = 0;
        sigwait(&stops, &signal);
        g_stop.request_stop();
        std::this_thread::sleep_for(std::chrono::seconds(2));
        io::AtomicFile::abandonAll();
        std::fputs("ledge: stopped\n", stderr);
        std::_Exit(1);
    }).detach();
}

// A line on the terminal's stderr with share and time left; nothing when piped.
class ProgressLine {
public:
    explicit ProgressLine(bool isShown) : m_isShown(isShown && ::isatty(STDERR_FILENO) != 0) {}
    ~ProgressLine() {
        if (m_hasLine) std::fputs("\r\033[K", stderr);
    }
    void at(double share) {
        if (!m_isShown) return;
        const std::lock_guard lock(m_mutex);
        const auto now = std::chrono::steady_clock::now();
        if (now - m_last < std::chrono::milliseconds(150)) return;
        m_last = now;
        const double spent = std::chrono::duration<double>(now - m_start).count();
        if (spent < 0.7) return;
        const double left = share > 0.02 ? spent / share * (1 - share) : -1;
        if (left < 0)
            std::fprintf(stderr, "\r\033[K%3.0f %%", share * 100);
        else
            std::fprintf(stderr, "\r\033[K%3.0f %%  %.0f s left", share * 100, left);
        m_hasLine = true;
    }

private:
    bool m_isShown, m_hasLine = false;
    std::mutex m_mutex;
    std::chrono::steady_clock::time_point m_start = std::chrono::steady_clock::now(), m_last;
};

int fail(const Error& error) {
    std::string line = error.text();
    for (char& c : line)
        if (c == '\n' || c == '\r') c = ' ';
    std::cerr << "ledge: " << line << '\n';
    return 1;
}

int run(int argc, char** argv) {
    CLI::App app("Maps and elevation models from the command line");
    app.name("ledge");
    app.set_version_flag("--version", "ledge " LEDGE_VERSION);
    app.require_subcommand(1);
    app.fallthrough();
    Context context;
    unsigned threads = 0;
    app.add_flag("--json", context.asJson, "Write JSON to standard output");
    app.add_flag("--quiet", context.isQuiet, "No progress and no remarks");
    app.add_option("--threads", threads, "At most so many threads");
    std::size_t cacheMegabytes = 0;
    app.add_option("--cache", cacheMegabytes,
                   "Megabytes for decoded raster blocks; without it a quarter of the memory, at "
                   "most 1024")
        ->check(CLI::Range(1, 1 << 20));
    std::size_t memoryMegabytes = 0;
    app.add_option("--memory", memoryMegabytes,
                   "Megabytes that a layer may take whose file is far smaller (256)")
        ->check(CLI::Range(1, 1 << 20));
    std::vector<std::pair<CLI::App*, Command>> commands;
    const AddCommand add = [&](CLI::App* command, Command work) {
        command->fallthrough();
        commands.emplace_back(command, std::move(work));
    };
    addAsk(app, add);
    addDeriveFeatures(app, add);
    addDescribe(app, add);
    addCalculate(app, add);
    addClip(app, add);
    addConvert(app, add);
    addCrs(app, add);
    addTransform(app, add);
    addGeodesic(app, add);
    addTerrain(app, add);
    addEdit(app, add);
    addSummarise(app, add);
    addClassify(app, add);
    addStyle(app, add);
    addRender(app, add);
    addDemo(app, add);
    try {
        app.parse(argc, argv);
    } catch (const CLI::ParseError& problem) {
        return app.exit(problem) == 0 ? 0 : 2;
    }
    setThreadCount(threads);
    if (cacheMegabytes > 0) BlockCache::shared().setLimit(cacheMegabytes << 20);
    if (memoryMegabytes > 0) io::ReadingLimit::setAlwaysFine(memoryMegabytes << 20);
    ProgressLine line(!context.isQuiet);
    context.progress = {g_stop.get_token(), [&line](double share) { line.at(share); }};
    if (!context.isQuiet)
        context.progress.say = [](const std::string& text) {
            std::cerr << "ledge: " << text << '\n';
        };
    for (const auto& [command, work] : commands)
        if (command->parsed())
            if (const auto done = work(context); !done) return fail(done.error());
    // What was said counts only when it arrived.
    errno = 0;
    if (!std::cout.flush() || std::fflush(stdout) != 0)
        return fail(io::writeFailure("standard output", std::strerror(errno)));
    return 0;
}
}  // namespace
}  // namespace ledge::cli

int main(int argc, char** argv) {
    ledge::cli::listenForStop();
    std::signal(SIGXFSZ, SIG_IGN);  // a file that may not grow is an error of writing
    // Text needs a font engine, but no display; Qt's own remarks would disturb scripts.
    qInstallMessageHandler([](QtMsgType type, const QMessageLogContext&, const QString& text) {
        if (type == QtCriticalMsg || type == QtFatalMsg)
            std::fprintf(stderr, "%s\n", qPrintable(text));
    });
    qputenv("QT_QPA_PLATFORM", "offscreen");
    int qtArgc = 1;
    QGuiApplication qt(qtArgc, argv);
    try {
        return ledge::cli::run(argc, argv);
    } catch (const std::bad_alloc&) {
        return ledge::cli::fail({ledge::ErrorCode::LimitExceeded, "memory", "there is not enough",
                                 "work on a smaller part"});
    } catch (const std::exception& problem) {
        return ledge::cli::fail({ledge::ErrorCode::IoFailure, "internal", problem.what(), ""});
    }
}
