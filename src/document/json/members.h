#pragma once
#include "core/base/result.h"
#include "document/document.h"

/// Single values of a layer, source or sheet item, by the path they have in a project: "opacity",
/// "style.levels.interval", "style.lights.0.azimuth". Whatever a project can say can be set so.
namespace ledge::doc {

/// Text as it is for texts, yes or no for truths, else JSON; of an object the members given, null
/// for what shall be none. Errors: NotFound for a member that is
/// not there; InvalidArgument for a value that it cannot have.
Result<Layer> withMember(const Layer& layer, const std::string& path, const std::string& value);
Result<SourceRef> withMember(const SourceRef& source, const std::string& path,
                             const std::string& value);
Result<SheetItem> withMember(const SheetItem& item, const std::string& path,
                             const std::string& value);

/// Several members, as a JSON object by their paths.
Result<SheetItem> withMembers(const SheetItem& item, const std::string& object);
/// Of a sheet its page, margins, guides and series; its items have edits of their own.
Result<Sheet> withMember(const Sheet& sheet, const std::string& path, const std::string& value);

/// A member as withMember() takes it; empty when there is none.
std::string memberText(const Layer& layer, const std::string& path);
std::string memberText(const SheetItem& item, const std::string& path);
std::string memberText(const Sheet& sheet, const std::string& path);
/// Whether a kind of item has a member.
bool hasMember(const SheetItem& item, const std::string& path);

/// A part of a style as withMember() takes it, with all its members.
std::string styleText(const Look& look);
std::string styleText(const std::vector<Category>& categories);
std::string styleText(const Ramp& ramp);
std::string styleText(const VectorStyle& style);
std::string styleText(const ClassRule& rule);
std::string styleText(const SizeRule& rule);
std::string styleText(const DotRule& rule);
std::string styleText(const std::vector<StyleRule>& rules);
std::string styleText(const std::vector<LabelStyle>& labels);
std::string styleText(const LabelStyle& labels);
std::string styleText(const RasterStyle& style);
std::string styleText(const ImageStyle& style);
std::string styleText(const GridStyle& style);
std::string styleText(const std::vector<PanelGrid>& grids);
std::string styleText(const std::vector<ItemPin>& pins);
std::string styleText(const std::vector<Id>& ids);
std::string styleText(const std::vector<std::string>& texts);
std::string styleText(const std::vector<Point>& points);
std::string styleText(const std::map<std::string, std::string>& texts);
/// What makes one lineage of another; settings that are gone are none.
std::string lineagePatch(const Lineage& from, const Lineage& to);
/// A text as JSON, for parts of styles put together by hand.
std::string quoted(const std::string& text);
/// Units as edits and projects name them.
std::string unitName(LengthUnit unit);
std::string unitName(CoordinateForm form);
std::string dateFormName(DateForm form);
std::string methodName(classify::Method method);
/// "yes" or "no".
inline std::string word(bool isOn) { return isOn ? "yes" : "no"; }

}  // namespace ledge::doc
