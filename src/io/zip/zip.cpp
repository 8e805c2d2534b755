#include "io/zip/zip.h"

#include <zip.h>

#include <algorithm>

#include "io/files/atomic_file.h"

namespace ledge::io {
namespace {
namespace fs = std::filesystem;
constexpr std::size_t kMostBytes = std::size_t{4} << 30;
constexpr std::size_t kStep = 1 << 20;
}  // namespace

ZipReader::ZipReader(fs::path path, zip* archive) : m_path(std::move(path)), m_archive(archive) {
    const auto count = zip_get_num_entries(archive, 0);
    for (zip_int64_t i = 0; i < count; ++i)
        if (const char* name = zip_get_name(archive, static_cast<zip_uint64_t>(i), 0))
            if (std::string text = name; !text.empty() && !text.ends_with('/'))
                m_names.push_back(std::move(text));
}

ZipReader::~ZipReader() { zip_discard(m_archive); }

Result<std::unique_ptr<ZipReader>> ZipReader::open(const fs::path& path) {
    int code = 0;
    zip* archive = zip_open(path.c_str(), ZIP_RDONLY, &code);
    if (!archive) {
        zip_error_t error;
        zip_error_init_with_code(&error, code);
        const std::string why = zip_error_strerror(&error);
        zip_error_fini(&error);
        return badFormat(path, "no archive that can be read (" + why + ")");
    }
    return std::unique_ptr<ZipReader>(new ZipReader(path, archive));
}

Result<std::string> ZipReader::text(const std::string& name) const {
    zip_file_t* file = zip_fopen(m_archive, name.c_str(), 0);
    if (!file)
        return badFormat(m_path, name + " in it cannot be read (" + zip_strerror(m_archive) + ")");
    std::string out;
    zip_int64_t got = 0;
    do {
        const std::size_t before = out.size();
        if (before > kMostBytes) {
            zip_fclose(file);
            return Error{ErrorCode::LimitExceeded, nameOf(m_path),
                         name + " in it is larger than 4 GB", "unpack it first"};
        }
        out.resize(before + kStep);
        got = zip_fread(file, out.data() + before, kStep);
        out.resize(before + static_cast<std::size_t>(std::max<zip_int64_t>(got, 0)));
    } while (got > 0);
    const bool isWhole = got == 0;
    // A wrong check sum is told here.
    const int closed = zip_fclose(file);
    if (!isWhole || closed != 0) return badFormat(m_path, name + " in it is damaged");
    return out;
}

Result<void> writeZip(const fs::path& into,
                      const std::vector<std::pair<std::string, std::string>>& texts,
                      const fs::path& named) {
    // In memory first: the library would put a file of its own in the place of the one given.
    zip_error_t error;
    zip_error_init(&error);
    zip_source_t* memory = zip_source_buffer_create(nullptr, 0, 0, &error);
    if (!memory) return writeFailure(named, "cannot be written");
    zip* archive = zip_open_from_source(memory, ZIP_TRUNCATE, &error);
    if (!archive) {
        zip_source_free(memory);
        return writeFailure(named, "cannot be written");
    }
    zip_source_keep(memory);
    for (const auto& [name, text] : texts) {
        zip_source_t* source = zip_source_buffer(archive, text.data(), text.size(), 0);
        const auto at = source ? zip_file_add(archive, name.c_str(), source, ZIP_FL_ENC_UTF_8) : -1;
        if (at < 0) {
            if (source) zip_source_free(source);
            zip_discard(archive);
            zip_source_free(memory);
            return writeFailure(named, "cannot be written");
        }
        // One time for all, so that the same content is the same file.
        zip_file_set_mtime(archive, static_cast<zip_uint64_t>(at), 315619200, 0);
    }
    if (zip_close(archive) != 0) {
        zip_discard(archive);
        zip_source_free(memory);
        return writeFailure(named, "cannot be written");
    }
    std::string bytes;
    zip_stat_t size;
    if (zip_source_open(memory) == 0 && zip_source_stat(memory, &size) == 0) {
        bytes.resize(size.size);
        if (zip_source_read(memory, bytes.data(), size.size) !=
            static_cast<zip_int64_t>(size.size))
            bytes.clear();
    }
    zip_source_free(memory);
    if (bytes.empty()) return writeFailure(named, "cannot be written");
    return fillFile(into, bytes, named);
}

}  // namespace ledge::io
