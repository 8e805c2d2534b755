#include <QDate>
#include <QMenu>
#include <QMessageBox>
#include <QPushButton>
#include <QTimer>

#include "io/files/atomic_file.h"
#include "support/coarse_demo.h"
#include "support/test_window.h"

using namespace ledge;
using namespace ledge::app;
namespace fs = std::filesystem;

/// That no project is lost: others that save it meanwhile, two windows, and a window that died.
class GuardTest : public QObject, test::TestWindow {
    Q_OBJECT

private:
    fs::path m_project;
    QString m_asked;

    // Presses a button of the next box, by its text; what the box says is kept.
    void answer(const QString& text) {
        m_asked.clear();
        QTimer::singleShot(100, this, [this, text] {
            auto* box = qobject_cast<QMessageBox*>(QApplication::activeModalWidget());
            if (!box) return;
            m_asked = box->text();
            for (QAbstractButton* button : box->buttons())
                if (button->text().remove('&') == text) return button->click();
            box->reject();
        });
    }
    void rename(const char* name) {
        doc::Document next = m_session->document();
        next.name = name;
        m_session->apply(next, "Rename");
    }
    static std::string nameOn(const fs::path& path) { return session::loadProject(path)->name; }
    void press(Qt::Key key) {
        QApplication::setActiveWindow(m_window.get());  // no window manager does it after a box
        QTest::keyClick(m_window.get(), key, Qt::ControlModifier);
    }
    void pressSave() { press(Qt::Key_S); }

private slots:
    void init() {
        m_project = fs::path(m_dir.path().toStdString()) / "isle.ledge";
        QVERIFY(
            session::saveProject(*session::loadProject(test::coarseDemo()), m_project).has_value());
        openWindow(m_project);
    }
    void cleanup() {
        closeWindow();
        for (const auto& file : fs::directory_iterator(m_dir.path().toStdString()))
            fs::remove_all(file.path());
    }

    void asksBeforeItWritesOverOthers_data() {
        QTest::addColumn<QString>("button");
        QTest::addColumn<QString>("onDisk");
        QTest::addColumn<QString>("here");
        QTest::addColumn<bool>("isSaved");
        QTest::newRow("both") << "Keep both"
                              << "theirs"
                              << "ours" << true;
        QTest::newRow("theirs") << "Take theirs"
                                << "theirs"
                                << "theirs" << true;
        QTest::newRow("over") << "Write over it"
                              << "ours"
                              << "ours" << true;
        QTest::newRow("cancel") << "Cancel"
                                << "theirs"
                                << "ours" << false;
    }
    void asksBeforeItWritesOverOthers() {
        QFETCH(QString, button);
        QFETCH(QString, onDisk);
        QFETCH(QString, here);
        QFETCH(bool, isSaved);
        doc::Document other = *session::loadProject(m_project);
        other.name = "theirs";
        QVERIFY(session::saveProject(other, m_project).has_value());
        rename("ours");
        answer(button);
        pressSave();
        QVERIFY2(m_asked.contains("changed by another"), qPrintable(m_asked));
        QVERIFY2(m_asked.contains("name or settings"), qPrintable(m_asked));
        QCOMPARE(nameOn(m_project), onDisk.toStdString());
        QCOMPARE(m_session->document().name, here.toStdString());
        QCOMPARE(!m_session->isModified(), isSaved);
        if (button == "Keep both") {
            QCOMPARE(m_session->path().filename().string(), std::string("isle 2.ledge"));
            QCOMPARE(nameOn(m_session->path()), std::string("ours"));
        }
        if (button != "Take theirs") return;
        press(Qt::Key_Z);
        QCOMPARE(m_session->document().name, std::string("ours"));
    }

    void savesWithoutAskingWhereNobodyElseDid() {
        for (const char* name : {"once", "twice"}) {
            rename(name);
            answer("Cancel");
            pressSave();
            QTest::qWait(150);
            QVERIFY2(m_asked.isEmpty(), qPrintable(m_asked));
            QCOMPARE(nameOn(m_project), std::string(name));
        }
    }

