#pragma once
#include "document/document.h"

/// Edits of hillshades and contours whose names follow what they show.
namespace ledge::doc {

/// "315/45", "090/30": azimuth and altitude.
std::string lightNumbers(const terrain::Light& light);
/// Name of a hillshade after its light: "Light 315/45", "Light 090/30", or with a project's
/// own word before.
std::string lightName(const terrain::Light& light, const std::string& prefix = {});
/// Name of contours after their interval: "Contours 25 m".
std::string contourName(double interval);

/// Another first light; a name made from the light follows it, one given by hand stays.
Document withLight(Document document, Id layer, const terrain::Light& light);
/// Another interval; the name likewise.
Document withInterval(Document document, Id layer, double metres);
/// A light on the shelf of a hillshade, for comparing; once.
Document withKeptLight(Document document, Id layer, const terrain::Light& light);
Document withoutKeptLight(Document document, Id layer, const terrain::Light& light);
/// Lit from all kept lights at once, or from the first alone.
Document withBlendedLights(Document document, Id layer, bool isBlended);
/// Another hillshade of the source of `beside`, above it and above the lights there, half opaque,
/// multiplied over what is beneath, lit so and named after its light.
std::pair<Document, Id> addLight(Document document, Id beside, const terrain::Light& light);
/// The next of the usual lights that the stack has no strip of.
terrain::Light nextLight(const Document& document);

}  // namespace ledge::doc
