import { isPauseCommand } from '../printer/pause.ts';
import { auditShape } from './audit-shape.ts';
import { auditSwaps } from './audit-swaps.ts';
import { finding, median, round, type Finding, type FindingCode } from './finding.ts';
import { plannedObjects, plannedTopMm, withoutInlays, type PrintPlan } from './print-plan.ts';
import type { OwnLines } from './take-out.ts';
import type { GcodeLayer, GcodeReport } from './report.ts';

/** Tolerances: see each check. Measured on sound and on broken slices; a brim of one line and 95 % flow cannot be told reliably. */
const FIRST_LAYER_MM = 0.011;
const HEIGHT_SHARE = 0.03;
const UNEVEN_SHARE = 0.06;
const UNEVEN_MM = 0.001;
const TOTAL_LAYERS = 0.6;
const SCALE_SHARE = 0.004;

/** What follows from what: the first of a row that is there is the cause of the others. */
const CAUSES: readonly {
  readonly causes: readonly FindingCode[];
  readonly following: readonly FindingCode[];
}[] = [
  {
    // Everything that goes by height.
    causes: ['z-scaled', 'first-layer', 'layer-height', 'layer-uneven'],
    following: [
      'first-layer',
      'layer-height',
      'layer-count',
      'total-height',
      'swap-early',
      'swap-late',
    ],
  },
  {
    // What stands beside the piece widens it and moves its middles.
    causes: ['tower', 'supports'],
    following: ['size', 'other-picture', 'turned', 'mirrored'],
  },
  { causes: ['size', 'other-picture'], following: ['not-solid', 'brim'] },
];

/**
 * Compares a sliced file with what was planned. Causes come first; what follows from them says so.
 * @param own what of ours stands in the file, where that is known
 */
export function auditGcode(report: GcodeReport, plan: PrintPlan, own?: OwnLines): Finding[] {
  const found = [
    ...wholeness(report),
    ...plannedObjects(report, plan).flatMap(({ layers, inlay }) =>
      auditHeights(layers, inlay > 0 ? { ...plan, layers: plan.flush?.layers } : plan, report),
    ),
    ...stamps(plan, own),
    ...auditSwaps(report, plan),
    ...pauseKinds(report, plan),
    ...auditShape(withoutInlays(report, plan), plan),
  ];
  const linked = found.map((own): Finding => {
    const row = CAUSES.find(({ following }) => following.includes(own.code));
    const cause = found.find(
      ({ code }) => code === row?.causes.find((one) => found.some((other) => other.code === one)),
    );
    if (!cause || cause.code === own.code) return own;
    // What follows from something that may be meant may be meant as well.
    const severity = cause.severity === 'look' ? 'look' : own.severity;
    return { ...own, severity, follows: cause.code };
  });
  const rank = ({ severity, follows }: Finding): number =>
    (severity === 'wrong' ? 0 : 2) + (follows === undefined ? 0 : 1);
  return linked
    .map((finding, n) => ({ finding, n }))
    .sort((a, b) => rank(a.finding) - rank(b.finding) || a.n - b.n)
    .map(({ finding }) => finding);
}

/** What is wrong with a file whatever was planned: it is cut off, has lines that make no sense, or no layers. */
export function wholeness(report: GcodeReport): Finding[] {
  const findings: Finding[] = [];
  if (report.cutOff) findings.push(finding('cut-off', 'wrong', { line: report.lines }));
  const [first] = report.badLines;
  if (first)
    findings.push(
      finding('bad-lines', 'look', {
        found: first.text,
        line: first.line,
        more: report.badCount - 1,
      }),
    );
  if (report.spiral)
    findings.push(
      finding('spiral', 'wrong', {
        line: report.layers.find(({ sloped }) => sloped)?.laidLine ?? null,
      }),
    );
  return findings;
}

