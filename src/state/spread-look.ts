import { Cancelled } from '#core/base/checkpoint.ts';
import type { RgbaRaster } from '#core/base/raster.ts';
import type { LampLight } from '#core/heights/lamp.ts';
import { isSpread, type Ramp } from '#core/optics/ramp.ts';
import type { ReliefRequest } from '#core/plan/relief-plan.ts';
import type { ArtworkWorker } from '../workers/start-worker.ts';

/** Rest after the last change before anything is worked out, ms. */
const DELAY_MS = 200;

/** What a look is of. */
export interface LookOf {
  readonly request: ReliefRequest;
  readonly ramp: Ramp;
  /** Null from the front. */
  readonly light: LampLight | null;
}

/** Keeps the look of a print whose light goes sideways: worked out at rest, gone with the first change. */
export class SpreadLook {
  private of: LookOf | undefined;
  private timer: ReturnType<typeof setTimeout> | undefined;
  private abort: AbortController | undefined;
  private made: RgbaRaster | undefined;

  /** @param onMade told when a look is there */
  constructor(
    private readonly worker: ArtworkWorker,
    private readonly onMade: () => void,
  ) {}

  /** Wants a look. @returns it where it is there; undefined while it is worked out, and where light goes straight */
  want(of: LookOf | undefined): RgbaRaster | undefined {
    const same =
      of?.request === this.of?.request &&
      of?.ramp === this.of?.ramp &&
      of?.light === this.of?.light;
    if (same) return this.made;
    this.stop();
    this.of = of;
    if (!of || !isSpread(of.ramp)) return undefined;
    const abort = new AbortController();
    this.abort = abort;
    this.timer = setTimeout(() => {
      this.worker
        .run('look', of, abort)
        .then(({ print }) => {
          if (abort.signal.aborted) return;
          this.made = print;
          this.onMade();
        })
        .catch((error: unknown) => {
          // What is wrong with the worker is said by the live print; the sharp print stays.
          if (!(error instanceof Cancelled)) this.made = undefined;
        });
    }, DELAY_MS);
    return undefined;
  }

  /** Gives up what is under way. */
  stop(): void {
    clearTimeout(this.timer);
    this.abort?.abort();
    this.made = undefined;
    this.of = undefined;
  }
}
