import { artworkOfRaw } from '#core/formats/project/strata-parts.ts';
import {
  importanceOfCells,
  paintImportance,
  type ImportanceArea,
  type ImportanceStroke,
} from '#core/artwork/importance.ts';
import { shareInPiece } from '#core/relief/sampling.ts';
import { sampleArtwork } from '#core/artwork/sample-artwork.ts';
import { measureBrightness } from '#core/artwork/brightness.ts';
import { gatherColours, type ColourCells } from '#core/artwork/colour-cells.ts';
import { partOf, type Checkpoint } from '#core/base/checkpoint.ts';
import { MAX_LAYERS, type HeightMap, type RgbaRaster } from '#core/base/raster.ts';
import { digestFast } from '../../platform/digest.ts';
import { differencesOfCells, meanOfCosts } from '#core/heights/closest.ts';
import { differenceOf, rarestDifference } from '#core/heights/difference.ts';
import { cellsOfZones, labelsOf, planZones, type ZonesRule } from '#core/heights/zones.ts';
import { fitZones } from '#core/heights/fit-zones.ts';
import { zoneOrders } from '#core/heights/zone-orders.ts';
import { proposeZones, splitZone } from '#core/zones/propose.ts';
import { lampPalette, linearBeforeLamp, rampInRoom } from '#core/heights/lamp.ts';
import { paintSeen, paintSpread, spreadLight, againstSpread } from '#core/heights/spread-print.ts';
import { seenDifferenceOf } from '#core/heights/seen-difference.ts';
import { countHeights, cropHeights, thinHeights } from '#core/heights/height-map.ts';
import { naturalness } from '#core/heights/natural.ts';
import { bandTops, flatOfPicture } from '#core/heights/flat.ts';
import type { TagChecks } from '#core/tags/check-tag.ts';
import { ReliefPlan, type ReliefRequest, type SampledArtwork } from '#core/plan/relief-plan.ts';
import type { EditDesk } from '#core/edit/edit-desk.ts';
import { findFineParts } from '#core/relief/fine-parts.ts';
import { partDiagonals } from '#core/relief/part-diagonals.ts';
import { layerTopsMm } from '#core/stack/layer-grid.ts';
import { bandEnds } from '#core/stack/stack.ts';
import { rampOfStack } from '#core/stack/stack-ramp.ts';
import { rampOfFaces } from '#core/tags/face-ramp.ts';
import { MOST_PICTURE_BYTES } from '../../platform/check-picture.ts';
import type { EditJobs } from './edit-jobs.ts';
import { shownPicture } from './shown-picture.ts';
import type { ArtworkJobs, PrintRequest } from './jobs.ts';
import type { Decode } from '../decode.ts';
import { measure, measureWhole } from '../measure.ts';
import { handOver, type Handlers } from '../serve.ts';

/**
 * The jobs on one artwork. The picture stays here; only what the page shows leaves. What the first picture has no need of is loaded
 * by the job that has.
 */
