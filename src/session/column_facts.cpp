#include "session/column_facts.h"

#include <algorithm>
#include <array>
#include <cmath>

#include "core/base/numbers.h"

namespace ledge::session {
namespace {
constexpr std::size_t kBins = 16;
}

Result<ColumnFacts> columnFacts(const FeatureTable& table, std::size_t field,
                                const Progress& progress) {
    ColumnFacts out;
    const Field& about = table.info.fields[field];
    if (about.type == FieldType::Bytes) {
        for (std::size_t i = 0; i < table.size(); ++i)
            ++(table.isMissing(i, field) ? out.summary.missing : out.summary.count);
        return out;
    }
    const auto question = query::Question::from(query::nameText(about.name), table.info);
    if (!question) return question.error();
    const auto found = query::summaries(*question, nullptr, table, nullptr, progress.part(0, 0.8));
    if (!found) return found.error();
    out.summary = found->front();
    const double low = out.summary.min, width = out.summary.max - low;
    if (!(width > 0)) return out;
    out.bins.assign(kBins, 0);
    for (std::size_t i = 0; i < table.size(); ++i) {
        if (i % 65536 == 0 && progress.stopped()) return cancelled(about.name);
        const double v = table.number(i, field);
        if (!std::isfinite(v)) continue;
        const auto bin = static_cast<std::size_t>((v - low) / width * static_cast<double>(kBins));
        ++out.bins[std::min(bin, kBins - 1)];
    }
    return out;
}

std::vector<ShownColumn> shownColumns(const LayerInfo& info, const doc::VectorLayer& layer,
                                      bool withHidden) {
    std::vector<ShownColumn> out;
    std::vector<bool> isNamed(info.fields.size(), false);
    for (const doc::ColumnLook& look : layer.columns)
        for (std::size_t i = 0; i < info.fields.size() && look.isPlaced; ++i)
            if (info.fields[i].name == look.field && !isNamed[i]) {
                isNamed[i] = true;
                out.push_back({i, look});
            }
    for (std::size_t i = 0; i < info.fields.size(); ++i) {
        if (isNamed[i]) continue;
        ShownColumn column{i, {}};
        column.look.field = info.fields[i].name;
        for (const doc::ColumnLook& look : layer.columns)
            if (look.field == column.look.field) column.look = look;
        out.push_back(std::move(column));
    }
    if (!withHidden)
        std::erase_if(out, [](const ShownColumn& column) { return column.look.isHidden; });
    std::stable_partition(out.begin(), out.end(),
                          [](const ShownColumn& column) { return column.look.isFrozen; });
    return out;
}

std::string summaryText(const ColumnFacts& facts, const Field& field, const doc::ColumnLook& look) {
    const query::Summary& s = facts.summary;
    std::string out;
    if (s.missing > 0) out = formatNumber(static_cast<double>(s.missing)) + " missing";
    if (s.count == 0) return out;
    const std::string and_ = out.empty() ? "" : " \u00b7 ";
    if (std::isfinite(s.mean)) {
        NumberFormat short_ = look.numbers;
        if (short_.decimals < 0)
            short_.decimals = std::abs(s.mean) >= 1000 ? 0 : std::abs(s.mean) >= 10 ? 1 : 2;
        doc::ColumnLook shortLook = look;
        shortLook.numbers = short_;
        return out + and_ + "mean " + shownText(Value(s.mean), shortLook);
    }
    if (field.type == FieldType::Bytes) return out;
    return out + and_ + formatNumber(static_cast<double>(s.distinct)) + " different";
}

std::pair<std::string, bool> tabbedText(const FeatureTable& table,
                                        const std::vector<ShownColumn>& columns,
                                        const std::vector<std::uint32_t>& rows, std::size_t most) {
    // Tabs and line breaks would divide cells.
    const auto cell = [](std::string text) {
        for (char& c : text)
            if (c == '\t' || c == '\n' || c == '\r') c = ' ';
        return text;
    };
    std::string out;
    for (std::size_t k = 0; k < columns.size(); ++k)
        out += (k > 0 ? "\t" : "") + cell(columns[k].look.field);
    out += '\n';
    for (const std::uint32_t row : rows) {
        std::string line;
        for (std::size_t k = 0; k < columns.size(); ++k)
            line += (k > 0 ? "\t" : "") + cell(exactText(table.value(row, columns[k].field)));
        if (out.size() + line.size() >= most) return {out, false};
        out += line + '\n';
    }
    return {out, true};
}

}  // namespace ledge::session
