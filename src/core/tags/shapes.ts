import type { Fault } from '../base/result.ts';
import { addArc } from './curves.ts';
import type { Face } from './font.ts';
import { setLettering, type SetLettering } from './lettering.ts';
import { outlineContours } from './outlines.ts';
import { rounded } from './plain-outlines.ts';
import { grown, ringsOf, UNITS_PER_MM, withoutRings, type Contour, type Ring } from './rings.ts';
import type { PathFault } from './svg-path.ts';
import type { Place, RimElement, Tag, TagElement, TextElement } from './tag.ts';

/** Finds a face by its id; undefined while it is not there. */
export type Faces = (face: string) => Face | undefined;

/** Rings of an element where it lies, and what of it cannot be drawn. */
export interface ElementShape {
  readonly rings: readonly Ring[];
  /** Of a loop: the hole in it. */
  readonly hole?: readonly Ring[];
  readonly missing?: readonly string[];
  readonly fault?: PathFault | Fault<'no-face'>;
}

const NOTHING: ElementShape = { rings: [] };

/** Fields of an element that change nothing of its form. */
const FORMLESS: readonly string[] = [
  ...['id', 'name', 'group', 'filamentId', 'way', 'layers', 'level'],
  ...['xMm', 'yMm'],
];

/** Rings of elements, kept as long as what decides them stays the same. */
export class TagShapes {
  readonly #faces: Faces;
  #kept = new Map<string, ElementShape>();

  constructor(faces: Faces) {
    this.#faces = faces;
  }

  /** The outline of a tag itself. */
  outline({ outline }: Pick<Tag, 'outline'>): ElementShape {
    return this.#get(JSON.stringify(['outline', outline]), () => {
      const shape = drawn(outlineContours(outline));
      const { grownMm = 0 } = outline;
      return grownMm > 0 ? { ...shape, rings: grown(shape.rings, grownMm) } : shape;
    });
  }

  /** An element of a tag where it lies. */
  element(tag: Pick<Tag, 'outline'>, element: TagElement): ElementShape {
    if (element.kind === 'text' && !this.#faces(element.face))
      return { rings: [], fault: { code: 'no-face', detail: element.face } };
    if (element.kind === 'rim') {
      const { insetMm, widthMm } = element;
      return this.#get(JSON.stringify(['rim', insetMm, widthMm, tag.outline]), () =>
        this.#rim(tag, insetMm, widthMm),
      );
    }
    // Colour, levels and names change nothing of its form; where it lies does not either, but for whole units.
    const form = Object.entries(element).filter(([name]) => !FORMLESS.includes(name));
    const key = JSON.stringify(form);
    const still = this.#get(key, () => this.#make({ ...element, xMm: 0, yMm: 0 }));
    const { xMm, yMm } = element;
    return this.#get(`${key} ${xMm} ${yMm}`, () => moved(still, xMm, yMm));
  }

  #get(key: string, make: () => ElementShape): ElementShape {
    let shape = this.#kept.get(key);
    if (!shape) {
      // Everything that a drag passes through would pile up.
      if (this.#kept.size > 600) this.#kept = new Map([...this.#kept].slice(-300));
      this.#kept.set(key, (shape = make()));
    } else {
      this.#kept.delete(key);
      this.#kept.set(key, shape);
    }
    return shape;
  }

  #rim(tag: Pick<Tag, 'outline'>, insetMm: number, widthMm: number): ElementShape {
    const outer = grown(this.outline(tag).rings, -insetMm, false);
    return { rings: withoutRings(outer, grown(outer, -widthMm, false)) };
  }

  #make(element: Exclude<TagElement, RimElement>): ElementShape {
    switch (element.kind) {
      case 'text': {
        const face = this.#faces(element.face);
        if (!face) return NOTHING;
        const { contours, missing } = fitted(element, face);
        const rings = ringsOf(placed(contours, element), 'nonzero');
        return { rings, ...(missing.length > 0 ? { missing } : {}) };
      }
      case 'shape': {
        const { outline } = element;
        const contours = outlineContours(outline);
        if (!contours.ok) return { rings: [], fault: contours.fault };
        const fill = outline.kind === 'path' ? (outline.fill ?? 'nonzero') : 'nonzero';
        return { rings: ringsOf(placed(contours.value, element), fill) };
      }
      case 'hole': {
        const { lengthMm, diameterMm } = element;
        return { rings: ringsOf(placed([slot(lengthMm, diameterMm)], element), 'nonzero') };
      }
      case 'loop': {
        const { diameterMm, rimMm } = element;
        const disc = (mm: number): Ring[] => ringsOf(placed([slot(mm, mm)], element), 'nonzero');
        return { rings: disc(diameterMm + 2 * rimMm), hole: disc(diameterMm) };
      }
    }
  }
}

/** The least share of its height that lettering is set at to fit. */
export const LEAST_FIT = 0.5;

/** Lettering that is set smaller where it is wider than it may be. */
function fitted(element: TextElement, face: Face): SetLettering {
  const scale = fitScale(element, face);
  return setLettering({ ...element, heightMm: element.heightMm * scale }, face);
}

/** By how much lettering is set smaller to fit; 1 where it fits, and never less than {@link LEAST_FIT}. */
export function fitScale(element: TextElement, face: Face): number {
  if (element.fitMm <= 0) return 1;
  const xs = setLettering(element, face).contours.flatMap((line) =>
    line.filter((_, n) => n % 2 === 0),
  );
  const width =
    xs.reduce((most, x) => Math.max(most, x), 0) - xs.reduce((least, x) => Math.min(least, x), 0);
  return width > element.fitMm ? Math.max(LEAST_FIT, element.fitMm / width) : 1;
}

/** A shape moved by whole units, so that it is the same wherever it lies. */
function moved(shape: ElementShape, xMm: number, yMm: number): ElementShape {
  const [x, y] = [Math.round(xMm * UNITS_PER_MM), Math.round(yMm * UNITS_PER_MM)];
  const move = (rings: readonly Ring[]): Ring[] =>
    rings.map((ring) => ring.map((at, n) => at + (n % 2 === 0 ? x : y)));
  return {
    ...shape,
    rings: move(shape.rings),
    ...(shape.hole ? { hole: move(shape.hole) } : {}),
  };
}

function drawn(contours: ReturnType<typeof outlineContours>): ElementShape {
  return contours.ok
    ? { rings: ringsOf(contours.value, 'nonzero') }
    : { rings: [], fault: contours.fault };
}

function slot(lengthMm: number, diameterMm: number): Contour {
  if (lengthMm > diameterMm) return rounded(lengthMm, diameterMm, diameterMm / 2);
  const circle: number[] = [];
  addArc(circle, [0, 0], diameterMm / 2, 0, 2 * Math.PI);
  return circle;
}

/** Contours mirrored, turned and moved. Mirroring turns the way round of all alike, so what winds round what stays. */
function placed(contours: readonly Contour[], { xMm, yMm, turnDeg, mirrored }: Place): Contour[] {
  const angle = (turnDeg * Math.PI) / 180;
  const [sin, cos] = [Math.sin(angle), Math.cos(angle)];
  const side = mirrored ? -1 : 1;
  return contours.map((line) => {
    const out: number[] = [];
    for (let n = 0; n < line.length; n += 2) {
      const x = side * (line[n] as number);
      const y = line[n + 1] as number;
      out.push(xMm + x * cos - y * sin, yMm + x * sin + y * cos);
    }
    return out;
  });
}
