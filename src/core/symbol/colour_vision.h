#pragma once
#include <array>
#include <cstdint>
#include <span>
#include <string>
#include <vector>

#include "core/base/colour.h"

namespace ledge {

/// Who looks: most people, those without one of the three kinds of cones, or a printer in grey.
enum class Vision : std::uint8_t { Usual, NoRed, NoGreen, NoBlue, Grey };
inline constexpr std::array kVisions{Vision::Usual, Vision::NoRed, Vision::NoGreen, Vision::NoBlue,
                                     Vision::Grey};

/// A colour as it is seen: without one kind of cones by the matrices of Machado, Oliveira and
/// Fernandes ("A physiologically-based model for simulation of color vision deficiency", 2009, of
/// full severity, in linear light); in grey by its luminance. Alpha stays.
Colour seenBy(Vision vision, Colour colour);

/// The same for many pixels at once: 0xAARRGGBB, straight or premultiplied with full alpha.
void seeBy(Vision vision, std::span<std::uint32_t> pixels);

/// Two colours that some cannot tell apart: which, and who.
struct Alike {
    std::size_t first = 0;  ///< and the one after it
    Vision vision = Vision::Usual;
    double distance = 0;  ///< in OKLab, times 100
};
/// Neighbours in a row of colours that lie nearer than `least` for somebody, the worst for each
/// pair once. Print in grey asks for less: four.
std::vector<Alike> neighboursAlike(std::span<const Colour> colours, double least = 8);

}  // namespace ledge
