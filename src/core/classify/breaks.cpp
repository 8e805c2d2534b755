#include "core/classify/breaks.h"

#include <algorithm>
#include <cmath>

#include "core/base/numbers.h"

namespace ledge::classify {
namespace {

// Sums of distinct values with their weights, about the mean, so that squares keep their digits.
class Sums {
public:
    explicit Sums(const Sample& sample) {
        const auto values = sample.values();
        const double mean = sample.mean();
        m_weight.reserve(values.size() + 1), m_first.reserve(values.size() + 1);
        m_second.reserve(values.size() + 1);
        m_weight.push_back(0), m_first.push_back(0), m_second.push_back(0);
        for (std::size_t i = 0; i < values.size(); ++i) {
            const double weight =
                static_cast<double>(sample.upTo(i) - (i == 0 ? 0 : sample.upTo(i - 1)));
            const double v = values[i] - mean;
            m_weight.push_back(m_weight.back() + weight);
            m_first.push_back(m_first.back() + weight * v);
            m_second.push_back(m_second.back() + weight * v * v);
        }
    }
    std::size_t size() const { return m_weight.size() - 1; }
    /// Squared deviations from their mean of the values from `begin` to before `end`.
    double within(std::size_t begin, std::size_t end) const {
        const double weight = m_weight[end] - m_weight[begin], sum = m_first[end] - m_first[begin];
        return std::max(0.0, m_second[end] - m_second[begin] - sum * sum / weight);
    }

private:
    std::vector<double> m_weight, m_first, m_second;
};

// The best split of the first `end` values into one class more, for every `end` of a range. The
// best last class begins no earlier for more values (the cost obeys the quadrangle inequality), so
// the middle one of a range bounds both halves.
class Row {
public:
    Row(const Sums& sums, const std::vector<double>& before, const Progress& progress)
        : m_sums(sums), m_before(before), m_progress(progress), m_cost(sums.size() + 1, 0),
          m_begin(sums.size() + 1, 0) {}

    void fill(std::size_t classes) { fill(classes, m_sums.size(), classes - 1, m_sums.size()); }
    std::vector<double>& cost() { return m_cost; }
    std::vector<std::uint32_t>& begin() { return m_begin; }

private:
    // For ends in [low, high], begins of the last class within [from, to].
    void fill(std::size_t low, std::size_t high, std::size_t from, std::size_t to) {
        if (low > high || m_progress.stopped()) return;
        const std::size_t end = low + (high - low) / 2, last = std::min(to, end - 1);
        double best = std::numeric_limits<double>::infinity();
        std::size_t at = from;
        for (std::size_t begin = from; begin <= last; ++begin) {
            const double cost = m_before[begin] + m_sums.within(begin, end);
            if (cost < best) best = cost, at = begin;
        }
        m_cost[end] = best;
        m_begin[end] = static_cast<std::uint32_t>(at);
        if (end > low) fill(low, end - 1, from, at);
        fill(end + 1, high, at, to);
    }

