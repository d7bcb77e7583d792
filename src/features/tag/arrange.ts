import { boxOf, type Box } from '#core/tags/rings.ts';
import type { PlannedTag } from '#core/tags/plan-tag.ts';
import { isPlaced, type TagElement } from '#core/tags/tag.ts';
import type { TagSlice } from '../../state/project-document.ts';

/** A line that elements keep to: a middle or an edge. */
export interface Guide {
  readonly way: 'down' | 'across';
  readonly atMm: number;
}

/** Everything in the groups of some elements. */
export function groupedWith(elements: readonly TagElement[], ids: readonly string[]): string[] {
  const groups = new Set(
    elements.flatMap(({ id, group }) => (ids.includes(id) && group !== null ? [group] : [])),
  );
  return elements.flatMap(({ id, group }) =>
    ids.includes(id) || (group !== null && groups.has(group)) ? [id] : [],
  );
}

/** The box around some elements, mm; undefined where there is nothing of them. */
export function boxAround(
  planned: PlannedTag,
  tag: TagSlice,
  ids: readonly string[],
): Box | undefined {
  return boxOf(
    tag.elements.flatMap(({ id }, i) => (ids.includes(id) ? (planned.shapes[i]?.rings ?? []) : [])),
  );
}

/** A move that keeps to the lines of what lies around. */
export function snapped(
  box: Box,
  dx: number,
  dy: number,
  tag: TagSlice,
  planned: PlannedTag,
  moving: readonly string[],
  nearMm: number,
): { readonly dx: number; readonly dy: number; readonly guides: readonly Guide[] } {
  const across: number[] = [0];
  const down: number[] = [0];
  tag.elements.forEach((element, i) => {
    if (moving.includes(element.id) || !isPlaced(element)) return;
    const other = boxOf(planned.shapes[i]?.rings ?? []);
    if (!other) return;
    down.push(other.left, other.right, (other.left + other.right) / 2);
    across.push(other.bottom, other.top, (other.bottom + other.top) / 2);
  });
  const x = nearest([box.left, box.right, (box.left + box.right) / 2], dx, down, nearMm);
  const y = nearest([box.bottom, box.top, (box.bottom + box.top) / 2], dy, across, nearMm);
  return {
    dx: x?.by ?? dx,
    dy: y?.by ?? dy,
    guides: [
      ...(x ? [{ way: 'down' as const, atMm: x.at }] : []),
      ...(y ? [{ way: 'across' as const, atMm: y.at }] : []),
    ],
  };
}

function nearest(
  own: readonly number[],
  by: number,
  lines: readonly number[],
  nearMm: number,
): { readonly by: number; readonly at: number } | undefined {
  let best: { by: number; at: number } | undefined;
  let least = nearMm;
  for (const at of lines)
    for (const edge of own) {
      const off = Math.abs(edge + by - at);
      if (off >= least) continue;
      least = off;
      best = { by: at - edge, at };
    }
  return best;
}

/** Ways to line elements up. */
export const ALIGNMENTS = ['left', 'middle', 'right', 'top', 'centre', 'bottom'] as const;
export type Alignment = (typeof ALIGNMENTS)[number];

type Places = Record<string, { readonly xMm: number; readonly yMm: number }>;

/** Where elements lie when they are lined up: several with each other, one with the outline. */
export function aligned(
  tag: TagSlice,
  planned: PlannedTag,
  ids: readonly string[],
  to: Alignment,
): Places {
  const own = boxesOf(tag, planned, ids);
  const frame = own.length > 1 ? boxAround(planned, tag, ids) : boxOf(planned.outline.rings);
  if (!frame) return {};
  return Object.fromEntries(
    own.map(({ element, box }) => {
      const across = (frame.left + frame.right - box.left - box.right) / 2;
      const up = (frame.bottom + frame.top - box.bottom - box.top) / 2;
      const by: Readonly<Record<Alignment, readonly [number, number]>> = {
        left: [frame.left - box.left, 0],
        middle: [across, 0],
        right: [frame.right - box.right, 0],
        top: [0, frame.top - box.top],
        centre: [0, up],
        bottom: [0, frame.bottom - box.bottom],
      };
      const [dx, dy] = by[to];
      return [element.id, { xMm: tidy(element.xMm + dx), yMm: tidy(element.yMm + dy) }];
    }),
  );
}

/** Where elements lie when there is as much room between all of them. */
export function spread(
  tag: TagSlice,
  planned: PlannedTag,
  ids: readonly string[],
  way: 'across' | 'down',
): Places {
  const [low, high] =
    way === 'across' ? (['left', 'right'] as const) : (['bottom', 'top'] as const);
  const own = boxesOf(tag, planned, ids).sort((a, b) => a.box[low] - b.box[low]);
  const [first] = own;
  const last = own.at(-1);
  if (!first || !last || own.length < 3) return {};
  const widths = own.reduce((sum, { box }) => sum + box[high] - box[low], 0);
  const gap = (last.box[high] - first.box[low] - widths) / (own.length - 1);
  let at = first.box[low];
  return Object.fromEntries(
    own.map(({ element, box }) => {
      const by = at - box[low];
      at += box[high] - box[low] + gap;
      const { xMm, yMm } = element;
      return [
        element.id,
        way === 'across' ? { xMm: tidy(xMm + by), yMm } : { xMm, yMm: tidy(yMm + by) },
      ];
    }),
  );
}

function boxesOf(tag: TagSlice, planned: PlannedTag, ids: readonly string[]) {
  return tag.elements.flatMap((element, i) => {
    const box = ids.includes(element.id) ? boxOf(planned.shapes[i]?.rings ?? []) : undefined;
    return box && isPlaced(element) ? [{ element, box }] : [];
  });
}

const tidy = (value: number): number => Math.round(value * 1000) / 1000;
