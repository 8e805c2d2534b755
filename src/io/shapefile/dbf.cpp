#include "io/shapefile/dbf.h"

#include <cmath>
#include <cstdio>
#include <set>

#include "core/base/numbers.h"
#include "io/files/atomic_file.h"
#include "io/files/byte_reader.h"
#include "io/files/encoding.h"

namespace ledge::io {
namespace {

constexpr std::size_t kWidest = 254;

struct Column {
    char type = 'C';
    std::size_t width = 0;
    int decimals = 0;
};

// Code pages by the mark that a table has for its language.
std::string codePageOf(std::uint8_t mark) {
    switch (mark) {
    case 0x01: return "cp437";
    case 0x02: return "cp850";
    case 0x03:
    case 0x57: return "windows-1252";
    case 0x64: return "cp852";
    case 0x65: return "cp866";
    case 0x66: return "cp865";
    case 0x67: return "cp861";
    case 0x6A: return "cp737";
    case 0x6B: return "cp857";
    case 0x13:
    case 0x7B: return "Shift_JIS";
    case 0x4D:
    case 0x7A: return "GBK";
    case 0x4E:
    case 0x79: return "EUC-KR";
    case 0x4F:
    case 0x78: return "Big5";
    case 0xC8: return "windows-1250";
    case 0xC9: return "windows-1251";
    case 0xCA: return "windows-1254";
    case 0xCB: return "windows-1253";
    case 0xCC: return "windows-1257";
    default: return {};
    }
}

Value parseCell(const std::string& raw, const Column& column, const TextDecoder& decoder) {
    const std::string text = trimmed(raw);
    if (text.empty() || text.find_first_not_of('*') == std::string::npos) return {};
    switch (column.type) {
    case 'N':
    case 'F': {
        const auto number = parseNumber(text);
        if (!number) return {};
        const bool isWhole = column.type == 'N' && column.decimals == 0 &&
                             std::abs(*number) < 9e15 && *number == std::floor(*number);
        if (isWhole) return static_cast<std::int64_t>(*number);
        return *number;
    }
    case 'L':
        if (text == "T" || text == "t" || text == "Y" || text == "y") return true;
        if (text == "F" || text == "f" || text == "N" || text == "n") return false;
        return {};
    case 'D':
        if (text.size() == 8)
            if (const auto day = parseDate(text.substr(0, 4) + "-" + text.substr(4, 2) + "-" +
                                           text.substr(6, 2)))
                return *day;
        return decoder.decoded(text);
    default: return decoder.decoded(text);
    }
}

FieldType fieldTypeOf(const Column& column) {
    switch (column.type) {
    case 'N':
        return column.decimals == 0 && column.width < 19 ? FieldType::Integer : FieldType::Real;
    case 'F': return FieldType::Real;
    case 'L': return FieldType::Boolean;
    case 'D': return FieldType::Date;
    default: return FieldType::Text;
    }
}
}  // namespace

Result<Dbf> readDbf(const std::filesystem::path& path, std::size_t rowLimit,
                    const std::string& encoding, const Progress& progress) {
    const auto text = readText(path, std::uintmax_t{2} << 30);
    if (!text) return text.error();
    ByteReader in(bytesOf(*text));
    in.skip(4);
    const auto rowCount = in.read<std::uint32_t>(std::endian::little);
    const auto headerBytes = in.read<std::uint16_t>(std::endian::little);
    const auto rowBytes = in.read<std::uint16_t>(std::endian::little);
    if (!in.isGood() || headerBytes < 33 || rowBytes < 1 || headerBytes > text->size())
        return badFormat(path, "its table header is damaged");
    Dbf out;
    in.seek(29);
    const TextDecoder decoder(encoding.empty() ? codePageOf(in.read<std::uint8_t>(std::endian::little))
                                               : encoding);
    out.encoding = decoder.name();
    if (!decoder.isKnown())
        out.notes.push_back("the encoding \"" + encoding + "\" is not known; UTF-8 is taken");
    std::vector<Column> columns;
    in.seek(32);
    std::size_t width = 1;
    while (in.position() + 32 <= headerBytes && (*text)[in.position()] != '\r') {
        const std::string name = in.text(11);
        const std::string type = in.text(1);
        in.skip(4);
        const auto length = in.read<std::uint8_t>(std::endian::little);
        const auto decimals = in.read<std::uint8_t>(std::endian::little);
        in.skip(14);
        columns.push_back({type[0], length, decimals});
        out.fields.push_back({decoder.decoded(trimmed(name.substr(0, name.find('\0')))),
                              fieldTypeOf(columns.back())});
        width += length;
    }
    if (width > rowBytes) return badFormat(path, "its columns do not fit its rows");
    in.seek(headerBytes);
    for (std::size_t row = 0; row < rowCount && row < rowLimit; ++row) {
        if (row % 1024 == 0) {
            if (progress.stopped()) return cancelled(nameOf(path));
            progress.at(static_cast<double>(row) / rowCount);
        }
        const std::string line = in.text(rowBytes);
        if (!in.isGood()) {
            out.notes.push_back("the attribute table ends after " + std::to_string(row) + " of " +
                                std::to_string(rowCount) + " rows");
            break;
        }
        std::vector<Value> values;
        std::size_t at = 1;
        for (const Column& column : columns) {
            values.push_back(parseCell(line.substr(at, column.width), column, decoder));
            at += column.width;
        }
        out.rows.push_back(std::move(values));
    }
    return out;
}

namespace {
std::string cut(const std::string& text, std::size_t width) {
    std::string out = text.substr(0, width);
    // Not in the middle of a UTF-8 sequence.
    while (!out.empty() && out.size() < text.size() &&
           (static_cast<unsigned char>(text[out.size()]) & 0xC0) == 0x80)
        out.pop_back();
    return out;
}

Column columnFor(const FeatureTable& table, std::size_t field) {
    switch (table.info.fields[field].type) {
    case FieldType::Integer: return {'N', 18, 0};
    case FieldType::Real: return {'N', 24, 10};
    case FieldType::Boolean: return {'L', 1, 0};
    case FieldType::Date: return {'D', 8, 0};
    case FieldType::TimeStamp:
    case FieldType::Bytes:
    case FieldType::Text: break;
    }
    std::size_t width = 1;
    for (std::size_t i = 0; i < table.size(); ++i)
        width = std::max(width, exactText(table.value(i, field)).size());
    return {'C', std::min(width, kWidest), 0};
}

std::string cellText(const Value& value, const Column& column) {
    if (isMissing(value)) return "";
    if (column.type == 'L') return std::get<bool>(value) ? "T" : "F";
    if (column.type == 'D') {
        std::string day = exactText(value);
        std::erase(day, '-');
        return day;
    }
    if (column.type == 'N' && column.decimals > 0) {
        std::array<char, 64> buffer{};
        std::snprintf(buffer.data(), buffer.size(), "%.15g", numberOf(value));
        return buffer.data();
    }
    return exactText(value);
}
}  // namespace

std::vector<std::string> limitsOfDbf(const FeatureTable& table) {
    std::vector<std::string> out;
    std::string shortened, instants, bytes, texts;
    const auto add = [](std::string& list, const std::string& name) {
        list += (list.empty() ? "" : ", ") + name;
    };
    for (std::size_t k = 0; k < table.info.fields.size(); ++k) {
        const Field& field = table.info.fields[k];
        if (field.name.size() > 10) add(shortened, field.name);
        if (field.type == FieldType::TimeStamp) add(instants, field.name);
        if (field.type == FieldType::Bytes) add(bytes, field.name);
        if (field.type != FieldType::Text) continue;
        for (std::size_t i = 0; i < table.size(); ++i)
            if (exactText(table.value(i, k)).size() > kWidest) {
                add(texts, field.name);
                break;
            }
    }
    if (!shortened.empty()) out.push_back("names are cut to 10 bytes: " + shortened);
    if (!texts.empty()) out.push_back("texts are cut to 254 bytes: " + texts);
    if (!instants.empty()) out.push_back("instants become texts: " + instants);
    if (!bytes.empty()) out.push_back("bytes become hexadecimal texts: " + bytes);
    if (table.info.fields.size() > 255)
        out.push_back("it holds 255 columns, not " + std::to_string(table.info.fields.size()));
    return out;
}

std::string dbfBytes(const FeatureTable& table, const Progress& progress) {
    std::vector<Column> columns;
    std::set<std::string> names;
    std::string header;
    std::size_t rowBytes = 1;
    for (std::size_t i = 0; i < table.info.fields.size(); ++i) {
        columns.push_back(columnFor(table, i));
        std::string name = cut(table.info.fields[i].name, 10);
        for (int k = 1; names.contains(name); ++k)
            name = cut(table.info.fields[i].name, 8) + "_" + std::to_string(k);
        names.insert(name);
        name.resize(11, '\0');
        header += name;
        header += columns.back().type;
        header.append(4, '\0');
        header += static_cast<char>(columns.back().width);
        header += static_cast<char>(columns.back().decimals);
        header.append(14, '\0');
        rowBytes += columns.back().width;
    }
    std::string out{'\x03', '\x7e', '\x01', '\x01'};
    putNumber(out, static_cast<std::uint32_t>(table.size()), std::endian::little);
    putNumber(out, static_cast<std::uint16_t>(33 + header.size()), std::endian::little);
    putNumber(out, static_cast<std::uint16_t>(rowBytes), std::endian::little);
    out.append(20, '\0');
    out += header + '\r';
    for (std::size_t row = 0; row < table.size(); ++row) {
        if (row % 1024 == 0) {
            if (progress.stopped()) return out;
            progress.at(static_cast<double>(row) / static_cast<double>(table.size()));
        }
        const FeatureView f = table[row];
        out += ' ';
        for (std::size_t i = 0; i < columns.size(); ++i) {
            std::string cell = cut(cellText(f.value(i), columns[i]), columns[i].width);
            if (columns[i].type == 'N') cell.insert(0, columns[i].width - cell.size(), ' ');
            cell.resize(columns[i].width, ' ');
            out += cell;
        }
    }
    return out + '\x1a';
}

}  // namespace ledge::io
