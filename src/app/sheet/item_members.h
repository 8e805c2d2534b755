#pragma once
#include <QStringList>
#include <vector>

#include "document/sheet.h"

namespace ledge::app {

/// A member of a sheet item as a field of the bench: what it is called and what it takes. The
/// form, the edit and the undo list come from this row.
struct MemberRow {
    enum class Kind : std::uint8_t {
        Number,
        Check,
        Choice,
        Line,   ///< a text of one line
        Lines,  ///< of several
        List,   ///< texts, one a line
        Colour,
        Paint,  ///< a colour, or none
        Font,
        Panel,    ///< a map panel of the sheet
        Layer,    ///< a layer with features
        Formula,  ///< a field, or a formula over the item's layer
        File,
        Profile,
    };
    const char* member;
    Kind kind;
    QString caption;
    const char* objectName = "";
    QString tip = {};
    double low = 0, high = 1000, step = 1;
    int decimals = 0;
    QString suffix = {};
    QStringList options = {};             ///< of choices, as they are shown
    std::vector<const char*> words = {};  ///< of choices, as edits spell them
};

/// What the content of an item has, in the order of the bench; compiles only when every kind has
/// its rows.
std::vector<MemberRow> contentMembers(const doc::SheetItem& item);
/// What every item has around its content.
std::vector<MemberRow> frameMembers();

}  // namespace ledge::app
