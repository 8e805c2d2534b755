#include <QApplication>
#include <QLabel>
#include <QScrollArea>
#include <QScrollBar>
#include <QTemporaryDir>
#include <QTest>
#include <QToolButton>
#include <cmath>

#include "app/benches/bench_page.h"
#include "app/canvas/map_pane.h"
#include "app/main_window.h"
#include "app/picture_tour.h"
#include "app/stack/stack_panel.h"
#include "app/theme.h"
#include "document/edits/layer_edits.h"
#include "support/coarse_demo.h"

using namespace ledge;
using namespace ledge::app;

namespace {
// Contrast of two colours as WCAG 2 defines it.
double luminance(const QColor& c) {
    const auto linear = [](double v) {
        return v <= 0.03928 ? v / 12.92 : std::pow((v + 0.055) / 1.055, 2.4);
    };
    return 0.2126 * linear(c.redF()) + 0.7152 * linear(c.greenF()) + 0.0722 * linear(c.blueF());
}
double contrast(const QColor& a, const QColor& b) {
    const double one = luminance(a), other = luminance(b);
    return (std::max(one, other) + 0.05) / (std::min(one, other) + 0.05);
}
const std::string kLong(
    "A survey of the grazings and common lands of the northern parishes, as they were walked in "
    "the wet summer, with later corrections");
}  // namespace

/// The window small and large, in light and dark, with names that are far too long.
class SizesTest : public QObject {
    Q_OBJECT

private:
    QTemporaryDir m_dir;
    std::unique_ptr<session::Session> m_session;
    std::unique_ptr<MainWindow> m_window;

    void open(QSize size) {
        m_window.reset();
        m_session.reset();
        m_session = std::make_unique<session::Session>(m_dir.path().toStdString() + "/recovery");
        m_window = std::make_unique<MainWindow>(*m_session);
        m_window->resize(size);
        m_window->show();
        QVERIFY(QTest::qWaitForWindowExposed(m_window.get()));
        m_window->openPath(QString::fromStdString(test::coarseDemo().string()));
        QVERIFY(waitUntilIdle(*m_window));
    }
    // What lies over what, or has less room than it needs; empty where all is in its place.
    static QString misplaced(const QWidget& parent) {
        QList<QWidget*> shown;
        for (QWidget* child : parent.findChildren<QWidget*>(Qt::FindDirectChildrenOnly))
            if (child->isVisible() && !child->isWindow()) shown << child;
        const auto called = [](const QWidget* w) {
            const auto* label = qobject_cast<const QLabel*>(w);
            return QString("%1 %2 \"%3\" %4,%5 %6x%7")
                .arg(w->metaObject()->className(), w->objectName(),
                     label ? label->text().left(40) : w->accessibleName())
                .arg(w->x())
                .arg(w->y())
                .arg(w->width())
                .arg(w->height());
        };
        // Parts of a control are its own business.
        if (!parent.layout()) return {};
        for (qsizetype i = 0; i < shown.size(); ++i) {
            const QWidget* one = shown[i];
            for (qsizetype k = i + 1; k < shown.size(); ++k) {
                const QRect both = one->geometry() & shown[k]->geometry();
                if (both.width() > 1 && both.height() > 1)
                    return called(one) + " lies over " + called(shown[k]);
            }
            if (one->height() < one->minimumHeight()) return called(one) + " is too low";
            const auto* label = qobject_cast<const QLabel*>(one);
            if (label && label->wordWrap() && label->height() < label->heightForWidth(one->width()))
                return called(one) + " is cut off";
            if (const QString inside = misplaced(*one); !inside.isEmpty()) return inside;
        }
        return {};
    }
    // Whether all of a widget lies within the window.
    bool isWhole(const QWidget* widget) const {
        const QRect inWindow(widget->mapTo(m_window.get(), QPoint(0, 0)), widget->size());
        return m_window->rect().contains(inWindow);
    }

private slots:
    void initTestCase() {
        qputenv("XDG_CONFIG_HOME", m_dir.path().toUtf8());
        applyTheme(*qobject_cast<QApplication*>(QCoreApplication::instance()), false);
    }
    void cleanupTestCase() {
        m_window.reset();
        m_session.reset();
    }

