import { tidyMm } from '#core/base/numbers.ts';
import { printAdvice, type PrintAdvice } from '#core/edit/advice.ts';
import { coarsenSamples, planSamples, type SampleGrid } from '#core/relief/sampling.ts';
import type { HeightRule } from '#core/heights/height-rules.ts';
import { smoothMmOf } from '#core/relief/relief-mesh.ts';
import { padOfShape } from '#core/relief/shape.ts';
import type { ReliefRequest, SampleRequest } from '#core/plan/relief-plan.ts';
import type { Printer } from '#core/printer/printer.ts';
import type { Filament } from '#core/stack/filament.ts';
import { evenTops } from '#core/stack/layer-grid.ts';
import { totalLayers, type Stack } from '#core/stack/stack.ts';
import { mostDrawnPx } from '../platform/drawn-size.ts';
import { STAGE_AREA_PX, type PrintedExtent } from '../workers/artwork/jobs.ts';
import { ruleOfHeights } from './slices/heights.ts';
import { editedFrameOf, recipeOf } from './recipe.ts';
import { paintedZonesOf } from './painted-zones.ts';
import { faceOfDocument, pieceOfTag } from './tag-plan.ts';
import type { ProjectDocument, StackSlice } from './project-document.ts';

/** A filament as a project keeps it. */
export type PlannedFilament = StackSlice['filaments'][string];

/** A filament of the rack as a project keeps it. */
export function plannedFilament(filament: Filament): PlannedFilament {
  const { reading: _reading, leftG: _leftG, ...rest } = filament;
  return { ...rest, basis: { ...rest.basis } };
}

/** The stack of a document. */
export function stackOf({ stack: { grid, bands } }: Pick<ProjectDocument, 'stack'>): Stack {
  return { grid, bands };
}

/** What decides the size of a piece. */
type Sized = Pick<ProjectDocument, 'artwork' | 'piece'>;
/** And of one that may be a tag. */
type SizedPiece = Sized & Pick<ProjectDocument, 'stack' | 'tag' | 'print'>;

const WHOLE = { left: 0, top: 0, width: 1, height: 1 };

/** The part of the artwork that its size speaks of, as shares. */
function sizedBox({ artwork, piece: { trim } }: Sized): typeof WHOLE {
  return trim ? printedBoxOf({ artwork }) : WHOLE;
}

/** The part of the edited artwork that holds all that is printed, as shares; the whole where that is not known. */
function printedBoxOf({ artwork }: Pick<ProjectDocument, 'artwork'>): typeof WHOLE {
  const box = recipeOf({ artwork }).edits.length > 0 ? artwork.editedBox : artwork.file.box;
  return box ?? WHOLE;
}

/** Height over width of what the size speaks of, by the proportions of the artwork. */
export function heightRatioOf(sized: Sized): number {
  const box = sizedBox(sized);
  const { width, height } = editedFrameOf(sized);
  return (height * box.height) / (width * box.width);
}

/** Height of the picture, mm: its own where width and height are not linked, otherwise by its proportions. */
export function heightMmOf(sized: Sized): number {
  return sized.piece.heightMm ?? sized.piece.widthMm * heightRatioOf(sized);
}

/** Whether the edited picture has enough pixels for the samples of its relief. */
export function printAdviceOf(sized: Sized): PrintAdvice {
  const { widthMm, sampleMm } = sized.piece;
  return printAdvice(editedFrameOf(sized).width * sizedBox(sized).width, widthMm, sampleMm);
}

/** Pixels of the longer side of a document's picture. A drawing is drawn on as many again when it is opened. */
export function longerPxOf({ artwork: { file } }: Pick<ProjectDocument, 'artwork'>): number {
  return Math.max(file.width, file.height);
}

/**
 * Pixels that the longer side of a drawing needs for the samples of its relief; undefined where it has enough, where the picture is
 * none, or where it is drawn as fine as can be.
 */
export function finerPxOf(sized: Sized): number | undefined {
  const { file } = sized.artwork;
  const { crisp, wantedPx, partPx } = printAdviceOf(sized);
  if (file.kind !== 'svg' || crisp) return undefined;
  const longer = longerPxOf(sized);
  const wanted = Math.min(mostDrawnPx(file), Math.ceil((longer * wantedPx) / partPx));
  return wanted > longer ? wanted : undefined;
}

/** The samples that a document's relief is made of. */
export function samplesOf(document: SizedPiece): SampleGrid {
  if (document.tag) return samplesOfTag(document);
  const box = sizedBox(document);
  return planSamples(
    document.piece.widthMm / box.width,
    heightMmOf(document) / box.height,
    document.piece.sampleMm,
    padOfShape(document.piece.shape),
  );
}

