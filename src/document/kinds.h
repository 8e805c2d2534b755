#pragma once
#include <array>
#include <string_view>

#include "document/document.h"

/// One row a kind of layer and of sheet item: what it is called in projects and to people, and what
/// holds for all of that kind. A kind without its row does not compile.
namespace ledge::doc {

struct LayerKindInfo {
    std::string_view name;
    bool needsSource = true;    ///< has a file behind it
    bool readsHeights = false;  ///< made from an elevation model
    bool isVector = false;      ///< stays lines and areas on paper
};
template <typename T>
inline constexpr LayerKindInfo kLayerKind = T::no_row_for_this_kind;
template <>
inline constexpr LayerKindInfo kLayerKind<Group>{"group", false};
template <>
inline constexpr LayerKindInfo kLayerKind<VectorLayer>{"vector", true, false, true};
template <>
inline constexpr LayerKindInfo kLayerKind<RasterLayer>{"raster"};
template <>
inline constexpr LayerKindInfo kLayerKind<HeightTint>{"height tint", true, true};
template <>
inline constexpr LayerKindInfo kLayerKind<Hillshade>{"hillshade", true, true};
template <>
inline constexpr LayerKindInfo kLayerKind<Steepness>{"steepness tint", true, true};
template <>
inline constexpr LayerKindInfo kLayerKind<Contours>{"contours", true, true, true};
template <>
inline constexpr LayerKindInfo kLayerKind<GridLines>{"grid lines", false, false, true};
template <>
inline constexpr LayerKindInfo kLayerKind<UnknownLayer>{"unknown", false};

struct ItemKindInfo {
    std::string_view name;
};
template <typename T>
inline constexpr ItemKindInfo kItemKind = T::no_row_for_this_kind;
template <>
inline constexpr ItemKindInfo kItemKind<MapPanel>{"map panel"};
template <>
inline constexpr ItemKindInfo kItemKind<TextItem>{"text"};
template <>
inline constexpr ItemKindInfo kItemKind<LegendItem>{"legend"};
template <>
inline constexpr ItemKindInfo kItemKind<ScaleBarItem>{"scale bar"};
template <>
inline constexpr ItemKindInfo kItemKind<NorthArrowItem>{"north arrow"};
template <>
inline constexpr ItemKindInfo kItemKind<CreditsItem>{"credits"};
template <>
inline constexpr ItemKindInfo kItemKind<ProfileItem>{"profile"};
template <>
inline constexpr ItemKindInfo kItemKind<PictureItem>{"picture"};
template <>
inline constexpr ItemKindInfo kItemKind<ShapeItem>{"shape"};
template <>
inline constexpr ItemKindInfo kItemKind<TableItem>{"table"};
template <>
inline constexpr ItemKindInfo kItemKind<ChartItem>{"chart"};
template <>
inline constexpr ItemKindInfo kItemKind<UnknownItem>{"unknown"};

/// What holds for the kind of a layer.
inline const LayerKindInfo& kindInfo(const Layer& layer) {
    return std::visit([]<typename T>(const T&) -> const LayerKindInfo& { return kLayerKind<T>; },
                      layer.content);
}

/// Calls `act` with an empty one of each kind.
template <typename Variant, typename Act>
void forEachKind(const Act& act) {
    [&]<std::size_t... I>(std::index_sequence<I...>) {
        (act(std::variant_alternative_t<I, Variant>{}), ...);
    }
    (std::make_index_sequence<std::variant_size_v<Variant>>());
}
/// Calls `make` for the alternative of a variant whose row has this name, as its default value;
/// false when there is none. `name` tells an alternative's name.
template <typename Variant, typename Make>
bool forKindNamed(std::string_view wanted, auto name, const Make& make) {
    bool found = false;
    forEachKind<Variant>([&]<typename T>(T alternative) {
        if (found || name(alternative) != wanted) return;
        found = true;
        make(std::move(alternative));
    });
    return found;
}
template <typename Make>
bool forLayerKind(std::string_view wanted, const Make& make) {
    return forKindNamed<LayerContent>(
        wanted, []<typename T>(const T&) { return kLayerKind<T>.name; }, make);
}
template <typename Make>
bool forItemKind(std::string_view wanted, const Make& make) {
    return forKindNamed<SheetContent>(
        wanted, []<typename T>(const T&) { return kItemKind<T>.name; }, make);
}

}  // namespace ledge::doc
