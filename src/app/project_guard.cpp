#include "app/project_guard.h"

#include <QDateTime>
#include <QFileDialog>
#include <QLocale>
#include <QMenu>
#include <QMessageBox>
#include <QPushButton>

#include "app/benches/bench_page.h"
#include "app/workspace.h"
#include "core/base/numbers.h"
#include "session/aside.h"
#include "session/differences.h"

namespace ledge::app {

ProjectGuard::ProjectGuard(Workspace& workspace, QWidget* window)
    : QObject(window), m_workspace(workspace), m_window(window) {}

session::Session& ProjectGuard::session() const { return m_workspace.session(); }

bool ProjectGuard::save() {
    if (session().path().empty()) return saveAs();
    const auto done = session().save(session().path());
    if (!done && done.error().code == ErrorCode::Conflict) return settleConflict();
    return tellSaved(done);
}

bool ProjectGuard::tellSaved(const Result<void>& done) {
    m_workspace.say(done ? tr("Saved as %1").arg(qtext(session().path().string()))
                         : qtext(done.error().text()),
                    !done);
    return done.has_value();
}

// Somebody else saved the project meanwhile: nothing of theirs or ours is lost unasked.
bool ProjectGuard::settleConflict() {
    const auto& path = session().path();
    const auto other = session::freeNameBeside(path);
    const auto theirs = session::aside([&] { return session::loadProject(path); });
    QString text = tr("%1 was changed by another window or program since it was read here.")
                       .arg(qtext(path.filename().string()));
    const auto lines = theirs ? session::differences(*theirs, session().document())
                              : std::vector<std::string>{theirs.error().text()};
    if (!lines.empty()) text += "\n\n" + tr("Yours differs in") + ":";
    for (const std::string& line : lines) text += "\n· " + qtext(line);
    QMessageBox box(QMessageBox::NoIcon, tr("Changed on the disk"), text, QMessageBox::NoButton,
                    m_window);
    box.setObjectName("conflictBox");
    auto* both = box.addButton(tr("Keep both"), QMessageBox::AcceptRole);
    both->setToolTip(tr("Save yours as %1").arg(qtext(other.filename().string())));
    auto* take = box.addButton(tr("Take theirs"), QMessageBox::ActionRole);
    take->setToolTip(tr("Show what is on the disk; yours comes back with undo"));
    take->setEnabled(theirs.has_value());
    auto* over = box.addButton(tr("Write over it"), QMessageBox::DestructiveRole);
    over->setToolTip(tr("What is on the disk now is lost"));
    box.addButton(tr("Cancel"), QMessageBox::RejectRole);
    box.setDefaultButton(both);
    box.exec();
    if (box.clickedButton() == both) return tellSaved(session().save(other));
    if (box.clickedButton() == over)
        return tellSaved(session().save(path, session::Session::Theirs::WrittenOver));
    if (box.clickedButton() != take) return false;
    const auto done = session().takeTheirs();
    m_workspace.say(done ? tr("Took what is on the disk; Undo brings yours back")
                         : qtext(done.error().text()),
                    !done);
    return done.has_value();
}

bool ProjectGuard::saveAs() {
    QString path = QFileDialog::getSaveFileName(
        m_window, tr("Save project"),
        qtext(session().document().name).toLower().replace(' ', '_') + ".ledge",
        tr("Projects (*.ledge)"), nullptr, QFileDialog::DontUseNativeDialog);
    if (path.isEmpty()) return false;
    if (!path.endsWith(".ledge")) path += ".ledge";
    const auto done = session().save(path.toStdString());
    if (!done && done.error().code == ErrorCode::Conflict) return settleConflict();
    return tellSaved(done);
}

bool ProjectGuard::mayLeave() {
    if (!session().isModified()) return true;
    QMessageBox box(
        QMessageBox::NoIcon, tr("Not saved"),
        tr("\"%1\" has changes that are not saved.").arg(qtext(session().document().name)),
        QMessageBox::Save | QMessageBox::Discard | QMessageBox::Cancel, m_window);
    box.setObjectName("leaveBox");
    box.button(QMessageBox::Save)->setText(tr("Save them"));
    box.button(QMessageBox::Discard)->setText(tr("Leave without them"));
    box.button(QMessageBox::Cancel)->setText(tr("Stay here"));
    for (QAbstractButton* button : box.buttons()) button->setIcon({});
    box.setDefaultButton(QMessageBox::Save);
    const int answer = box.exec();
    if (answer == QMessageBox::Save) return save();
    return answer == QMessageBox::Discard;
}

void ProjectGuard::offerRecovery() {
    auto found = session().recovery().orphans();
    // Copies of before a save wait in the menu.
    std::erase_if(found, [](const auto& one) { return one.isOutdated; });
    if (!found.empty()) offerCopy(found.front());
}

void ProjectGuard::offerCopy(const session::RecoveryStore::Found& found) {
    const auto when = [](std::filesystem::file_time_type time) {
        const auto at = std::chrono::file_clock::to_sys(time);
        const auto since =
            std::chrono::duration_cast<std::chrono::milliseconds>(at.time_since_epoch());
        return QLocale().toString(QDateTime::fromMSecsSinceEpoch(since.count()),
                                  QLocale::ShortFormat);
    };
    const bool isNamed = !found.project.empty();
    QString text = isNamed ? tr("The program ended before %1 was saved. A copy was kept on %2.")
                                 .arg(qtext(found.project.filename().string()), when(found.time))
                           : tr("The program ended before a new project was saved. A copy was kept "
                                "on %1.")
                                 .arg(when(found.time));
    const auto lines = session::aside([&]() -> std::vector<std::string> {
        const auto copy = session::RecoveryStore::read(found);
        if (!copy) return {copy.error().text()};
        const auto saved = isNamed ? session::loadProject(found.project) : doc::Document();
        return session::differences(saved ? *saved : doc::Document(), *copy);
    });
    if (!lines.empty())
        text += "\n\n" + (isNamed ? tr("It would change") : tr("It would bring back")) + ":";
    for (const std::string& line : lines) text += "\n· " + qtext(line);
    if (found.isOutdated) {
        std::error_code code;
        const auto saved = std::filesystem::last_write_time(found.project, code);
        text += "\n\n" + tr("The project was saved after that, on %1: the copy knows nothing of "
                            "it.")
                             .arg(when(saved));
    }
    QMessageBox box(QMessageBox::NoIcon, tr("Unsaved work"), text, QMessageBox::NoButton, m_window);
    box.setObjectName("recoveryBox");
    auto* go = box.addButton(tr("Continue from it"), QMessageBox::AcceptRole);
    auto* drop = box.addButton(tr("Discard copy"), QMessageBox::DestructiveRole);
    auto* later = box.addButton(tr("Decide later"), QMessageBox::RejectRole);
    box.setDefaultButton(found.isOutdated ? later : go);
    box.exec();
    if (box.clickedButton() == go) {
        if (!mayLeave()) return;
        if (const auto done = session().recover(found); !done)
            m_workspace.say(qtext(done.error().text()), true);
    } else if (box.clickedButton() == drop) {
        session().recovery().remove(found);
    }
}

// Every copy there is, the outdated too.
void ProjectGuard::fillCopies(QMenu& menu) {
    menu.clear();
    const auto found = session().recovery().orphans();
    for (const auto& one : found) {
        const QString name = one.project.empty() ? tr("a project never saved")
                                                 : qtext(one.project.filename().string());
        menu.addAction(one.isOutdated ? tr("%1, older than what is saved…").arg(name)
                                      : tr("%1…").arg(name),
                       this, [this, one] { offerCopy(one); });
    }
    if (found.empty()) menu.addAction(tr("There is none"))->setEnabled(false);
}

}  // namespace ledge::app
