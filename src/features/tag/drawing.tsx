import { boxOf, UNITS_PER_MM, type Box, type Ring } from '#core/tags/rings.ts';
import { isPlaced } from '#core/tags/tag.ts';
import type { KeptElement } from '../../state/project-document.ts';

/** An outline around its own place, so that one that is only moved is not drawn anew. */
export function drawnFrom(
  rings: readonly Ring[],
  box: Box,
  element: KeptElement | undefined,
): { readonly d: string; readonly transform?: string } {
  if (!element || !isPlaced(element)) return { d: pathOf(rings, box) };
  const [x, y] = [Math.round(element.xMm * UNITS_PER_MM), Math.round(element.yMm * UNITS_PER_MM)];
  const still = rings.map((ring) => ring.map((at, n) => at - (n % 2 === 0 ? x : y)));
  const around = { ...box, left: 0, top: 0 };
  return {
    d: pathOf(still, around),
    transform: `translate(${x / UNITS_PER_MM - box.left} ${box.top - y / UNITS_PER_MM})`,
  };
}

/** Lettering is taken in hand between its letters too. */
export function Grip({
  element,
  rings,
  box,
}: {
  readonly element: KeptElement;
  readonly rings: readonly Ring[];
  readonly box: Box;
}) {
  const own = element.kind === 'text' ? boxOf(rings) : undefined;
  return own ? (
    <rect
      x={own.left - box.left}
      y={box.top - own.top}
      width={own.right - own.left}
      height={own.top - own.bottom}
      fill="transparent"
    />
  ) : null;
}

const thousandths = (mm: number): number => Math.round(mm * 1000) / 1000;

/** Rings as path data in mm from the top left corner of the piece. */
export function pathOf(rings: readonly Ring[], box: Box): string {
  const parts: string[] = [];
  for (const ring of rings) {
    for (let n = 0; n < ring.length; n += 2) {
      const x = (ring[n] as number) / UNITS_PER_MM - box.left;
      const y = box.top - (ring[n + 1] as number) / UNITS_PER_MM;
      parts.push(`${n === 0 ? 'M' : 'L'}${thousandths(x)} ${thousandths(y)}`);
    }
    parts.push('Z');
  }
  return parts.join('');
}
