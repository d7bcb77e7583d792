import { finding, median, round, type Finding } from './finding.ts';
import { layersByObject, USUAL_STRAND_MM, type PrintPlan } from './print-plan.ts';
import { ownStrandMm, type GcodeLayer, type GcodeReport } from './report.ts';

/** How much wider the first layer is where a brim or a skirt lies around it, mm; and how much more plastic it has. */
const WIDER_MM = 1;
const MORE_PLASTIC = 0.06;
/** Plastic of a layer above what its area takes at which something else stands beside the piece. */
const MUCH_PLASTIC = 0.15;
const LEAST_SOLID = 0.88;
/** Share of the layers that must be thin for a file not to be solid: single small ones differ. */
const THIN_LAYERS = 0.2;
const SIZE_MM = 0.6;
const SIZE_SHARE = 0.006;
/** Line width where none is told, mm. Common practice, no source. */
const USUAL_LINE_MM = 0.42;

type Box = readonly [number, number, number, number];
type Point = readonly [number, number];

/** Compares size, plastic and where each layer lies with the plan; what stands beside the piece is told as well. */
export function auditShape(report: GcodeReport, plan: PrintPlan): Finding[] {
  const objects = layersByObject(report);
  const several = (plan.copies ?? 1) > 1;
  // Where several pieces share their layers, nothing says where each of them lies.
  const together = several && objects.length === 1;
  const [first] = objects;
  if (!first) return [];
  return [
    ...beside(report, plan, together),
    ...objects.flatMap((layers, n) => {
      const at = objects.length > 1 ? { object: n + 1 } : {};
      const solid = solidity(layers, plan, together ? (plan.copies ?? 1) : 1);
      const shape = together ? [] : [...sizes(layers, plan), ...pictures(layers, plan)];
      return [...solid, ...shape].map((one) => ({ ...one, ...at }));
    }),
  ];
}

/** What is named in remarks, or shows by its place: brim and skirt in the first layer, supports and towers above. */
function beside(report: GcodeReport, plan: PrintPlan, together: boolean): Finding[] {
  const { layers } = report;
  const findings: Finding[] = [];
  const named = (part: 'skirt' | 'brim' | 'support' | 'tower'): GcodeLayer | undefined =>
    layers.find(({ parts }) => (parts[part] ?? 0) > 0);
  const tell = (code: 'skirt' | 'brim' | 'supports' | 'tower', layer: GcodeLayer): void => {
    findings.push(
      finding(code, 'look', {
        expected: 'none',
        found: code,
        line: layer.laidLine,
        layer: layer.layer,
      }),
    );
  };
  for (const part of ['skirt', 'brim', 'support', 'tower'] as const) {
    const layer = named(part);
    if (layer) tell(part === 'support' ? 'supports' : part, layer);
  }
  const [first] = layers;
  const above = layers.filter(({ object, layerOfObject }) => object === 1 && layerOfObject > 1);
  if (!first || together) return findings;
  const line = plan.lineMm ?? USUAL_LINE_MM;
  if (!named('skirt') && !named('brim')) {
    const wide = first.box[2] - first.box[0] + line;
    const deep = first.box[3] - first.box[1] + line;
    const box = above.length > 0 ? boxOf(above) : first.box;
    const width = plan.widthMm ?? box[2] - box[0] + line;
    const depth = plan.depthMm ?? box[3] - box[1] + line;
    // The piece may be turned on the plate: its longer side is compared with the longer one.
    const wider = Math.min(
      Math.max(wide - width, deep - depth),
      Math.max(wide - depth, deep - width),
    );
    const solid = solidOf(first, plan, 1);
    const usual = median(above.flatMap((layer) => solidOf(layer, plan, 1) ?? []));
    const more = solid === null || above.length === 0 ? 0 : solid / usual - 1;
    // A box that grew alike in all layers is another size, and no brim.
    const grew =
      above.length > 0 &&
      Math.max(box[2] - box[0] + line - width, box[3] - box[1] + line - depth) > WIDER_MM;
    if ((wider > WIDER_MM && !grew) || more > MORE_PLASTIC) tell('brim', first);
  }
  if (!named('support') && !named('tower')) {
    const thick = reachesOut(above, plan, line)
      ? above.find((layer) => (solidOf(layer, plan, 1) ?? 0) > 1 + MUCH_PLASTIC)
      : undefined;
    if (thick) tell('tower', thick);
  }
  return findings;
}

