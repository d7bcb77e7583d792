import { z } from 'zod';
import { fail, succeed, type Fault, type Result } from '../../base/result.ts';
import {
  EDIT_KINDS,
  FIRST_SETTINGS,
  type ArtworkEdit,
  type BrushLine,
  type GreyPicture,
  type Selection,
  type SelectionStep,
} from '../../edit/artwork-edit.ts';
import { settingShapes } from '../../edit/edit-schema.ts';

export type EditsFault = Fault<'not-json' | 'bad-edits'>;

/** A list of edits with the selections that they name. */
export interface EditList {
  readonly edits: readonly ArtworkEdit[];
  readonly selections: readonly Selection[];
}

const px = z.number().min(-60_000).max(60_000);
const place = z.tuple([px, px]);
const dab = z.tuple([px, px, z.number().positive().max(60_000)]);

const shapes = settingShapes(z.array(px));
const maskName = { mask: z.string().optional() };

/** A cut-out as a file has it: strokes as single dabs, box as four numbers. */
const cutout = {
  way: shapes.cutout.way.optional(),
  box: z.tuple([px, px, z.number().min(0), z.number().min(0)]).optional(),
  keep: z.array(dab).optional(),
  drop: z.array(dab).optional(),
  hair: z.array(dab).optional(),
  edge: shapes.cutout.edge.optional(),
  smallParts: z.boolean().optional(),
  cleanColours: z.boolean().optional(),
};

const fields = {
  crop: shapes.crop,
  turn: shapes.turn,
  mirror: shapes.mirror,
  tone: shapes.tone,
  white: shapes.white,
  grey: shapes.grey,
  hue: shapes.hue,
  recolour: shapes.recolour,
  denoise: shapes.denoise,
  sharpen: shapes.sharpen,
  cutout,
  colours: {
    count: shapes.colours.count.optional(),
    thin: z.boolean().optional(),
    palette: shapes.colours.palette.optional(),
  },
} as const;

/** Without these an edit says nothing; everything else has its first setting. */
const NEEDED: Readonly<Partial<Record<string, readonly string[]>>> = {
  crop: ['left', 'top', 'width', 'height'],
  turn: ['degrees'],
};

const how = {
  grow: z.number().min(-500).max(500).optional(),
  feather: z.number().min(0).max(500).optional(),
  invert: z.boolean().optional(),
  and: z.string().optional(),
  or: z.string().optional(),
  without: z.string().optional(),
};

const maskShape = z.discriminatedUnion('from', [
  z.strictObject({
    from: z.literal('similar'),
    x: px,
    y: px,
    tolerance: z.number().min(0).max(1).optional(),
    connected: z.boolean().optional(),
    ...how,
  }),
  z.strictObject({
    from: z.literal('box'),
    left: px.optional(),
    top: px.optional(),
    width: px.optional(),
    height: px.optional(),
    points: z.array(place).length(2).optional(),
    ...how,
  }),
  z.strictObject({ from: z.literal('polygon'), points: z.array(place).min(3).max(2000), ...how }),
  z.strictObject({ from: z.literal('picture'), file: z.string().min(1), ...how }),
]);
type MaskShape = z.infer<typeof maskShape>;

/** Names of mask pictures that a list asks for. */
export function maskFilesOf(text: string): string[] {
  try {
    const data = JSON.parse(text) as { masks?: Record<string, { from?: string; file?: unknown }> };
    return Object.values(data.masks ?? {}).flatMap(({ from, file }) =>
      from === 'picture' && typeof file === 'string' ? [file] : [],
    );
  } catch {
    return [];
  }
}

/**
 * Reads a list of edits: `{"edits": [{"kind": ..}, ..], "masks": {"a": {"from": ..}}}`; places in pixels of the upright original.
 * What is not known is refused by its name.
 * @param pictures mask pictures by the names that the list has for them
 */
export function readEditsJson(
  text: string,
  pictures: ReadonlyMap<string, GreyPicture> = new Map(),
): Result<EditList, EditsFault> {
  let data: unknown;
  try {
    data = JSON.parse(text);
  } catch (error) {
    return fail('not-json', undefined, error instanceof Error ? error.message : undefined);
  }
  const outer = z
    .strictObject({
      edits: z.array(z.record(z.string(), z.unknown())).max(200),
      masks: z.record(z.string(), maskShape).optional(),
    })
    .safeParse(data);
  if (!outer.success) return faultOf(outer.error, []);
  const { edits: raw, masks = {} } = outer.data;
  const edits: ArtworkEdit[] = [];
  for (const [i, one] of raw.entries()) {
    const kind = EDIT_KINDS.find((known) => known === one.kind);
    if (!kind)
      return fail(
        'bad-edits',
        `edits.${i}.kind`,
        `"${String(one.kind)}" is no kind of edit; there are ${EDIT_KINDS.join(', ')}`,
      );
    const filled = NEEDED[kind]?.find((name) => !(name in one));
    if (filled) return fail('bad-edits', `edits.${i}.${filled}`, `${kind} needs "${filled}"`);
    const read = z
      .strictObject({
        kind: z.literal(kind),
        on: z.boolean().optional(),
        ...maskName,
        ...(z.object(fields[kind]).partial().shape as Record<string, z.ZodType>),
      })
      .safeParse(one);
    if (!read.success) return faultOf(read.error, ['edits', String(i)]);
    const mask = one.mask as string | undefined;
    if (mask !== undefined && !Object.hasOwn(masks, mask))
      return fail('bad-edits', `edits.${i}.mask`, `there is no mask "${mask}"`);
    edits.push(editOf(`${i}`, kind, read.data));
  }
  const selections: Selection[] = [];
  for (const [name, shape] of Object.entries(masks)) {
    for (const way of ['and', 'or', 'without'] as const) {
      const other = shape[way];
      if (other !== undefined && !Object.hasOwn(masks, other))
        return fail('bad-edits', `masks.${name}.${way}`, `there is no mask "${other}"`);
    }
    const made = selectionsOf(name, shape, pictures);
    if (!made)
      return fail('bad-edits', `masks.${name}.file`, 'the picture of this mask cannot be read');
    selections.push(...made);
  }
  return succeed({ edits, selections });
}

