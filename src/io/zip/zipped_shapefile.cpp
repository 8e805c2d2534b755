#include "io/zip/zipped_shapefile.h"

#include <unistd.h>

#include <cstdlib>

#include "core/base/numbers.h"
#include "io/files/atomic_file.h"
#include "io/memory_features.h"
#include "io/shapefile/shapefile.h"
#include "io/zip/zip.h"

namespace ledge::io {
namespace {
namespace fs = std::filesystem;

// A folder that is gone when it is done with.
class Folder {
public:
    Folder() {
        std::string name = (fs::temp_directory_path() / "ledge-zip-XXXXXX").string();
        if (mkdtemp(name.data())) m_path = name;
    }
    ~Folder() {
        std::error_code ignored;
        if (!m_path.empty()) fs::remove_all(m_path, ignored);
    }
    Folder(const Folder&) = delete;
    Folder& operator=(const Folder&) = delete;
    const fs::path& path() const { return m_path; }

private:
    fs::path m_path;
};
}  // namespace

Result<FeatureSourcePtr> openZippedShapefile(const fs::path& path, const Progress& progress,
                                             const Reading& reading) {
    const auto archive = ZipReader::open(path);
    if (!archive) return archive.error();
    const Folder folder;
    if (folder.path().empty())
        return ioFailure(folder.path(), "no folder can be made to unpack it", "unpack it first");
    std::vector<FeatureTable> tables;
    const auto& names = (*archive)->names();
    for (std::size_t i = 0; i < names.size(); ++i) {
        if (!lowered(names[i]).ends_with(".shp")) continue;
        if (progress.stopped()) return cancelled(nameOf(path));
        const std::string stem = names[i].substr(0, names[i].size() - 4);
        // By plain names of our own: those in an archive may lead anywhere.
        const fs::path shape = folder.path() / ("shape" + std::to_string(i) + ".shp");
        for (const std::string& name : names)
            for (const char* suffix : {".shp", ".dbf", ".cpg", ".prj"})
                if (lowered(name) == lowered(stem) + suffix) {
                    const auto text = (*archive)->text(name);
                    if (!text) return text.error();
                    fs::path part = shape;
                    part.replace_extension(suffix);
                    if (const auto done = fillFile(part, *text, path); !done) return done.error();
                }
        const auto source = openShapefile(shape, progress, reading);
        if (!source) {
            Error error = source.error();
            error.what = nameOf(path) + ", " + names[i];
            return error;
        }
        FeatureTable table = *(*source)->held(0);
        table.info.name = fs::path(stem).filename().string();
        tables.push_back(std::move(table));
    }
    if (tables.empty())
        return badFormat(path, "an archive without a shapefile in it", "unpack it first");
    return FeatureSourcePtr(
        std::make_shared<MemoryFeatures>("zipped shapefile", std::move(tables)));
}

}  // namespace ledge::io
