#pragma once
#include "app/widgets/form.h"
#include "session/derive/operations.h"

namespace ledge::app {

/// The settings of an operation as fields, made from its description.
class OperationForm : public QWidget {
    Q_OBJECT

public:
    explicit OperationForm(QWidget* parent = nullptr);
    /// Null: no fields. Settings that are not given show as usual.
    void show(const session::Operation* operation, const session::Settings& given);
    session::Settings settings() const;
    /// Fills a field as if it had been typed.
    void setText(const std::string& key, const QString& text);

Q_SIGNALS:
    void edited();

private:
    void rebuild();
    QWidget* makeField(const session::Setting& setting);

    const session::Operation* m_operation = nullptr;
    QVBoxLayout* m_rows;
    std::map<std::string, QWidget*> m_fields;
};

}  // namespace ledge::app
