#pragma once
#include <functional>
#include <map>
#include <span>
#include <string>
#include <string_view>
#include <variant>
#include <vector>

#include "core/base/result.h"
#include "document/document.h"

/// Edits by name and arguments: one table for the window, the command, scripts and recordings. Each
/// is a pure function; targets are named by id or name, and what is there already is replaced, so
/// doing one twice is doing it once.
namespace ledge::doc {

struct EditArgument {
    enum class Kind : std::uint8_t {
        Text,
        Number,
        Length,   ///< on paper: millimetres, or with their unit, such as 6 in
        Lengths,  ///< separated by commas
        Yes,      ///< yes or no
        Choice,
        Numbers,  ///< separated by commas
        Crs,      ///< any name that parseCrs knows; empty: local coordinates
        // Targets by name, or by id as #5; a name of digits alone may leave the # out.
        Layer,
        Layers,
        Sources,
        Group,
        Source,
        View,
        Profile,
        Question,
        Sheet,
        Item,  ///< on the sheet named by the argument "sheet"
        Items,
    };
    std::string_view name;
    Kind kind = Kind::Text;
    std::string_view unit = {};  ///< of numbers, in words: "mm", "degrees", "1 : n on the ground"
    bool isRequired = true;
    double low = -1e300, high = 1e300;  ///< of numbers
    std::vector<std::string_view> choices = {};
    bool mayBeGone = false;  ///< a target that is not there is nothing to do
};

/// Arguments as they are given, spelled as the command spells them.
using EditWords = std::map<std::string, std::string, std::less<>>;

/// Arguments checked against a document: numbers in range, targets found.
class EditValues {
public:
    bool has(std::string_view name) const { return m_values.contains(name); }
    const std::string& text(std::string_view name) const { return get<std::string>(name); }
    double number(std::string_view name) const { return get<double>(name); }
    bool isOn(std::string_view name) const { return get<bool>(name); }
    Id id(std::string_view name) const { return get<Id>(name); }
    const std::vector<double>& numbers(std::string_view name) const {
        return get<std::vector<double>>(name);
    }
    const std::vector<Id>& ids(std::string_view name) const { return get<std::vector<Id>>(name); }

private:
    friend class EditChecker;
    using One = std::variant<std::string, double, bool, Id, std::vector<double>, std::vector<Id>>;
    template <typename T>
    const T& get(std::string_view name) const {
        return std::get<T>(m_values.find(name)->second);
    }
    std::map<std::string, One, std::less<>> m_values;
};

struct NamedEdit {
    std::string_view name;      ///< "layer-opacity"
    std::string_view sentence;  ///< for the undo list; {layer} and its like stand for names
    std::vector<EditArgument> arguments;
    Result<Document> (*apply)(const Document&, const EditValues&) = nullptr;
};

/// Every edit, by topic and name.
std::span<const NamedEdit> namedEdits();
/// Null when there is none of this name.
const NamedEdit* namedEdit(std::string_view name);

struct EditOutcome {
    Document document;
    std::string sentence;  ///< "Opacity of Light"
};
/// Errors: NotFound for unknown edits, arguments and targets (with those that there are);
/// InvalidArgument for values that cannot be used.
Result<EditOutcome> applied(const Document& document, std::string_view name,
                            const EditWords& arguments);

/// Rows of the table by topic.
std::vector<NamedEdit> layerEditRows();
std::vector<NamedEdit> labelEditRows();
std::vector<NamedEdit> lightEditRows();
std::vector<NamedEdit> tableEditRows();
std::vector<NamedEdit> mapEditRows();
std::vector<NamedEdit> sheetEditRows();
std::vector<NamedEdit> itemEditRows();
std::vector<NamedEdit> panelEditRows();
std::vector<NamedEdit> questionEditRows();

}  // namespace ledge::doc
