import { tidyMm } from '#core/base/numbers.ts';
import { coarsenSamples, planSamples, type SampleGrid } from '#core/relief/sampling.ts';
import { aimColours, coloursOfRamp, onlyBands } from '#core/heights/closest.ts';
import type { HeightRule } from '#core/heights/height-rules.ts';
import { smoothMmOf } from '#core/relief/relief-mesh.ts';
import { padOfShape } from '#core/relief/shape.ts';
import type { ReliefRequest } from '#core/plan/relief-plan.ts';
import type { Filament } from '#core/stack/filament.ts';
import { evenTops } from '#core/stack/layer-grid.ts';
import { rampOfStack } from '#core/stack/stack-ramp.ts';
import { totalLayers, type Stack } from '#core/stack/stack.ts';
import { STAGE_AREA_PX, type PrintedExtent } from '../workers/protocol.ts';
import type { ProjectDocument } from './project-document.ts';

/** A filament of the rack as a project keeps it. */
export function plannedFilament(filament: Filament): ProjectDocument['filaments'][string] {
  const { reading: _reading, leftG: _leftG, ...rest } = filament;
  return { ...rest, basis: { ...rest.basis } };
}

/** The stack of a document. */
export function stackOf({ grid, bands }: Pick<ProjectDocument, 'grid' | 'bands'>): Stack {
  return { grid, bands };
}

/** What decides the size of a piece. */
type Sized = Pick<
  ProjectDocument,
  'widthMm' | 'heightMm' | 'detailMm' | 'artwork' | 'trim' | 'shape'
>;

const WHOLE = { left: 0, top: 0, width: 1, height: 1 };

/** The part of the artwork that its size speaks of, as shares. */
function sizedBox({ artwork, trim }: Pick<Sized, 'artwork' | 'trim'>): typeof WHOLE {
  return trim ? (artwork.box ?? WHOLE) : WHOLE;
}

/** Height over width of what the size speaks of, by the proportions of the artwork. */
export function heightRatioOf(sized: Pick<Sized, 'artwork' | 'trim'>): number {
  const box = sizedBox(sized);
  return (sized.artwork.height * box.height) / (sized.artwork.width * box.width);
}

/** Height of the picture, mm: its own where width and height are not linked, otherwise by its proportions. */
export function heightMmOf(
  sized: Pick<Sized, 'widthMm' | 'heightMm' | 'artwork' | 'trim'>,
): number {
  return sized.heightMm ?? sized.widthMm * heightRatioOf(sized);
}

/** The samples that a document's relief is made of. */
export function samplesOf(document: Sized): SampleGrid {
  const box = sizedBox(document);
  return planSamples(
    document.widthMm / box.width,
    heightMmOf(document) / box.height,
    document.detailMm,
    padOfShape(document.shape),
  );
}

/** The samples that a document is shown with: those of its relief, or coarser ones where they are too many for the stage. */
export function shownSamplesOf(document: Sized): SampleGrid {
  return coarsenSamples(samplesOf(document), STAGE_AREA_PX);
}

/** A number of samples each way, in mm. */
export function extentMm(
  { columns, rows }: PrintedExtent,
  detailMm: number,
): { readonly widthMm: number; readonly heightMm: number } {
  return { widthMm: tidyMm(columns * detailMm), heightMm: tidyMm(rows * detailMm) };
}

/** Size of what is printed as far as the document alone tells it, mm, with border and plate. */
export function pieceSizeOf(document: Sized): {
  readonly widthMm: number;
  readonly heightMm: number;
} {
  const { widthMm, heightMm } = samplesOf(document);
  const { border, plate } = document.shape;
  const box = document.artwork.box ?? WHOLE;
  // A border or a plate reaches over the whole piece; one of the picture's own outline grows with it.
  if (border || (plate && plate.outline !== 'own')) return { widthMm, heightMm };
  const grown = 2 * (plate?.marginMm ?? 0);
  const pad = 2 * padOfShape(document.shape);
  return {
    widthMm: tidyMm(Math.min(widthMm, (widthMm - pad) * box.width + grown)),
    heightMm: tidyMm(Math.min(heightMm, (heightMm - pad) * box.height + grown)),
  };
}

/** The height rule of a document with all that it needs. */
export function ruleOf(document: ProjectDocument): HeightRule {
  const { heightRule, rule, closest, flat, calm, smallestMm, bands } = document;
  const calming = { calm, smallestMm };
  switch (heightRule) {
    case 'closest': {
      const ramp = rampOfStack(stackOf(document), document.filaments);
      const aimed = aimColours(coloursOfRamp(ramp), closest.aims);
      const { bandIds } = closest;
      const allowed = new Set(
        bands.flatMap(({ id }, i) => (bandIds === null || bandIds.includes(id) ? [i] : [])),
      );
      // A choice of bands that are all gone counts as none.
      const colours = allowed.size > 0 ? onlyBands(aimed, ramp, allowed) : aimed;
      return { kind: 'closest', colours, ...calming };
    }
    case 'flat':
      // Before the picture was reduced there is nothing to map: tone holds the place.
      return flat.colours.length > 0
        ? { kind: 'flat', flat: flat.colours, ...calming }
        : { kind: 'tone', tone: rule, ...calming };
    default:
      return { kind: 'tone', tone: rule, ...calming };
  }
}

/** How far smooth outlines of a document may be simplified, mm; undefined where they follow the samples. */
export function smoothMmOfDocument({
  heightRule,
  outlines,
  printer,
}: Pick<ProjectDocument, 'heightRule' | 'outlines' | 'printer'>): number | undefined {
  return heightRule === 'flat' && outlines === 'smooth' ? smoothMmOf(printer.nozzleMm) : undefined;
}

/** What the worker needs for the heights of a document on some grid: the shown one, or the finished relief's. */
export function heightRequest(
  document: ProjectDocument,
  {
    columns,
    rows,
    detailMm,
    pad,
  }: Pick<SampleGrid, 'columns' | 'rows' | 'detailMm' | 'pad'> = samplesOf(document),
): ReliefRequest {
  return {
    columns,
    rows,
    detailMm,
    rule: ruleOf(document),
    layers: totalLayers(document.bands),
    leastLayers: document.leastLayers,
    tops: evenTops(document.grid, totalLayers(document.bands)),
    ...(pad === undefined ? {} : { pad }),
    shape: document.shape,
  };
}

/** Filaments of the rack that see otherwise than a project's copies of them do. */
export function changedInRack(
  { filaments }: Pick<ProjectDocument, 'filaments'>,
  rack: readonly Filament[],
): Filament[] {
  const looks = (filament: ProjectDocument['filaments'][string]): string =>
    JSON.stringify([
      filament.colour,
      filament.transmissionMm,
      filament.basis,
      filament.scatterSlope ?? 0,
    ]);
  return rack.filter((filament) => {
    const copy = Object.hasOwn(filaments, filament.id) ? filaments[filament.id] : undefined;
    return copy !== undefined && looks(copy) !== looks(plannedFilament(filament));
  });
}