/** Whether layers reach out of the piece, and are not just the piece at another scale: that takes as much more plastic as area. */
function reachesOut(layers: readonly GcodeLayer[], plan: PrintPlan, lineMm: number): boolean {
  const { widthMm, depthMm } = plan;
  const [largest] = layers;
  if (!largest || widthMm === undefined || depthMm === undefined) return false;
  const box = boxOf(layers);
  const wide = box[2] - box[0] + lineMm;
  const deep = box[3] - box[1] + lineMm;
  const solid = solidOf(largest, plan, 1) ?? 1;
  const scaled = Math.abs((wide * deep) / (widthMm * depthMm) / solid - 1) < MORE_PLASTIC;
  return Math.max(wide, deep) > Math.max(widthMm, depthMm) + WIDER_MM && !scaled;
}

/** Plastic of a layer over what its area and height take; null where the plan does not tell. */
function solidOf(layer: GcodeLayer, plan: PrintPlan, copies: number): number | null {
  const area = plan.areasMm2?.[layer.layerOfObject - 1];
  if (area === undefined || area <= 0 || layer.heightMm <= 0) return null;
  const section = (Math.PI / 4) * (plan.filamentMm ?? USUAL_STRAND_MM) ** 2;
  return (ownStrandMm(layer) * section) / (area * copies * layer.heightMm);
}

function solidity(layers: readonly GcodeLayer[], plan: PrintPlan, copies: number): Finding[] {
  const shares = layers.flatMap((layer) => {
    const share = solidOf(layer, plan, copies);
    return share === null ? [] : [{ layer, share }];
  });
  const thin = shares.filter(({ share }) => share < LEAST_SOLID);
  const [first] = thin;
  return first && thin.length > THIN_LAYERS * shares.length
    ? [
        finding('not-solid', 'wrong', {
          expected: 1,
          found: round(median(thin.map(({ share }) => share)), 3),
          line: first.layer.laidLine,
          layer: first.layer.layer,
          more: thin.length - 1,
        }),
      ]
    : [];
}

function boxOf(layers: readonly GcodeLayer[]): Box {
  return [
    Math.min(...layers.map(({ box }) => box[0])),
    Math.min(...layers.map(({ box }) => box[1])),
    Math.max(...layers.map(({ box }) => box[2])),
    Math.max(...layers.map(({ box }) => box[3])),
  ];
}

/** Layers without what may lie around the first one. */
function bodyOf(layers: readonly GcodeLayer[]): readonly GcodeLayer[] {
  return layers.length > 1 ? layers.slice(1) : layers;
}

function sizes(layers: readonly GcodeLayer[], plan: PrintPlan): Finding[] {
  const { widthMm, depthMm, lineMm = USUAL_LINE_MM } = plan;
  if (widthMm === undefined || depthMm === undefined) return [];
  const body = bodyOf(layers);
  const box = boxOf(body);
  const width = box[2] - box[0] + lineMm;
  const depth = box[3] - box[1] + lineMm;
  const off = (found: number, planned: number): boolean =>
    Math.abs(found - planned) > Math.max(SIZE_MM, SIZE_SHARE * planned);
  const upright = !off(width, widthMm) && !off(depth, depthMm);
  const turned = !off(width, depthMm) && !off(depth, widthMm);
  if (upright || turned) return [];
  return [
    finding('size', 'wrong', {
      expected: `${round(widthMm, 2)} x ${round(depthMm, 2)}`,
      found: `${round(width, 2)} x ${round(depth, 2)}`,
      line: body[0]?.laidLine ?? null,
      layer: body[0]?.layer ?? null,
    }),
  ];
}

/** The eight ways to lay a picture on a plate. */
const WAYS: readonly {
  readonly code: 'upright' | 'turned' | 'mirrored';
  readonly words: string;
  readonly map: (x: number, y: number) => Point;
}[] = [
  { code: 'upright', words: 'upright', map: (x, y) => [x, y] },
  { code: 'turned', words: '90 degrees', map: (x, y) => [-y, x] },
  { code: 'turned', words: '180 degrees', map: (x, y) => [-x, -y] },
  { code: 'turned', words: '270 degrees', map: (x, y) => [y, -x] },
  { code: 'mirrored', words: 'left and right', map: (x, y) => [-x, y] },
  { code: 'mirrored', words: 'front and back', map: (x, y) => [x, -y] },
  { code: 'mirrored', words: 'along a diagonal', map: (x, y) => [y, x] },
  { code: 'mirrored', words: 'along the other diagonal', map: (x, y) => [-y, -x] },
];

