#include <unistd.h>

#include <QApplication>
#include <QProcess>
#include <QTemporaryDir>
#include <QTest>
#include <QTimer>
#include <cstdio>
#include <iostream>

#include "app/main_window.h"
#include "app/theme.h"
#include "session/project_store.h"

using namespace ledge;
namespace fs = std::filesystem;

namespace {
constexpr int kLayers = 60;

// A project whose every part tells which of two states it is in.
doc::Document stateOf(bool isOdd) {
    const std::string name = isOdd ? "odd" : "even";
    doc::Document out;
    out.name = name;
    out.mapCrs = "EPSG:3034";
    for (int i = 0; i < kLayers; ++i) {
        doc::Layer layer;
        layer.id = i + 1;
        layer.name = name + " layer " + std::to_string(i);
        layer.isVisible = false;
        layer.content = doc::GridLines{};
        out.layers.push_back(std::make_shared<const doc::Layer>(std::move(layer)));
    }
    out.nextId = kLayers + 1;
    return out;
}

// The window that is going to be killed: saves one state and the other in turn, as fast as it can.
int saveForEver(int argc, char** argv) {
    QApplication application(argc, argv);
    app::applyTheme(application, false);
    const fs::path project = argv[2];
    session::Session session(project.parent_path() / "recovery");
    app::MainWindow window(session);
    window.show();
    window.openPath(QString::fromStdString(project.string()));
    bool isOdd = false;
    QTimer timer;
    QObject::connect(&timer, &QTimer::timeout, &window, [&] {
        isOdd = !isOdd;
        session.apply(stateOf(isOdd), "Turn");
        if (!window.guard().save()) std::_Exit(3);
        if (isOdd) std::cout << "saved" << std::endl;
    });
    timer.start(0);
    return QApplication::exec();
}
}  // namespace

/// A window is killed while it saves, at any moment: there is the old project or the new one.
class KilledTest : public QObject {
    Q_OBJECT

private:
    QTemporaryDir m_dir;
    fs::path m_project;

    std::string stateOnDisk() const {
        const auto read = session::loadProject(m_project);
        if (!read) return read.error().text();
        for (const bool isOdd : {false, true}) {
            doc::Document whole = stateOf(isOdd);
            if (read->name == whole.name && read->layers.size() == whole.layers.size() &&
                std::equal(read->layers.begin(), read->layers.end(), whole.layers.begin(),
                           [](const auto& a, const auto& b) { return a->name == b->name; }))
                return whole.name;
        }
        return "neither";
    }

private slots:
    void initTestCase() {
        m_project = fs::path(m_dir.path().toStdString()) / "turns.ledge";
        QVERIFY(session::saveProject(stateOf(false), m_project).has_value());
    }

    void isOldOrNewWheneverItIsKilled() {
        constexpr int kKills = 100;
        unsigned seed = 1978;
        std::map<std::string, int> met;
        for (int kill = 0; kill < kKills; ++kill) {
            QProcess process;
            process.start(QCoreApplication::applicationFilePath(),
                          {"--save-for-ever", QString::fromStdString(m_project.string())});
            QVERIFY(process.waitForReadyRead(30000));
            seed = seed * 1664525 + 1013904223;
            ::usleep(seed / 4096 % 150000);
            QCOMPARE(process.state(), QProcess::Running);
            process.kill();
            process.waitForFinished();
            ++met[stateOnDisk()];
            QVERIFY2(met.size() <= 2 && !met.contains("neither"),
                     qPrintable(QString::fromStdString(stateOnDisk())));
        }
        QCOMPARE(met["odd"] + met["even"], kKills);
        QVERIFY2(met["odd"] > 5 && met["even"] > 5,
                 qPrintable(QString("%1 %2").arg(met["odd"]).arg(met["even"])));
        // The next to save takes away what the dead have left.
        QVERIFY(session::saveProject(stateOf(true), m_project).has_value());
        for (const auto& file : fs::directory_iterator(m_project.parent_path())) {
            const std::string name = file.path().filename().string();
            QVERIFY2(name.find(".ledge-part") == std::string::npos, name.c_str());
        }
    }
};

int main(int argc, char** argv) {
    if (argc > 2 && std::string(argv[1]) == "--save-for-ever") return saveForEver(argc, argv);
    QCoreApplication application(argc, argv);
    KilledTest test;
    return QTest::qExec(&test, argc, argv);
}
#include "killed_test.moc"