    const Sums& m_sums;
    const std::vector<double>& m_before;
    const Progress& m_progress;
    std::vector<double> m_cost;
    std::vector<std::uint32_t> m_begin;
};

// Places of the first distinct value of each class but the lowest.
std::vector<std::size_t> naturalPlaces(const Sample& sample, std::size_t classes,
                                       const Progress& progress) {
    const Sums sums(sample);
    const std::size_t n = sums.size();
    std::vector<double> cost(n + 1, 0);
    for (std::size_t end = 1; end <= n; ++end) cost[end] = sums.within(0, end);
    std::vector<std::vector<std::uint32_t>> begins;
    for (std::size_t k = 2; k <= classes && !progress.stopped(); ++k) {
        Row row(sums, cost, progress);
        row.fill(k);
        cost = std::move(row.cost());
        begins.push_back(std::move(row.begin()));
        progress.at(static_cast<double>(k) / static_cast<double>(classes));
    }
    std::vector<std::size_t> places;
    std::size_t end = n;
    for (std::size_t k = begins.size(); k-- > 0 && !progress.stopped();) {
        end = begins[k][end];
        places.push_back(end);
    }
    std::reverse(places.begin(), places.end());
    return places;
}

// Places before which about as many values lie as before each share.
std::vector<std::size_t> quantilePlaces(const Sample& sample, std::size_t classes) {
    std::vector<std::size_t> places;
    std::size_t i = 0;
    for (std::size_t k = 1; k < classes; ++k) {
        const double wanted = static_cast<double>(sample.count() * static_cast<std::int64_t>(k)) /
                              static_cast<double>(classes);
        while (i < sample.values().size() && static_cast<double>(sample.upTo(i)) < wanted) ++i;
        // Equal values stay together: the break goes to the nearer side of them.
        const double before = i == 0 ? 0 : static_cast<double>(sample.upTo(i - 1));
        const std::size_t place =
            i > 0 && wanted - before < static_cast<double>(sample.upTo(i)) - wanted ? i : i + 1;
        if (place > 0 && place < sample.values().size() &&
            (places.empty() || place > places.back()))
            places.push_back(place);
    }
    return places;
}

std::vector<double> equalBreaks(double low, double high, std::size_t classes) {
    std::vector<double> out;
    for (std::size_t k = 1; k < classes; ++k)
        out.push_back(low + (high - low) * static_cast<double>(k) / static_cast<double>(classes));
    return out;
}

std::vector<double> roundBreaks(double low, double high, std::size_t classes) {
    std::vector<double> out;
    if (!(high > low)) return out;
    // Of the steps that give at most so many classes, the finest.
    double step = roundUpToInterval((high - low) / static_cast<double>(classes));
    const auto countOf = [&](double s) { return std::floor(high / s) - std::floor(low / s) + 1; };
    while (countOf(step) > static_cast<double>(classes)) step = roundUpToInterval(step * 1.01);
    for (double k = std::floor(low / step) + 1; k * step <= high; ++k)
        if (k * step > low) out.push_back(k * step);
    return out;
}

std::vector<double> geometricBreaks(double low, double high, std::size_t classes) {
    std::vector<double> out;
    const double ratio = std::pow(high / low, 1 / static_cast<double>(classes));
    for (std::size_t k = 1; k < classes; ++k)
        out.push_back(low * std::pow(ratio, static_cast<double>(k)));
    std::sort(out.begin(), out.end());
    return out;
}

// About the mean where the number of classes is odd, else at it.
std::vector<double> deviationBreaks(const Sample& sample, std::size_t classes) {
    std::vector<double> out;
    const double mean = sample.mean(), step = sample.deviation();
    if (!(step > 0)) return out;
    const double first = -static_cast<double>(classes - 2) / 2;
    for (std::size_t k = 0; k + 1 < classes; ++k) {
        const double at = mean + (first + static_cast<double>(k)) * step;
        if (at > sample.low() && at <= sample.high()) out.push_back(at);
    }
    return out;
}

// Of the numbers above one and not above another the one with the fewest digits, of those the
// nearest to a third.
double shortestNear(double below, double above, double at) {
    if (below < 0 && above >= 0 && below + (above - below) / 2 == at) return 0;
    const double size = std::max(std::abs(below), std::abs(above));
    for (int power = static_cast<int>(std::ceil(std::log10(size))); power > -300; --power) {
        const double step = std::pow(10.0, power);
        const double middle = std::round(at / step);
        if (std::abs(middle) > 1e15) break;
        // Built from its text, so that it is the very number that is shown.
        for (const double digits :
             {middle, std::floor(above / step), std::floor(below / step) + 1}) {
            const auto number = parseNumber(exactNumber(digits) + "e" + std::to_string(power));
            if (number && *number > below && *number <= above) return *number;
        }
    }
    return above;
}

// Within a hundredth of the range, and without moving a value.
std::vector<double> shortened(const Sample& sample, const std::vector<double>& breaks) {
    const auto values = sample.values();
    const double near = (sample.high() - sample.low()) / 100;
    std::vector<double> out;
    for (const double at : breaks) {
        const auto first = std::lower_bound(values.begin(), values.end(), at);
        if (first == values.begin() || first == values.end()) continue;
        const double below = std::max(*(first - 1), at - near), above = std::min(*first, at + near);
        const double number = shortestNear(below, above, at);
        if (out.empty() || number > out.back()) out.push_back(number);
    }
    return out;
}

std::vector<double> shortenedAt(const Sample& sample, const std::vector<std::size_t>& places) {
    std::vector<double> out;
    for (const std::size_t place : places)
        out.push_back(shortestBetween(sample.values()[place - 1], sample.values()[place]));
    return out;
}
}  // namespace

Sample::Sample(std::vector<double> values) {
    const auto end =
        std::remove_if(values.begin(), values.end(), [](double v) { return !std::isfinite(v); });
    m_missing = values.end() - end;
    values.erase(end, values.end());
    std::sort(values.begin(), values.end());
    m_count = static_cast<std::int64_t>(values.size());
    for (std::size_t i = 0; i < values.size(); ++i) {
        if (m_values.empty() || values[i] != m_values.back()) {
            m_values.push_back(values[i]);
            m_counts.push_back(0);
        }
        m_counts.back() = static_cast<std::int64_t>(i + 1);
    }
}

double Sample::mean() const {
    double sum = 0;
    for (std::size_t i = 0; i < m_values.size(); ++i)
        sum += m_values[i] * static_cast<double>(m_counts[i] - (i == 0 ? 0 : m_counts[i - 1]));
    return sum / static_cast<double>(m_count);
}

double Sample::deviation() const {
    const double middle = mean();
    double sum = 0;
    for (std::size_t i = 0; i < m_values.size(); ++i)
        sum += (m_values[i] - middle) * (m_values[i] - middle) *
               static_cast<double>(m_counts[i] - (i == 0 ? 0 : m_counts[i - 1]));
    return std::sqrt(sum / static_cast<double>(m_count));
}

std::int64_t Sample::below(double number) const {
    const auto at = std::lower_bound(m_values.begin(), m_values.end(), number);
    return at == m_values.begin() ? 0
                                  : m_counts[static_cast<std::size_t>(at - m_values.begin()) - 1];
}

std::vector<std::int64_t> Sample::histogram(std::size_t parts, double from, double to) const {
    std::vector<std::int64_t> out(parts, 0);
    if (!(to > from)) {
        if (!out.empty()) out[0] = m_count;
        return out;
    }
    std::int64_t before = below(from);
    for (std::size_t i = 0; i < parts; ++i) {
        const double end =
            from + (to - from) * static_cast<double>(i + 1) / static_cast<double>(parts);
        const std::int64_t sofar =
            i + 1 == parts ? below(std::nextafter(to, INFINITY)) : below(end);
        out[i] = sofar - before;
        before = sofar;
    }
    return out;
}

double shortestBetween(double below, double above) {
    if (below < 0 && above >= 0) return 0;
    return shortestNear(below, above, below + (above - below) / 2);
}

Result<std::vector<double>> breaksOf(const Sample& sample, Method method, int classes,
                                     const Progress& progress) {
    if (sample.isEmpty())
        return Error{ErrorCode::InvalidArgument, "classes", "there are no numbers",
                     "choose a field that holds some"};
    const std::size_t distinct = sample.values().size();
    const auto count = std::min(distinct, static_cast<std::size_t>(std::max(1, classes)));
    if (count < 2) return std::vector<double>();
    std::vector<double> out;
    switch (method) {
    case Method::Natural: {
        const auto places = naturalPlaces(sample, count, progress);
        if (progress.stopped()) return cancelled("natural breaks");
        return shortenedAt(sample, places);
    }
    case Method::Quantile: return shortenedAt(sample, quantilePlaces(sample, count));
    case Method::Geometric:
        if (!(sample.low() > 0) && !(sample.high() < 0))
            return Error{ErrorCode::InvalidArgument, "classes",
                         "geometric ones need numbers of one sign, without zero",
                         "choose natural breaks or quantiles"};
        return shortened(sample, geometricBreaks(sample.low(), sample.high(),
                                                 static_cast<std::size_t>(classes)));
    case Method::Round:
        return roundBreaks(sample.low(), sample.high(), static_cast<std::size_t>(classes));
    case Method::Deviation:
        return shortened(sample, deviationBreaks(sample, static_cast<std::size_t>(classes)));
    case Method::Equal:
    case Method::Own: break;
    }
    return shortened(sample,
                     equalBreaks(sample.low(), sample.high(), static_cast<std::size_t>(classes)));
}

std::size_t classOf(double number, std::span<const double> breaks) {
    return static_cast<std::size_t>(std::upper_bound(breaks.begin(), breaks.end(), number) -
                                    breaks.begin());
}

std::vector<std::int64_t> countsOf(const Sample& sample, std::span<const double> breaks) {
    std::vector<std::int64_t> out;
    std::int64_t before = 0;
    for (const double at : breaks) {
        const std::int64_t sofar = sample.below(at);
        out.push_back(sofar - before);
        before = sofar;
    }
    out.push_back(sample.count() - before);
    return out;
}

double goodnessOf(const Sample& sample, std::span<const double> breaks) {
    const Sums sums(sample);
    const double all = sums.within(0, sums.size());
    if (!(all > 0)) return 1;
    const auto values = sample.values();
    double left = 0;
    std::size_t begin = 0;
    for (std::size_t k = 0; k <= breaks.size(); ++k) {
        const std::size_t end =
            k == breaks.size()
                ? values.size()
                : static_cast<std::size_t>(
                      std::lower_bound(values.begin(), values.end(), breaks[k]) - values.begin());
        if (end > begin) left += sums.within(begin, end), begin = end;
    }
    return 1 - left / all;
}

}  // namespace ledge::classify
