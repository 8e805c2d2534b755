#pragma once
#include <algorithm>
#include <cmath>
#include <filesystem>
#include <map>
#include <nlohmann/json.hpp>
#include <optional>
#include <string>
#include <vector>

#include "document/document.h"
#include "document/json/vocabulary.h"

/// Reader and writer of what described_*.h describe: each struct is described once, as the list of
/// its members with the names they have in a project, and both come from that.
namespace ledge::doc {

using Json = nlohmann::ordered_json;

/// What a text says that cannot be: where, and why.
struct Misfit : std::exception {
    std::string path, why;
    Misfit(std::string at, std::string reason) : path(std::move(at)), why(std::move(reason)) {}
    const char* what() const noexcept override { return why.c_str(); }
};

/// What values need to know beyond themselves.
struct JsonContext {
    std::filesystem::path folder;  ///< that paths are relative to
    bool isComplete = false;       ///< members that are as usual are written too
};

namespace json {
// In values.h; compiled once for whole things, in *_values.cpp, so that others need only this.
template <typename T>
Json from(const T& value, const JsonContext& context);
template <typename T>
void into(const Json& json, T& value, const JsonContext& context);
}  // namespace json

/// Writes members into an object.
class JsonWriter {
public:
    static constexpr bool isReading = false;
    JsonWriter(Json& out, const JsonContext& context) : m_out(out), m_context(context) {}

    template <typename T>
    void operator()(const char* key, const T& value) {
        m_out[key] = json::from(value, m_context);
    }
    template <typename T>
    void operator()(const char* key, const T& value, Between) {
        (*this)(key, value);
    }
    template <typename T>
    void required(const char* key, const T& value) {
        (*this)(key, value);
    }
    /// Left out of projects when it is as usual.
    template <typename T>
    void sparse(const char* key, const T& value) {
        if (m_context.isComplete || !(value == T{})) (*this)(key, value);
    }
    template <typename T>
    void sparse(const char* key, const T& value, Between) {
        sparse(key, value);
    }
    /// Alike, where what is usual is no empty value.
    template <typename T>
    void usually(const char* key, const T& value, const T& usual) {
        if (m_context.isComplete || !(value == usual)) (*this)(key, value);
    }
    template <typename T>
    void usually(const char* key, const T& value, const T& usual, Between) {
        usually(key, value, usual);
    }
    /// Elements that lack members take them from `usual`.
    template <typename T>
    void list(const char* key, const std::vector<T>& values, const T&) {
        sparse(key, values);
    }
    /// A colour, or none.
    void paint(const char* key, bool isThere, const Colour& colour) {
        m_out[key] = isThere ? colourText(colour) : "none";
    }
    /// One of two words.
    void either(const char* key, bool isOne, const char* one, const char* other) {
        m_out[key] = isOne ? one : other;
    }
    /// A number, or a word for none.
    void numberOr(const char* key, const std::optional<double>& value, const char* none) {
        m_out[key] = value ? Json(*value) : Json(none);
    }
    bool has(const char*, bool isThere) const { return isThere; }
    /// What kind an alternative is, and later its members in the same object.
    template <typename V>
    void kind(const char* key, const V& content, const char*) {
        m_out[key] = kindName(content);
    }
    template <typename V>
    void membersOf(const V& content) {
        std::visit([this](const auto& c) { describe(*this, c); }, content);
    }
    /// What must hold after reading.
    template <typename F>
    void then(const F&) {}

private:
    Json& m_out;
    const JsonContext& m_context;
};

/// Reads members from an object; what is missing stays as it is.
class JsonReader {
public:
    static constexpr bool isReading = true;
    JsonReader(const Json& json, const JsonContext& context) : m_json(json), m_context(context) {
        if (!json.is_object()) throw Misfit("", "must be an object");
    }

