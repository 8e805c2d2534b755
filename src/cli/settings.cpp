#include "cli/settings.h"

namespace ledge::cli {
namespace {

std::string helpOf(const session::Setting& setting) {
    std::string out = setting.help;
    if (!setting.choices.empty()) {
        out += ": ";
        for (std::size_t i = 0; i < setting.choices.size(); ++i)
            out += (i > 0 ? ", " : "") + setting.choices[i];
    }
    return setting.usual.empty() ? out : out + " [" + setting.usual + "]";
}

}  // namespace

void addSettings(CLI::App& command, const session::Operation& operation, session::Settings& given) {
    for (const session::Setting& setting : operation.settings) {
        const std::string name = "--" + setting.key;
        const auto put = [&given, key = setting.key](const std::string& value) {
            given[key] = value;
        };
        if (setting.kind == session::Setting::Kind::Yes) {
            command.add_flag_callback(
                name, [put] { put("yes"); }, setting.help);
            continue;
        }
        const bool isNumber = setting.kind == session::Setting::Kind::Number;
        command.add_option_function<std::string>(name, put, helpOf(setting))
            ->type_name(isNumber ? "NUMBER" : "TEXT")
            ->check(CLI::Validator(
                [&setting](const std::string& value) {
                    const auto fine = session::checkSetting(setting, value);
                    return fine ? std::string() : fine.error().why + " (" + fine.error().mend + ")";
                },
                ""));
    }
}

}  // namespace ledge::cli
