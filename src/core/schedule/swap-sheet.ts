import { tidyMm } from '../base/numbers.ts';
import { USUAL_PRINTER, type Printer } from '../printer/printer.ts';
import type { FlushFace } from '../stack/flush.ts';
import { baseTopMm, layerTopMm, type LayerGrid } from '../stack/layer-grid.ts';
import { brightnessOf, type Filament } from '../stack/filament.ts';
import { bandEnds, type Stack } from '../stack/stack.ts';
import type { FilamentTable } from '../stack/stack-ramp.ts';
import { estimateUse, gramsOf, layerSeconds, metresOf, tallest, type BandUse } from './estimate.ts';
import {
  arrangePieces,
  compareWays,
  hopSeconds,
  ONE_PIECE,
  type Arrangement,
  type Pieces,
  type WayChoice,
} from './pieces.ts';
import { faceSeconds, samplesApart, type CountedFace } from './face-figures.ts';
import { partLetter, planReturn, planSwaps, type ReturnSwap, type Swap } from './plan-swaps.ts';

/** One filament's line on the sheet, for one piece. */
export interface SheetBand extends BandUse {
  readonly filament: Filament;
  /** First and last layer, counted from 1. */
  readonly firstLayer: number;
  readonly lastLayer: number;
  /** Height at which the band is finished, mm. */
  readonly endMm: number;
}

/** A swap with all that is to know when it comes. */
export interface SheetSwap extends Swap {
  /** Time into the print at which the printer stops, earlier swaps counted, seconds. */
  readonly atS: number;
  /** Printing since the start or the last swap, seconds. */
  readonly sinceS: number;
  /** Strand to purge, mm, and whether a lighter filament follows a darker one. */
  readonly purgeMm: number;
  readonly toLighter: boolean;
}

/** The change back between two of several pieces, with what to purge. */
export interface SheetReturn extends ReturnSwap {
  readonly purgeMm: number;
  readonly toLighter: boolean;
}

/** What all pieces take of one filament, over all its bands. */
export interface FilamentNeed {
  readonly filament: Filament;
  readonly letters: readonly string[];
  readonly grams: number;
  /** Of it, what is purged. */
  readonly purgeG: number;
  readonly metres: number;
  /** What will be left of the spool, grams; undefined where that is not known. Below 0 it does not last. */
  readonly restG: number | undefined;
}

/** Everything that stands beside the printer. */
export interface SwapSheet {
  readonly title: string;
  readonly stamp: string;
  readonly printer: Printer;
  readonly firstLayerMm: number;
  readonly layerMm: number;
  /** The lowest part in thicker layers, where there is one: their height, and where they end. */
  readonly base: { readonly layerMm: number; readonly topMm: number } | null;
  readonly widthMm: number;
  readonly heightMm: number;
  readonly layers: number;
  readonly grid: LayerGrid;
  readonly thicknessMm: number;
  readonly bands: readonly SheetBand[];
  readonly needs: readonly FilamentNeed[];
  readonly swaps: readonly SheetSwap[];
  /** From the last filament back to the first, for what is printed next; null where they are the same. */
  readonly again: SheetReturn | null;
  /** To be done before each further piece, where they are printed one after the other; null where nothing is. */
  readonly back: SheetReturn | null;
  readonly pieces: Pieces;
  readonly arrangement: Arrangement;
  readonly ways: WayChoice;
  /** Time of one run of the printer: of all pieces together, or of one of several; seconds. */
  readonly totalS: number;
  readonly swapsS: number;
  /** Printing from the last swap (or the start) to the end, seconds. */
  readonly lastS: number;
  /** What of one piece each layer has, to compare a sliced file with. Without inlays that are printed first. */
  readonly shape: LayerShapes;
  /** Tops that are to be ironed; null where none are. */
  readonly ironing: SheetIroning | null;
  /** A face on the bed with inlays, and the area of each of them, mm²; null where there is none. */
  readonly flush: (FlushFace & { readonly areasMm2: readonly number[] }) | null;
  /** Whether time and grams are the slicing program's own. */
  readonly sliced: {
    readonly time: boolean;
    readonly grams: boolean;
    /** Whether they are those of G-code of our own. */
    readonly own: boolean;
  };
}

/** How the tops of bands are ironed; see `Ironing` of the slicing. */
export interface SheetIroning {
  /** Counted from 0. */
  readonly bands: readonly number[];
  readonly spacingMm: number;
  readonly flow: number;
  readonly speedMmS: number;
}

/** Extent of one piece, and area and middle of each of its layers, from layer 1. */
export interface LayerShapes {
  readonly widthMm: number;
  readonly depthMm: number;
  readonly areasMm2: readonly number[];
  /** mm to the right and to the back of the middle of the piece; null where they were not asked for. */
  readonly centresMm: readonly (readonly [number, number])[] | null;
}

