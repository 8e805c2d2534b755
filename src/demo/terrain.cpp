#include "demo/terrain.h"

#include <algorithm>
#include <cmath>
#include <functional>
#include <queue>

#include "demo/noise.h"

namespace ledge::demo {
namespace {
// 36 x 24 km of open sea around 61.6 N 10.7 W; the islands are laid out from kIslandLeft,
// kIslandTop.
constexpr double kWestEdge = 392000, kNorthEdge = 6841020, kWidth = 36000, kHeight = 24000;
constexpr double kIslandLeft = 6000, kIslandTop = 2000;
constexpr double kRelief = 0.62;  // of the eroded heights
constexpr double kDrowning = 10;  // metres the sea rose over the eroded land

struct Hump {
    double x, y, rx, ry, turn, rise;
};
// Main island in a crescent open to the south, and its skerries; kilometres from the upper left.
constexpr Hump kHumps[] = {{8.2, 8.6, 5.6, 4.6, 0.35, 1.0},   {13.2, 7.4, 5.6, 4.0, -0.25, 1.15},
                           {17.4, 10.6, 3.6, 5.6, 0.2, 1.05}, {6.6, 12.4, 2.7, 3.0, 0.5, 0.7},
                           {20.6, 4.4, 1.5, 1.0, 0.6, 0.45},  {3.0, 4.3, 1.3, 0.9, -0.5, 0.42},
                           {10.6, 16.6, 1.5, 0.9, 0.2, 0.42}, {22.3, 15.4, 0.9, 1.3, 0.3, 0.38},
                           {13.1, 17.5, 0.6, 0.5, 0.0, 0.3},  {1.7, 9.8, 0.7, 0.6, 0.0, 0.32}};

// How far inside the islands a place lies: positive on land, rising to about 1.
double landness(double xKm, double yKm, std::uint64_t seed) {
    const double wx = xKm + 1.1 * fractalNoise(xKm / 2.6, yKm / 2.6, seed + 11, 4);
    const double wy = yKm + 1.1 * fractalNoise(xKm / 2.6, yKm / 2.6, seed + 23, 4);
    double best = -1;
    for (const Hump& h : kHumps) {
        const double dx = wx - h.x, dy = wy - h.y, c = std::cos(h.turn), s = std::sin(h.turn);
        const double u = (c * dx + s * dy) / h.rx, v = (-s * dx + c * dy) / h.ry;
        best = std::max(best, h.rise * (1 - std::hypot(u, v)));
    }
    // The voe: a long inlet from the south.
    const double bay = std::hypot((xKm - 11.2) / 2.5, (yKm - 14.2) / 3.9);
    return std::min(best, 0.75 * (bay - 1));
}

std::size_t rowsFor(double cell) { return static_cast<std::size_t>(kHeight / cell); }
std::size_t colsFor(double cell) { return static_cast<std::size_t>(kWidth / cell); }

Grid<float> sampleLand(double cell, std::uint64_t seed) {
    Grid<float> out(rowsFor(cell), colsFor(cell));
    for (std::size_t r = 0; r < out.rows(); ++r)
        for (std::size_t c = 0; c < out.cols(); ++c)
            out(r, c) =
                static_cast<float>(landness(((double(c) + 0.5) * cell - kIslandLeft) / 1000,
                                            ((double(r) + 0.5) * cell - kIslandTop) / 1000, seed));
    return out;
}

// One implicit step of uplift and stream-power erosion, then soil creep.
void erode(Grid<float>& z, const Grid<float>& land, double cell, double uplift, double years,
           double channelArea, std::uint64_t seed) {
    const Flow flow = routeFlow(z);
    constexpr double kErodibility = 1.0e-5;
    for (const std::uint32_t i : flow.order) {
        const std::uint32_t to = flow.receiver[i];
        float& h = z.cells()[i];
        const auto inside = static_cast<double>(land.cells()[i]);
        if (inside <= 0 || to == i) {
            h = std::min(h, 0.0F);
            continue;
        }
        const double step = std::abs(static_cast<double>(i) - static_cast<double>(to));
        const bool isDiagonal = step > 1.5 && std::abs(step - static_cast<double>(z.cols())) > 0.5;
        const double length = isDiagonal ? cell * 1.41421356 : cell;
        // Rain gathers into channels only below a threshold area; above it slopes stay whole.
        const double area =
            std::max(0.0, static_cast<double>(flow.area[i]) * cell * cell - channelArea);
        const double x = double(i % z.cols()) * cell / 2300, y = double(i / z.cols()) * cell / 2300;
        const double softness = std::exp(0.9 * fractalNoise(x, y, seed + 401, 3));  // kinds of rock
        const double f = kErodibility * softness * years * std::sqrt(area) / length;
        // Uneven ground keeps channels from running along the grid.
        const double uneven =
            0.9 * valueNoise(x * 2300 / (cell * 1.7), y * 2300 / (cell * 1.7), seed + 977);
        const double raised = static_cast<double>(h) +
                              uplift * years * std::min(1.0, 0.04 + inside * 1.9) * (1 + uneven);
        h = static_cast<float>((raised + f * static_cast<double>(z.cells()[to])) / (1 + f));
    }
}

void creep(Grid<float>& z, double cell, double diffusivity, double years) {
    const double k = std::min(0.22, diffusivity * years / (cell * cell));
    const Grid<float> from = z;
    for (std::size_t r = 1; r + 1 < z.rows(); ++r)
        for (std::size_t c = 1; c + 1 < z.cols(); ++c) {
            const float here = from(r, c);
            if (here <= 0) continue;
            const float sum = from(r - 1, c) + from(r + 1, c) + from(r, c - 1) + from(r, c + 1);
            z(r, c) = here + static_cast<float>(k) * (sum - 4 * here);
        }
}

// Twice or more as fine, by cubic B-spline so that no lattice shows.
Grid<float> refined(const Grid<float>& in, std::size_t factor) {
    Grid<float> out(in.rows() * factor, in.cols() * factor);
    const auto weights = [](double t) {
        const double s = 1 - t;
        return std::array<double, 4>{s * s * s / 6, (3 * t * t * t - 6 * t * t + 4) / 6,
                                     (3 * s * s * s - 6 * s * s + 4) / 6, t * t * t / 6};
    };
    const auto clamped = [](std::int64_t i, std::size_t n) {
        return static_cast<std::size_t>(
            std::clamp<std::int64_t>(i, 0, static_cast<std::int64_t>(n) - 1));
    };
    for (std::size_t r = 0; r < out.rows(); ++r) {
        const double y = (double(r) + 0.5) / double(factor) - 0.5;
        const auto wy = weights(y - std::floor(y));
        const auto iy = static_cast<std::int64_t>(std::floor(y));
        for (std::size_t c = 0; c < out.cols(); ++c) {
            const double x = (double(c) + 0.5) / double(factor) - 0.5;
            const auto wx = weights(x - std::floor(x));
            const auto ix = static_cast<std::int64_t>(std::floor(x));
            double sum = 0;
            for (std::size_t j = 0; j < 4; ++j)
                for (std::size_t i = 0; i < 4; ++i)
                    sum += wy[j] * wx[i] *
                           static_cast<double>(
                               in(clamped(iy - 1 + static_cast<std::int64_t>(j), in.rows()),
                                  clamped(ix - 1 + static_cast<std::int64_t>(i), in.cols())));
            out(r, c) = static_cast<float>(sum);
        }
    }
    return out;
}

// Metres to the nearest cell for which `isTarget`, by two sweeps of chamfer distances
// (Borgefors 1986).
Grid<float> distanceTo(const Grid<float>& z, double cell,
                       const std::function<bool(float)>& isTarget) {
    Grid<float> d(z.rows(), z.cols(), 1e9F);
    for (std::size_t i = 0; i < z.cells().size(); ++i)
        if (isTarget(z.cells()[i])) d.cells()[i] = 0;
    const auto a = static_cast<float>(cell), b = static_cast<float>(cell * 1.4142);
    const std::size_t R = z.rows(), C = z.cols();
    const auto relax = [&](std::size_t r, std::size_t c, std::size_t r2, std::size_t c2,
                           float step) { d(r, c) = std::min(d(r, c), d(r2, c2) + step); };
    for (std::size_t r = 0; r < R; ++r)
        for (std::size_t c = 0; c < C; ++c) {
            if (c > 0) relax(r, c, r, c - 1, a);
            if (r > 0) relax(r, c, r - 1, c, a);
            if (r > 0 && c > 0) relax(r, c, r - 1, c - 1, b);
            if (r > 0 && c + 1 < C) relax(r, c, r - 1, c + 1, b);
        }
    for (std::size_t r = R; r-- > 0;)
        for (std::size_t c = C; c-- > 0;) {
            if (c + 1 < C) relax(r, c, r, c + 1, a);
            if (r + 1 < R) relax(r, c, r + 1, c, a);
            if (r + 1 < R && c + 1 < C) relax(r, c, r + 1, c + 1, b);
            if (r + 1 < R && c > 0) relax(r, c, r + 1, c - 1, b);
        }
    return d;
}

// The open ocean eats back low ground on the weather side (west to north) and leaves cliffs.
void cutCliffs(Grid<float>& z, double cell, std::uint64_t seed) {
    const Grid<float> toSea = distanceTo(z, cell, [](float h) { return h <= 0; });
    const Grid<float> before = z;
    const auto reach = static_cast<std::int64_t>(650 / cell);
    for (std::size_t r = 0; r < z.rows(); ++r) {
        for (std::size_t c = 0; c < z.cols(); ++c) {
            const float d = toSea(r, c);
            if (d <= 0 || d > 420) continue;
            double exposure = 0;  // share of the fetch to west and north that is water
            for (const auto& [dr, dc] : {std::pair{0, -1}, {-1, -1}, {-1, 0}}) {
                const std::int64_t rr = static_cast<std::int64_t>(r) + dr * reach;
                const std::int64_t cc = static_cast<std::int64_t>(c) + dc * reach;
                const bool isOpen =
                    rr < 0 || cc < 0 ||
                    before(static_cast<std::size_t>(rr), static_cast<std::size_t>(cc)) <= 0;
                exposure += isOpen ? 1.0 / 3 : 0;
            }
            const double x = double(c) * cell / 1000, y = double(r) * cell / 1000;
            const double bite =
                exposure * (170 + 230 * fractalNoise(x / 0.7, y / 0.7, seed + 71, 4));
            if (static_cast<double>(d) < bite && before(r, c) < 75) z(r, c) = -6;
        }
    }
}

// Mean over a square, three times over: nearly a Gaussian.
Grid<float> blurred(const Grid<float>& in, std::size_t reach) {
    Grid<float> out = in;
    const auto n = static_cast<double>(2 * reach + 1);
    for (int pass = 0; pass < 3; ++pass) {
        const Grid<float> from = out;
        const auto clampTo = [](std::int64_t i, std::size_t size) {
            return static_cast<std::size_t>(
                std::clamp<std::int64_t>(i, 0, static_cast<std::int64_t>(size) - 1));
        };
        const auto w = static_cast<std::int64_t>(reach);
        Grid<float> across(in.rows(), in.cols());
        for (std::size_t r = 0; r < in.rows(); ++r) {
            double sum = 0;
            for (std::int64_t k = -w; k <= w; ++k) sum += double(from(r, clampTo(k, in.cols())));
            for (std::size_t c = 0; c < in.cols(); ++c) {
                across(r, c) = static_cast<float>(sum / n);
                const auto i = static_cast<std::int64_t>(c);
                sum += double(from(r, clampTo(i + w + 1, in.cols()))) -
                       double(from(r, clampTo(i - w, in.cols())));
            }
        }
        for (std::size_t c = 0; c < in.cols(); ++c) {
            double sum = 0;
            for (std::int64_t k = -w; k <= w; ++k) sum += double(across(clampTo(k, in.rows()), c));
            for (std::size_t r = 0; r < in.rows(); ++r) {
                out(r, c) = static_cast<float>(sum / n);
                const auto i = static_cast<std::int64_t>(r);
                sum += double(across(clampTo(i + w + 1, in.rows()), c)) -
                       double(across(clampTo(i - w, in.rows()), c));
            }
        }
    }
    return out;
}

// Ice and its gravel left valley floors broad: what lies under the mean of its surroundings is
// filled part of the way, most of all low down.
void fillValleys(Grid<float>& z, double cell) {
    const Grid<float> around = blurred(z, static_cast<std::size_t>(std::max(1.0, 90 / cell)));
    for (std::size_t i = 0; i < z.cells().size(); ++i) {
        float& h = z.cells()[i];
        if (h <= 0) continue;
        const double share = 0.85 - 0.45 * std::clamp(double(h) / 320, 0.0, 1.0);
        h += static_cast<float>(share) * std::max(0.0F, around.cells()[i] - h);
    }
}

// Ice-scoured hollows in valley floors; the water that stands in them is the lochs.
void scourHollows(Grid<float>& z, double cell, std::uint64_t seed) {
    const Flow flow = routeFlow(z);
    struct Hollow {
        double r, c, along, across, turn, depth;
    };
    std::vector<Hollow> hollows;
    const double apart = 1500 / cell;
    std::vector<std::uint32_t> candidates;
    for (std::uint32_t i = 0; i < z.cells().size(); ++i) {
        const double km2 = static_cast<double>(flow.area[i]) * cell * cell / 1e6;
        const float h = z.cells()[i];
        const std::uint32_t to = flow.receiver[i];
        const float fall = h - z.cells()[to];
        if (km2 > 0.5 && km2 < 9 && h > 14 && h < 330 && fall < 0.075F * static_cast<float>(cell))
            candidates.push_back(i);
    }
    std::uint64_t pick = seed * 2654435761u;
    for (std::size_t tries = 0; tries < 4000 && hollows.size() < 9 && !candidates.empty();
         ++tries) {
        pick = pick * 6364136223846793005ull + 1442695040888963407ull;
        const std::uint32_t i = candidates[(pick >> 33) % candidates.size()];
        const double r = double(i / z.cols()), c = double(i % z.cols());
        const bool isFree = std::all_of(hollows.begin(), hollows.end(), [&](const Hollow& o) {
            return std::hypot(o.r - r, o.c - c) > apart;
        });
        if (!isFree) continue;
        std::uint32_t down = i;
        for (int k = 0; k < static_cast<int>(240 / cell); ++k) down = flow.receiver[down];
        const double dr = double(down / z.cols()) - r, dc = double(down % z.cols()) - c;
        const double size = 1 + 0.5 * double((pick >> 20) % 100) / 100;
        hollows.push_back(
            {r, c, 330 * size / cell, 150 * size / cell, std::atan2(dr, dc), 17 * size});
    }
    for (const Hollow& h : hollows) {
        const auto reach = static_cast<std::int64_t>(h.along * 2.4);
        for (std::int64_t r = std::int64_t(h.r) - reach; r <= std::int64_t(h.r) + reach; ++r)
            for (std::int64_t c = std::int64_t(h.c) - reach; c <= std::int64_t(h.c) + reach; ++c) {
                if (r < 0 || c < 0 || r >= std::int64_t(z.rows()) || c >= std::int64_t(z.cols()))
                    continue;
                const double y = double(r) - h.r, x = double(c) - h.c;
                const double u = (std::cos(h.turn) * x + std::sin(h.turn) * y) / h.along;
                const double v = (-std::sin(h.turn) * x + std::cos(h.turn) * y) / h.across;
                float& cellHeight = z(std::size_t(r), std::size_t(c));
                if (cellHeight > 2)
                    cellHeight =
                        std::max(1.0F, cellHeight - static_cast<float>(h.depth *
                                                                       std::exp(-(u * u + v * v))));
            }
    }
}

void makeSeaFloor(Grid<float>& z, double cell, std::uint64_t seed) {
    const Grid<float> toLand = distanceTo(z, cell, [](float h) { return h > 0; });
    for (std::size_t r = 0; r < z.rows(); ++r)
        for (std::size_t c = 0; c < z.cols(); ++c) {
            if (z(r, c) > 0) continue;
            const double d = static_cast<double>(toLand(r, c));
            const double x = double(c) * cell / 1000, y = double(r) * cell / 1000;
            const double depth =
                1.2 + 62 * (1 - std::exp(-d / 2100)) + 0.004 * d +
                9 * std::min(1.0, d / 900) * fractalNoise(x / 1.6, y / 1.6, seed + 91, 4);
            z(r, c) = static_cast<float>(-std::max(0.6, depth));
        }
}

// Islets of a few cells and pools in the tide line go, so that the coast is clean.
void tidyCoast(Grid<float>& z, double cell) {
    std::vector<std::uint8_t> seen(z.cells().size(), 0);
    const auto least = static_cast<std::size_t>(9000 / (cell * cell)) + 4;
    const std::size_t C = z.cols();
    for (std::uint32_t start = 0; start < seen.size(); ++start) {
        if (seen[start]) continue;
        const bool isLand = z.cells()[start] > 0;
        std::vector<std::uint32_t> part{start};
        seen[start] = 1;
        bool meetsRim = false;
        for (std::size_t k = 0; k < part.size(); ++k) {
            const std::size_t r = part[k] / C, c = part[k] % C;
            if (r == 0 || c == 0 || r + 1 == z.rows() || c + 1 == C) {
                meetsRim = true;
                continue;
            }
            for (const std::size_t n :
                 {part[k] - C, part[k] + C, part[k] - std::size_t{1}, part[k] + std::size_t{1}})
                if (!seen[n] && (z.cells()[n] > 0) == isLand) {
                    seen[n] = 1;
                    part.push_back(static_cast<std::uint32_t>(n));
                }
        }
        const bool isPool = !isLand && !meetsRim;
        if (isPool || (isLand && part.size() < least))
            for (const std::uint32_t i : part) z.cells()[i] = isPool ? 0.8F : -2.0F;
    }
}
}  // namespace

Flow routeFlow(const Grid<float>& heights) {
    const std::size_t R = heights.rows(), C = heights.cols(), count = R * C;
    Flow out;
    out.filled = heights;
    out.receiver.resize(count);
    out.order.reserve(count);
    out.area.assign(count, 1.0F);
    using Item = std::pair<float, std::uint32_t>;
    std::priority_queue<Item, std::vector<Item>, std::greater<>> open;
    std::vector<std::uint8_t> seen(count, 0);
    for (std::size_t i = 0; i < count; ++i) {
        const std::size_t r = i / C, c = i % C;
        if (heights.cells()[i] > 0 && r > 0 && c > 0 && r + 1 < R && c + 1 < C) continue;
        out.receiver[i] = static_cast<std::uint32_t>(i);
        seen[i] = 1;
        out.order.push_back(static_cast<std::uint32_t>(i));
        bool meetsLand = false;  // open water far from land needs no queue
        for (std::size_t k = 0; k < 9 && !meetsLand; ++k) {
            const std::size_t rr = r + k / 3 - 1, cc = c + k % 3 - 1;
            meetsLand = rr < R && cc < C && heights(rr, cc) > 0;
        }
        if (meetsLand) open.push({heights.cells()[i], static_cast<std::uint32_t>(i)});
    }
    while (!open.empty()) {
        const auto [level, i] = open.top();
        open.pop();
        const std::size_t r = i / C, c = i % C;
        for (std::size_t k = 0; k < 9; ++k) {
            const std::size_t rr = r + k / 3 - 1, cc = c + k % 3 - 1;
            if (rr >= R || cc >= C) continue;
            const std::size_t n = rr * C + cc;
            if (seen[n]) continue;
            seen[n] = 1;
            out.receiver[n] = i;
            out.filled.cells()[n] = std::max(heights.cells()[n], level);
            out.order.push_back(static_cast<std::uint32_t>(n));
            open.push({out.filled.cells()[n], static_cast<std::uint32_t>(n)});
        }
    }
    // Outside pits, water takes the steepest way down rather than the way the flood came.
    std::vector<std::uint32_t> rank(count);
    for (std::size_t k = 0; k < count; ++k) rank[out.order[k]] = static_cast<std::uint32_t>(k);
    for (std::size_t i = 0; i < count; ++i) {
        if (out.receiver[i] == i) continue;
        const std::size_t r = i / C, c = i % C;
        float best = 0;
        for (std::size_t k = 0; k < 9; ++k) {
            const std::size_t rr = r + k / 3 - 1, cc = c + k % 3 - 1;
            if (rr >= R || cc >= C) continue;
            const std::size_t n = rr * C + cc;
            const float fall =
                (out.filled.cells()[i] - out.filled.cells()[n]) / (k % 2 == 0 ? 1.4142F : 1.0F);
            if (fall > best && rank[n] < rank[i])
                best = fall, out.receiver[i] = static_cast<std::uint32_t>(n);
        }
    }
    for (std::size_t k = count; k-- > 0;) {
        const std::uint32_t i = out.order[k];
        if (out.receiver[i] != i) out.area[out.receiver[i]] += out.area[i];
    }
    return out;
}

Result<Terrain> makeTerrain(const Options& options, const Progress& progress) {
    double cell = 60;
    Grid<float> land = sampleLand(cell, options.seed);
    Grid<float> z(land.rows(), land.cols(), -1.0F);
    for (std::size_t i = 0; i < z.cells().size(); ++i)
        if (land.cells()[i] > 0) {
            const double x = double(i % z.cols()), y = double(i / z.cols());
            z.cells()[i] = static_cast<float>(1 + 60 * double(land.cells()[i]) +
                                              14 * fractalNoise(x / 9, y / 9, options.seed + 5, 4));
        }
    constexpr int kLong = 90, kShort = 16;
    for (int k = 0; k < kLong; ++k) {
        if (progress.stopped()) return cancelled("demo terrain");
        // Two pulses of uplift leave older, gentler tops above younger, steeper valleys.
        const double uplift = k < 60 ? 2.2e-4 : 3.8e-4;
        erode(z, land, cell, uplift, 25000, 26000, options.seed);
        creep(z, cell, 0.02, 25000);
        progress.at(0.35 * k / kLong);
    }
    const std::size_t step = cell > options.cell * 2.5 ? 2 : 1;
    z = refined(z, step);
    cell /= double(step);
    land = sampleLand(cell, options.seed);
    for (std::size_t i = 0; i < z.cells().size(); ++i) {
        const double x = double(i % z.cols()) * cell / 1000, y = double(i / z.cols()) * cell / 1000;
        float& h = z.cells()[i];
        if (land.cells()[i] <= 0)
            h = -1;
        else
            h = std::max(0.5F, h + static_cast<float>(
                                       16 * fractalNoise(x / 0.5, y / 0.5, options.seed + 31, 4)));
    }
    for (int k = 0; k < kShort; ++k) {
        if (progress.stopped()) return cancelled("demo terrain");
        erode(z, land, cell, 2.4e-4, 15000, 5000, options.seed);
        creep(z, cell, 0.004, 15000);
        progress.at(0.35 + 0.35 * k / kShort);
    }
    // Low ground towards the shore; the sea then rises into the valley mouths.
    for (std::size_t i = 0; i < z.cells().size(); ++i) {
        const double t = std::clamp(double(land.cells()[i]) / 0.3, 0.0, 1.0);
        z.cells()[i] =
            z.cells()[i] * static_cast<float>(kRelief * (0.38 + 0.62 * t * t * (3 - 2 * t))) -
            static_cast<float>(kDrowning);
    }
    fillValleys(z, cell);
    cutCliffs(z, cell, options.seed);
    scourHollows(z, cell, options.seed);
    progress.at(0.75);
    const auto fine = static_cast<std::size_t>(std::lround(cell / options.cell));
    if (fine > 1) z = refined(z, fine);
    cell /= double(std::max<std::size_t>(1, fine));
    for (std::size_t i = 0; i < z.cells().size(); ++i) {  // ground is rough at arm's length
        const double x = double(i % z.cols()) * cell / 1000, y = double(i / z.cols()) * cell / 1000;
        float& h = z.cells()[i];
        if (h > 1)
            h = std::max(0.6F, h + static_cast<float>(
                                       std::min(1.0, double(h) / 40) * 2.4 *
                                       fractalNoise(x / 0.11, y / 0.11, options.seed + 57, 3)));
    }
    tidyCoast(z, cell);
    makeSeaFloor(z, cell, options.seed);
    progress.at(0.9);

    Terrain out;
    out.cell = cell;
    out.toWorld = {cell, 0, kWestEdge, 0, -cell, kNorthEdge};
    const Flow flow = routeFlow(z);
    out.lochDepth = Grid<float>(z.rows(), z.cols());
    for (std::size_t i = 0; i < z.cells().size(); ++i) {
        const float depth = z.cells()[i] > 0 ? flow.filled.cells()[i] - z.cells()[i] : 0.0F;
        out.lochDepth.cells()[i] = depth;
        if (z.cells()[i] > 0) z.cells()[i] = flow.filled.cells()[i];  // still water is flat
    }
    out.heights = std::move(z);
    progress.at(1);
    return out;
}

}  // namespace ledge::demo
