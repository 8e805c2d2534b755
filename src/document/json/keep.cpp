#include "document/json/keep.h"

#include <map>
#include <set>

namespace ledge::doc {
namespace {
using ById = std::map<Id, const Json*>;

// Every object of a text that has an id of its own, and ids that more than one has: what this
// version does not know may hold any.
void gather(const Json& json, ById& out, std::set<Id>& shared) {
    if (json.is_object()) {
        const auto id = json.find("id");
        if (id != json.end() && id->is_number_integer() &&
            !out.emplace(id->get<Id>(), &json).second)
            shared.insert(id->get<Id>());
    }
    if (json.is_structured())
        for (const Json& inner : json) gather(inner, out, shared);
}

class Keeper {
public:
    Keeper(const Json& original, const Json& read) {
        gather(original, m_original, m_shared);
        gather(read, m_read, m_shared);
    }

    Json merged(const Json* original, const Json* read, const Json& now) const {
        if (now.is_object() && now.contains("id") && now["id"].is_number_integer()) {
            const Id id = now["id"].get<Id>();
            // Told apart by their places only.
            if (m_shared.contains(id)) return matched(original, read, now);
            const auto a = m_original.find(id), b = m_read.find(id);
            original = a == m_original.end() ? nullptr : a->second;
            read = b == m_read.end() ? nullptr : b->second;
        }
        return matched(original, read, now);
    }

private:
    Json matched(const Json* original, const Json* read, const Json& now) const {
        if (!original || !read) return plain(now);
        if (now.is_object() && original->is_object() && read->is_object())
            return members(*original, *read, now);
        if (now.is_array() && original->is_array() && read->is_array())
            return list(*original, *read, now);
        return now == *read ? *original : now;
    }

    // Something new; things moved into it are still found.
    Json plain(const Json& now) const {
        if (!now.is_structured()) return now;
        Json out = now;
        for (auto it = out.begin(); it != out.end(); ++it) *it = merged(nullptr, nullptr, *it);
        return out;
    }

    Json members(const Json& original, const Json& read, const Json& now) const {
        Json out = Json::object();
        const auto of = [](const Json& json, const std::string& key) -> const Json* {
            const auto it = json.find(key);
            return it == json.end() ? nullptr : &*it;
        };
        for (const auto& [key, value] : now.items()) {
            const Json *a = of(original, key), *b = of(read, key);
            // Written by habit, not by the file: no need to keep.
            out[key] = merged(a, b, value);
        }
        for (const auto& [key, value] : original.items())
            if (!now.contains(key) && !read.contains(key)) out[key] = value;
        return out;
    }

    Json list(const Json& original, const Json& read, const Json& now) const {
        const auto holdsIds = [](const Json& json) {
            return !json.empty() && json.front().is_object() && json.front().contains("id");
        };
        if (now == read && !holdsIds(now)) return original;
        const bool isAsLong = original.size() == now.size() && read.size() == now.size();
        Json out = Json::array();
        for (std::size_t i = 0; i < now.size(); ++i)
            out.push_back(isAsLong ? merged(&original[i], &read[i], now[i])
                                   : merged(nullptr, nullptr, now[i]));
        return out;
    }

    ById m_original, m_read;
    std::set<Id> m_shared;
};
}  // namespace

Json kept(const Json& original, const Json& read, const Json& now) {
    return Keeper(original, read).merged(&original, &read, now);
}

}  // namespace ledge::doc