/** What G-code of our own takes, measured in it. */
export interface SliceFigures {
  /** Seconds of each layer of one run: of all pieces together, or of one of several; element n is layer n. */
  readonly layerS: readonly number[];
  /** Strand of each layer of one piece, mm; element n is layer n. Of inlays none. */
  readonly strandMm: readonly number[];
  /** Strand of each inlay of one piece, mm, and the seconds of each that is printed first, of one run. */
  readonly inlays?:
    { readonly strandMm: readonly number[]; readonly seconds: readonly number[] } | undefined;
}

/** What a sheet is made from. */
export interface SheetSource {
  readonly title: string;
  readonly stamp: string;
  readonly stack: Stack;
  readonly filaments: FilamentTable;
  /** Samples at each height, and sides of samples in the outlines of each layer. */
  readonly counts: Uint32Array;
  readonly edges?: Uint32Array;
  /** How far what is printed reaches, in samples; the whole size by default. */
  readonly extent?: { readonly columns: number; readonly rows: number };
  /** See `middlesOf`. */
  readonly middles?: readonly (readonly [number, number])[];
  readonly sampleMm: number;
  readonly widthMm: number;
  readonly heightMm: number;
  /** A usual one by default. */
  readonly printer?: Printer;
  readonly pieces?: Pieces;
  /** Time of printing without swaps as the slicing program tells it, seconds; null where it was not asked. */
  readonly slicedS?: number | null;
  /** Filament without purging as the slicing program tells it, grams; null where it was not asked. */
  readonly slicedG?: number | null;
  /** G-code of our own, where it is there. What the maker read off a slicing program goes before it. */
  readonly slice?: SliceFigures | null;
  readonly ironing?: SheetIroning | null;
  /** A face on the bed with inlays. */
  readonly flush?: CountedFace | null;
}

/** Puts the sheet together. Bands above the tallest printed spot are left out, and so are their swaps. */
export function makeSwapSheet(source: SheetSource): SwapSheet {
  const { stack, filaments, counts } = source;
  const { widthMm, heightMm } = printedSize(source);
  const { printer = USUAL_PRINTER, pieces = ONE_PIECE, slicedS = null, flush = null } = source;
  const top = tallest(stack, counts);
  const plain = planSwaps(stack, top.layers, flush);
  const bands = [...inlayBands(source), ...sheetBands(source, top.layers)];

  const arrangement = arrangePieces(printer.bed, widthMm, heightMm, pieces);
  const together = pieces.way === 'together';
  const seconds = layerSeconds(stack, source, printer);
  const slice = slicedS === null ? (source.slice ?? null) : null;
  // A slice of all pieces together has the ways between them in it.
  const hopS = slice ? 0 : hopSeconds(pieces, widthMm, heightMm, printer.travelMmS);
  const watched = slice
    ? Float64Array.from(slice.layerS)
    : together
      ? seconds.map((one) => (one > 0 ? one * pieces.copies + hopS : 0))
      : seconds;
  const alone = seconds.reduce((sum, one) => sum + one, 0);
  const faceS = flush ? faceSeconds(flush, counts, watched, slice?.inlays?.seconds) : [];
  const onePieceS = slice
    ? [...watched, ...faceS].reduce((sum, one) => sum + one, 0) / (together ? pieces.copies : 1)
    : alone;
  const estimatedS = [...watched, ...faceS].reduce((sum, one) => sum + one, 0);
  // The slicing program knows the whole; how it spreads over the layers is still ours to say.
  const stretch = slicedS !== null && estimatedS > 0 ? slicedS / estimatedS : printer.timeFactor;

  let printedS = 0;
  let layer = 1;
  const until = (end: number): number => {
    let sum = 0;
    for (; layer <= end && layer < watched.length; layer += 1) sum += watched[layer] as number;
    return stretch * sum;
  };
  const purging = (swap: ReturnSwap): Pick<SheetSwap, 'toLighter' | 'purgeMm'> => {
    const from = filaments[swap.fromFilamentId];
    const to = filaments[swap.toFilamentId];
    const toLighter = from && to ? brightnessOf(to) > brightnessOf(from) : false;
    return { toLighter, purgeMm: toLighter ? printer.purgeToLightMm : printer.purgeToDarkMm };
  };
  let faceSwaps = 0;
  const swaps = plain.map((swap, i): SheetSwap => {
    let sinceS = until(swap.layerNumber - 1);
    if (swap.inside) {
      // What is laid of the face up to here: an inlay that is printed first, or a part of its layer.
      sinceS += stretch * (faceS[faceSwaps] ?? 0);
      faceSwaps += 1;
    }
    printedS += sinceS;
    return { ...swap, atS: printedS + i * printer.swapS, sinceS, ...purging(swap) };
  });
  const returning = planReturn(stack, top.layers, flush);
  const again = returning && { ...returning, ...purging(returning) };
  const back = !together && pieces.copies > 1 ? again : null;
  const lastS = until(Infinity);
  const swapsS = swaps.length * printer.swapS;
  return {
    title: source.title,
    stamp: source.stamp,
    printer,
    firstLayerMm: stack.grid.firstLayerMm,
    layerMm: stack.grid.layerMm,
    base: baseOf(stack),
    widthMm,
    heightMm,
    layers: top.layers,
    grid: stack.grid,
    thicknessMm: top.mm,
    bands,
    needs: needsOf(bands, swaps, back, pieces),
    swaps,
    again,
    back,
    pieces,
    arrangement,
    ways: compareWays({
      pieces,
      // What was entered for all pieces counts for each of them by its share.
      onePieceS: onePieceS * stretch,
      hopS: hopS * stretch,
      layers: top.layers,
      swaps: swaps.length,
      returns: returning !== null,
      swapS: printer.swapS,
      fits: arrangement.fits,
    }),
    totalS: printedS + lastS + swapsS,
    swapsS,
    lastS,
    shape: shapesOf(source, top.layers),
    ironing: source.ironing ?? null,
    flush: flush && {
      print: flush.print,
      layers: flush.layers,
      filaments: flush.filaments,
      areasMm2: flush.counted.samples.map((samples) => tidyMm(samples * source.sampleMm ** 2)),
    },
    sliced: {
      time: slicedS !== null || slice !== null,
      grams: (source.slicedG ?? source.slice ?? null) !== null,
      own: slice !== null,
    },
  };
}