    void fitsTheWindow_data() {
        QTest::addColumn<QSize>("size");
        for (const QSize size : {QSize(1024, 700), QSize(1280, 800), QSize(1380, 860)})
            QTest::newRow(qPrintable(QString("%1x%2").arg(size.width()).arg(size.height())))
                << size;
    }
    void fitsTheWindow() {
        QFETCH(QSize, size);
        open(size);
        // It is as large as it was told, and no larger.
        QCOMPARE(m_window->size(), size);
        for (const char* tool :
             {"toolMove", "toolProbe", "toolMeasure", "toolProfile", "toolCurtain"}) {
            auto* button = m_window->findChild<QToolButton*>(tool);
            QVERIFY2(button && button->isVisible(), tool);
            QVERIFY2(isWhole(button), tool);
        }
        for (const Bench bench : kBenches) {
            auto* button =
                m_window->findChild<QToolButton*>(QString("bench%1").arg(static_cast<int>(bench)));
            QVERIFY(button && isWhole(button));
        }
        QVERIFY(m_window->map()->width() > 300);
        // Pages are scrolled down, never sideways.
        for (const Bench bench : kBenches)
            for (const char* name : {"Light 315/40", "Height tint", "Contours 25 m", "Crofts",
                                     "Places", "Land cover", "Aerial picture"}) {
                m_window->workspace().selectLayer(m_window->workspace().layerNamed(name));
                m_window->workspace().setBench(bench);
                QVERIFY(waitUntilIdle(*m_window));
                for (BenchPage* page : m_window->findChildren<BenchPage*>()) {
                    if (!page->isVisible()) continue;
                    const auto* view =
                        qobject_cast<QScrollArea*>(page->parentWidget()->parentWidget());
                    QVERIFY(view);
                    QVERIFY2(view->horizontalScrollBar()->maximum() == 0, name);
                    QVERIFY2(page->width() <= view->viewport()->width(), name);
                    const QString wrong = misplaced(*page);
                    QVERIFY2(wrong.isEmpty(), qPrintable(QString(name) + ": " + wrong));
                }
            }
    }

    void bearsLongNames() {
        open({1280, 800});
        const int stack = m_window->findChild<StackPanel*>()->width();
        const int map = m_window->map()->width();
        auto& workspace = m_window->workspace();
        const auto id = workspace.layerNamed("Crofts");
        workspace.selectLayer(id);
        for (const auto& [edit, words] :
             {std::pair<const char*, doc::EditWords>{"layer-name",
                                                     {{"layer", "Crofts"}, {"name", kLong}}},
              {"project-name", {{"name", kLong}}},
              {"view-name",
               {{"view", Workspace::target(m_session->document().views[0].id)}, {"name", kLong}}},
              {"sheet-name",
               {{"sheet", Workspace::target(m_session->document().sheets[0]->id)},
                {"name", kLong}}}})
            QVERIFY(workspace.perform(edit, words));
        for (const Bench bench : kBenches) {
            workspace.setBench(bench);
            QVERIFY(waitUntilIdle(*m_window));
            QCOMPARE(m_window->size(), QSize(1280, 800));
            QCOMPARE(m_window->findChild<StackPanel*>()->width(), stack);
            QCOMPARE(m_window->map()->width(), map);
        }
        workspace.showSheet(m_session->document().sheets[0]->id);
        QVERIFY(waitUntilIdle(*m_window));
        QCOMPARE(m_window->size(), QSize(1280, 800));
        // The strip says it whole when asked.
        auto* strip = m_window->findChild<StackPanel*>()->strip(id);
        QVERIFY(strip);
        QVERIFY(strip->accessibleName().contains(QString::fromStdString(kLong)));
    }

    void canBeRead_data() {
        QTest::addColumn<bool>("isDark");
        QTest::newRow("light") << false;
        QTest::newRow("dark") << true;
    }
    void canBeRead() {
        QFETCH(bool, isDark);
        applyTheme(*qobject_cast<QApplication*>(QCoreApplication::instance()), isDark);
        open({1280, 800});
        const Theme& now = theme();
        QCOMPARE(now.isDark, isDark);
        for (const QColor& ground : {now.surface, now.stone}) {
            QVERIFY2(contrast(now.text, ground) >= 7, qPrintable(ground.name()));
            QVERIFY2(contrast(now.muted, ground) >= 4.5, qPrintable(ground.name()));
        }
        // What is drawn follows the theme: the stack is as light or dark as it says.
        const QImage stack = m_window->findChild<StackPanel*>()->grab().toImage();
        qint64 sum = 0;
        for (int y = 0; y < stack.height(); y += 3)
            for (int x = 0; x < stack.width(); x += 3) sum += qGray(stack.pixel(x, y));
        const double mean = double(sum) / ((stack.width() + 2) / 3) / ((stack.height() + 2) / 3);
        QCOMPARE(mean < 110, isDark);
        applyTheme(*qobject_cast<QApplication*>(QCoreApplication::instance()), false);
    }
};

QTEST_MAIN(SizesTest)
#include "sizes_test.moc"
