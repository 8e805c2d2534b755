#include "core/feature/order.h"

#include <algorithm>
#include <atomic>
#include <bit>
#include <cstring>
#include <optional>
#include <string>

#include "core/base/letters.h"
#include "core/base/parallel.h"

namespace ledge {
namespace {
constexpr std::size_t kShare = 1 << 14;

/// A row by the beginning of its value: most rows are told apart by that alone.
struct Keyed {
    std::uint64_t key;
    std::uint32_t row;
};

// Numbers as integers of the same order.
std::uint64_t keyOf(double v) {
    const auto bits = std::bit_cast<std::uint64_t>(v);
    return (bits >> 63) != 0 ? ~bits : bits | (std::uint64_t{1} << 63);
}
std::uint64_t keyOf(std::int64_t v) {
    return static_cast<std::uint64_t>(v) ^ (std::uint64_t{1} << 63);
}
std::uint64_t keyOf(std::string_view folded) {
    unsigned char bytes[8] = {};
    std::memcpy(bytes, folded.data(), std::min<std::size_t>(8, folded.size()));
    std::uint64_t out = 0;
    for (const unsigned char b : bytes) out = out << 8 | b;
    return out;
}
/// Texts of rows folded once, so that comparing them costs no more than a look. What all begin with
/// is left out of the keys, which then tell most of them apart.
class FoldedTexts {
public:
    FoldedTexts(const FeatureTable& table, std::size_t field, const std::vector<Keyed>& rows)
        : m_places(table.size()) {
        m_ends.reserve(rows.size() + 1);
        m_ends.push_back(0);
        std::size_t common = SIZE_MAX;
        for (std::size_t i = 0; i < rows.size(); ++i) {
            const std::uint32_t row = rows[i].row;
            m_places[row] = static_cast<std::uint32_t>(i);
            add(table.column(row / FeatureTable::kRun, field).text(row % FeatureTable::kRun));
            m_ends.push_back(m_letters.size());
            if (common == 0) continue;
            const std::string_view first = at(rows[0].row), now = at(row);
            common = std::min({common, first.size(), now.size()});
            common = static_cast<std::size_t>(
                std::mismatch(first.begin(), first.begin() + static_cast<std::ptrdiff_t>(common),
                              now.begin())
                    .first -
                first.begin());
        }
        m_common = rows.empty() ? 0 : common;
    }
    std::string_view at(std::uint32_t row) const {
        const std::size_t place = m_places[row];
        return std::string_view(m_letters).substr(m_ends[place], m_ends[place + 1] - m_ends[place]);
    }
    std::uint64_t key(std::uint32_t row) const { return keyOf(at(row).substr(m_common)); }

private:
    void add(std::string_view text) {
        const std::size_t start = m_letters.size();
        for (const char c : text) {
            if (static_cast<unsigned char>(c) >= 0x80) {
                m_letters.resize(start);
                m_letters += caseFolded(text);
                return;
            }
            m_letters += c >= 'A' && c <= 'Z' ? static_cast<char>(c + 32) : c;
        }
    }

    std::string m_letters;
    std::vector<std::uint64_t> m_ends;
    std::vector<std::uint32_t> m_places;  ///< of rows among the texts
    std::size_t m_common = 0;
};

class Orderer {
public:
    Orderer(const FeatureTable& table, const std::vector<OrderBy>& by) : m_table(table), m_by(by) {}
    /// The rows that will be ordered by the first field; none of them misses it.
    void prepare(const std::vector<Keyed>& rows) {
        if (m_table.info.fields[m_by.front().field].type == FieldType::Text)
            m_texts.emplace(m_table, m_by.front().field, rows);
    }

    std::uint64_t key(std::uint32_t row) const {
        const OrderBy& first = m_by.front();
        const Column& column = columnOf(row, first.field);
        const std::size_t at = row % FeatureTable::kRun;
        std::uint64_t out = 0;
        switch (column.type()) {
        case FieldType::Text: out = m_texts->key(row); break;
        case FieldType::Real: out = keyOf(column.reals()[at]); break;
        case FieldType::Boolean: out = column.flags()[at]; break;
        case FieldType::Integer:
        case FieldType::Date:
        case FieldType::TimeStamp: out = keyOf(column.wholes()[at]); break;
        case FieldType::Bytes: out = keyOf(std::string_view(exactText(column.value(at)))); break;
        }
        return first.isDescending ? ~out : out;
    }
    bool isMissing(std::uint32_t row, std::size_t field) const {
        return columnOf(row, field).isMissing(row % FeatureTable::kRun);
    }
    // Of two rows whose keys are alike.
    bool isBefore(std::uint32_t a, std::uint32_t b) const {
        for (const OrderBy& one : m_by) {
            const bool noA = isMissing(a, one.field), noB = isMissing(b, one.field);
            if (noA != noB) return noB;
            if (noA) continue;
            const int order = compared(a, b, one.field);
            if (order != 0) return one.isDescending ? order > 0 : order < 0;
        }
        return a < b;
    }

private:
    const Column& columnOf(std::uint32_t row, std::size_t field) const {
        return m_table.column(row / FeatureTable::kRun, field);
    }
    int compared(std::uint32_t a, std::uint32_t b, std::size_t field) const {
        const Column &one = columnOf(a, field), &other = columnOf(b, field);
        const std::size_t i = a % FeatureTable::kRun, k = b % FeatureTable::kRun;
        switch (one.type()) {
        case FieldType::Text: {
            if (m_texts && field == m_by.front().field)
                return m_texts->at(a).compare(m_texts->at(b));
            if (one.text(i) == other.text(k)) return 0;
            return caseFolded(one.text(i)).compare(caseFolded(other.text(k)));
        }
        case FieldType::Real: return order(one.reals()[i], other.reals()[k]);
        case FieldType::Boolean: return order(one.flags()[i], other.flags()[k]);
        case FieldType::Integer:
        case FieldType::Date:
        case FieldType::TimeStamp: return order(one.wholes()[i], other.wholes()[k]);
        case FieldType::Bytes: break;
        }
        return exactText(one.value(i)).compare(exactText(other.value(k)));
    }
    template <typename T>
    static int order(T a, T b) {
        return a < b ? -1 : a > b ? 1 : 0;
    }

