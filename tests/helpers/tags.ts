import { USUAL_FLUSH, type Tag, type TagElement } from '#core/tags/tag.ts';
import { projectOfTag, TAG_GRID } from '../../src/state/new-tag.ts';
import type { ProjectDocument } from '../../src/state/project-document.ts';
import { FILAMENTS } from './stacks.ts';

/** Ids of three filaments that differ. */
export const [FIRST = '', SECOND = '', THIRD = ''] = Object.keys(FILAMENTS);

const HERE = { xMm: 0, yMm: 0, turnDeg: 0, mirrored: false };
const PLAIN = { name: '', group: null };

/** A rounded tag of 60 x 34 mm, 2 mm thick, with elements on it. */
export function tagOf(elements: readonly TagElement[], more: Partial<Tag> = {}): Tag {
  return {
    outline: { kind: 'rounded', widthMm: 60, heightMm: 34, cornerMm: 5 },
    plate: { filamentId: FIRST, layers: 10, chamferLayers: 0 },
    levels: 'found',
    series: null,
    fonts: [],
    flush: USUAL_FLUSH,
    back: 'plain',
    elements,
    ...more,
  };
}

/** The project of a tag, in layers of 0.2 mm. */
export function tagDocument(tag: Tag = tagOf([])): ProjectDocument {
  return projectOfTag('Tag', tag, TAG_GRID, Object.values(FILAMENTS));
}

type Parts<Kind extends TagElement['kind']> = Partial<Extract<TagElement, { kind: Kind }>>;

let made = 0;
const id = (): string => `made-${(made += 1)}`;
const colour = { filamentId: SECOND, way: 'raised', side: 'front', layers: 4, level: 4 } as const;
/** What makes an element flush. */
export const FLUSH = { way: 'flush' } as const;

/** Lettering in the bold plain face. */
export function letters(text: string, parts: Parts<'text'> = {}): TagElement {
  const set = { face: 'hanken-bold', heightMm: 8, tracking: 0, lineSpacing: 1, arcMm: 0, fitMm: 0 };
  return { kind: 'text', id: id(), ...PLAIN, ...HERE, ...colour, ...set, text, ...parts };
}

/** A disc of 8 mm. */
export function shape(parts: Parts<'shape'> = {}): TagElement {
  const outline = { kind: 'disc' as const, widthMm: 8, heightMm: 8, cornerMm: 0 };
  return { kind: 'shape', id: id(), ...PLAIN, ...HERE, ...colour, outline, ...parts };
}

/** A round hole of 5 mm. */
export function hole(xMm: number, yMm: number, diameterMm = 5, lengthMm = diameterMm): TagElement {
  return { kind: 'hole', id: id(), ...PLAIN, ...HERE, xMm, yMm, diameterMm, lengthMm };
}
