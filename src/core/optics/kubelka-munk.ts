/**
 * Two-flux optics of one layer in one spectral bin. K and S are absorption and scattering per mm, `opaque` is the
 * reflectance of an endlessly thick layer (R_inf = 1 + K/S - sqrt((K/S)^2 + 2 K/S)), `b` is (1/R_inf - R_inf) / 2.
 * Source: P. Kubelka, F. Munk, "Ein Beitrag zur Optik der Farbanstriche", Zeitschrift für technische Physik 12
 * (1931); P. Kubelka, "New contributions to the optics of intensely light-scattering materials. Part I", JOSA 38
 * (1948). The hyperbolic closed forms are rewritten with E = exp(-2 b S d), which neither overflows for thick layers
 * nor loses digits for thin ones.
 */

/** Decay E = exp(-2 b S d) of a layer of `thicknessMm` with scattering `scatterPerMm`; 1 for no layer, 0 for an endless one. */
export function decayOf(opaque: number, scatterPerMm: number, thicknessMm: number): number {
  const b = (1 / opaque - opaque) / 2;
  return Math.exp(-2 * b * scatterPerMm * thicknessMm);
}

/** Reflectance (0..1) seen on a layer with decay `decay` that lies on something of reflectance `ground`. */
export function reflectanceOver(ground: number, opaque: number, decay: number): number {
  const q = ((ground - opaque) / (1 - opaque * ground)) * decay;
  return (opaque + q) / (1 + opaque * q);
}

/** Share of the light (0..1) that one free layer lets through. */
export function transmittanceOf(opaque: number, decay: number): number {
  const square = opaque * opaque;
  return ((1 - square) * Math.sqrt(decay)) / (1 - square * decay);
}

/** Share of the light (0..1) that one free layer throws back with nothing behind it. */
export function reflectanceAlone(opaque: number, decay: number): number {
  return (opaque * (1 - decay)) / (1 - opaque * opaque * decay);
}
