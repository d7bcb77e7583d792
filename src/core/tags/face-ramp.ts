import { MAX_LAYERS } from '../base/raster.ts';
import type { Ramp, RampStep } from '../optics/ramp.ts';
import type { FlushFace } from '../stack/flush.ts';
import { totalLayers, type Band, type Stack } from '../stack/stack.ts';
import { rampOfStack, type FilamentTable } from '../stack/stack-ramp.ts';
import type { OutlinePiece } from './outline-piece.ts';

/** A piece as it is looked at, where a face of it lies on the bed. */
export interface FaceView {
  /** Its heights are entries of {@link rampOfFaces}; those of halves that lie on their backs are layers. */
  readonly piece: OutlinePiece;
  /** Layers behind the face. */
  readonly plateLayers: number;
  readonly inlays: FlushFace;
  /** All of it lies on its face: of two halves both do. */
  readonly wholly: boolean;
}

/** The entry of a face in {@link rampOfFaces}, counted from 1: of its own filament, or of an inlay by its number. */
export function faceEntry(bands: readonly Band[], inlay: number): number {
  return Math.min(MAX_LAYERS, totalLayers(bands) + 1 + inlay);
}

/**
 * The ramp of a stack, and after it what is seen of a face that lies on the bed: the plate from below, and each inlay over what is
 * behind it. Seen from there the stack is piled up the other way round; that the first layer has a thickness of its own is left out.
 */
export function rampOfFaces(
  stack: Stack,
  filaments: FilamentTable,
  view: Pick<FaceView, 'plateLayers' | 'inlays'> | undefined,
): Ramp {
  const ramp = rampOfStack(stack, filaments);
  if (!view) return ramp;
  const { plateLayers, inlays } = view;
  const behind = bandsWithin(stack.bands, plateLayers).reverse();
  const seen = (bands: readonly Band[]): RampStep | undefined =>
    rampOfStack({ grid: stack.grid, bands }, filaments).at(-1);
  const last = behind.at(-1);
  if (!last) return ramp;
  const over = (filamentId: string): readonly Band[] => [
    ...behind.slice(0, -1),
    ...(last.layers > inlays.layers ? [{ ...last, layers: last.layers - inlays.layers }] : []),
    { filamentId, layers: inlays.layers },
  ];
  const own = [behind, ...inlays.filaments.map(over)].flatMap((bands) => seen(bands) ?? []);
  // A face is of the lowest band, whatever its place in the pile that it is seen in; inlays come after all bands.
  const faces = own.map((step, part): RampStep => ({
    ...step,
    bandIndex: part === 0 ? 0 : stack.bands.length - 1 + part,
  }));
  return [...ramp, ...faces].slice(0, MAX_LAYERS);
}

/** The lowest layers of bands. */
function bandsWithin(bands: readonly Band[], layers: number): Band[] {
  let left = layers;
  return bands.flatMap((band) => {
    const own = Math.min(left, band.layers);
    left -= own;
    return own > 0 ? [{ ...band, layers: own }] : [];
  });
}
