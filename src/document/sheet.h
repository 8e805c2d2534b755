#pragma once
#include <array>
#include <map>
#include <memory>
#include <optional>
#include <string>
#include <variant>
#include <vector>

#include "core/base/colour.h"
#include "core/geometry/point.h"
#include "document/id.h"
#include "document/shared.h"

namespace ledge::doc {

struct Layer;
using LayerPtr = std::shared_ptr<const Layer>;

/// Millimetres on the page, from its upper left corner.
struct PageRect {
    double left = 0, top = 0, width = 10, height = 10;
    bool operator==(const PageRect&) const = default;
};

/// A map on a sheet. It owns where it looks; layers and styles follow the map unless frozen.
struct MapPanel {
    Point centre;
    double scale = 50000;
    double rotation = 0;
    std::string crs;  ///< as Document::mapCrs
    double frameMm = 0.25;
    bool hasTicks = true;
    std::optional<std::vector<LayerPtr>> frozen;
    bool operator==(const MapPanel&) const;
};
enum class Align : std::uint8_t { Left, Centre, Right };
/// As projects and edits spell them, in the order of the enumeration.
inline constexpr std::array<const char*, 3> kAlignNames{"left", "centre", "right"};

/// Text with values in braces: {scale}, {crs}, {sheet}, {project}, {date}.
struct TextItem {
    std::string text;
    double sizePt = 9;
    bool isBold = false, isItalic = false;
    Colour colour{0x23, 0x26, 0x3F};
    Align align = Align::Left;
    bool operator==(const TextItem&) const = default;
};
struct LegendItem {
    Id panel = 0;
    int columns = 1;
    double sizePt = 7.5;
    std::string title;
    std::map<Id, std::string> names;  ///< renamed here without touching the layer
    std::vector<Id> left_out;         ///< layers not listed
    bool operator==(const LegendItem&) const = default;
};
struct ScaleBarItem {
    Id panel = 0;
    double sizePt = 7;
    bool operator==(const ScaleBarItem&) const = default;
};
struct NorthArrowItem {
    Id panel = 0;
    bool operator==(const NorthArrowItem&) const = default;
};
/// Credits of the sources drawn in the sheet's panels, then the text added.
struct CreditsItem {
    std::string added;
    double sizePt = 5.5;
    Align align = Align::Right;
    bool operator==(const CreditsItem&) const = default;
};
/// The chart of a profile kept on the ledge.
struct ProfileItem {
    Id profile = 0;
    double sizePt = 6.5;
    bool operator==(const ProfileItem&) const = default;
};
/// A kind that this version does not know; see UnknownLayer.
struct UnknownItem {
    std::string kind;
    bool operator==(const UnknownItem&) const = default;
};
using SheetContent = std::variant<MapPanel, TextItem, LegendItem, ScaleBarItem, NorthArrowItem,
                                  CreditsItem, ProfileItem, UnknownItem>;

struct SheetItem {
    Id id = 0;
    std::string name;
    PageRect rect;
    bool isHidden = false, isLocked = false;
    SheetContent content;
    bool operator==(const SheetItem&) const = default;

    template <typename T>
    const T* as() const {
        return std::get_if<T>(&content);
    }
    template <typename T>
    T* as() {
        return std::get_if<T>(&content);
    }
};
/// What its kind is called, as kinds.h has it.
std::string itemKind(const SheetItem& item);

/// A page with its items, drawn from the last to the first of the list, so the first is on top.
struct Sheet {
    Id id = 0;
    std::string name;
    double widthMm = 297, heightMm = 210;
    std::vector<Shared<SheetItem>> items;
    bool operator==(const Sheet&) const = default;

    const SheetItem* item(Id itemId) const;
    /// The named panel, or the first one when there is no such; null without any.
    const SheetItem* panel(Id itemId) const;
};

}  // namespace ledge::doc