function faultOf(
  error: {
    readonly issues: readonly { readonly path: readonly PropertyKey[]; readonly message: string }[];
  },
  where: readonly string[],
): { readonly ok: false; readonly fault: EditsFault } {
  const [issue] = error.issues;
  return fail(
    'bad-edits',
    [...where, ...(issue?.path.map(String) ?? [])].join('.') || 'edits',
    issue?.message,
  );
}

const lineOf = ([x, y, radius]: readonly [number, number, number]): BrushLine => ({
  radius,
  points: [x, y],
});

/** An edit of the list with everything that it leaves out. */
function editOf(id: string, kind: ArtworkEdit['kind'], data: Record<string, unknown>): ArtworkEdit {
  const { mask, on, ...given } = data;
  const known = Object.fromEntries(
    Object.entries(given).filter(([, value]) => value !== undefined),
  );
  const base = {
    ...FIRST_SETTINGS[kind],
    ...known,
    id,
    kind,
    on: on !== false,
    mask: mask ?? null,
  };
  if (kind !== 'cutout') return base as unknown as ArtworkEdit;
  const { box, keep, drop, hair } = known as {
    box?: readonly [number, number, number, number];
    keep?: [number, number, number][];
    drop?: [number, number, number][];
    hair?: [number, number, number][];
  };
  const [left = 0, top = 0, width = 0, height = 0] = box ?? [];
  return {
    ...base,
    box: box ? { left, top, width, height } : null,
    keep: (keep ?? []).map(lineOf),
    drop: (drop ?? []).map(lineOf),
    hair: (hair ?? []).map(lineOf),
  } as unknown as ArtworkEdit;
}

/**
 * A mask of the list as selections: its own shape, grown, feathered and turned; and where it is joined with another one, a
 * second selection of both under the mask's name.
 */
function selectionsOf(
  name: string,
  shape: MaskShape,
  pictures: ReadonlyMap<string, GreyPicture>,
): Selection[] | undefined {
  const step = stepOf(shape, pictures);
  if (!step) return undefined;
  const { and, or, without, grow = 0, feather = 0, invert = false } = shape;
  const others: SelectionStep[] = [];
  if (and !== undefined) others.push({ from: 'mask', mask: and, way: 'within' });
  if (or !== undefined) others.push({ from: 'mask', mask: or, way: 'add' });
  if (without !== undefined) others.push({ from: 'mask', mask: without, way: 'take' });
  const own: Selection = { id: name, name, steps: [step], grow, feather, invert };
  if (others.length === 0) return [own];
  const inner = `${name} by itself`;
  return [
    { ...own, id: inner },
    {
      id: name,
      name,
      steps: [{ from: 'mask', mask: inner, way: 'add' }, ...others],
      grow: 0,
      feather: 0,
      invert: false,
    },
  ];
}

function stepOf(
  shape: MaskShape,
  pictures: ReadonlyMap<string, GreyPicture>,
): SelectionStep | undefined {
  switch (shape.from) {
    case 'similar': {
      const { x, y, tolerance = 0.25, connected = false } = shape;
      return { from: 'similar', x, y, tolerance, connected, way: 'add' };
    }
    case 'box': {
      const [[x0, y0], [x1, y1]] = shape.points
        ? (shape.points as [[number, number], [number, number]])
        : [
            [shape.left ?? 0, shape.top ?? 0],
            [(shape.left ?? 0) + (shape.width ?? 0), (shape.top ?? 0) + (shape.height ?? 0)],
          ];
      return {
        from: 'box',
        left: Math.min(x0, x1),
        top: Math.min(y0, y1),
        width: Math.abs(x1 - x0),
        height: Math.abs(y1 - y0),
        way: 'add',
      };
    }
    case 'polygon':
      return { from: 'polygon', points: shape.points.flat(), way: 'add' };
    case 'picture': {
      const picture = pictures.get(shape.file);
      return picture && { from: 'picture', picture, way: 'add' };
    }
  }
}
