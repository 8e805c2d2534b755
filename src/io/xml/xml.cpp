#include "io/xml/xml.h"

#include "core/base/numbers.h"
#include "io/files/atomic_file.h"

namespace ledge::io {
namespace {
std::string_view withoutPrefix(std::string_view name) {
    const auto colon = name.rfind(':');
    return colon == std::string_view::npos ? name : name.substr(colon + 1);
}
}  // namespace

std::string_view nameOfNode(const pugi::xml_node& node) { return withoutPrefix(node.name()); }

pugi::xml_node child(const pugi::xml_node& node, std::string_view name) {
    for (const pugi::xml_node& one : node.children())
        if (nameOfNode(one) == name) return one;
    return {};
}

std::string textOf(const pugi::xml_node& node) { return trimmed(node.text().get()); }

std::string attributeOf(const pugi::xml_node& node, std::string_view name) {
    for (const pugi::xml_attribute& one : node.attributes())
        if (withoutPrefix(one.name()) == name) return one.value();
    return {};
}

Result<std::shared_ptr<pugi::xml_document>> xmlOf(const std::string& text,
                                                  const std::filesystem::path& named) {
    auto out = std::make_shared<pugi::xml_document>();
    const auto read = out->load_buffer(text.data(), text.size());
    if (!read)
        return badFormat(named, std::string(read.description()) + " at byte " +
                                    std::to_string(read.offset));
    return out;
}

Result<std::shared_ptr<pugi::xml_document>> xmlOf(const std::filesystem::path& path) {
    const auto text = readText(path);
    if (!text) return text.error();
    return xmlOf(*text, path);
}

std::string xmlText(const std::string& text) {
    std::string out;
    for (const char c : text) {
        switch (c) {
        case '&': out += "&amp;"; break;
        case '<': out += "&lt;"; break;
        case '>': out += "&gt;"; break;
        case '"': out += "&quot;"; break;
        default:
            // What no XML may hold.
            if (static_cast<unsigned char>(c) >= 0x20 || c == '\t' || c == '\n') out += c;
        }
    }
    return out;
}

}  // namespace ledge::io
