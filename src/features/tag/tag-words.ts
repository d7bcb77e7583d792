import type { TagProblem } from '#core/tags/check-tag.ts';
import type { OutlineKind } from '#core/tags/outline-kinds.ts';
import type { WayFault } from '#core/tags/plan-tag.ts';
import { isColoured } from '#core/tags/tag.ts';
import type { KeptElement, TagSlice } from '../../state/project-document.ts';

/** What each form is called. */
export const FORM_NAMES: Readonly<Record<OutlineKind, string>> = {
  disc: 'Disc',
  rectangle: 'Rectangle',
  rounded: 'Rounded',
  pill: 'Pill',
  hexagon: 'Hexagon',
  heart: 'Heart',
  shield: 'Shield',
  drop: 'Drop',
  path: 'Own outline',
};

/** A length as it is shown. */
export function mm(value: number, decimals = 2): string {
  return `${Number(value.toFixed(decimals))} mm`;
}

/** What an element is called: as the maker says, or by what it is. */
export function nameOfElement(element: KeptElement): string {
  if (element.name !== '') return element.name;
  switch (element.kind) {
    case 'text': {
      const [first = ''] = element.text.split('\n');
      return first.trim() === '' ? 'Lettering' : first;
    }
    case 'shape':
      return FORM_NAMES[element.outline.kind];
    case 'rim':
      return 'Rim';
    case 'hole':
      return element.lengthMm > element.diameterMm
        ? `Slot ${mm(element.lengthMm, 1)}`
        : `Hole ${mm(element.diameterMm, 1)}`;
    case 'loop':
      return `Loop ${mm(element.diameterMm, 1)}`;
  }
}

/** What is wrong with how an element lies; after its name. */
export const WAY_FAULTS: Readonly<Record<WayFault['why'], string>> = {
  'stands-out':
    'stands out of a face that lies on the bed, or goes into it: all on that face is flush',
  'on-top': 'is flush on the side that is printed last, where each layer has one filament',
  'no-cover': 'goes so deep that nothing would cover the inlays behind it',
  'thin-plate': 'is as thick as the plate: nothing would hold it from behind',
};

/** Why an outline that is kept in a project gives none, by the code of its fault. */
const OUTLINE_FAULTS: Readonly<Record<string, string>> = {
  'no-path': 'There is no path in it.',
  'bad-path': 'It cannot be read.',
  'no-area': 'It encloses nothing.',
  'too-long': 'It is too long. Simplify it.',
  tangled: 'Its lines cross each other too often. Join the shapes to one outline (union).',
  'too-many-corners': 'It has too many corners. Simplify it.',
  'no-shapes': 'There is nothing in it but one colour.',
};

function isWayFault(detail: string): detail is WayFault['why'] {
  return Object.hasOwn(WAY_FAULTS, detail);
}

/** Says what is wrong with an element, and what would mend it. */
export function describeProblem(
  { code, element, mm: is, neededMm, other, row, detail = '' }: TagProblem,
  tag: TagSlice,
): string {
  const own = tag.elements[element];
  const called = own ? nameOfElement(own) : 'The outline';
  const name = row === undefined ? called : `${called} of name ${row + 1}`;
  const needed = neededMm === null ? '' : mm(neededMm);
  switch (code) {
    case 'thin-stroke':
    case 'thin-gap': {
      const what = code === 'thin-stroke' ? 'stroke' : 'gap';
      const beside = other === undefined ? undefined : tag.elements[other];
      if (beside)
        return `${name}: ${mm(is)} are left to ${nameOfElement(beside)}, one line needs ${needed}. Move them apart, or let them touch.`;
      return own?.kind === 'text'
        ? `${name}: ${what} of ${mm(is)}. Capitals are to be ${needed} high in this face${own.face.endsWith('-bold') ? '' : ', or choose the bold'}.`
        : `${name}: ${what} of ${mm(is)}, needs ${needed}.`;
    }
    case 'rim':
      if (is === 0 && other === undefined) return `${name} goes over the edge of the outline.`;
      return other === undefined
        ? `${name}: ${mm(is)} are left to the edge, one line needs ${needed}.`
        : `${name}: ${mm(is)} are left to the next hole, one line needs ${needed}.`;
    case 'outside':
      if (detail === 'hole-behind')
        return `${name} is cut by a hole on the second half: holes of both halves meet there. Move one of them.`;
      return `${name} reaches ${mm(is)} beyond the outline, where it is cut off.`;
    case 'level':
      return own && isColoured(own) && own.way === 'sunk'
        ? `${name} goes through the plate: ${needed} at most.`
        : `${name}: a level is at least one layer, ${needed}.`;
    case 'clash': {
      if (isWayFault(detail)) return `${name} ${WAY_FAULTS[detail]}.`;
      const against = other === undefined ? undefined : tag.elements[other];
      return `${name} at the level of ${against ? nameOfElement(against) : 'the plate'} needs a change inside one layer.`;
    }
    case 'no-letter':
      return `${name}: the face has no ${detail}.`;
    case 'no-outline':
      return `${name} has no outline that can be printed. ${OUTLINE_FAULTS[detail] ?? OUTLINE_FAULTS['no-area']}`;
  }
}

/** The same in a few words, beside its place. */
export function shortProblem({ code, mm: is, neededMm }: TagProblem, lineMm: number): string {
  switch (code) {
    case 'thin-stroke':
      return `stroke ${mm(is)}: needs ${mm(lineMm)}`;
    case 'thin-gap':
      return `gap ${mm(is)}: needs ${mm(lineMm)}`;
    case 'rim':
      return is === 0 ? 'over the edge' : `rim ${mm(is)}: needs ${mm(neededMm ?? lineMm)}`;
    case 'outside':
      return `${mm(is)} beyond the outline`;
    case 'level':
      return `level ${mm(is)}`;
    case 'clash':
      return 'two filaments in one layer';
    case 'no-letter':
      return 'no such letter';
    case 'no-outline':
      return 'no outline';
  }
}

/** How many swaps, in words. */
export function swapWords(swaps: number): string {
  const words = ['no swap', 'one swap', 'two swaps', 'three swaps', 'four swaps'];
  return words[swaps] ?? `${swaps} swaps`;
}
