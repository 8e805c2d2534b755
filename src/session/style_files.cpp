#include "session/style_files.h"

#include "core/base/numbers.h"
#include "document/json/style_text.h"
#include "io/files/atomic_file.h"
#include "session/sld.h"

namespace ledge::session {
namespace {
constexpr std::uintmax_t kMostBytes = 32u << 20;
}

Result<std::vector<std::string>> writeStyle(const doc::Layer& layer,
                                            const std::filesystem::path& path) {
    const std::string suffix = lowered(path.extension().string());
    if (suffix == ".ledgestyle") {
        const auto done = io::writeText(path, doc::styleFileText(layer));
        return done ? Result<std::vector<std::string>>(std::vector<std::string>())
                    : Result<std::vector<std::string>>(done.error());
    }
    const auto* vector = layer.as<doc::VectorLayer>();
    if (suffix != ".sld" || !vector)
        return Error{ErrorCode::Unsupported, path.filename().string(),
                     suffix == ".sld" ? "SLD is written for layers of features here"
                                      : "styles cannot be written as \"" + suffix + "\"",
                     "use .ledgestyle" + std::string(vector ? " or .sld" : "")};
    const SldText written = writeSld(*vector, layer.name);
    if (const auto done = io::writeText(path, written.text); !done) return done.error();
    return written.losses;
}

Result<ReadStyle> readStyle(const std::filesystem::path& path, const doc::Layer& layer) {
    auto text = io::readText(path, kMostBytes);
    if (!text) return text.error();
    const auto first = text->find_first_not_of(" \t\r\n\xEF\xBB\xBF");
    if (first == std::string::npos || (*text)[first] != '<') {
        // Whether it suits is told by trying.
        const auto tried = doc::withStyleText(layer, *text);
        if (!tried) return tried.error();
        return ReadStyle{*std::move(text), {}};
    }
    const auto* vector = layer.as<doc::VectorLayer>();
    if (!vector)
        return Error{ErrorCode::InvalidArgument, layer.name,
                     "an SLD is read for layers of features here", "choose such a layer"};
    auto read = readSld(*text, *vector);
    if (!read) return read.error();
    doc::Layer styled = layer;
    styled.content = std::move(read->layer);
    return ReadStyle{doc::styleFileText(styled), std::move(read->losses)};
}

}  // namespace ledge::session
