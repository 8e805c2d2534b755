#include "app/sheet/member_form.h"

#include <QFileDialog>
#include <QJsonArray>
#include <QJsonDocument>
#include <QPlainTextEdit>
#include <QSignalBlocker>

#include "app/benches/bench_page.h"
#include "app/widgets/colour_button.h"
#include "app/widgets/font_choice.h"
#include "app/widgets/formula_choice.h"
#include "app/widgets/rows.h"
#include "core/base/numbers.h"
#include "document/json/members.h"

namespace ledge::app {
namespace {
using Kind = MemberRow::Kind;

bool isHalf(Kind kind) {
    return kind == Kind::Number || kind == Kind::Choice || kind == Kind::Colour ||
           kind == Kind::Paint;
}

doc::Id layerOf(const doc::SheetItem& item) {
    if (const auto* table = item.as<doc::TableItem>()) return table->layer;
    const auto* chart = item.as<doc::ChartItem>();
    return chart ? chart->layer : 0;
}
}  // namespace

MemberForm::MemberForm(Workspace& workspace, session::FactBook& facts, QWidget* parent)
    : QWidget(parent), m_workspace(workspace), m_facts(facts), m_rows(new QVBoxLayout(this)) {
    m_rows->setContentsMargins(0, 0, 0, 0);
    m_rows->setSpacing(6);
}

void MemberForm::set(const MemberRow& row, const std::string& value, bool isDragged) {
    m_workspace.setItemMember(row.member, value,
                              isDragged ? QString("item.%1").arg(row.member) : QString());
}

void MemberForm::show(const doc::SheetItem& item, const std::vector<MemberRow>& rows) {
    std::string shape;
    for (const MemberRow& row : rows) shape += std::string(row.member) + "|" + row.objectName + ";";
    if (shape != m_shape) build(rows), m_shape = shape;
    for (const Field& field : m_fields) field.show(item);
}

void MemberForm::build(const std::vector<MemberRow>& rows) {
    clearRows(m_rows);
    m_fields.clear();
    for (const MemberRow& row : rows) m_fields.push_back(make(row));
    // Narrow ones side by side, two in a row.
    for (std::size_t i = 0; i < m_fields.size(); ++i) {
        const bool isPair =
            isHalf(rows[i].kind) && i + 1 < m_fields.size() && isHalf(rows[i + 1].kind);
        if (!isPair) {
            m_rows->addWidget(framed(m_fields[i]));
            continue;
        }
        m_rows->addWidget(sideBySide({framed(m_fields[i]), framed(m_fields[i + 1])}));
        ++i;
    }
}

QWidget* MemberForm::framed(const Field& field) const {
    if (field.row.kind == Kind::Check) return field.box;
    if (auto* formula = qobject_cast<FormulaChoice*>(field.box))
        return captioned(field.row.caption, formula);
    return captioned(field.row.caption, field.box);
}

MemberForm::Field MemberForm::make(const MemberRow& row) {
    Field out;
    out.row = row;
    const auto text = [member = row.member](const doc::SheetItem& item) {
        return doc::memberText(item, member);
    };
    switch (row.kind) {
    case Kind::Number: {
        auto* box = makeNumber(row.caption, row.low, row.high, row.decimals, row.suffix, row.step);
        out.box = box;
        out.show = [box, text](const doc::SheetItem& item) {
            showNumber(box, parseNumber(text(item)).value_or(0));
        };
        connect(box, &QDoubleSpinBox::valueChanged, this,
                [this, row](double v) { set(row, exactNumber(v), true); });
        break;
    }
    case Kind::Check: {
        auto* box = new QCheckBox(row.caption);
        out.box = box;
        out.show = [box, text](const doc::SheetItem& item) { showCheck(box, text(item) == "yes"); };
        connect(box, &QCheckBox::clicked, this, [this, row](bool on) { set(row, doc::word(on)); });
        break;
    }
    case Kind::Choice: {
        auto* box = makeChoice(row.caption, row.options);
        out.box = box;
        out.show = [box, text, words = row.words](const doc::SheetItem& item) {
            const std::string now = text(item);
            int index = -1;
            for (std::size_t i = 0; i < words.size(); ++i)
                if (now == words[i]) index = static_cast<int>(i);
            showChoice(box, index);
        };
        connect(box, &QComboBox::activated, this,
                [this, row](int i) { set(row, row.words[static_cast<std::size_t>(i)]); });
        break;
    }
    case Kind::Line: {
        auto* box = makeText(row.caption);
        out.box = box;
        out.show = [box, text](const doc::SheetItem& item) { showText(box, qtext(text(item))); };
        connect(box, &QLineEdit::editingFinished, this, [this, row, box, text] {
            const auto* item = m_workspace.item();
            if (item && qtext(text(*item)) != box->text())
                set(row, box->text().trimmed().toStdString());
        });
        break;
    }
    case Kind::Lines: {
        auto* box = new QPlainTextEdit;
        box->setAccessibleName(row.caption);
        box->setFixedHeight(64);
        box->setTabChangesFocus(true);
        out.box = box;
        out.show = [box, text](const doc::SheetItem& item) {
            const QString now = qtext(text(item));
            const QSignalBlocker quiet(box);
            if (box->toPlainText() != now) box->setPlainText(now);
        };
        connect(box, &QPlainTextEdit::textChanged, this,
                [this, row, box] { set(row, box->toPlainText().toStdString(), true); });
        break;
    }
    case Kind::List: {
        auto* box = new QPlainTextEdit;
        box->setAccessibleName(row.caption);
        box->setFixedHeight(84);
        box->setTabChangesFocus(true);
        out.box = box;
        const auto typed = [box] {
            std::vector<std::string> lines;
            for (const QString& line : box->toPlainText().split('\n'))
                if (!line.trimmed().isEmpty()) lines.push_back(line.trimmed().toStdString());
            return doc::styleText(lines);
        };
        out.show = [box, text, typed](const doc::SheetItem& item) {
            QStringList lines;
            const QByteArray now = QByteArray::fromStdString(text(item));
            for (const QJsonValue& one : QJsonDocument::fromJson(now).array())
                lines << one.toString();
            const QSignalBlocker quiet(box);
            // A line that is being begun stays.
            if (QJsonDocument::fromJson(QByteArray::fromStdString(typed())) !=
                QJsonDocument::fromJson(now))
                box->setPlainText(lines.join('\n'));
        };
        connect(box, &QPlainTextEdit::textChanged, this,
                [this, row, typed] { set(row, typed(), true); });
        break;
    }
    case Kind::Colour: {
        auto* box = new ColourButton(row.caption);
        out.box = box;
        out.show = [box, text](const doc::SheetItem& item) {
            box->setColour(parseColour(text(item)).value_or(Colour{}));
        };
        connect(box, &ColourButton::chosen, this,
                [this, row](Colour c) { set(row, colourText(c)); });
        break;
    }
    case Kind::Paint: {
        auto* there = new QCheckBox;
        there->setAccessibleName(row.caption);
        there->setToolTip(tr("Whether there is one"));
        auto* patch = new ColourButton(row.caption);
        auto* box = new QWidget;
        auto* layout = new QHBoxLayout(box);
        layout->setContentsMargins(0, 0, 0, 0);
        layout->addWidget(there);
        layout->addWidget(patch, 1);
        out.box = box;
        out.show = [there, patch, text](const doc::SheetItem& item) {
            const auto colour = parseColour(text(item));
            showCheck(there, colour.has_value());
            patch->setEnabled(colour.has_value());
            if (colour) patch->setColour(*colour);
        };
        connect(there, &QCheckBox::clicked, this, [this, row, patch](bool on) {
            set(row, on ? colourText(patch->colour()) : "none");
        });
        connect(patch, &ColourButton::chosen, this,
                [this, row](Colour c) { set(row, colourText(c)); });
        break;
    }
    case Kind::Font: {
        auto* box = new FontChoice(row.caption);
        out.box = box;
        out.show = [box, text](const doc::SheetItem& item) { box->show(text(item)); };
        connect(box, &FontChoice::said, this,
                [this, row](const std::string& family) { set(row, family); });
        break;
    }
    case Kind::Panel:
    case Kind::Layer:
    case Kind::Profile: {
        auto* box = makeChoice(row.caption, {});
        out.box = box;
        out.show = [this, box, text, kind = row.kind](const doc::SheetItem& item) {
            const QSignalBlocker quiet(box);
            box->clear();
            const auto add = [box](const std::string& name, doc::Id id) {
                box->addItem(qtext(name), QVariant::fromValue(id));
            };
            if (kind == Kind::Panel && m_workspace.sheet())
                for (const doc::SheetItem& one : m_workspace.sheet()->items)
                    if (one.as<doc::MapPanel>()) add(one.name, one.id);
            if (kind == Kind::Profile)
                for (const auto& one : m_workspace.document().profiles) add(one.name, one.id);
            if (kind == Kind::Layer) {
                if (item.as<doc::MapPanel>()) add(tr("nothing").toStdString(), 0);
                for (const auto& one : doc::allLayers(m_workspace.document().layers)) {
                    const auto* vector = one->as<doc::VectorLayer>();
                    if (vector &&
                        (!item.as<doc::MapPanel>() || vector->geometry == GeometryType::Polygon))
                        add(one->name, one->id);
                }
            }
            const auto now = static_cast<doc::Id>(parseNumber(text(item)).value_or(0));
            int index = -1;
            for (int i = 0; i < box->count(); ++i)
                if (box->itemData(i).value<doc::Id>() == now) index = i;
            // Of panels none stands for the first.
            if (index < 0 && kind == Kind::Panel && now == 0) index = box->count() - 1;
            box->setCurrentIndex(index);
        };
        connect(box, &QComboBox::activated, this, [this, row, box](int i) {
            set(row, std::to_string(box->itemData(i).value<doc::Id>()));
        });
        break;
    }
    case Kind::Formula: {
        auto* box = new FormulaChoice(
            row.caption,
            row.tip.isEmpty() ? tr("A field, or a formula typed in its place") : row.tip,
            tr("nothing"));
        out.box = box;
        out.show = [this, box, text](const doc::SheetItem& item) {
            const doc::Layer* layer = m_workspace.document().layer(layerOf(item));
            const auto* source = layer ? m_workspace.document().source(layer->source) : nullptr;
            const auto* facts = source ? m_facts.facts(*source) : nullptr;
            box->show(facts ? facts->fields : std::vector<ledge::Field>(), false, text(item));
        };
        connect(box, &FormulaChoice::said, this,
                [this, row](const std::string& said) { set(row, said); });
        break;
    }
    case Kind::File: {
        auto* button = makeButton(tr("Choose a file…"), row.tip);
        out.box = button;
        out.show = [button](const doc::SheetItem& item) {
            const auto* picture = item.as<doc::PictureItem>();
            button->setText(picture && !picture->file.empty()
                                ? qtext(picture->file.filename().string())
                                : tr("Choose a file…"));
        };
        connect(button, &QPushButton::clicked, this, [this, row] {
            const QString path = QFileDialog::getOpenFileName(
                this, tr("Picture"), {}, tr("Pictures (*.png *.jpg *.jpeg *.tif *.tiff *.svg)"),
                nullptr, QFileDialog::DontUseNativeDialog);
            if (!path.isEmpty()) set(row, path.toStdString());
        });
        break;
    }
    }
    out.box->setObjectName(row.objectName);
    if (!row.tip.isEmpty()) out.box->setToolTip(row.tip);
    return out;
}

}  // namespace ledge::app
