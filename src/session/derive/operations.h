#pragma once
#include <functional>
#include <optional>
#include <string>
#include <vector>

#include "document/source.h"
#include "session/source_cache.h"

/// What can be derived from sources. One table serves the forms of the bench, lineage, running
/// again, and the command that says the same.
namespace ledge::session {

/// One setting of an operation, spelled as the command spells it.
struct Setting {
    enum class Kind : std::uint8_t { Number, Choice, Text, Yes };
    std::string key;    ///< the command's option without its dashes
    std::string label;  ///< for people
    std::string help;   ///< the tooltip of the form, and the option's line in the command's help
    Kind kind = Kind::Text;
    std::string usual;                      ///< when it is not given
    std::vector<std::string> choices = {};  ///< of Choice
    double low = 0, high = 0;               ///< of Number
    int decimals = 0;                       ///< of Number; 0: whole ones only
};

/// What is wrong with a setting, and how it is mended.
Error badSetting(const std::string& key, const std::string& why, const std::string& mend);
/// Whether a setting may have this value. Errors: InvalidArgument with what it may be.
Result<void> checkSetting(const Setting& setting, const std::string& value);

using Settings = std::map<std::string, std::string>;

/// What whoever asked for a result should know of it, in words.
using Remarks = std::vector<std::string>;

/// What an operation works with.
struct Work {
    const doc::Lineage& lineage;
    const SourceCache& cache;
    const Progress& progress;
    Remarks* remarks = nullptr;

    void remark(const std::string& text) const;  ///< nothing when empty

    /// As given, else as usual.
    std::string text(const std::string& key) const;
    bool isOn(const std::string& key) const { return text(key) == "yes"; }
    /// Errors: InvalidArgument with the setting's name.
    Result<double> number(const std::string& key) const;
    Result<std::vector<double>> numbers(const std::string& key, char separator = ',') const;
    /// Errors: InvalidArgument where there are not so many.
    Result<const doc::LineageInput*> input(std::size_t at = 0) const;
    /// An input as a raster in its declared CRS, or as a table. Errors: those of opening.
    Result<RasterPtr> raster(std::size_t at = 0) const;
    Result<TablePtr> table(std::size_t at = 0) const;
};

/// What an operation works with beside its first input.
enum class Beside : std::uint8_t { Nothing, Features, MaybeFeatures, Raster };

struct Operation {
    std::string name;     ///< "hillshade"
    std::string title;    ///< "Hillshade"
    std::string command;  ///< of ledge: "terrain hillshade"
    std::string help;     ///< what it makes, in a line
    std::vector<Setting> settings;
    /// The result computed as it is read; null for operations that make features.
    Result<RasterPtr> (*raster)(const Work&) = nullptr;
    Result<FeatureTable> (*table)(const Work&) = nullptr;
    /// Whether it works on heights, whose unit the command is then told.
    bool readsHeights = false;
    bool isOfFeatures = false;  ///< its first input is a table
    Beside beside = Beside::Nothing;
    std::string besideRole = {};  ///< what the second input is, for people: "Points"

    const Setting* setting(const std::string& key) const;
};

const std::vector<Operation>& operations();
/// Null when there is none of that name.
const Operation* operationNamed(const std::string& name);

/// A live source: the result of a lineage, computed as it is read.
/// Errors: NotFound for an operation that is not known, Unsupported for one that makes features;
/// those of the inputs and settings.
Result<RasterPtr> derivedRaster(const doc::Lineage& lineage, const SourceCache& cache,
                                const Progress& progress = {});
/// A live source of features. Errors: those, and Unsupported for operations that make rasters.
Result<FeatureTable> derivedTable(const doc::Lineage& lineage, const SourceCache& cache,
                                  const Progress& progress = {}, Remarks* remarks = nullptr);
/// Whether a lineage gives features.
bool givesFeatures(const doc::Lineage& lineage);
/// Does it and writes the result in the format of the suffix, atomically; nothing is left behind
/// when stopped. Without `writing` computed rasters are not compressed and others are.
Result<Remarks> writeDerived(const doc::Lineage& lineage, const SourceCache& cache,
                             const std::filesystem::path& target, const Progress& progress,
                             std::optional<io::RasterWriting> writing = {},
                             io::Replacing replacing = io::Replacing::Own);
/// What the format of a target would lose of the result, in words, before anything is written.
/// Computes the result where the format may lose something. Errors: those of computing it.
Result<Remarks> lossesOf(const doc::Lineage& lineage, const SourceCache& cache,
                         const std::filesystem::path& target, const Progress& progress = {});
/// The `ledge` command that does the same, file names without their folders.
std::string commandOf(const doc::Lineage& lineage, const std::string& target);

}  // namespace ledge::session
