#include <benchmark/benchmark.h>
#include <fcntl.h>
#include <unistd.h>

#include <cmath>

#include "core/raster/typed_raster.h"
#include "io/registry.h"
#include "session/derive/operations.h"

using namespace ledge;
namespace fs = std::filesystem;

namespace {
// Hills computed when they are read.
class Hills final : public TypedRaster<Hills> {
public:
    Hills() {
        m_info.width = m_info.height = 10000;
        m_info.bands = {{CellType::Float32, -9999.0, "metre"}};
        m_info.toWorld = {10, 0, 400000, 0, -10, 6900000};
        m_info.crs = *crs::crsFromCode(32629);
    }
    const RasterInfo& info() const override { return m_info; }

private:
    friend class TypedRaster<Hills>;
    template <typename T>
    Result<void> readAs(int, CellWindow w, BlockView<T> out) const {
        for (std::size_t r = 0; r < out.rows(); ++r)
            for (std::size_t c = 0; c < out.cols(); ++c)
                out(r, c) =
                    static_cast<T>(400 + 300 * std::sin(double(w.row + std::int64_t(r)) / 90) *
                                             std::cos(double(w.col + std::int64_t(c)) / 70));
        return {};
    }
    RasterInfo m_info;
};

struct Folder {
    fs::path path = fs::temp_directory_path() / ("ledge-bench-" + std::to_string(::getpid()));
    Folder() { fs::create_directories(path); }
    ~Folder() { fs::remove_all(path); }
};
const fs::path& folder() {
    static const Folder one;
    return one.path;
}

const fs::path& demFile() {
    static const fs::path path = [] {
        const fs::path file = folder() / "dem.tif";
        (void)io::writeRaster(Hills(), file, io::Compression::None, {}).has_value();
        return file;
    }();
    return path;
}

// The limit for file to file: reading the input and writing it again, safe on the disk as every
// file of ours is when it appears.
void copyFile(benchmark::State& state) {
    (void)demFile();
    std::vector<char> bytes(4 << 20);
    for (auto _ : state) {
        const int in = ::open(demFile().c_str(), O_RDONLY | O_CLOEXEC);
        const int out =
            ::open((folder() / "copy.tif").c_str(), O_WRONLY | O_CREAT | O_TRUNC | O_CLOEXEC, 0644);
        for (ssize_t n = 0; (n = ::read(in, bytes.data(), bytes.size())) > 0;)
            if (::write(out, bytes.data(), static_cast<std::size_t>(n)) != n) break;
        ::fsync(out);
        ::close(in);
        ::close(out);
    }
}
BENCHMARK(copyFile)
    ->Name("copy of a 400 MB GeoTIFF, on the disk")
    ->Unit(benchmark::kMillisecond)
    ->UseRealTime();

void hillshadeFile(benchmark::State& state) {
    const session::SourceCache cache;
    doc::Lineage lineage;
    lineage.operation = "hillshade";
    lineage.inputs.resize(1);
    lineage.inputs[0].path = demFile();
    for (auto _ : state)
        if (!session::writeDerived(lineage, cache, folder() / "shade.tif", {}))
            state.SkipWithError("could not be written");
}
BENCHMARK(hillshadeFile)
    ->Name("hillshade of it, file to file")
    ->Unit(benchmark::kMillisecond)
    ->UseRealTime();
}  // namespace
