import { measureBrightness } from '../artwork/brightness.ts';
import { gatherColours, type ColourCells } from '../artwork/colour-cells.ts';
import { padSamples, sampleArtwork, sampleMostly } from '../artwork/sample-artwork.ts';
import { noCheckpoint, partOf, type Checkpoint } from '../base/checkpoint.ts';
import { Kept } from '../base/kept.ts';
import type { HeightMap, RgbaRaster } from '../base/raster.ts';
import { NO_EDITS, type Recipe, type Selection } from '../edit/artwork-edit.ts';
import type { EditDesk } from '../edit/edit-desk.ts';
import {
  heightsByRule,
  pricesOfHeights,
  type HeightRule,
  type RuleArtwork,
} from '../heights/height-rules.ts';
import { partWithoutIslands } from '../relief/part-without-islands.ts';
import type { PartedHeights } from '../relief/part-diagonals.ts';
import { islandSamples } from '../heights/islands.ts';
import { PLAIN_SHAPE, shapePiece, type PieceShape } from '../relief/shape.ts';
import type { Inlaid } from '../relief/inlaid.ts';
import type { SharedOutlines } from '../relief/smooth-outlines.ts';
import type { FaceView } from '../tags/face-ramp.ts';
import type { OutlinePiece, outlineRelief } from '../tags/outline-piece.ts';

/** On how many samples a picture is looked at. */
export interface SampleRequest {
  /** Samples of the whole piece, with the space around the picture. */
  readonly columns: number;
  readonly rows: number;
  /** Samples around the picture, of those in columns and rows; none by default. */
  readonly pad?: number | undefined;
  /** Edits that are made of the picture first; none by default. */
  readonly recipe?: Recipe | undefined;
  /** Edits are made on a smaller copy, for what is shown while a hand moves. */
  readonly quickEdits?: boolean | undefined;
}

/** Everything, besides the picture, that decides the heights of a relief. */
export interface ReliefRequest extends SampleRequest {
  /** Side of one of these samples, mm. */
  readonly sampleMm: number;
  readonly rule: HeightRule;
  /** All of the project's: a rule names them, with digests of what they take in. */
  readonly selections?: readonly Selection[] | undefined;
  readonly layers: number;
  readonly leastLayers: number;
  /** See `RuleLimits`. */
  readonly tops?: readonly number[] | undefined;
  readonly shape?: PieceShape | undefined;
  /** A piece that is made of outlines: it decides the heights alone, whatever the picture, its rule and its shape are. */
  readonly piece?: OutlinePiece | undefined;
  /** How such a piece is looked at, where a face of it lies on the bed. */
  readonly face?: FaceView | undefined;
}

/** A finished relief. */
export interface PlannedRelief extends PartedHeights {
  /** See `ReliefShape`. */
  readonly outlines?: SharedOutlines | undefined;
  readonly inlaid?: Inlaid | undefined;
}

/** A picture on the samples of a relief, with what rules need of it. */
export interface SampledArtwork extends RuleArtwork {
  readonly samples: RgbaRaster;
  readonly pad: number;
}

/** Room for pictures on samples, in samples of about 9 bytes: the stage's, a coarse one, and a few small ones. */
const SAMPLED_ROOM = 3_000_000;

/** Room for heights, in samples of one byte: some dozen states of the stage, or the finished relief of the largest piece. */
const HEIGHTS_ROOM = 24_000_000;

const areaOf = ({ width, height }: { readonly width: number; readonly height: number }): number =>
  width * height;

/**
 * The one way from a picture to a relief, in stages; each is kept under a key made of all that it depends on, so a change
 * works out only what follows from it, and a state that one goes back to is there.
 *
 * | stage | depends on |
 * |---|---|
 * | edit | picture; edits with their selections, edit by edit (`edit/edit-desk.ts`) |
 * | sample | edit; columns, rows, pad |
 * | rule, with calm and islands | sample; rule, layers, least layers, tops, side of a sample |
 * | shape and parting | rule; border, plate, corners, holes |
 *
 * A piece of outlines goes the last way alone: it is drawn on the samples, and its outlines go with it.
 *
 * What it hands out is kept, so nobody may write into it.
 */
export class ReliefPlan {
  private readonly sampled = new Kept<SampledArtwork>(SAMPLED_ROOM, ({ samples }) =>
    areaOf(samples),
  );
  private readonly ruled = new Kept<HeightMap>(HEIGHTS_ROOM / 2, areaOf);
  private readonly parted = new Kept<PlannedRelief>(HEIGHTS_ROOM, ({ heights }) => areaOf(heights));

  private made: EditDesk | undefined;
  private drawPiece: typeof outlineRelief | undefined;

  /** @param picture upright, in sRGB with alpha, at its full size */
  constructor(private readonly picture: RgbaRaster) {}

  /**
   * Makes ready for requests with edits, or of a piece of outlines: what makes them is loaded when it is first needed, because most
   * pictures are shown before anything is edited, and few pieces are made of outlines.
   * @param request nothing is loaded for one without edits, selections and outlines
   */
  async prepare({
    recipe = NO_EDITS,
    selections = [],
    piece,
  }: Pick<ReliefRequest, 'recipe' | 'selections' | 'piece'>): Promise<void> {
    if (piece) this.drawPiece ??= (await import('../tags/outline-piece.ts')).outlineRelief;
    if (this.made || (recipe.edits.length === 0 && selections.length === 0)) return;
    await this.openDesk();
  }

  /** Makes the edits. */
  async openDesk(): Promise<EditDesk> {
    const { EditDesk: Desk } = await import('../edit/edit-desk.ts');
    return (this.made ??= new Desk(this.picture));
  }