/** The inlays of a face as lines of the sheet. */
function inlayBands(source: SheetSource): SheetBand[] {
  const { flush, stack, filaments, sampleMm, printer = USUAL_PRINTER } = source;
  if (!flush) return [];
  const sectionMm2 = (Math.PI / 4) * printer.filamentMm ** 2;
  const strandMm = (source.slicedG ?? null) === null ? source.slice?.inlays?.strandMm : undefined;
  const stretch = slicedStretch(source);
  const endMm = layerTopMm(stack.grid, flush.layers);
  return flush.filaments.flatMap((filamentId, i): SheetBand[] => {
    const filament = filaments[filamentId];
    if (!filament) return [];
    const laid = strandMm?.[i];
    const volumeMm3 =
      laid === undefined
        ? stretch * (flush.counted.samples[i] ?? 0) * sampleMm ** 2 * endMm
        : laid * sectionMm2;
    const grams = gramsOf(volumeMm3, filament);
    return [
      {
        bandIndex: stack.bands.length + i,
        letter: partLetter(stack, i + 1),
        filamentId,
        volumeMm3,
        grams,
        metres: metresOf(volumeMm3, filament),
        ...(filament.pricePerKg === undefined
          ? {}
          : { cost: (grams / 1000) * filament.pricePerKg }),
        filament,
        firstLayer: 1,
        lastLayer: flush.layers,
        endMm,
      },
    ];
  });
}

/** Size of one piece as it lies on the bed, mm: of what is printed, not of the picture around it. One size stands in all files. */
function printedSize({
  extent,
  sampleMm,
  widthMm,
  heightMm,
}: SheetSource): Pick<SheetSource, 'widthMm' | 'heightMm'> {
  return extent
    ? { widthMm: tidyMm(extent.columns * sampleMm), heightMm: tidyMm(extent.rows * sampleMm) }
    : { widthMm, heightMm };
}

function shapesOf(source: SheetSource, layers: number): LayerShapes {
  const { counts, middles: whole, sampleMm, flush } = source;
  const size = printedSize(source);
  const middles =
    flush?.print === 'first'
      ? whole?.map((middle, n) =>
          n < flush.layers ? (flush.counted.middles[n] ?? middle) : middle,
        )
      : whole;
  const areasMm2: number[] = [];
  let samples = 0;
  for (let n = counts.length - 1; n >= 1; n -= 1) {
    samples += counts[n] as number;
    if (n <= layers) areasMm2[n - 1] = tidyMm((samples - samplesApart(flush, n)) * sampleMm ** 2);
  }
  return {
    widthMm: size.widthMm,
    depthMm: size.heightMm,
    areasMm2,
    centresMm:
      middles
        ?.slice(0, layers)
        .map(([x, y]) => [round3(x * sampleMm), round3(y * sampleMm)] as const) ?? null,
  };
}

/** A thousandth of a millimetre is more than any slice keeps to. */
function round3(mm: number): number {
  return Math.round(mm * 1000) / 1000;
}

