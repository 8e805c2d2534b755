#pragma once
#include "core/crs/methods/kernel.h"

/// World maps. All but Equal Earth are methods of the sphere; on an ellipsoid they use its
/// semi-major axis as radius and the geodetic latitude unchanged.
namespace ledge::crs {

/// A pseudocylindrical projection from its shape: `double along(phi)` is x per radian of longitude
/// and `double up(phi)` is y, both per radius; `double latitude(y)` undoes the second.
template <typename Shape>
class PseudocylindricalKernel {
public:
    PseudocylindricalKernel(const ProjectionParameters&, const Ellipsoid& e)
        : m_shape(e), m_radius(m_shape.radius()) {}
    Point forward(double lambda, double phi) const {
        const Point row = m_shape.row(phi);
        return {m_radius * row.x * lambda, m_radius * row.y};
    }
    Point inverse(double x, double y) const {
        const double phi = m_shape.latitude(y / m_radius);
        if (!(std::abs(phi) <= kPi / 2 + 1e-12)) return kNowhere;
        const double along = m_radius * m_shape.row(phi).x;
        if (std::abs(x) > along * kPi * (1 + 1e-9) + 1e-6) return kNowhere;
        return {along > 1e-6 ? x / along : 0, phi};
    }

private:
    Shape m_shape;
    double m_radius;
};

/// Base of the shapes of the sphere.
class SphereShape {
public:
    explicit SphereShape(const Ellipsoid& e) : m_semiMajor(e.semiMajor) {}
    double radius() const { return m_semiMajor; }

protected:
    double m_semiMajor;
};

struct MollweideShape : SphereShape {  // Snyder, pp. 249-252
    using SphereShape::SphereShape;
    static Point row(double phi);
    static double latitude(double y);
};
struct Eckert1Shape : SphereShape {  // Snyder and Voxland 1989, pp. 50-63, all six
    using SphereShape::SphereShape;
    static Point row(double phi);
    static double latitude(double y);
};
struct Eckert2Shape : SphereShape {
    using SphereShape::SphereShape;
    static Point row(double phi);
    static double latitude(double y);
};
struct Eckert3Shape : SphereShape {
    using SphereShape::SphereShape;
    static Point row(double phi);
    static double latitude(double y);
};
struct Eckert4Shape : SphereShape {
    using SphereShape::SphereShape;
    static Point row(double phi);
    static double latitude(double y);
};
struct Eckert5Shape : SphereShape {
    using SphereShape::SphereShape;
    static Point row(double phi);
    static double latitude(double y);
};
struct Eckert6Shape : SphereShape {
    using SphereShape::SphereShape;
    static Point row(double phi);
    static double latitude(double y);
};
/// Robinson's table (1974) every five degrees, joined by a natural cubic spline that is even in x
/// and odd in y.
struct RobinsonShape : SphereShape {
    using SphereShape::SphereShape;
    static Point row(double phi);
    static double latitude(double y);
};
/// Natural Earth by the polynomials of Savric, Jenny, Patterson, Petrovic and Hurni, "A polynomial
/// equation for the Natural Earth projection", Cartogr. Geogr. Inf. Sci. 38(4), 2011, eq. 5.
struct NaturalEarthShape : SphereShape {
    using SphereShape::SphereShape;
    static Point row(double phi);
    static double latitude(double y);
};
/// Equal Earth on the authalic sphere (Savric, Patterson and Jenny, 2018; EPSG 1078).
class EqualEarthShape {
public:
    explicit EqualEarthShape(const Ellipsoid& e) : m_authalic(e) {}
    double radius() const { return m_authalic.radius(); }
    Point row(double phi) const;
    double latitude(double y) const;

private:
    AuthalicLatitude m_authalic;
};

/// Aitoff, Hammer, Winkel tripel (Snyder and Voxland 1989, pp. 160-166).
class AitoffKernel {
public:
    AitoffKernel(const ProjectionParameters&, const Ellipsoid& e) : m_radius(e.semiMajor) {}
    Point forward(double lambda, double phi) const;
    Point inverse(double x, double y) const;

private:
    double m_radius;
};
class HammerKernel {
public:
    HammerKernel(const ProjectionParameters&, const Ellipsoid& e) : m_radius(e.semiMajor) {}
    Point forward(double lambda, double phi) const;
    Point inverse(double x, double y) const;

private:
    double m_radius;
};
class WinkelTripelKernel {
public:
    WinkelTripelKernel(const ProjectionParameters& p, const Ellipsoid& e)
        : m_radius(e.semiMajor), m_parallel(std::cos(radians(p.standardParallel1))) {}
    Point forward(double lambda, double phi) const;
    Point inverse(double x, double y) const;

private:
    double m_radius, m_parallel;
};

/// Van der Grinten's first (Snyder, pp. 239-242): the world in a circle.
class VanDerGrintenKernel {
public:
    VanDerGrintenKernel(const ProjectionParameters&, const Ellipsoid& e) : m_radius(e.semiMajor) {}
    Point forward(double lambda, double phi) const;
    Point inverse(double x, double y) const;

private:
    double m_radius;
};

/// Goode's homolosine (1925) interrupted in the oceans: sinusoidal up to 40° 44' 11.8", Mollweide
/// beyond, two lobes in the north and four in the south. The gaps are outside.
class HomolosineKernel {
public:
    HomolosineKernel(const ProjectionParameters&, const Ellipsoid& e) : m_radius(e.semiMajor) {}
    Point forward(double lambda, double phi) const;
    Point inverse(double x, double y) const;

private:
    double m_radius;
};

}  // namespace ledge::crs
