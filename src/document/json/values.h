#pragma once
#include "core/geometry/wkt_shape.h"
#include "document/json/archive.h"
#include "document/json/described.h"

/// Single values as JSON: numbers and texts as they are, points as two numbers, colours and choices
/// as words, structs by their description.
namespace ledge::doc::json {

template <typename T>
struct Value {  // enumerations, described structs, and what JSON has itself
    static Json from(const T& value, const JsonContext& context) {
        if constexpr (std::is_enum_v<T>) {
            static_assert(!kNames<T>.empty(),
                          "an enumeration needs its names in described_names.h");
            return kNames<T>[static_cast<std::size_t>(value)];
        } else if constexpr (IsDescribed<T>::value) {
            Json out = Json::object();
            JsonWriter writer(out, context);
            describe(writer, value);
            return out;
        } else {
            return value;
        }
    }
    static void into(const Json& json, T& value, const JsonContext& context) {
        if constexpr (std::is_enum_v<T>) {
            // A choice of a later version leaves the usual one; its word is kept in the file.
            const auto word = json.get<std::string>();
            for (std::size_t i = 0; i < kNames<T>.size(); ++i)
                if (word == kNames<T>[i]) value = static_cast<T>(i);
        } else if constexpr (IsDescribed<T>::value) {
            JsonReader reader(json, context);
            describe(reader, value);
        } else {
            if constexpr (std::is_integral_v<T> && !std::is_same_v<T, bool>)
                value = JsonReader::whole<T>(json);
            else
                value = json.get<T>();
        }
    }
};

template <>
struct Value<Colour> {
    static Json from(const Colour& colour, const JsonContext&) { return colourText(colour); }
    static void into(const Json& json, Colour& colour, const JsonContext&) {
        if (json.is_string()) colour = parseColour(json.get<std::string>()).value_or(colour);
    }
};

template <>
struct Value<Point> {
    static Json from(const Point& p, const JsonContext&) { return {p.x, p.y}; }
    static void into(const Json& json, Point& p, const JsonContext&) {
        p = {json.at(0).get<double>(), json.at(1).get<double>()};
    }
};

/// As well-known text; an empty text for none.
template <>
struct Value<Geometry> {
    static Json from(const Geometry& shape, const JsonContext&) {
        return shape.isEmpty() ? std::string() : wktOf(shape);
    }
    static void into(const Json& json, Geometry& shape, const JsonContext&) {
        const auto text = json.get<std::string>();
        shape = {};
        if (text.empty()) return;
        auto read = shapeFromWkt(text);
        if (!read) throw Misfit({}, read.error().why);
        shape = *std::move(read);
    }
};

template <>
struct Value<PageRect> {
    static Json from(const PageRect& r, const JsonContext&) {
        return {r.left, r.top, r.width, r.height};
    }
    static void into(const Json& json, PageRect& r, const JsonContext&) {
        r = {json.at(0).get<double>(), json.at(1).get<double>(), json.at(2).get<double>(),
             json.at(3).get<double>()};
    }
};

template <>
struct Value<std::array<StretchLimits, 3>> {
    static Json from(const std::array<StretchLimits, 3>& all, const JsonContext&) {
        Json out = Json::array();
        for (const StretchLimits& l : all) out.push_back({l.low, l.high});
        return out;
    }
    // An empty range cannot be stretched over.
    static void into(const Json& json, std::array<StretchLimits, 3>& all, const JsonContext&) {
        for (std::size_t i = 0; i < all.size() && i < json.size(); ++i) {
            const StretchLimits l{json[i].at(0).get<double>(), json[i].at(1).get<double>()};
            if (l.high > l.low) all[i] = l;
        }
    }
};

template <>
struct Value<Ramp> {
    static Json from(const Ramp& ramp, const JsonContext&) {
        Json out = Json::array();
        for (const RampStop& stop : ramp.stops)
            out.push_back({stop.value, colourText(stop.colour)});
        return out;
    }
    // Stops that go back are left out: a ramp ascends.
    static void into(const Json& json, Ramp& ramp, const JsonContext& context) {
        ramp = {};
        for (const Json& stop : JsonReader::array(json)) {
            RampStop read{stop.at(0).get<double>(), {}};
            json::into(stop.at(1), read.colour, context);
            if (ramp.stops.empty() || read.value >= ramp.stops.back().value)
                ramp.stops.push_back(read);
        }
    }
};

template <>
struct Value<std::filesystem::path> {
    static Json from(const std::filesystem::path& path, const JsonContext& context) {
        if (path.empty()) return "";
        const auto relative = path.lexically_relative(context.folder);
        return (relative.empty() ? path : relative).generic_string();
    }
    static void into(const Json& json, std::filesystem::path& path, const JsonContext& context) {
        const auto word = json.get<std::string>();
        path = word.empty() ? std::filesystem::path()
                            : (context.folder / std::filesystem::path(word)).lexically_normal();
    }
};

// One edit of a table: which, and its members. Those of a later version are passed over by whoever
// reads the list, and stay in the file.
template <>
struct Value<TableEdit> {
    static Json from(const TableEdit& edit, const JsonContext& context) {
        Json out{{"edit", kTableEditNames[edit.index()]}};
        JsonWriter writer(out, context);
        std::visit([&writer](const auto& e) { describe(writer, e); }, edit);
        return out;
    }
    /// Whether it is one that is known here.
    static bool read(const Json& json, TableEdit& edit, const JsonContext& context) {
        std::string name;
        JsonReader reader(json, context);
        reader("edit", name);
        return [&]<std::size_t... I>(std::index_sequence<I...>) {
            const auto tried = [&]<typename E>(E one, const char* of) {
                if (name != of) return false;
                describe(reader, one);
                edit = std::move(one);
                return true;
            };
            return (tried(std::variant_alternative_t<I, TableEdit>{}, kTableEditNames[I]) || ...);
        }
        (std::make_index_sequence<std::variant_size_v<TableEdit>>());
    }
};
template <>
struct Value<EditLog> {
    static Json from(const EditLog& log, const JsonContext& context) {
        Json out = Json::array();
        for (const TableEdit& edit : log.edits)
            out.push_back(Value<TableEdit>::from(edit, context));
        return out;
    }
    static void into(const Json& json, EditLog& log, const JsonContext& context) {
        log.edits.clear();
        for (const Json& one : JsonReader::array(json)) {
            TableEdit edit;
            if (Value<TableEdit>::read(one, edit, context)) log.edits.push_back(std::move(edit));
        }
    }
};

template <typename T>
struct Value<std::optional<T>> {
    static Json from(const std::optional<T>& value, const JsonContext& context) {
        return value ? json::from(*value, context) : Json();
    }
    static void into(const Json& json, std::optional<T>& value, const JsonContext& context) {
        value.reset();
        if (!json.is_null()) json::into(json, value.emplace(), context);
    }
};
// A number of a class, or none: whatever is no number.
template <>
struct Value<std::optional<double>> {
    static Json from(const std::optional<double>& value, const JsonContext&) {
        return value ? Json(*value) : Json();
    }
    static void into(const Json& json, std::optional<double>& value, const JsonContext&) {
        value.reset();
        if (json.is_number()) value = json.get<double>();
    }
};

template <typename T>
struct Value<Shared<T>> {
    static Json from(const Shared<T>& value, const JsonContext& context) {
        return json::from(*value, context);
    }
    static void into(const Json& json, Shared<T>& value, const JsonContext& context) {
        value.change([&](T& one) { json::into(json, one, context); });
    }
};
template <>
struct Value<LayerPtr> {
    static Json from(const LayerPtr& layer, const JsonContext& context) {
        return json::from(*layer, context);
    }
    static void into(const Json& json, LayerPtr& layer, const JsonContext& context) {
        Layer read;
        json::into(json, read, context);
        layer = std::make_shared<const Layer>(std::move(read));
    }
};

template <typename T>
struct Value<std::vector<T>> {
    static Json from(const std::vector<T>& values, const JsonContext& context) {
        Json out = Json::array();
        for (const T& value : values) out.push_back(json::from(value, context));
        return out;
    }
    static void into(const Json& json, std::vector<T>& values, const JsonContext& context) {
        values.clear();
        for (const Json& one : JsonReader::array(json))
            JsonReader::within(std::to_string(values.size()), [&] {
                T value{};
                json::into(one, value, context);
                values.push_back(std::move(value));
            });
    }
};

template <>
struct Value<std::set<Id>> {
    static Json from(const std::set<Id>& ids, const JsonContext&) { return ids; }
    static void into(const Json& json, std::set<Id>& ids, const JsonContext&) {
        ids.clear();
        for (const Json& id : JsonReader::array(json)) ids.insert(JsonReader::whole<Id>(id));
    }
};
template <>
struct Value<std::map<Id, std::string>> {
    static Json from(const std::map<Id, std::string>& names, const JsonContext&) {
        Json out = Json::object();
        for (const auto& [id, name] : names) out[std::to_string(id)] = name;
        return out;
    }
    static void into(const Json& json, std::map<Id, std::string>& names, const JsonContext&) {
        names.clear();
        for (const auto& [id, name] : json.items())
            names[std::strtoll(id.c_str(), nullptr, 10)] = name.get<std::string>();
    }
};

template <typename T>
Json from(const T& value, const JsonContext& context) {
    return Value<T>::from(value, context);
}
template <typename T>
void into(const Json& json, T& value, const JsonContext& context) {
    Value<T>::into(json, value, context);
}

// Those that others are made of, or ask for, are compiled once, in the file of their topic.
#define LEDGE_VALUE(word, T)                             \
    word template Json from(const T&, const JsonContext&); \
    word template void into(const Json&, T&, const JsonContext&)
LEDGE_VALUE(extern, Look);           // style_values.cpp
LEDGE_VALUE(extern, VectorStyle);
LEDGE_VALUE(extern, LabelStyle);
LEDGE_VALUE(extern, RasterStyle);
LEDGE_VALUE(extern, HillshadeStyle);
LEDGE_VALUE(extern, ContourStyle);
LEDGE_VALUE(extern, GridStyle);
LEDGE_VALUE(extern, Lineage);        // layer_values.cpp
LEDGE_VALUE(extern, EditLog);
LEDGE_VALUE(extern, SourceRef);
LEDGE_VALUE(extern, Layer);
LEDGE_VALUE(extern, SheetItem);      // sheet_values.cpp
LEDGE_VALUE(extern, Sheet);

}  // namespace ledge::doc::json
