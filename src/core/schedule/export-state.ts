import { canonicalJson, type Json } from '../base/canonical-json.ts';
import { PLAIN_SHAPE, type PieceShape } from '../relief/shape.ts';
import { stampOf } from '../base/stamp.ts';
import { ruleJson, type HeightRule } from '../heights/height-rules.ts';
import type { Stack } from '../stack/stack.ts';
import type { FilamentTable } from '../stack/stack-ramp.ts';
import type { SampleGrid } from '../relief/sampling.ts';

/** All that decides shape and sheet. */
export interface ExportState {
  /** SHA-256 of the artwork's original bytes, hex. */
  readonly artworkDigest: string;
  /** What edits do to it; see `editsDigest`. */
  readonly edits?: string | undefined;
  readonly rule: HeightRule;
  readonly leastLayers: number;
  readonly samples: SampleGrid;
  /** Border, plate, corners and holes. */
  readonly shape?: PieceShape;
  /** How far smooth outlines are simplified, mm; undefined where they follow the samples. */
  readonly smoothMm?: number | undefined;
  readonly stack: Stack;
  readonly filaments: FilamentTable;
  /** What a piece of outlines is made of, where it is one. */
  readonly piece?: Json | undefined;
}

/**
 * The stamp of an exported state: equal exactly where shape and sheet are. Names, notes and filaments that the stack does
 * not use do not count.
 */
export function stampOfExport(state: ExportState): string {
  const { stack, filaments, rule, samples } = state;
  const { sampleMm, ...rest } = samples;
  const used: Json = stack.bands.map(({ filamentId, layers }) => {
    const filament = filaments[filamentId];
    return {
      id: filamentId,
      layers,
      colour: filament?.colour,
      transmissionMm: filament?.transmissionMm,
      ...(filament?.scatterSlope ? { scatterSlope: filament.scatterSlope } : {}),
      threshold: filament?.basis.kind === 'light-through' ? filament.basis.threshold : 0,
    };
  });
  return stampOf({
    artwork: state.artworkDigest,
    ...(state.edits === undefined ? {} : { edits: state.edits }),
    rule: ruleJson(rule),
    leastLayers: state.leastLayers,
    // Stamps on prints and files that are out there know the side of a sample by its first name.
    samples: { ...rest, detailMm: sampleMm },
    // A grid without a thicker base has the stamp that it had before there were any.
    grid: Object.fromEntries(
      Object.entries(stack.grid).filter(
        (entry): entry is [string, number] => entry[1] !== undefined,
      ),
    ),
    bands: used,
    ...(isPlain(state.shape) ? {} : { shape: structureOf(state.shape) }),
    ...(state.smoothMm === undefined ? {} : { smoothMm: state.smoothMm }),
    ...(state.piece === undefined ? {} : { piece: state.piece }),
  });
}

function isPlain(shape: PieceShape | undefined): shape is undefined {
  return (
    shape === undefined ||
    canonicalJson(structureOf(shape)) === canonicalJson(structureOf(PLAIN_SHAPE))
  );
}

function structureOf({ border, plate, cornerMm, holes }: PieceShape): Json {
  return {
    border: border && { ...border },
    plate: plate && { ...plate },
    cornerMm,
    holes: holes.map((hole) => ({ ...hole })),
  };
}
