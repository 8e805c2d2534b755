#pragma once
#include <QFontComboBox>
#include <string>

namespace ledge::app {

/// One of the fonts of this computer; empty stands for the program's own. One that is not here is
/// shown by its name.
class FontChoice : public QFontComboBox {
    Q_OBJECT

public:
    explicit FontChoice(const QString& name, QWidget* parent = nullptr);
    void show(const std::string& family);

Q_SIGNALS:
    /// What the user chose.
    void said(const std::string& family);
};

}  // namespace ledge::app
