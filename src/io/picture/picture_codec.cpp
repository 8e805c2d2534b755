#include "io/picture/picture_codec.h"

#include <png.h>

#include <csetjmp>
#include <cstdio>
#include <cstring>
#include <memory>
#include <string>

#include <jpeglib.h>

#include "io/files/atomic_file.h"
#include "io/picture/paper_png.h"

// Both libraries leave through longjmp. What they do is therefore apart from the function that
// calls setjmp, and everything with a destructor is in the object that owns both.
namespace ledge::io {
namespace {
constexpr double kMostBytes = 1024.0 * 1024 * 1024;
using FilePtr = std::unique_ptr<FILE, int (*)(FILE*)>;

Error tooLarge(const std::filesystem::path& name) {
    return {ErrorCode::LimitExceeded, nameOf(name), "the picture needs over 1 GB of memory",
            "convert it to a tiled GeoTIFF"};
}

struct PngReader {
    std::span<const std::byte> file;
    std::size_t at = 0;
    std::string message = {};
    Picture picture = {};
    std::vector<png_bytep> rows = {};
    png_structp png = nullptr;
    png_infop info = nullptr;
    bool isTooLarge = false;

    ~PngReader() { png_destroy_read_struct(&png, &info, nullptr); }

    static void fail(png_structp png, png_const_charp text) {
        static_cast<PngReader*>(png_get_error_ptr(png))->message = text;
        png_longjmp(png, 1);
    }
    static void quiet(png_structp, png_const_charp) {}
    static void give(png_structp png, png_bytep to, std::size_t size) {
        auto* self = static_cast<PngReader*>(png_get_io_ptr(png));
        if (self->file.size() - self->at < size) png_error(png, "the file ends too early");
        std::memcpy(to, self->file.data() + self->at, size);
        self->at += size;
    }

    void shape() {
        png_uint_32 width = 0, height = 0;
        int depth = 0, colour = 0;
        png_get_IHDR(png, info, &width, &height, &depth, &colour, nullptr, nullptr, nullptr);
        if (colour == PNG_COLOR_TYPE_PALETTE) {
            png_set_packing(png);
            readPalette();
        } else {
            png_set_expand_gray_1_2_4_to_8(png);
            if (png_get_valid(png, info, PNG_INFO_tRNS) != 0) png_set_tRNS_to_alpha(png);
            if (depth == 16) png_set_swap(png);
        }
        png_set_interlace_handling(png);
        png_read_update_info(png, info);
        picture.width = width, picture.height = height;
        picture.bands = png_get_channels(png, info);
        picture.bytesPerValue = png_get_bit_depth(png, info) == 16 ? 2 : 1;
    }
    void readPalette() {
        png_colorp colours = nullptr;
        png_bytep alphas = nullptr;
        int count = 0, alphaCount = 0;
        png_get_PLTE(png, info, &colours, &count);
        png_get_tRNS(png, info, &alphas, &alphaCount, nullptr);
        for (int i = 0; i < count; ++i)
            picture.palette.push_back({colours[i].red, colours[i].green, colours[i].blue,
                                       i < alphaCount ? alphas[i] : std::uint8_t{255}});
    }
    bool run(bool headerOnly) {
        png = png_create_read_struct(PNG_LIBPNG_VER_STRING, this, fail, quiet);
        info = png ? png_create_info_struct(png) : nullptr;
        if (!info) return false;
        if (setjmp(png_jmpbuf(png)) != 0) return false;
        return work(headerOnly);
    }
    [[gnu::noinline]] bool work(bool headerOnly) {
        png_set_read_fn(png, this, give);
        png_read_info(png, info);
        shape();
        if (headerOnly) return true;
        const std::size_t rowBytes = png_get_rowbytes(png, info);
        if (static_cast<double>(rowBytes) * static_cast<double>(picture.height) > kMostBytes) {
            isTooLarge = true;
            return false;
        }
        picture.values.resize(rowBytes * picture.height);
        for (std::size_t r = 0; r < picture.height; ++r)
            rows.push_back(reinterpret_cast<png_bytep>(picture.values.data() + r * rowBytes));
        png_read_image(png, rows.data());
        return true;
    }
};

struct JpegFailure {
    jpeg_error_mgr base;
    std::jmp_buf way;
    char message[JMSG_LENGTH_MAX];
};
void failJpeg(j_common_ptr jpeg) {
    auto* failure = reinterpret_cast<JpegFailure*>(jpeg->err);
    jpeg->err->format_message(jpeg, failure->message);
    std::longjmp(failure->way, 1);
}
void quietJpeg(j_common_ptr) {}

struct JpegReader {
    std::span<const std::byte> file;
    Picture picture = {};
    jpeg_decompress_struct jpeg{};
    JpegFailure failure{};
    bool isTooLarge = false, isFourInk = false;

