import { fail, succeed, type Fault, type Result } from '../base/result.ts';
import { bedBox, type Bed } from '../printer/printer.ts';
import { arrangePieces, type Arrangement, type Pieces } from '../schedule/pieces.ts';

/** Space between the purge line and what is printed, and between it and the rim of the bed, mm. */
const PURGE_SPACE_MM = 4;
const RIM_MM = 1;
/** How long the purge line is at most, mm. */
const PURGE_MM = 80;

/** Where pieces lie on a bed, mm from its zero: the left front corner, or the middle of a round one. */
export interface BedPlace {
  readonly arrangement: Arrangement;
  /** Of all pieces together. */
  readonly leftMm: number;
  readonly frontMm: number;
  /** Left front corner of each piece. */
  readonly corners: readonly (readonly [x: number, y: number])[];
  /** From a place in a piece (mm from the left top corner of the picture) to the bed. */
  readonly toBed: (piece: number, x: number, y: number) => [number, number];
  /** The line that fills the nozzle; null where no room is left for it. */
  readonly purge: readonly [x0: number, y0: number, x1: number, y1: number] | null;
}

/** Lays pieces out in the middle of a bed. */
export function placeOnBed(
  bed: Bed,
  widthMm: number,
  depthMm: number,
  pieces: Pieces,
): Result<BedPlace, Fault<'off-bed'>> {
  const arrangement = arrangePieces(bed, widthMm, depthMm, pieces);
  if (!arrangement.fits) return fail('off-bed', undefined, String(arrangement.room));
  const box = bedBox(bed);
  const [middleX, middleY] = bed.shape === 'round' ? [0, 0] : [box.widthMm / 2, box.depthMm / 2];
  const leftMm = middleX - arrangement.widthMm / 2;
  const frontMm = middleY - arrangement.depthMm / 2;
  const { turned, columns } = arrangement;
  const [w, d] = turned ? [depthMm, widthMm] : [widthMm, depthMm];
  const corners = Array.from(
    { length: pieces.copies },
    (_, n) =>
      [
        leftMm + (n % columns) * (w + pieces.spacingMm),
        frontMm + Math.floor(n / columns) * (d + pieces.spacingMm),
      ] as const,
  );
  const toBed = (piece: number, x: number, y: number): [number, number] => {
    const [left, front] = corners[piece] ?? [leftMm, frontMm];
    // The picture's first row is the one at the back; a turned piece has it at the right.
    return turned ? [left + y, front + x] : [left + x, front + depthMm - y];
  };
  return succeed({ arrangement, leftMm, frontMm, corners, toBed, purge: purgeLine() });

  function purgeLine(): BedPlace['purge'] {
    const right = leftMm + arrangement.widthMm;
    const back = frontMm + arrangement.depthMm;
    const across = (y: number): readonly [number, number, number, number] => [
      leftMm,
      y,
      Math.min(right, leftMm + PURGE_MM),
      y,
    ];
    const along = (x: number): readonly [number, number, number, number] => [
      x,
      frontMm,
      x,
      Math.min(back, frontMm + PURGE_MM),
    ];
    const lies = ([x0, y0, x1, y1]: readonly [number, number, number, number]): boolean =>
      [
        [x0, y0],
        [x1, y1],
      ].every(([x = 0, y = 0]) =>
        bed.shape === 'round'
          ? Math.hypot(x, y) <= bed.diameterMm / 2 - RIM_MM
          : x >= RIM_MM && y >= RIM_MM && x <= box.widthMm - RIM_MM && y <= box.depthMm - RIM_MM,
      );
    return (
      [
        across(frontMm - PURGE_SPACE_MM),
        along(leftMm - PURGE_SPACE_MM),
        across(back + PURGE_SPACE_MM),
        along(right + PURGE_SPACE_MM),
      ].find(lies) ?? null
    );
  }
}
