/**
 * Called by long computations with the share done (0..1). It may report progress, and it throws
 * {@link Cancelled} when nobody wants the result any more.
 */
export type Checkpoint = (fraction: number) => void;

/** Thrown out of a computation that was cancelled. */
export class Cancelled extends Error {
  override readonly name = 'Cancelled';
  constructor() {
    super('cancelled');
  }
}

/** A checkpoint for callers that need neither progress nor cancelling. */
export const noCheckpoint: Checkpoint = () => undefined;

/** A checkpoint for one part of a longer job: its 0..1 becomes `from..to` of the whole. */
export function partOf(whole: Checkpoint, from: number, to: number): Checkpoint {
  return (fraction) => {
    whole(from + (to - from) * fraction);
  };
}