export function artworkHandlers(decode: Decode): Handlers<ArtworkJobs> {
  let opened: ReliefPlan | undefined;
  /** Keeps what it found of forms; its code comes with the first tag. */
  let checks: TagChecks | undefined;

  const plan = (): ReliefPlan => {
    if (!opened) throw new Error('no artwork is open');
    return opened;
  };

  const heightsOf = async (request: ReliefRequest, checkpoint: Checkpoint): Promise<HeightMap> => {
    await plan().prepare(request);
    return plan().relief(request, checkpoint).heights;
  };

  const zonedOf = async (
    request: ReliefRequest,
    checkpoint: Checkpoint,
  ): Promise<{ readonly artwork: SampledArtwork; readonly rule: ZonesRule }> => {
    const { rule } = request;
    if (rule.kind !== 'zones') throw new Error('zones were asked for under another rule');
    await plan().prepare(request);
    return { artwork: plan().zoned(request, checkpoint), rule };
  };

  const printOf = async (
    { request, stack, filaments, room = 'd65' }: PrintRequest,
    checkpoint: Checkpoint,
  ): Promise<RgbaRaster> => {
    await plan().prepare(request);
    return paintSeen(
      plan().looked(request, partOf(checkpoint, 0, 0.5)),
      rampInRoom(rampOfFaces(stack, filaments, request.face), room),
      request.sampleMm,
      partOf(checkpoint, 0.5, 1),
    );
  };

  return {
    ...lateEditHandlers(() => plan().openDesk()),

    unpack: async ({ bytes }) => {
      const { unpackStrata } = await import('#core/formats/project/strata-file.ts');
      const unpacked = unpackStrata(bytes, MOST_PICTURE_BYTES, () => true);
      if (!unpacked.ok || !unpacked.value.artwork) return unpacked;
      const { artwork, document } = unpacked.value;
      const isNamed = (await digestFast(artwork)) === artworkOfRaw(document).digest;
      return isNamed ? unpacked : { ok: true, value: { ...unpacked.value, artwork: undefined } };
    },

    open: async ({ bytes, drawn }, checkpoint) => {
      const digest = await digestFast(bytes);
      checkpoint(0.1);
      const decoded = drawn
        ? {
            ok: true as const,
            value: { kind: 'svg' as const, raster: drawn, reducedFrom: undefined },
          }
        : await decode(bytes);
      if (!decoded.ok) return decoded;
      const { kind, raster, reducedFrom } = decoded.value;
      checkpoint(0.6);
      const shown = shownPicture(raster, raster, partOf(checkpoint, 0.6, 1));
      opened = new ReliefPlan(raster);
      return {
        ok: true,
        value: { kind, ...(reducedFrom ? { reducedFrom } : {}), digest, ...shown },
      };
    },

    heights: async (request, checkpoint) => {
      const heights = await heightsOf(request, checkpoint);
      if (request.piece) {
        const looked = plan().looked(request, checkpoint);
        const none = { natural: null, roughError: null, zones: null };
        return { heights: looked, ...measure(heights), ...none };
      }
      const artwork = plan().artwork(request);
      return {
        heights,
        ...measure(heights),
        natural: naturalness(artwork.brightness, heights) ?? null,
        roughError: roughErrorOf(artwork, heights, request),
        zones:
          request.rule.kind === 'zones'
            ? planZones(plan().zoned(request), request.rule, request).facts
            : null,
      };
    },

    difference: async ({ request, stack, filaments, room = 'd65' }, checkpoint) => {
      const heights = await heightsOf(request, partOf(checkpoint, 0, 0.3));
      const { samples } = plan().artwork(request);
      const ramp = rampInRoom(rampOfStack(stack, filaments), room);
      return {
        difference:
          differenceOf(samples, heights, ramp, request.sampleMm, partOf(checkpoint, 0.3, 1)) ??
          null,
      };
    },

    seen: async ({ request, stack, filaments, distanceMm, room = 'd65' }, checkpoint) => {
      const heights = await heightsOf(request, partOf(checkpoint, 0, 0.3));
      const artwork = plan().artwork(request);
      const ramp = rampInRoom(rampOfStack(stack, filaments), room);
      const rest = partOf(checkpoint, 0.3, 1);
      const difference =
        distanceMm > 0
          ? seenDifferenceOf(artwork.samples, heights, ramp, request.sampleMm, distanceMm, rest)
          : differenceOf(artwork.samples, heights, ramp, request.sampleMm, rest);
      return {
        difference: difference ?? null,
        rarest: (difference && rarestDifference(artwork.cells(), difference)) ?? null,
      };
    },

    look: async ({ request, ramp, light }, checkpoint) => {
      await plan().prepare(request);
      const heights = plan().looked(request, partOf(checkpoint, 0, 0.5));
      const rest = partOf(checkpoint, 0.5, 1);
      if (!light) return { print: paintSeen(heights, ramp, request.sampleMm, rest) };
      const colours = linearBeforeLamp(ramp, light);
      const spread = spreadLight(heights, colours, ramp, request.sampleMm, rest);
      return { print: paintSpread(heights, spread, lampPalette(ramp, light)) };
    },

    thumbnail: async ({ sidePx, ...wanted }, checkpoint) => {
      const print = await printOf(wanted, checkpoint);
      const factor = Math.min(1, sidePx / Math.max(print.width, print.height));
      const small = sampleArtwork(
        print,
        Math.max(1, Math.round(print.width * factor)),
        Math.max(1, Math.round(print.height * factor)),
      );
      const { encodeRgbaPng } = await import('../../platform/encode-pictures.ts');
      const png = encodeRgbaPng(small);
      return handOver({ png }, [png.buffer]);
    },

    print: async (wanted, checkpoint) => {
      const print = await printOf(wanted, checkpoint);
      const counts = countHeights(await heightsOf(wanted.request, checkpoint));
      return handOver({ print, counts }, [print.data.buffer as ArrayBuffer]);
    },

    solid: async ({ request, stack, mostSamples, smoothMm }, checkpoint) => {
      await plan().prepare(request);
      const relief = plan().relief(request, partOf(checkpoint, 0, 0.3));
      const { heights, outlines } = relief;
      if (request.piece) {
        const shape = { ...relief, sampleMm: request.sampleMm };
        const faceDown = request.face?.wholly === true;
        const { lookedSolid } = await import('./looked-solid.ts');
        const solid = lookedSolid(shape, stack, faceDown, partOf(checkpoint, 0.3, 1));
        const { positions, triangles, looks } = solid;
        return handOver(solid, [
          positions.buffer,
          triangles.buffer,
          ...(looks ? [looks.buffer] : []),
        ]);
      }
      // Thinned, samples can touch diagonally again; outlines have no need of it.
      const thin = outlines ? heights : partDiagonals(thinHeights(heights, mostSamples)).heights;
      const thinMm = (request.sampleMm * heights.width) / thin.width;
      const tops = layerTopsMm(stack.grid, MAX_LAYERS);
      const solid = { heights: thin, sampleMm: thinMm, smoothMm, outlines };
      const { reliefMesh } = await import('#core/relief/relief-mesh.ts');
      const mesh = reliefMesh(solid, tops, partOf(checkpoint, 0.3, 1));
      const positions = mesh.positions.slice();
      const triangles = mesh.triangles.slice();
      return handOver(
        {
          positions,
          triangles,
          widthMm: thin.width * thinMm,
          heightMm: thin.height * thinMm,
        },
        [positions.buffer, triangles.buffer],
      );
    },

    colours: async ({ samples, importance, selections, zoned, spread }, checkpoint) => {
      const marked = importance.some((one) => 'selection' in one);
      await plan().prepare(marked ? { ...samples, selections } : (zoned ?? samples));
      const artwork = againstSpreadOf(plan().artwork(samples, checkpoint), spread, checkpoint);
      const { width, height } = artwork.samples;
      const cells =
        zoned?.rule.kind === 'zones'
          ? cellsOfZones(againstSpreadOf(plan().zoned(zoned), spread, checkpoint), zoned.rule)
          : artwork.cells();
      const { colour, count } = cells;
      const marks = importance.flatMap((one): (ImportanceStroke | ImportanceArea)[] => {
        if (!('selection' in one)) return [one];
        const over = plan().covered(samples, selections, one.selection);
        return over ? [{ mark: one.mark, samples: over }] : [];
      });
      const painted = paintImportance(
        marks.map((one) => ('samples' in one ? one : inPiece(one, width, height, artwork.pad))),
        width,
        height,
      );
      return {
        colour,
        count,
        ...(painted ? { importance: importanceOfCells(cells, painted) } : {}),
        ...('zone' in cells ? { zone: cells.zone } : {}),
      };
    },

    counts: async (request, checkpoint) => {
      await plan().prepare(request);
      return measureWhole(plan().relief(request, checkpoint));
    },

    flatColours: async ({ samples, count, stack, filaments }, checkpoint) => {
      await plan().prepare(samples);
      const cells = plan()
        .artwork(samples, partOf(checkpoint, 0, 0.3))
        .cells();
      checkpoint(0.3);
      const tops = bandTops(bandEnds(stack.bands), rampOfStack(stack, filaments));
      return { colours: flatOfPicture(cells, count, tops) };
    },

    proposeZones: async ({ samples, count, split }, checkpoint) => {
      await plan().prepare(samples);
      const cells = plan().artwork(samples, checkpoint).cells();
      return {
        zones: split ? splitZone(cells, split.zone, split.others) : proposeZones(cells, count),
      };
    },

    zoneLabels: async (request, checkpoint) => {
      const { artwork, rule } = await zonedOf(request, checkpoint);
      const { width, height } = artwork.samples;
      return { labels: { width, height, data: labelsOf(artwork, rule) } };
    },

    zoneOrders: async (request, checkpoint) => {
      const { artwork, rule } = await zonedOf(request, checkpoint);
      return { orders: zoneOrders(artwork, rule, request) };
    },

    fitZones: async ({ request, reorder }, checkpoint) => {
      const { artwork, rule } = await zonedOf(request, checkpoint);
      return fitZones(artwork, rule, request, reorder);
    },

    size: async ({ shown, format, ...wanted }, checkpoint) => {
      await plan().prepare(shown);
      const { heights: whole, outlines, inlaid } = plan().relief(shown, checkpoint);
      const finer = wanted.request.columns / whole.width;
      const heights = wanted.crop ? cropHeights(whole) : whole;
      const sampleMm = wanted.request.sampleMm * finer;
      // Outlines are as many on coarse samples as on fine ones.
      const more = outlines ? 1 : finer;
      const source = { ...wanted, heights, outlines, inlaid, sampleMm };
      const { estimateFile } = await import('#core/formats/mesh/file-sizes.ts');
      return estimateFile(format, source, more);
    },

    pictureShapes: async ({ bytes }, checkpoint) => {
      const decoded = await decode(bytes);
      if (!decoded.ok) return decoded;
      const { shapesOfPicture } = await import('#core/tags/picture-shapes.ts');
      return shapesOfPicture(decoded.value.raster, partOf(checkpoint, 0.2, 1));
    },

    checkTag: async ({ tag, planned, lineMm, layerMm }) => {
      checks ??= new (await import('#core/tags/check-tag.ts')).TagChecks();
      const own = checks;
      return {
        problems: own.problems(tag, planned, { lineMm, layerMm }),
        figures: planned.shapes.map((shape) => own.figures(shape, lineMm) ?? null),
      };
    },

    fineParts: async ({ request, lineMm }, checkpoint) =>
      findFineParts(await heightsOf(request, checkpoint), request.sampleMm, lineMm),
  };
}

