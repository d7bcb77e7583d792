import { writePieces, type BytePieces, type PieceWriter } from '../../base/byte-pieces.ts';
import { noCheckpoint, type Checkpoint } from '../../base/checkpoint.ts';
import { formatHex, type Triple } from '../../colour/srgb.ts';
import type { Ramp } from '../../optics/ramp.ts';
import { traceOutlines, type Outline } from '../../relief/outlines.ts';
import { outlinesOf } from '../../relief/relief-mesh.ts';
import { isInLayer } from '../../relief/inlaid.ts';
import { outlinesAt, outlinesWhere } from '../../relief/smooth-outlines.ts';
import { layerTopMm } from '../../stack/layer-grid.ts';
import { bandEnds, bandLetter, totalLayers } from '../../stack/stack.ts';
import { faceEntry } from '../../tags/face-ramp.ts';
import type { ReliefSource } from './band-solids.ts';

function escapeText(text: string): string {
  return text.replace(/[<>&"]/g, (sign) => `&#${sign.charCodeAt(0)};`);
}

/** Writes outlines as path data in mm. */
function writePath(outlines: readonly Outline[], sampleMm: number, out: PieceWriter): void {
  const mm = (samples: number): number => Math.round(samples * sampleMm * 1e4) / 1e4;
  for (const corners of outlines) {
    for (let i = 0; i < corners.length; i += 2)
      out.text(`${i === 0 ? 'M' : 'L'}${mm(corners[i] as number)} ${mm(corners[i + 1] as number)}`);
    out.text('Z');
  }
}

/** Tells the outlines of an inlay in a layer, by its number; 0 is what is around them. */
function partTracer({ inlaid }: ReliefSource): (layer: number, inlay: number) => Outline[] {
  return (layer, inlay) =>
    inlaid ? outlinesWhere(inlaid.outlines, isInLayer(inlaid, layer, inlay)) : [];
}

/** Tells the outlines of everything that reaches a level: along samples, or smooth. */
function tracer(source: ReliefSource): (level: number) => Outline[] {
  const shared = outlinesOf(source);
  if (!shared) return (level) => traceOutlines(source.heights, level);
  return (level) => outlinesAt(shared, level);
}

/** A drawing in mm: one unit is one millimetre, y down, the picture as seen from above. */
function drawing(
  { heights, sampleMm, title, stamp }: ReliefSource,
  writeGroups: (out: PieceWriter) => void,
): BytePieces {
  const width = Math.round(heights.width * sampleMm * 1e4) / 1e4;
  const height = Math.round(heights.height * sampleMm * 1e4) / 1e4;
  return writePieces((out) => {
    out.text(
      [
        '<?xml version="1.0" encoding="UTF-8"?>',
        `<svg xmlns="http://www.w3.org/2000/svg" width="${width}mm" height="${height}mm" viewBox="0 0 ${width} ${height}">`,
        `<title>${escapeText(title)}</title>`,
        `<desc>Zesty Strata, stamp ${stamp}</desc>`,
        '',
      ].join('\n'),
    );
    writeGroups(out);
    out.text('</svg>\n');
  });
}

/**
 * The outline of each layer that is printed, a group each, lowest first. Source of the format: W3C, Scalable Vector Graphics
 * (SVG) 1.1, chapters 7 (units) and 8 (paths).
 */
export function layersSvg(source: ReliefSource, checkpoint: Checkpoint = noCheckpoint): BytePieces {
  const { stack, filaments, sampleMm } = source;
  const { inlaid } = source;
  const whole = tracer(source);
  const partOfLayer = partTracer(source);
  const trace = (layer: number): Outline[] =>
    inlaid && layer <= inlaid.layers ? partOfLayer(layer, 0) : whole(layer);
  const ends = bandEnds(stack.bands);
  const layers = totalLayers(stack.bands);
  return drawing(source, (out) => {
    for (let layer = 1; layer <= layers; layer += 1) {
      checkpoint(layer / layers);
      const outlines = trace(layer);
      if (outlines.length === 0) break;
      const band = ends.findIndex((end) => layer <= end);
      const colour = filaments[stack.bands[band]?.filamentId ?? '']?.colour ?? '#808080';
      out.text(
        `<g id="layer-${layer}"><title>Layer ${layer}, band ${bandLetter(band)}, top ${layerTopMm(stack.grid, layer)} mm</title><path d="`,
      );
      writePath(outlines, sampleMm, out);
      out.text(`" fill="${colour}" fill-rule="evenodd"/></g>\n`);
      if (!inlaid || layer > inlaid.layers) continue;
      inlaid.filaments.forEach((id, i) => {
        const letter = bandLetter(stack.bands.length + i);
        out.text(
          `<g id="layer-${layer}-inlay-${i + 1}"><title>Layer ${layer}, inlay ${letter}</title><path d="`,
        );
        writePath(partOfLayer(layer, i + 1), sampleMm, out);
        out.text(`" fill="${filaments[id]?.colour ?? '#808080'}" fill-rule="evenodd"/></g>\n`);
      });
    }
  });
}

const GREY: Triple = [128, 128, 128];

/** The areas of each height in the colours that are seen there: what flat pieces are cut, painted or stencilled from. */
export function areasSvg(
  source: ReliefSource,
  ramp: Ramp,
  checkpoint: Checkpoint = noCheckpoint,
): BytePieces {
  const { heights, sampleMm } = source;
  const trace = tracer(source);
  const inlays = partTracer(source);
  const present = [...new Set(heights.data)].filter((layers) => layers > 0).sort((a, b) => a - b);
  return drawing(source, (out) => {
    present.forEach((layers, i) => {
      checkpoint(i / present.length);
      // Just this height: what is taller is a hole in it.
      const outlines = trace(layers).concat(trace(layers + 1).map(reversed));
      const colour = formatHex(ramp[Math.min(layers, ramp.length) - 1]?.colour ?? GREY);
      out.text(`<g id="height-${layers}"><title>${layers} layers</title><path d="`);
      writePath(outlines, sampleMm, out);
      out.text(`" fill="${colour}" fill-rule="nonzero"/></g>\n`);
    });
    // From below there are inlays to see; the drawing stays that from above.
    source.inlaid?.filaments.forEach((_, i) => {
      const colour = formatHex(ramp[faceEntry(source.stack.bands, i + 1) - 1]?.colour ?? GREY);
      out.text(`<g id="inlay-${i + 1}"><title>Inlay ${i + 1}, seen from below</title><path d="`);
      writePath(inlays(1, i + 1), sampleMm, out);
      out.text(`" fill="${colour}" fill-rule="evenodd"/></g>\n`);
    });
  });
}

function reversed(corners: Outline): Outline {
  const turned: number[] = [];
  for (let i = corners.length - 2; i >= 0; i -= 2)
    turned.push(corners[i] as number, corners[i + 1] as number);
  return turned;
}