    template <typename T>
    void operator()(const char* key, T& value) {
        const auto it = m_json.find(key);
        if (it != m_json.end()) read(key, *it, value);
    }
    template <typename T>
    void operator()(const char* key, T& value, Between range) {
        (*this)(key, value);
        keep(value, range);
    }
    template <typename T>
    void required(const char* key, T& value) {
        if (!m_json.contains(key)) throw Misfit(key, "is missing");
        (*this)(key, value);
    }
    template <typename T>
    void usually(const char* key, T& value, const T&) {
        (*this)(key, value);
    }
    template <typename T>
    void usually(const char* key, T& value, const T&, Between range) {
        (*this)(key, value, range);
    }
    template <typename T>
    void sparse(const char* key, T& value) {
        (*this)(key, value);
    }
    template <typename T>
    void sparse(const char* key, T& value, Between range) {
        (*this)(key, value, range);
    }
    template <typename T>
    void list(const char* key, std::vector<T>& values, const T& usual) {
        const auto it = m_json.find(key);
        if (it == m_json.end()) return;
        within(key, [&] {
            values.clear();
            for (const Json& one : array(*it)) {
                values.push_back(usual);
                within(std::to_string(values.size() - 1),
                       [&] { json::into(one, values.back(), m_context); });
            }
        });
    }
    void paint(const char* key, bool& isThere, Colour& colour) {
        std::string word;
        (*this)(key, word);
        isThere = word != "none";
        if (const auto read = parseColour(word)) colour = *read;
    }
    void either(const char* key, bool& isOne, const char* one, const char* other) {
        std::string word;
        (*this)(key, word);
        if (word == one || word == other) isOne = word == one;
    }
    void numberOr(const char* key, std::optional<double>& value, const char*) {
        const auto it = m_json.find(key);
        value.reset();
        if (it != m_json.end() && it->is_number()) value = it->get<double>();
    }
    bool has(const char* key, bool) const { return m_json.contains(key); }
    template <typename V>
    void kind(const char* key, V& content, const char* usual) {
        std::string name = usual;
        (*this)(key, name);
        content = contentNamed<V>(name);
    }
    template <typename V>
    void membersOf(V& content) {
        std::visit([this](auto& c) { describe(*this, c); }, content);
    }
    template <typename F>
    void then(const F& check) {
        check();
    }

    static const Json& array(const Json& json) {
        if (!json.is_array()) throw Misfit("", "must be a list");
        return json;
    }
    /// Says where in the text a misfit of `act` is.
    template <typename F>
    static void within(const std::string& key, const F& act) {
        try {
            act();
        } catch (Misfit& misfit) {
            misfit.path = key + (misfit.path.empty() ? "" : "." + misfit.path);
            throw;
        } catch (const Json::exception& problem) {
            std::string why = problem.what();
            if (const auto at = why.find("] "); at != std::string::npos) why = why.substr(at + 2);
            throw Misfit(key, why);
        }
    }

    /// A whole number of a type that may be written as a fraction or be out of its range.
    template <typename T>
    static T whole(const Json& json) {
        if (json.is_number_float()) {
            const double value = json.get<double>();
            // 2^63 is the first double beyond; smaller types are bounded exactly.
            if (!(value >= static_cast<double>(std::numeric_limits<T>::min()) &&
                  value < static_cast<double>(std::numeric_limits<T>::max())))
                throw Misfit("", "is no whole number that can be used");
            return static_cast<T>(value);
        }
        return json.get<T>();
    }

private:
    template <typename T>
    void read(const char* key, const Json& json, T& value) {
        within(key, [&] { json::into(json, value, m_context); });
    }
    template <typename T>
    static void keep(T& value, Between range) {
        if constexpr (std::is_arithmetic_v<T>) {
            const double kept = std::clamp(static_cast<double>(value), range.low, range.high);
            if (!(static_cast<double>(value) == kept)) value = static_cast<T>(kept);
        } else {
            for (auto& one : value) keep(one, range);
        }
    }

    const Json& m_json;
    const JsonContext& m_context;
};

}  // namespace ledge::doc