/** The samples of a tag: as large as it is. */
function samplesOfTag(document: SizedPiece): SampleGrid {
  const { left, right, bottom, top } = pieceOfTag(document)?.box ?? NO_BOX;
  const { sampleMm } = document.piece;
  // Whole samples around all of it: half of one more would be left beside it otherwise.
  const columns = Math.max(1, Math.ceil((right - left) / sampleMm - 1e-6));
  const rows = Math.max(1, Math.ceil((top - bottom) / sampleMm - 1e-6));
  return {
    columns,
    rows,
    sampleMm,
    widthMm: tidyMm(columns * sampleMm),
    heightMm: tidyMm(rows * sampleMm),
  };
}

const NO_BOX = { left: 0, right: 1, bottom: 0, top: 1 };

/** The samples that a document is shown with: those of its relief, or coarser ones where they are too many for the stage. */
export function shownSamplesOf(document: SizedPiece): SampleGrid {
  return coarsenSamples(samplesOf(document), STAGE_AREA_PX);
}

/** The edited picture on the samples that are shown. */
export function shownRequestOf(document: SizedPiece): SampleRequest {
  return { ...shownSamplesOf(document), recipe: recipeOf(document) };
}

/** A number of samples each way, in mm. */
export function extentMm(
  { columns, rows }: PrintedExtent,
  sampleMm: number,
): { readonly widthMm: number; readonly heightMm: number } {
  return { widthMm: tidyMm(columns * sampleMm), heightMm: tidyMm(rows * sampleMm) };
}

/** Size of what is printed as far as the document alone tells it, mm, with border and plate. */
export function pieceSizeOf(document: SizedPiece): {
  readonly widthMm: number;
  readonly heightMm: number;
} {
  const { widthMm, heightMm } = samplesOf(document);
  if (document.tag) {
    const { left, right, bottom, top } = pieceOfTag(document)?.box ?? NO_BOX;
    return { widthMm: tidyMm(right - left), heightMm: tidyMm(top - bottom) };
  }
  const { border, plate } = document.piece.shape;
  const box = printedBoxOf(document);
  // A border or a plate reaches over the whole piece; one of the picture's own outline grows with it.
  if (border || (plate && plate.outline !== 'own')) return { widthMm, heightMm };
  const grown = 2 * (plate?.marginMm ?? 0);
  const pad = 2 * padOfShape(document.piece.shape);
  return {
    widthMm: tidyMm(Math.min(widthMm, (widthMm - pad) * box.width + grown)),
    heightMm: tidyMm(Math.min(heightMm, (heightMm - pad) * box.height + grown)),
  };
}

/** The height rule of a document with all that it needs. */
export function ruleOf(
  document: Pick<ProjectDocument, 'artwork' | 'heights' | 'stack'>,
): HeightRule {
  const { heights, stack } = document;
  return ruleOfHeights(heights, stack, stack.filaments, paintedZonesOf(document).painted);
}

/** How far smooth outlines of a document may be simplified, mm; undefined where they follow the samples. */
export function smoothMmOfDocument({
  heights: { rule },
  piece: { outlines },
  print: { printer },
}: Pick<ProjectDocument, 'heights' | 'piece' | 'print'>): number | undefined {
  return rule === 'flat' && outlines === 'smooth' ? smoothMmOf(printer.nozzleMm) : undefined;
}

/** What the worker needs for the heights of a document on some grid: the shown one, or the finished relief's. */
export function heightRequest(
  document: ProjectDocument,
  {
    columns,
    rows,
    sampleMm,
    pad,
  }: Pick<SampleGrid, 'columns' | 'rows' | 'sampleMm' | 'pad'> = samplesOf(document),
): ReliefRequest {
  const { selections } = paintedZonesOf(document);
  return {
    columns,
    rows,
    sampleMm,
    recipe: recipeOf(document),
    rule: ruleOf(document),
    ...(selections.length > 0 ? { selections } : {}),
    layers: totalLayers(document.stack.bands),
    leastLayers: document.heights.leastLayers,
    tops: evenTops(document.stack.grid, totalLayers(document.stack.bands)),
    ...(pad === undefined ? {} : { pad }),
    shape: document.piece.shape,
    ...(document.tag ? { piece: pieceOfTag(document), face: faceOfDocument(document) } : {}),
  };
}

/** Filaments of the rack that see otherwise than a project's copies of them do. */
export function changedInRack(
  { stack: { filaments } }: Pick<ProjectDocument, 'stack'>,
  rack: readonly Filament[],
): Filament[] {
  const looks = (filament: PlannedFilament): string =>
    JSON.stringify([
      filament.colour,
      filament.transmissionMm,
      filament.basis,
      filament.scatterSlope ?? 0,
      filament.spreadMm ?? 0,
    ]);
  return rack.filter((filament) => {
    const copy = Object.hasOwn(filaments, filament.id) ? filaments[filament.id] : undefined;
    return copy !== undefined && looks(copy) !== looks(plannedFilament(filament));
  });
}

/** The printer of a document with the line that the piece is planned with. */
export function paceOf({ print: { printer, lineMm } }: Pick<ProjectDocument, 'print'>): Printer {
  return { ...printer, lineMm };
}
