#pragma once
#include "app/table/table_drawer.h"
#include "support/coarse_demo.h"
#include "support/test_window.h"

namespace ledge::test {

/// The window with its attribute table, as tests look into it.
class TableWindow : public TestWindow {
protected:
    app::TableDrawer* drawer() const { return m_window->tableDrawer(); }
    app::TableModel& model() const { return drawer()->model(); }
    app::TableView* view() const { return drawer()->view(); }
    doc::Id crofts() const { return document().layer(layer("Crofts"))->source; }
    /// -1 where no such column is shown.
    int column(const char* name) const {
        for (int i = 0; i < model().columnCount(); ++i)
            if (model().field(i).name == name) return i;
        return -1;
    }
    QString cell(int row, const char* name) const {
        return model().index(row, column(name)).data().toString();
    }
    QStringList cells(const char* name) const {
        QStringList out;
        for (int i = 0; i < model().rowCount(); ++i) out << cell(i, name);
        return out;
    }
    void settle() const {
        QCoreApplication::processEvents();
        QTRY_VERIFY(!drawer()->isBusy());
    }
    /// By its key, of the selected layer.
    void openTable(const char* name = "Crofts") const {
        workspace().selectLayer(layer(name));
        QApplication::setActiveWindow(m_window.get());  // popups may have taken that
        QTRY_VERIFY(m_window->isActiveWindow());
        QTest::keyClick(m_window.get(), Qt::Key_T, Qt::AltModifier);
        QTRY_VERIFY(drawer()->isVisible());
        settle();
    }
};

}  // namespace ledge::test