function auditHeights(
  layers: readonly GcodeLayer[],
  plan: PrintPlan,
  { spiral, objects }: GcodeReport,
): Finding[] {
  const [first] = layers;
  const top = layers.at(-1);
  if (!first || !top || !plan.layerGrid || spiral) return [];
  const findings: Finding[] = [];
  const at = objects > 1 ? { object: first.object } : {};
  const planned = layers.map((_, n) => plannedTopMm(plan, n + 1) ?? 0);
  const scale = scaleOf(layers, planned);
  const counted = plan.layers === undefined || plan.layers === layers.length;
  if (counted && scale !== null && Math.abs(scale - 1) > SCALE_SHARE)
    findings.push(
      finding('z-scaled', 'wrong', {
        ...at,
        expected: 1,
        found: round(scale, 4),
        line: first.laidLine,
        layer: 1,
      }),
    );
  if (Math.abs(first.topMm - (planned[0] ?? 0)) > FIRST_LAYER_MM)
    findings.push(
      finding('first-layer', 'wrong', {
        ...at,
        expected: planned[0] ?? 0,
        found: first.topMm,
        line: first.laidLine,
        layer: first.layer,
      }),
    );
  const ratios = layers.slice(1).map(({ heightMm }, n) => {
    const own = (planned[n + 1] ?? 0) - (planned[n] ?? 0);
    return own > 0 ? heightMm / own : 1;
  });
  const usual = median(ratios);
  if (ratios.length > 0 && Math.abs(usual - 1) > HEIGHT_SHARE) {
    const last = planned.length - 1;
    const own = (planned[last] ?? 0) - (planned[last - 1] ?? 0);
    findings.push(
      finding('layer-height', 'wrong', {
        ...at,
        expected: round(own, 4),
        found: round(usual * own, 4),
        line: layers[1]?.laidLine ?? null,
        layer: layers[1]?.layer ?? null,
      }),
    );
  }
  // A thicker base makes heights of two kinds; each layer is compared with what is usual in this file for its place.
  const uneven = layers.slice(1).filter(({ heightMm }, n) => {
    const own = usual * ((planned[n + 1] ?? 0) - (planned[n] ?? 0));
    return Math.abs(heightMm - own) > UNEVEN_SHARE * own + UNEVEN_MM;
  });
  const [odd] = uneven;
  if (odd)
    findings.push(
      finding('layer-uneven', 'wrong', {
        ...at,
        expected: round(
          (planned[odd.layerOfObject - 1] ?? 0) - (planned[odd.layerOfObject - 2] ?? 0),
          4,
        ),
        found: odd.heightMm,
        line: odd.laidLine,
        layer: odd.layer,
        more: uneven.length - 1,
      }),
    );
  if (plan.layers !== undefined && plan.layers > 0) {
    const end = plannedTopMm(plan, plan.layers) ?? 0;
    const layerMm = end - (plannedTopMm(plan, plan.layers - 1) ?? 0);
    if (!counted)
      findings.push(
        finding('layer-count', 'wrong', {
          ...at,
          expected: plan.layers,
          found: layers.length,
          line: top.laidLine,
          layer: top.layer,
        }),
      );
    if (Math.abs(top.topMm - end) > TOTAL_LAYERS * layerMm)
      findings.push(
        finding('total-height', 'wrong', {
          ...at,
          expected: end,
          found: top.topMm,
          line: top.laidLine,
          layer: top.layer,
        }),
      );
  }
  return findings;
}

/**
 * The factor between tops and planned ones, where one fits them all, and better than a first layer that is off: that moves all tops
 * by one length. Null otherwise.
 */
function scaleOf(layers: readonly GcodeLayer[], planned: readonly number[]): number | null {
  if (layers.length < 3) return null;
  let products = 0;
  let squares = 0;
  let shift = 0;
  layers.forEach(({ topMm }, n) => {
    const own = planned[n] ?? 0;
    products += topMm * own;
    squares += own ** 2;
    shift += (topMm - own) / layers.length;
  });
  const scale = products / squares;
  const error = (of: (planned: number) => number): number =>
    layers.reduce((sum, { topMm }, n) => sum + (topMm - of(planned[n] ?? 0)) ** 2, 0);
  const scaled = error((own) => scale * own);
  const fits = layers.every(
    ({ topMm, heightMm }, n) =>
      Math.abs(topMm - scale * (planned[n] ?? 0)) <= 0.05 * heightMm + 0.001,
  );
  return fits && scaled < error((own) => own + shift) / 4 ? scale : null;
}

function stamps({ stamp }: PrintPlan, own: OwnLines | undefined): Finding[] {
  const other = own?.stamps.find((one) => one !== stamp);
  return other === undefined || stamp === ''
    ? []
    : [finding('other-stamp', 'wrong', { expected: stamp, found: other })];
}

/** Whether a printer obeys a command is what its maker knows; a text of his own may hold any. */
function pauseKinds({ pauses }: GcodeReport, plan: PrintPlan): Finding[] {
  const obeyed = plan.pauses?.map((one) => one.toUpperCase());
  if (!obeyed || obeyed.length === 0 || obeyed.includes('CUSTOM')) return [];
  const strange = pauses.filter(
    ({ command, layer }) => layer > 0 && !obeyed.includes(command.toUpperCase()),
  );
  const [first] = strange;
  return first
    ? [
        finding('pause-kind', 'wrong', {
          expected: (plan.pauses ?? []).filter(isPauseCommand).join(', '),
          found: first.command,
          line: first.line,
          layer: first.layer,
          more: strange.length - 1,
        }),
      ]
    : [];
}