/** How far middles may lie from the plan, mm, and as a share of the piece. */
const MIDDLE_MM = 0.5;
const MIDDLE_SHARE = 0.01;

/** Layers smaller than this share of the largest count less: of specks much is not laid, and their middle wanders. */
const SMALL_SHARE = 0.04;

interface Pair {
  readonly layer: GcodeLayer;
  readonly weight: number;
  /** Middles, planned and found, from what they are all together. */
  readonly planned: Point;
  readonly found: Point;
}

/** Middles of layers beside those of the plan, both from their common middle: where a piece lies on the plate is the maker's. */
function pairsOf(layers: readonly GcodeLayer[], plan: PrintPlan): Pair[] {
  const { centresMm = [], areasMm2 } = plan;
  const largest = Math.max(1e-9, ...(areasMm2 ?? [1]));
  const raw = layers.flatMap((layer): Pair[] => {
    const planned = centresMm[layer.layerOfObject - 1];
    const area = areasMm2?.[layer.layerOfObject - 1] ?? largest;
    const weight = area / (area + SMALL_SHARE * largest);
    return planned && area > 0 ? [{ layer, weight, planned, found: layer.middle }] : [];
  });
  const total = raw.reduce((sum, { weight }) => sum + weight, 0);
  const middle = (of: (pair: Pair) => Point): Point => [
    raw.reduce((sum, pair) => sum + pair.weight * of(pair)[0], 0) / total,
    raw.reduce((sum, pair) => sum + pair.weight * of(pair)[1], 0) / total,
  ];
  const planned = middle((pair) => pair.planned);
  const found = middle((pair) => pair.found);
  const from = ([x, y]: Point, [x0, y0]: Point): Point => [x - x0, y - y0];
  return raw.map((pair) => ({
    ...pair,
    planned: from(pair.planned, planned),
    found: from(pair.found, found),
  }));
}

/** Compares the middle of what each layer lays with the middle of its area. */
function pictures(layers: readonly GcodeLayer[], plan: PrintPlan): Finding[] {
  const { widthMm, depthMm } = plan;
  if (widthMm === undefined || depthMm === undefined) return [];
  if (plan.layers !== undefined && layers.length !== plan.layers) return [];
  const pairs = pairsOf(bodyOf(layers), plan);
  if (pairs.length === 0) return [];
  const total = pairs.reduce((sum, { weight }) => sum + weight, 0);
  const off = ({ planned, found }: Pair, map: (x: number, y: number) => Point): number => {
    const [x, y] = map(planned[0], planned[1]);
    return Math.hypot(found[0] - x, found[1] - y);
  };
  const residual = (map: (x: number, y: number) => Point): number =>
    Math.sqrt(pairs.reduce((sum, pair) => sum + pair.weight * off(pair, map) ** 2, 0) / total);
  const tolerance = Math.max(MIDDLE_MM, MIDDLE_SHARE * Math.max(widthMm, depthMm));
  const asPlanned = (x: number, y: number): Point => [x, y];
  const upright = residual(asPlanned);
  if (upright <= tolerance) return [];
  const [best] = WAYS.map((way) => ({ ...way, left: residual(way.map) })).sort(
    (a, b) => a.left - b.left,
  );
  const { layer: worst } = pairs.reduce((most, one) =>
    one.weight * off(one, asPlanned) > most.weight * off(most, asPlanned) ? one : most,
  );
  const place = { line: worst.laidLine, layer: worst.layer };
  if (best && best.code !== 'upright' && best.left <= tolerance && best.left < upright / 2)
    return [
      // A piece turned on the plate is the same piece; a mirrored one is not.
      finding(best.code, best.code === 'turned' ? 'look' : 'wrong', {
        ...place,
        expected: 'upright',
        found: best.words,
      }),
    ];
  return upright > 2 * tolerance
    ? [finding('other-picture', 'wrong', { ...place, expected: 0, found: round(upright, 2) })]
    : [];
}