    void saysThatAnotherWindowHasIt() {
        session::Session first(fs::path(m_dir.path().toStdString()) / "state");
        const fs::path shared = fs::path(m_dir.path().toStdString()) / "shared.ledge";
        QVERIFY(session::saveProject(m_session->document(), shared).has_value());
        QVERIFY(first.open(shared).has_value());
        QString said;
        connect(&workspace(), &Workspace::said, this,
                [&said](const QString& text, bool) { said = text; });
        m_window->openPath(QString::fromStdString(shared.string()));
        QVERIFY(waitUntilIdle(*m_window));
        QVERIFY2(said.contains("another window"), qPrintable(said));
    }

    void offersWhatAWindowLeft_data() {
        QTest::addColumn<QString>("button");
        QTest::addColumn<bool>("isTaken");
        QTest::addColumn<int>("left");
        QTest::newRow("continue") << "Continue from it" << true << 0;
        QTest::newRow("discard") << "Discard copy" << false << 0;
        QTest::newRow("later") << "Decide later" << false << 1;
    }
    void offersWhatAWindowLeft() {
        QFETCH(QString, button);
        QFETCH(bool, isTaken);
        QFETCH(int, left);
        doc::Document lost = m_session->document();
        const std::string gone = doc::allLayers(lost.layers).front()->name;
        auto removed = doc::applied(lost, "layer-remove", {{"layer", gone}});
        QVERIFY(removed.has_value());
        lost = removed->document;
        {
            session::RecoveryStore store(m_dir.path().toStdString() + "/recovery");
            QVERIFY(store.keep(lost, m_project, session::projectStamp(m_project)).has_value());
        }
        answer(button);
        m_window->guard().offerRecovery();
        // When, of what, and what it would change.
        QVERIFY2(m_asked.contains("isle.ledge") &&
                     m_asked.contains(QString::number(QDate::currentDate().year() % 100)),
                 qPrintable(m_asked));
        QVERIFY2(m_asked.contains(QString::fromStdString(gone + " gone")), qPrintable(m_asked));
        QCOMPARE(m_session->document() == lost, isTaken);
        QCOMPARE(m_session->isModified(), isTaken);
        QTRY_COMPARE(int(m_session->recovery().orphans().size()), left);
    }

    // One of before a save waits in the menu, and says what it is.
    void keepsTheOutdatedInTheMenu() {
        doc::Document old = m_session->document();
        old.name = "of before";
        {
            session::RecoveryStore store(m_dir.path().toStdString() + "/recovery");
            QVERIFY(store.keep(old, m_project, session::projectStamp(m_project)).has_value());
        }
        for (const auto& file : fs::directory_iterator(m_dir.path().toStdString() + "/recovery"))
            fs::last_write_time(file.path(),
                                fs::file_time_type::clock::now() - std::chrono::hours(1));
        rename("saved since");
        pressSave();
        answer("Decide later");
        m_window->guard().offerRecovery();
        QTest::qWait(150);
        QVERIFY2(m_asked.isEmpty(), qPrintable(m_asked));
        QMenu menu;
        m_window->guard().fillCopies(menu);
        QCOMPARE(menu.actions().size(), qsizetype{1});
        QVERIFY(menu.actions().front()->text().contains("older"));
        answer("Continue from it");
        menu.actions().front()->trigger();
        QVERIFY2(m_asked.contains("saved after that"), qPrintable(m_asked));
        QCOMPARE(m_session->document().name, std::string("of before"));
        answer("Cancel");
        pressSave();
        QVERIFY2(m_asked.contains("changed by another"), qPrintable(m_asked));
        QCOMPARE(nameOn(m_project), std::string("saved since"));
    }
};

QTEST_MAIN(GuardTest)
#include "guard_test.moc"
