#pragma once
#include <QComboBox>
#include <QFormLayout>
#include <QLabel>
#include <QLineEdit>
#include <QWidget>

#include "core/crs/crs.h"
#include "core/crs/method_table.h"

namespace ledge::app {

/// A CRS of one's own: a geographic CRS, a method and its parameters, a unit, a name.
class CrsMaker : public QWidget {
    Q_OBJECT

public:
    /// Starts from the method and parameters in use.
    explicit CrsMaker(const crs::CrsPtr& start, QWidget* parent = nullptr);

    /// The definition that the fields make. Errors: what is wrong with which field.
    Result<crs::CrsPtr> definition() const;

Q_SIGNALS:
    void made(const QString& name, const QString& wkt);
    void cancelled();

private:
    void showMethod();
    void make();

    struct Field {
        const crs::ParameterInfo* parameter;
        QLineEdit* edit;
    };
    crs::CrsPtr m_start;
    QLineEdit* m_name;
    QLineEdit* m_base;
    QComboBox* m_method;
    QComboBox* m_unit;
    QFormLayout* m_form;
    QLabel* m_trouble;
    std::vector<Field> m_fields;
};

}  // namespace ledge::app
