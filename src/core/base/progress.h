#pragma once
#include <functional>
#include <stop_token>
#include <string>

#include "core/base/result.h"

namespace ledge {

/// How long work hears "stop" and tells how far it is. Copies are cheap; both parts may be empty.
/// `report` may be called from several threads at once.
struct Progress {
    std::stop_token stop;
    std::function<void(double)> report;  ///< share done, 0 to 1
    /// What whoever waits should know meanwhile, such as what is waited for.
    std::function<void(const std::string&)> say = {};

    bool stopped() const { return stop.stop_requested(); }
    void at(double share) const {
        if (report) report(share);
    }
    void tell(const std::string& text) const {
        if (say) say(text);
    }
    /// The same work as a part of a longer one, filling `from`..`to` of its progress.
    Progress part(double from, double to) const {
        if (!report) return {stop, {}, say};
        return {stop, [outer = report, from, to](double s) { outer(from + (to - from) * s); }, say};
    }
};

inline Error cancelled(std::string what) {
    return {ErrorCode::Cancelled, std::move(what), "stopped", ""};
}

}  // namespace ledge
