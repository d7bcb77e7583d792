import { produce } from 'immer';
import {
  FIRST_SETTINGS,
  takesMask,
  type BrushLine,
  type EditKind,
  type SelectionStep,
} from '#core/edit/artwork-edit.ts';
import {
  MOST_EDITS,
  MOST_LINE_NUMBERS,
  MOST_LINES,
  MOST_SELECTIONS,
  MOST_STEPS,
} from '#core/edit/edit-schema.ts';
import type { ArtworkSlice, KeptEdit, KeptSelection } from '../project-document.ts';
import { documentEditSchema, documentSelectionSchema } from '../slices/artwork.ts';
import { keepPoints } from '../strokes.ts';
import { edit, type Edit } from './edit.ts';

/** Changes the list of edits; what the schema would not take changes nothing. */
function onArtwork(what: string, change: (artwork: ArtworkSlice) => void): Edit {
  return edit(what, (document) =>
    produce(document, (draft) => {
      change(draft.artwork);
    }),
  );
}

/** An edit with other settings, or the same one where they are not legal. */
function withSettings(kept: KeptEdit, settings: object): KeptEdit {
  const read = documentEditSchema.safeParse({ ...kept, ...settings, id: kept.id, kind: kept.kind });
  return read.success ? read.data : kept;
}

/** Puts a new edit to the end of the list. */
export function addPictureEdit(id: string, kind: EditKind, settings: object = {}): Edit {
  return onArtwork('edits', (artwork) => {
    if (artwork.edits.length >= MOST_EDITS || artwork.edits.some((one) => one.id === id)) return;
    const read = documentEditSchema.safeParse({
      ...structuredClone(FIRST_SETTINGS[kind]),
      ...settings,
      id,
      kind,
      on: true,
      mask: null,
    });
    if (read.success) artwork.edits.push(read.data);
  });
}

/** Changes settings of one edit, by their names. */
export function changePictureEdit(id: string, settings: object): Edit {
  const names = Object.keys(settings).join(',');
  return onArtwork(`edit ${id} ${names}`, (artwork) => {
    const at = artwork.edits.findIndex((one) => one.id === id);
    const kept = artwork.edits[at];
    if (kept) artwork.edits[at] = withSettings(kept, settings);
  });
}

/** Switches an edit on or off. */
export function switchPictureEdit(id: string, on: boolean): Edit {
  return changePictureEdit(id, { on });
}

/** Limits an edit to a selection, or to nothing; edits of the whole picture stay as they are. */
export function limitPictureEdit(id: string, mask: string | null): Edit {
  return onArtwork(`edit ${id} mask`, (artwork) => {
    const kept = artwork.edits.find((one) => one.id === id);
    if (!kept || !takesMask(kept.kind)) return;
    if (mask === null || artwork.selections.some((one) => one.id === mask)) kept.mask = mask;
  });
}

/** Moves an edit to another place of the list. */
export function movePictureEdit(id: string, to: number): Edit {
  return onArtwork('order of edits', (artwork) => {
    const from = artwork.edits.findIndex((one) => one.id === id);
    const [kept] = from < 0 ? [] : artwork.edits.splice(from, 1);
    if (kept)
      artwork.edits.splice(Number.isFinite(to) ? Math.max(0, Math.round(to)) : from, 0, kept);
  });
}

/** Puts a copy of an edit behind it. */
export function copyPictureEdit(id: string, copyId: string): Edit {
  return onArtwork('edits', (artwork) => {
    const at = artwork.edits.findIndex((one) => one.id === id);
    const kept = artwork.edits[at];
    if (!kept || artwork.edits.length >= MOST_EDITS) return;
    if (artwork.edits.some((one) => one.id === copyId) || copyId === '' || copyId.length > 100)
      return;
    artwork.edits.splice(at + 1, 0, { ...structuredClone(plain(kept)), id: copyId });
  });
}

/** A draft as plain data. */
function plain<Value>(value: Value): Value {
  return JSON.parse(JSON.stringify(value)) as Value;
}

/** Takes an edit out of the list. */
export function removePictureEdit(id: string): Edit {
  return onArtwork('edits', (artwork) => {
    artwork.edits = artwork.edits.filter((one) => one.id !== id);
  });
}

/** Places that go beside the document; undefined where there are none, or too many. */
function keepLine({ radius, points }: BrushLine): { radius: number; points: string } | undefined {
  const even = points.slice(0, Math.min(MOST_LINE_NUMBERS, 2 * Math.floor(points.length / 2)));
  if (even.length < 2 || !(radius > 0) || !Number.isFinite(radius)) return undefined;
  if (!even.every((one) => Number.isFinite(one))) return undefined;
  return { radius, points: keepPoints(even) };
}

/** Lists of strokes that a cut-out has. */
export const LINE_LISTS = ['keep', 'drop', 'hair', 'add', 'take'] as const;
export type LineList = (typeof LINE_LISTS)[number];