    ~JpegReader() { jpeg_destroy_decompress(&jpeg); }

    bool run(bool headerOnly) {
        jpeg.err = jpeg_std_error(&failure.base);
        failure.base.error_exit = failJpeg;
        failure.base.output_message = quietJpeg;
        if (setjmp(failure.way) != 0) return false;
        return work(headerOnly);
    }
    [[gnu::noinline]] bool work(bool headerOnly) {
        jpeg_create_decompress(&jpeg);
        jpeg_mem_src(&jpeg, reinterpret_cast<const unsigned char*>(file.data()),
                     static_cast<unsigned long>(file.size()));
        jpeg_read_header(&jpeg, TRUE);
        isFourInk = jpeg.num_components > 3;
        if (isFourInk) return false;
        jpeg.out_color_space = jpeg.num_components == 1 ? JCS_GRAYSCALE : JCS_RGB;
        picture.width = jpeg.image_width, picture.height = jpeg.image_height;
        picture.bands = jpeg.num_components == 1 ? 1 : 3;
        if (headerOnly) return true;
        const std::size_t rowBytes = picture.width * picture.bands;
        isTooLarge =
            static_cast<double>(rowBytes) * static_cast<double>(picture.height) > kMostBytes;
        if (isTooLarge) return false;
        picture.values.resize(rowBytes * picture.height);
        jpeg_start_decompress(&jpeg);
        while (jpeg.output_scanline < jpeg.output_height) {
            auto* row =
                reinterpret_cast<JSAMPROW>(picture.values.data() + jpeg.output_scanline * rowBytes);
            jpeg_read_scanlines(&jpeg, &row, 1);
        }
        jpeg_finish_decompress(&jpeg);
        return true;
    }
};

struct PngWriter {
    const Picture& shape;
    const PictureRows& rows;
    FilePtr file{nullptr, std::fclose};
    std::string message = {};
    Result<void> failure = {};
    std::vector<std::byte> row = {};
    std::vector<png_color> colours = {};
    std::vector<png_byte> alphas = {};
    png_structp png = nullptr;
    png_infop info = nullptr;

    ~PngWriter() { png_destroy_write_struct(&png, &info); }

    static void fail(png_structp png, png_const_charp text) {
        static_cast<PngWriter*>(png_get_error_ptr(png))->message = text;
        png_longjmp(png, 1);
    }
    static void quiet(png_structp, png_const_charp) {}

    int colourType() const {
        if (!shape.palette.empty()) return PNG_COLOR_TYPE_PALETTE;
        static constexpr int kTypes[] = {PNG_COLOR_TYPE_GRAY, PNG_COLOR_TYPE_GRAY_ALPHA,
                                         PNG_COLOR_TYPE_RGB, PNG_COLOR_TYPE_RGB_ALPHA};
        return kTypes[shape.bands - 1];
    }
    bool run() {
        png = png_create_write_struct(PNG_LIBPNG_VER_STRING, this, fail, quiet);
        info = png ? png_create_info_struct(png) : nullptr;
        if (!info) return false;
        if (setjmp(png_jmpbuf(png)) != 0) return false;
        return work();
    }
    [[gnu::noinline]] bool work() {
        png_init_io(png, file.get());
        png_set_IHDR(png, info, static_cast<png_uint_32>(shape.width),
                     static_cast<png_uint_32>(shape.height),
                     static_cast<int>(8 * shape.bytesPerValue), colourType(), PNG_INTERLACE_NONE,
                     PNG_COMPRESSION_TYPE_DEFAULT, PNG_FILTER_TYPE_DEFAULT);
        for (const Colour c : shape.palette) {
            colours.push_back({c.r, c.g, c.b});
            alphas.push_back(c.a);
        }
        if (!colours.empty()) {
            png_set_PLTE(png, info, colours.data(), static_cast<int>(colours.size()));
            png_set_tRNS(png, info, alphas.data(), static_cast<int>(alphas.size()), nullptr);
        }
        png_write_info(png, info);
        if (shape.bytesPerValue == 2) png_set_swap(png);
        row.resize(shape.width * shape.bands * shape.bytesPerValue);
        for (std::size_t r = 0; r < shape.height; ++r) {
            failure = rows(r, row);
            if (!failure) return false;
            png_write_row(png, reinterpret_cast<png_bytep>(row.data()));
        }
        png_write_end(png, info);
        return true;
    }
};

struct JpegWriter {
    const Picture& shape;
    const PictureRows& rows;
    int quality;
    FilePtr file{nullptr, std::fclose};
    Result<void> failure = {};
    std::vector<std::byte> row = {};
    jpeg_compress_struct jpeg{};
    JpegFailure trouble{};