  /** The edited picture, and whether it is of few flat colours. */
  private edited(
    { recipe = NO_EDITS, quickEdits = false }: SampleRequest,
    checkpoint: Checkpoint,
  ): { readonly raster: RgbaRaster; readonly flat: boolean } {
    if (recipe.edits.length === 0) return { raster: this.picture, flat: false };
    if (!this.made) throw new Error('the edits of a picture were asked for before `prepare`');
    const { raster } = this.made.edited(recipe, quickEdits, checkpoint);
    return { raster, flat: this.made.isReduced(recipe) };
  }

  /**
   * The edited picture on samples. One with edits wants `prepare` first.
   * @throws Cancelled from the checkpoint
   */
  artwork(request: SampleRequest, checkpoint: Checkpoint = noCheckpoint): SampledArtwork {
    return this.sampled.get(sampleKey(request), () => {
      const { columns, rows, pad = 0, recipe = NO_EDITS } = request;
      const edits = partOf(checkpoint, 0, recipe.edits.length > 0 ? 0.7 : 0);
      const { raster, flat } = this.edited(request, edits);
      const sample = flat ? sampleMostly : sampleArtwork;
      const inner = sample(raster, columns - 2 * pad, rows - 2 * pad, checkpoint);
      const samples = padSamples(inner, pad);
      let cells: ColourCells | undefined;
      return {
        samples,
        pad,
        brightness: measureBrightness(samples),
        cells: () => (cells ??= gatherColours(samples)),
      };
    });
  }

  /**
   * The heights of the relief, free of diagonal contacts, and how many samples that took.
   * @throws Cancelled from the checkpoint
   */
  relief(request: ReliefRequest, checkpoint: Checkpoint = noCheckpoint): PlannedRelief {
    return this.parted.get(reliefKey(request), () => {
      if (request.piece) {
        if (!this.drawPiece) throw new Error('a piece of outlines was asked for before `prepare`');
        const drawn = this.drawPiece(request.piece, request, checkpoint);
        return { ...drawn, raisedSamples: 0, loweredSamples: 0 };
      }
      const { shape = PLAIN_SHAPE, sampleMm, layers, leastLayers, rule } = request;
      const heights = this.ruled.get(ruleKey(request), () =>
        heightsByRule(this.zoned(request, partOf(checkpoint, 0, 0.3)), rule, request, checkpoint),
      );
      const shaped = shapePiece(heights, shape, sampleMm, layers);
      const { smallestMm, quick = false } = rule;
      const least = quick || smallestMm === 0 ? 0 : islandSamples(smallestMm, sampleMm);
      return partWithoutIslands(shaped, least, () => {
        const prices = pricesOfHeights(this.zoned(request), rule, request);
        return prices && { ...prices, own: heights, leastLayers };
      });
    });
  }

  /**
   * The heights that are looked at: those of the relief, or of a face that lies on the bed, see `FaceView`.
   * @throws Cancelled from the checkpoint
   */
  looked(request: ReliefRequest, checkpoint: Checkpoint = noCheckpoint): HeightMap {
    const { face } = request;
    if (!face) return this.relief(request, checkpoint).heights;
    return this.relief({ ...request, piece: face.piece }, checkpoint).heights;
  }

  /**
   * The edited picture on samples, with the selections of a request at hand.
   * @throws Cancelled from the checkpoint
   */
  zoned(
    request: SampleRequest & Pick<ReliefRequest, 'selections'>,
    checkpoint: Checkpoint = noCheckpoint,
  ): SampledArtwork {
    const artwork = this.artwork(request, checkpoint);
    const { selections = [] } = request;
    return { ...artwork, covered: (id) => this.covered(request, selections, id) };
  }

  /**
   * How much of each sample of a piece a selection takes, 0..255; undefined where there is none with this id. Wants `prepare`.
   */
  covered(
    { columns, rows, pad = 0, recipe }: SampleRequest,
    selections: readonly Selection[],
    id: string,
  ): Uint8Array | undefined {
    const own = selections.find((one) => one.id === id);
    if (!own) return undefined;
    if (!this.made) throw new Error('a selection of a picture was asked for before `prepare`');
    const inner = { width: columns - 2 * pad, height: rows - 2 * pad };
    const over = this.made.maskOver(own, selections, recipe, inner);
    if (pad === 0) return over;
    const samples = new Uint8Array(columns * rows);
    for (let row = 0; row < inner.height; row += 1)
      samples.set(
        over.subarray(row * inner.width, (row + 1) * inner.width),
        (row + pad) * columns + pad,
      );
    return samples;
  }

  /** Is this relief worked out already? */
  has(request: ReliefRequest): boolean {
    return this.parted.has(reliefKey(request));
  }
}

/** What the picture on samples depends on. */
function sampleKey({ columns, rows, pad = 0, recipe, quickEdits }: SampleRequest): string {
  const edits = recipe && recipe.key !== '' ? [recipe.key, quickEdits ?? false] : [];
  return JSON.stringify([columns, rows, pad, ...edits]);
}

/** What the heights of the bare picture depend on. */
function ruleKey(request: ReliefRequest): string {
  const { rule, layers, leastLayers, tops, sampleMm } = request;
  return JSON.stringify([sampleKey(request), rule, layers, leastLayers, tops ?? null, sampleMm]);
}

/** What a finished relief depends on: requests with equal keys have the same relief. */
export function reliefKey(request: ReliefRequest): string {
  const { columns, rows, sampleMm, piece } = request;
  if (piece) return JSON.stringify([columns, rows, sampleMm, piece]);
  return JSON.stringify([ruleKey(request), request.shape ?? PLAIN_SHAPE]);
}
