#include "session/derive/operations.h"

#include <cmath>

#include "core/base/number_list.h"
#include "core/base/numbers.h"
#include "session/derive/feature_operations.h"
#include "session/derive/raster_operations.h"
#include "session/terrain_files.h"

namespace ledge::session {
namespace {
using Kind = Setting::Kind;

doc::SourceRef sourceOf(const doc::LineageInput& input) {
    doc::SourceRef out;
    out.name = input.path.filename().string();
    out.path = input.path;
    out.layer = input.layer;
    out.declaredCrs = input.declaredCrs;
    out.shiftGrid = input.shiftGrid;
    out.heightUnit = input.heightUnit;
    return out;
}

}  // namespace

Error badSetting(const std::string& key, const std::string& why, const std::string& mend) {
    return {ErrorCode::InvalidArgument, key, why, mend};
}

std::string Work::text(const std::string& key) const {
    const auto given = lineage.parameters.find(key);
    if (given != lineage.parameters.end()) return given->second;
    const Operation* operation = operationNamed(lineage.operation);
    const Setting* setting = operation ? operation->setting(key) : nullptr;
    return setting ? setting->usual : std::string();
}

void Work::remark(const std::string& text) const {
    if (remarks && !text.empty()) remarks->push_back(text);
}

Result<double> Work::number(const std::string& key) const {
    const std::string said = text(key);
    const auto value = parseNumber(said);
    if (!value || !std::isfinite(*value))
        return badSetting(key, "\"" + said + "\" is no number", "write a number");
    return *value;
}

Result<std::vector<double>> Work::numbers(const std::string& key, char separator) const {
    auto out = parseNumbers(text(key), separator);
    if (!out) return badSetting(key, out.error().why, out.error().mend);
    return out;
}

Result<const doc::LineageInput*> Work::input(std::size_t at) const {
    if (at < lineage.inputs.size()) return &lineage.inputs[at];
    return Error{ErrorCode::InvalidArgument, lineage.operation, "has no input to work on",
                 "choose a layer first"};
}

Result<RasterPtr> Work::raster(std::size_t at) const {
    const auto found = input(at);
    if (!found) return found.error();
    const auto opened = cache.raster(sourceOf(**found));
    if (!opened) return opened.error();
    return (*opened)->raster();
}

Result<TablePtr> Work::table(std::size_t at) const {
    const auto found = input(at);
    if (!found) return found.error();
    return cache.table(sourceOf(**found), progress.part(0, 0.3));
}

Result<void> checkSetting(const Setting& setting, const std::string& value) {
    switch (setting.kind) {
    case Kind::Number: {
        const auto number = parseNumber(value);
        const bool isWhole = setting.decimals > 0 || (number && *number == std::floor(*number));
        if (number && isWhole && *number >= setting.low && *number <= setting.high) return {};
        return badSetting(setting.key, "\"" + value + "\" cannot be used",
                          std::string("give a ") + (setting.decimals > 0 ? "" : "whole ") +
                              "number from " + exactNumber(setting.low) + " to " +
                              exactNumber(setting.high));
    }
    case Kind::Choice: {
        std::string all;
        for (const std::string& choice : setting.choices) {
            if (choice == value) return {};
            all += (all.empty() ? "" : ", ") + choice;
        }
        return badSetting(setting.key, "\"" + value + "\" is none of its values",
                          "choose one of: " + all);
    }
    case Kind::Yes:
        if (value == "yes" || value == "no") return {};
        return badSetting(setting.key, "\"" + value + "\" is neither yes nor no",
                          "write yes or no");
    case Kind::Text: return {};  // what it means only the operation knows
    }
    return {};
}

const Setting* Operation::setting(const std::string& key) const {
    for (const Setting& one : settings)
        if (one.key == key) return &one;
    return nullptr;
}

const std::vector<Operation>& operations() {
    static const std::vector<Operation> all = [] {
        auto out = rasterOperations();
        auto more = featureOperations();
        out.insert(out.end(), std::make_move_iterator(more.begin()),
                   std::make_move_iterator(more.end()));
        return out;
    }();
    return all;
}

const Operation* operationNamed(const std::string& name) {
    for (const Operation& one : operations())
        if (one.name == name) return &one;
    return nullptr;
}

namespace {
// The operation of a lineage whose settings can all be used.
Result<const Operation*> usableOperation(const doc::Lineage& lineage) {
    if (const Operation* found = operationNamed(lineage.operation)) {
        for (const auto& [key, value] : lineage.parameters)
            if (const Setting* setting = found->setting(key))
                if (const auto fine = checkSetting(*setting, value); !fine) return fine.error();
        return found;
    }
    return Error{ErrorCode::NotFound, "\"" + lineage.operation + "\"",
                 "is no operation of this version", "open the project with a newer one"};
}

bool makesFeatures(const Operation& operation, const Work& work) {
    return operation.table && (!operation.raster || work.table().has_value());
}
}  // namespace

Result<RasterPtr> derivedRaster(const doc::Lineage& lineage, const SourceCache& cache,
                                const Progress& progress) {
    const auto operation = usableOperation(lineage);
    if (!operation) return operation.error();
    if (!(*operation)->raster)
        return Error{ErrorCode::Unsupported, (*operation)->title, "makes features, not a raster",
                     "write it to a file"};
    return (*operation)->raster({lineage, cache, progress});
}

bool givesFeatures(const doc::Lineage& lineage) {
    const Operation* operation = operationNamed(lineage.operation);
    return operation && operation->isOfFeatures && operation->table;
}

Result<FeatureTable> derivedTable(const doc::Lineage& lineage, const SourceCache& cache,
                                  const Progress& progress, Remarks* remarks) {
    const auto operation = usableOperation(lineage);
    if (!operation) return operation.error();
    if (!(*operation)->table)
        return Error{ErrorCode::Unsupported, (*operation)->title, "makes a raster, not features",
                     "choose another operation"};
    return (*operation)->table({lineage, cache, progress, remarks});
}

Result<Remarks> lossesOf(const doc::Lineage& lineage, const SourceCache& cache,
                         const std::filesystem::path& target, const Progress& progress) {
    if (!io::mayLimit(target)) return Remarks();
    const auto operation = usableOperation(lineage);
    if (!operation) return operation.error();
    Remarks unasked;
    const Work work{lineage, cache, progress, &unasked};
    if (!makesFeatures(**operation, work)) return Remarks();
    const auto table = (*operation)->table(work);
    if (!table) return table.error();
    return io::limitsOf(*table, target);
}

Result<Remarks> writeDerived(const doc::Lineage& lineage, const SourceCache& cache,
                             const std::filesystem::path& target, const Progress& progress,
                             std::optional<io::RasterWriting> how, io::Replacing replacing) {
    const auto operation = usableOperation(lineage);
    if (!operation) return operation.error();
    for (const doc::LineageInput& input : lineage.inputs)
        if (!input.path.empty() && input.path == target)
            return Error{ErrorCode::InvalidArgument, target.filename().string(),
                         "is what it is made from", "write to another name"};
    const Progress making = progress.part(0, (*operation)->table ? 0.8 : 0.2);
    Remarks remarks;
    const Work work{lineage, cache, making, &remarks};
    const auto told = [&](const Result<void>& done) {
        return done ? Result<Remarks>(remarks) : Result<Remarks>(done.error());
    };
    if (makesFeatures(**operation, work)) {
        const auto table = (*operation)->table(work);
        if (!table) return table.error();
        for (const std::string& limit : io::limitsOf(*table, target)) work.remark(limit);
        return told(io::writeTable(*table, target, progress.part(0.8, 1), replacing));
    }
    const auto raster = (*operation)->raster(work);
    if (!raster) return raster.error();
    const Progress writing = progress.part(0.2, 1);
    if ((*operation)->readsHeights)
        // Shadows come from far: large pieces, so that heights around are not read too often.
        return told(writeComputed(
            **raster, {target, how.value_or(io::RasterWriting(io::Compression::None)), replacing},
            writing, work.isOn("shadows") ? 256 : 32));
    return told(
        io::writeRaster(**raster, target, how.value_or(io::RasterWriting()), writing, replacing));
}

}  // namespace ledge::session