    const FeatureTable& m_table;
    const std::vector<OrderBy>& m_by;
    std::optional<FoldedTexts> m_texts;
};
}  // namespace

Result<std::vector<std::uint32_t>> ordered(const FeatureTable& table,
                                           const std::vector<OrderBy>& by,
                                           std::vector<std::uint32_t> rows,
                                           const Progress& progress) {
    if (by.empty()) {
        std::sort(rows.begin(), rows.end());
        return rows;
    }
    Orderer orderer(table, by);
    std::vector<std::uint32_t> missing;
    std::vector<Keyed> keyed;
    keyed.reserve(rows.size());
    for (const std::uint32_t row : rows)
        if (orderer.isMissing(row, by.front().field))
            missing.push_back(row);
        else
            keyed.push_back({0, row});
    orderer.prepare(keyed);
    parallelRanges(keyed.size(), kShare, [&](std::size_t from, std::size_t to) {
        if (progress.stopped()) return;
        for (std::size_t i = from; i < to; ++i) keyed[i].key = orderer.key(keyed[i].row);
    });
    if (progress.stopped()) return cancelled("sorting");
    progress.at(0.2);
    // Two halves at once, then merged.
    const auto isBefore = [&](const Keyed& a, const Keyed& b) {
        return a.key != b.key ? a.key < b.key : orderer.isBefore(a.row, b.row);
    };
    const std::size_t half = (keyed.size() + 1) / 2;
    parallelRanges(2, 1, [&](std::size_t from, std::size_t to) {
        for (std::size_t part = from; part < to; ++part) {
            const auto begin = keyed.begin() + static_cast<std::ptrdiff_t>(part * half);
            const auto end = keyed.begin() +
                             static_cast<std::ptrdiff_t>(std::min(keyed.size(), (part + 1) * half));
            if (begin < end) std::sort(begin, end, isBefore);
        }
    });
    if (progress.stopped()) return cancelled("sorting");
    std::inplace_merge(keyed.begin(), keyed.begin() + static_cast<std::ptrdiff_t>(half),
                       keyed.end(), isBefore);
    std::sort(missing.begin(), missing.end(),
              [&](std::uint32_t a, std::uint32_t b) { return orderer.isBefore(a, b); });
    for (std::size_t i = 0; i < keyed.size(); ++i) rows[i] = keyed[i].row;
    std::copy(missing.begin(), missing.end(),
              rows.begin() + static_cast<std::ptrdiff_t>(keyed.size()));
    return rows;
}

Result<std::vector<std::uint32_t>> rowsWithText(const FeatureTable& table,
                                                const std::vector<std::size_t>& fields,
                                                const std::string& text, const Progress& progress) {
    const std::string wanted = caseFolded(text);
    std::vector<std::uint8_t> is(table.size());
    std::atomic<std::size_t> done{0};
    parallelRanges(table.size(), kShare, [&](std::size_t from, std::size_t to) {
        if (progress.stopped()) return;
        for (std::size_t i = from; i < to; ++i)
            for (const std::size_t field : fields) {
                const Column& column = table.column(i / FeatureTable::kRun, field);
                const std::size_t at = i % FeatureTable::kRun;
                if (column.isMissing(at)) continue;
                const std::string shown = column.type() == FieldType::Text
                                              ? caseFolded(column.text(at))
                                              : exactText(column.value(at));
                if (shown.find(wanted) == std::string::npos) continue;
                is[i] = 1;
                break;
            }
        done += to - from;
        progress.at(static_cast<double>(done) / static_cast<double>(table.size()));
    });
    if (progress.stopped()) return cancelled("finding");
    std::vector<std::uint32_t> out;
    for (std::size_t i = 0; i < is.size(); ++i)
        if (is[i] != 0) out.push_back(static_cast<std::uint32_t>(i));
    return out;
}

}  // namespace ledge
