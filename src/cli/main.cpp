#include <unistd.h>

#include <QGuiApplication>
#include <chrono>
#include <csignal>
#include <cstdio>
#include <iostream>
#include <mutex>

#include "cli/arguments.h"
#include "core/base/numbers.h"
#include "core/base/parallel.h"
#include "core/raster/block_cache.h"

namespace ledge::cli {
namespace {
std::stop_source g_stop;

// Only an atomic flag is touched.
void onInterrupt(int) { g_stop.request_stop(); }

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
    std::vector<std::pair<CLI::App*, Command>> commands;
    const AddCommand add = [&](CLI::App* command, Command work) {
        command->fallthrough();
        commands.emplace_back(command, std::move(work));
    };
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
    addRender(app, add);
    addDemo(app, add);
    try {
        app.parse(argc, argv);
    } catch (const CLI::ParseError& problem) {
        return app.exit(problem) == 0 ? 0 : 2;
    }
    setThreadCount(threads);
    if (cacheMegabytes > 0) BlockCache::shared().setLimit(cacheMegabytes << 20);
    ProgressLine line(!context.isQuiet);
    context.progress = {g_stop.get_token(), [&line](double share) { line.at(share); }};
    for (const auto& [command, work] : commands)
        if (command->parsed())
            if (const auto done = work(context); !done) return fail(done.error());
    return 0;
}
}  // namespace
}  // namespace ledge::cli

int main(int argc, char** argv) {
    std::signal(SIGINT, ledge::cli::onInterrupt);
    std::signal(SIGTERM, ledge::cli::onInterrupt);
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
