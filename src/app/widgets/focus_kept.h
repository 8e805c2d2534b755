#pragma once
#include <QPointer>
#include <QString>
#include <QWidget>

namespace ledge::app {

/// While rows are made anew: afterwards the focus is in what is called as the one that had it.
class FocusKept {
public:
    explicit FocusKept(QWidget* around);
    ~FocusKept();
    FocusKept(const FocusKept&) = delete;
    FocusKept& operator=(const FocusKept&) = delete;

private:
    QPointer<QWidget> m_around;
    QString m_name, m_said;               ///< its name for programs, and for people
    const QMetaObject* m_kind = nullptr;  ///< null: the focus was elsewhere
};

}  // namespace ledge::app
