#include "app/benches/reading_panel.h"

#include <array>

#include "app/benches/bench_page.h"
#include "io/files/encoding.h"

namespace ledge::app {
namespace {
struct Delimiter {
    const char* sign;
    const char* word;  ///< as the edit takes it
    const char* name;
};
constexpr std::array<Delimiter, 4> kDelimiters{
    {{",", ",", QT_TRANSLATE_NOOP("ledge::app::ReadingPanel", "comma")},
     {";", ";", QT_TRANSLATE_NOOP("ledge::app::ReadingPanel", "semicolon")},
     {"\t", "tab", QT_TRANSLATE_NOOP("ledge::app::ReadingPanel", "tab")},
     {"|", "|", QT_TRANSLATE_NOOP("ledge::app::ReadingPanel", "bar")}}};
}  // namespace

ReadingPanel::ReadingPanel(Workspace& workspace, QWidget* parent)
    : QWidget(parent), m_workspace(workspace),
      m_encoding(makeChoice(tr("Encoding of its letters"), {})),
      m_delimiter(makeChoice(tr("Between cells"), {})),
      m_decimals(makeChoice(tr("Decimal sign"), {tr("point"), tr("comma")})),
      m_header(makeChoice(tr("First row"), {tr("names columns"), tr("is data")})),
      m_tablePart(new QWidget) {
    m_encoding->setObjectName("readEncoding");
    m_delimiter->setObjectName("readDelimiter");
    m_decimals->setObjectName("readDecimals");
    m_header->setObjectName("readHeader");
    m_encoding->setEditable(true);
    m_encoding->setInsertPolicy(QComboBox::NoInsert);
    m_encoding->setToolTip(
        tr("Where names show wrong letters the file says the wrong encoding, or none"));
    for (const auto name : io::usualEncodings()) m_encoding->addItem(qtext(std::string(name)));
    for (const Delimiter& one : kDelimiters) m_delimiter->addItem(tr(one.name));
    auto* layout = new QVBoxLayout(this);
    layout->setContentsMargins(0, 0, 0, 0);
    layout->setSpacing(8);
    layout->addWidget(captioned(tr("Encoding of its letters"), m_encoding));
    auto* table = new QVBoxLayout(m_tablePart);
    table->setContentsMargins(0, 0, 0, 0);
    table->setSpacing(8);
    table->addWidget(sideBySide(
        {captioned(tr("Between cells"), m_delimiter), captioned(tr("Decimal sign"), m_decimals)}));
    table->addWidget(captioned(tr("First row"), m_header));
    layout->addWidget(m_tablePart);
    connect(m_encoding, &QComboBox::activated, this,
            [this] { set("encoding", m_encoding->currentText().trimmed().toStdString()); });
    connect(m_delimiter, &QComboBox::activated, this, [this](int index) {
        set("delimiter", kDelimiters[static_cast<std::size_t>(index)].word);
    });
    connect(m_decimals, &QComboBox::activated, this,
            [this](int index) { set("decimals", index == 1 ? "comma" : "point"); });
    connect(m_header, &QComboBox::activated, this,
            [this](int index) { set("header", index == 0 ? "yes" : "no"); });
}

void ReadingPanel::set(const char* what, const std::string& value) {
    m_workspace.perform("source-reading", {{"source", Workspace::target(m_source)}, {what, value}});
}

void ReadingPanel::show(const doc::SourceRef& source, const session::SourceFacts& facts) {
    m_source = source.id;
    setVisible(!facts.reading.isPlain());
    const QSignalBlocker quiet(m_encoding);
    m_encoding->setEditText(qtext(facts.reading.encoding));
    m_tablePart->setVisible(facts.reading.hasHeader.has_value());
    for (std::size_t i = 0; i < kDelimiters.size(); ++i)
        if (facts.reading.delimiter == kDelimiters[i].sign)
            showChoice(m_delimiter, static_cast<int>(i));
    showChoice(m_decimals, facts.reading.decimalSign == "," ? 1 : 0);
    showChoice(m_header, facts.reading.hasHeader.value_or(true) ? 0 : 1);
}

}  // namespace ledge::app