/** A picture sharpened against the plastic that it will be printed with, where light goes sideways in that. */
function againstSpreadOf<Sampled extends SampledArtwork>(
  artwork: Sampled,
  spread: { readonly spreadMm: number; readonly sampleMm: number } | undefined,
  checkpoint: Checkpoint,
): Sampled {
  if (!spread || spread.spreadMm <= 0) return artwork;
  const samples = againstSpread(artwork.samples, spread.spreadMm, spread.sampleMm, checkpoint);
  let cells: ColourCells | undefined;
  return {
    ...artwork,
    samples,
    brightness: measureBrightness(samples),
    cells: () => (cells ??= gatherColours(samples)),
  };
}

/** What a rule that leans knows of the colour error without working it out anew. */
function roughErrorOf(
  artwork: SampledArtwork,
  heights: HeightMap,
  { rule, layers, leastLayers }: ReliefRequest,
): number | null {
  if (rule.kind !== 'zones' && (rule.kind !== 'closest' || !rule.lean)) return null;
  const cells = artwork.cells();
  return (
    meanOfCosts(
      cells,
      differencesOfCells(cells, rule.colours, Math.min(leastLayers, layers)),
      heights,
    ) ?? null
  );
}

/** The jobs on edits, loaded with the first of them. */
function lateEditHandlers(openDesk: () => Promise<EditDesk>): Handlers<EditJobs> {
  const late =
    <Name extends keyof EditJobs>(name: Name) =>
    async (
      input: EditJobs[Name]['input'],
      checkpoint: Checkpoint,
    ): Promise<EditJobs[Name]['output']> => {
      const [{ editHandlers }, desk] = await Promise.all([
        import('./edit-handlers.ts'),
        openDesk(),
      ]);
      return editHandlers(desk)[name](input, checkpoint, () => undefined);
    };
  return {
    edited: late('edited'),
    editedPng: late('editedPng'),
    selection: late('selection'),
    touched: late('touched'),
    ask: late('ask'),
    before: late('before'),
  };
}

/** A stroke over the picture as one over the whole piece, with the space around the picture. */
function inPiece(
  stroke: ImportanceStroke,
  width: number,
  height: number,
  pad: number,
): ImportanceStroke {
  return {
    ...stroke,
    radius: (stroke.radius * (width - 2 * pad)) / width,
    points: stroke.points.map((share, i) => shareInPiece(share, i % 2 === 0 ? width : height, pad)),
  };
}