function sheetBands(source: SheetSource, layers: number): SheetBand[] {
  const { stack, filaments, slicedG = null } = source;
  const uses = usesOf(source);
  const whole = slicedStretch(source);
  const sectionMm2 = (Math.PI / 4) * (source.printer ?? USUAL_PRINTER).filamentMm ** 2;
  const strandMm = slicedG === null ? source.slice?.strandMm : undefined;
  let below = 0;
  return bandEnds(stack.bands).flatMap((end, i): SheetBand[] => {
    const use = uses[i];
    const filament = use && filaments[use.filamentId];
    const firstLayer = below + 1;
    below = end;
    if (!filament || firstLayer > layers) return [];
    const lastLayer = Math.min(end, layers);
    const laidMm3 = strandMm
      ?.slice(firstLayer, lastLayer + 1)
      .reduce((sum, mm) => sum + mm * sectionMm2, 0);
    const stretch = laidMm3 !== undefined && use.volumeMm3 > 0 ? laidMm3 / use.volumeMm3 : whole;
    return [
      {
        ...use,
        volumeMm3: use.volumeMm3 * stretch,
        grams: use.grams * stretch,
        metres: use.metres * stretch,
        cost: use.cost === undefined ? undefined : use.cost * stretch,
        filament,
        firstLayer,
        lastLayer,
        endMm: layerTopMm(stack.grid, lastLayer),
      },
    ];
  });
}

/** What each band uses; of a face with inlays without them. */
function usesOf({ stack, filaments, counts, sampleMm, flush }: SheetSource): BandUse[] {
  const uses = estimateUse(stack, filaments, counts, sampleMm);
  if (!flush) return uses;
  const inlaidMm3 =
    flush.counted.samples.reduce((sum, one) => sum + one, 0) *
    sampleMm ** 2 *
    layerTopMm(stack.grid, flush.layers);
  // The lowest band reaches over them: that is made sure of where they are planned.
  return uses.map((use, i) => {
    if (i > 0 || use.volumeMm3 === 0) return use;
    const left = (use.volumeMm3 - inlaidMm3) / use.volumeMm3;
    return {
      ...use,
      volumeMm3: use.volumeMm3 * left,
      grams: use.grams * left,
      metres: use.metres * left,
      ...(use.cost === undefined ? {} : { cost: use.cost * left }),
    };
  });
}

/** By how much what a slicing program says of the grams differs from the estimate; 1 where it was not asked. */
function slicedStretch(source: SheetSource): number {
  const { stack, filaments, sampleMm, slicedG = null, pieces = ONE_PIECE, flush } = source;
  if (slicedG === null) return 1;
  const inlaidG = (flush?.filaments ?? []).reduce((sum, id, i) => {
    const filament = filaments[id];
    const mm3 =
      (flush?.counted.samples[i] ?? 0) * sampleMm ** 2 * layerTopMm(stack.grid, flush?.layers ?? 0);
    return sum + (filament ? gramsOf(mm3, filament) : 0);
  }, 0);
  const bandsG = usesOf(source).reduce((sum, { grams }) => sum + grams, 0);
  const estimatedG = (bandsG + inlaidG) * (pieces.way === 'together' ? pieces.copies : 1);
  return estimatedG > 0 ? slicedG / estimatedG : 1;
}

/** What all pieces take of each filament, in the order in which they are first used. */
function needsOf(
  bands: readonly SheetBand[],
  swaps: readonly SheetSwap[],
  back: SheetReturn | null,
  { copies, way }: Pieces,
): FilamentNeed[] {
  const ids = [...new Set(bands.map(({ filamentId }) => filamentId))];
  return ids.flatMap((id): FilamentNeed[] => {
    const own = bands.filter(({ filamentId }) => filamentId === id);
    const filament = own[0]?.filament;
    if (!filament) return [];
    const rounds = way === 'together' ? 1 : copies;
    const purgeMm =
      rounds *
        swaps
          .filter(({ toFilamentId }) => toFilamentId === id)
          .reduce((sum, s) => sum + s.purgeMm, 0) +
      (back?.toFilamentId === id ? (copies - 1) * back.purgeMm : 0);
    const purgeG = strandGrams(purgeMm, filament);
    const grams = copies * own.reduce((sum, band) => sum + band.grams, 0) + purgeG;
    return [
      {
        filament,
        letters: own.map(({ letter }) => letter),
        grams,
        purgeG,
        metres: copies * own.reduce((sum, band) => sum + band.metres, 0) + purgeMm / 1000,
        restG: filament.leftG === undefined ? undefined : filament.leftG - grams,
      },
    ];
  });
}

/** What a length of strand weighs, grams: length x cross-section x density. */
export function strandGrams(mm: number, filament: Filament): number {
  return gramsOf(mm * (Math.PI / 4) * filament.diameterMm ** 2, filament);
}

function baseOf({ grid }: Stack): SwapSheet['base'] {
  const topMm = baseTopMm(grid);
  return topMm === undefined || grid.baseLayerMm === undefined
    ? null
    : { layerMm: grid.baseLayerMm, topMm };
}