/** Puts a stroke to a cut-out; *add* and *take* are strokes on its result. */
export function addCutoutLine(id: string, list: LineList, line: BrushLine): Edit {
  return onArtwork(`edit ${id} ${list}`, (artwork) => {
    const at = artwork.edits.findIndex((one) => one.id === id);
    const kept = artwork.edits[at];
    const own = keepLine(line);
    if (kept?.kind !== 'cutout' || !own) return;
    const name = list === 'add' || list === 'take' ? 'touch' : list;
    const grown =
      name === 'touch'
        ? { touch: [...plain(kept.touch), { ...own, adds: list === 'add' }].slice(-MOST_LINES) }
        : { [name]: [...plain(kept[name]), own].slice(-MOST_LINES) };
    artwork.edits[at] = withSettings(plain(kept), grown);
  });
}

/** Takes all strokes of a cut-out away. */
export function clearCutoutLines(id: string): Edit {
  return changePictureEdit(id, { keep: [], drop: [], hair: [], touch: [] });
}

/** A new selection without anything in it. */
export function addSelection(id: string, name: string): Edit {
  return onArtwork('selections', (artwork) => {
    if (artwork.selections.length >= MOST_SELECTIONS) return;
    if (artwork.selections.some((one) => one.id === id)) return;
    const read = documentSelectionSchema.safeParse({
      id,
      name: name.trim().slice(0, 100),
      steps: [],
      grow: 0,
      feather: 0,
      invert: false,
    });
    if (read.success) artwork.selections.push(read.data);
  });
}

/** Puts a step to a selection. */
export function addSelectionStep(id: string, step: SelectionStep): Edit {
  return onArtwork(`selection ${id}`, (artwork) => {
    const at = artwork.selections.findIndex((one) => one.id === id);
    const kept = artwork.selections[at];
    if (!kept) return;
    let own: object = step;
    if (step.from === 'polygon' || step.from === 'brush') {
      const line = keepLine({
        radius: step.from === 'brush' ? step.radius : 1,
        points: step.points,
      });
      if (!line) return;
      own = step.from === 'brush' ? { ...step, ...line } : { ...step, points: line.points };
    }
    const steps = [...plain(kept.steps), own].slice(-MOST_STEPS);
    putSelection(artwork, at, { steps });
  });
}

function putSelection(artwork: ArtworkSlice, at: number, change: object): void {
  const kept = artwork.selections[at];
  if (!kept) return;
  const read = documentSelectionSchema.safeParse({ ...plain(kept), ...change });
  if (read.success) artwork.selections[at] = read.data;
}

/** Changes name, growth, feather, or what is inside and outside of a selection. */
export function changeSelection(
  id: string,
  change: Partial<Pick<KeptSelection, 'name' | 'grow' | 'feather' | 'invert' | 'steps'>>,
): Edit {
  return onArtwork(`selection ${id} ${Object.keys(change).join(',')}`, (artwork) => {
    putSelection(
      artwork,
      artwork.selections.findIndex((one) => one.id === id),
      change,
    );
  });
}

/**
 * Removes a selection, and what was said of its importance. Edits that were limited to it are switched off: over the whole
 * picture they would be others.
 */
export function removeSelection(id: string): Edit {
  return onArtwork('selections', (artwork) => {
    artwork.selections = artwork.selections.filter((one) => one.id !== id);
    for (const kept of artwork.edits)
      if (kept.mask === id) {
        kept.mask = null;
        kept.on = false;
      }
    const { masks } = artwork;
    masks.importance = masks.importance.filter(
      (one) => !('selection' in one) || one.selection !== id,
    );
    masks.zones = masks.zones.filter((one) => !('selection' in one) || one.selection !== id);
  });
}

/** Edits with their selections, from another project; the places of lines are kept already. */
export type CopiedEdits = Pick<ArtworkSlice, 'edits' | 'selections'>;

/** Puts edits of another project to the end of the list, under ids of their own. @param freshId makes one */
export function pasteEdits(copied: CopiedEdits, freshId: () => string): Edit {
  return onArtwork('edits', (artwork) => {
    const names = new Map(copied.selections.map(({ id }) => [id, freshId()]));
    for (const one of copied.selections) {
      if (artwork.selections.length >= MOST_SELECTIONS) break;
      const steps = one.steps.map((step) =>
        step.from === 'mask' ? { ...step, mask: names.get(step.mask) ?? step.mask } : step,
      );
      const read = documentSelectionSchema.safeParse({ ...one, steps, id: names.get(one.id) });
      if (read.success) artwork.selections.push(read.data);
    }
    for (const one of copied.edits) {
      if (artwork.edits.length >= MOST_EDITS) break;
      const mask = one.mask === null ? null : (names.get(one.mask) ?? null);
      const read = documentEditSchema.safeParse({ ...one, mask, id: freshId() });
      if (read.success) artwork.edits.push(read.data);
    }
  });
}