    ~JpegWriter() { jpeg_destroy_compress(&jpeg); }

    bool run() {
        jpeg.err = jpeg_std_error(&trouble.base);
        trouble.base.error_exit = failJpeg;
        trouble.base.output_message = quietJpeg;
        if (setjmp(trouble.way) != 0) return false;
        return work();
    }
    [[gnu::noinline]] bool work() {
        jpeg_create_compress(&jpeg);
        jpeg_stdio_dest(&jpeg, file.get());
        jpeg.image_width = static_cast<JDIMENSION>(shape.width);
        jpeg.image_height = static_cast<JDIMENSION>(shape.height);
        jpeg.input_components = static_cast<int>(shape.bands);
        jpeg.in_color_space = shape.bands == 1 ? JCS_GRAYSCALE : JCS_RGB;
        jpeg_set_defaults(&jpeg);
        jpeg_set_quality(&jpeg, quality, TRUE);
        jpeg_start_compress(&jpeg, TRUE);
        row.resize(shape.width * shape.bands);
        for (std::size_t r = 0; r < shape.height; ++r) {
            failure = rows(r, row);
            if (!failure) return false;
            auto* line = reinterpret_cast<JSAMPROW>(row.data());
            jpeg_write_scanlines(&jpeg, &line, 1);
        }
        jpeg_finish_compress(&jpeg);
        return true;
    }
};

// Runs a writer over a file opened for it.
template <typename Writer>
Result<void> encodeWith(Writer& writer, const std::filesystem::path& path,
                        const std::function<std::string()>& message) {
    writer.file.reset(std::fopen(path.c_str(), "wb"));
    if (!writer.file)
        return ioFailure(path, "could not be created",
                         "check that the folder exists and can be written");
    const bool isDone = writer.run();
    if (!writer.failure) return writer.failure;
    if (!isDone || std::fflush(writer.file.get()) != 0 || std::ferror(writer.file.get()) != 0) {
        return writeFailure(path, message());
    }
    return {};
}
}  // namespace

bool looksLikePng(std::string_view head) { return head.starts_with("\x89PNG\r\n\x1a\n"); }
bool looksLikeJpeg(std::string_view head) { return head.starts_with("\xFF\xD8\xFF"); }

Result<Picture> decodePicture(std::span<const std::byte> file, const std::filesystem::path& name,
                              bool headerOnly) {
    const std::string_view head(reinterpret_cast<const char*>(file.data()),
                                std::min<std::size_t>(file.size(), 16));
    if (looksLikePng(head)) {
        PngReader reader{.file = file};
        if (reader.run(headerOnly)) return std::move(reader.picture);
        if (reader.isTooLarge) return tooLarge(name);
        return badFormat(name, "not a usable PNG: " + reader.message);
    }
    if (looksLikeJpeg(head)) {
        JpegReader reader{.file = file};
        if (reader.run(headerOnly)) return std::move(reader.picture);
        if (reader.isTooLarge) return tooLarge(name);
        if (reader.isFourInk)
            return Error{ErrorCode::Unsupported, nameOf(name),
                         "pictures in four printing inks are not supported",
                         "write it again as red, green and blue"};
        return badFormat(name, std::string("not a usable JPEG: ") + reader.failure.message);
    }
    return badFormat(name, "neither PNG nor JPEG");
}

Result<void> encodePng(const Picture& shape, const std::filesystem::path& path,
                       const PictureRows& rows) {
    if (isPaperPng(shape)) return encodePaperPng(shape, path, rows);
    PngWriter writer{.shape = shape, .rows = rows};
    return encodeWith(writer, path, [&] { return writer.message; });
}

Result<void> encodeJpeg(const Picture& shape, const std::filesystem::path& path, int quality,
                        const PictureRows& rows) {
    JpegWriter writer{.shape = shape, .rows = rows, .quality = quality};
    return encodeWith(writer, path, [&] { return std::string(writer.trouble.message); });
}

}  // namespace ledge::io
