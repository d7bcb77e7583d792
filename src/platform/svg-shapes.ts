import { fail, type Result } from '#core/base/result.ts';
import { joinForms, type DrawnForm, type SvgShape } from '#core/tags/svg-shapes.ts';
import { attributesOf, checkSvg, childrenOf, kindOf, type SvgNode } from './check-svg.ts';
import { describePictureFault } from './fault-words.ts';

/** Deepest nesting that is followed. */
const MOST_DEPTH = 60;
/** Forms that are read of one drawing. */
const MOST_FORMS = 5000;

/** What forms inherit from what they lie in. */
interface Inherited {
  readonly fill: string;
  readonly rule: 'nonzero' | 'evenodd';
  readonly transform: string;
}

/**
 * Reads the filled forms of a drawing: paths, rectangles, circles, ellipses and polygons, in groups and by reference. What is not
 * an outline (lettering, pictures, lines without a filling) is left out.
 * @returns shapes by colour, or a fault whose `detail` says in words what to do
 */
export function readSvgShapes(text: string): Result<SvgShape[]> {
  const checked = checkSvg(new TextEncoder().encode(text));
  if (!checked.ok) return fail(checked.fault.code, undefined, describePictureFault(checked.fault));
  const { root, byId } = checked.value;
  const forms: DrawnForm[] = [];
  collect(root, { fill: '#000000', rule: 'nonzero', transform: '' }, byId, forms, 0);
  const joined = joinForms(forms);
  return joined.ok ? joined : fail(joined.fault.code, undefined, WORDS[joined.fault.code]);
}

const WORDS = {
  'no-shapes':
    'There is no filled outline in it. Convert lettering and lines to paths in the drawing program first.',
  'bad-path': 'One of its outlines cannot be read. Save it anew as plain SVG.',
  'too-long': 'Its outlines are too long. Simplify the drawing.',
  tangled:
    'Its lines cross each other thousands of times. Join the shapes to one outline (union) in your drawing program.',
  'too-many-corners': 'Its outlines have too many corners. Simplify the drawing.',
  'too-many-colours': 'It has more than 8 colours. A tag wants few: reduce them first.',
} as const;

function collect(
  node: SvgNode,
  from: Inherited,
  byId: ReadonlyMap<string, SvgNode>,
  forms: DrawnForm[],
  depth: number,
): void {
  if (depth > MOST_DEPTH || forms.length >= MOST_FORMS) return;
  const kind = kindOf(node);
  const attributes = attributesOf(node);
  const style = styleOf(attributes);
  if (style.display === 'none' || style.visibility === 'hidden') return;
  const own: Inherited = {
    fill: style.fill ?? from.fill,
    rule: (style['fill-rule'] ?? from.rule) === 'evenodd' ? 'evenodd' : 'nonzero',
    transform: joined(from.transform, attributes.transform),
  };
  if (['defs', 'clipPath', 'mask', 'pattern', 'marker', 'symbol'].includes(kind)) return;
  if (['svg', 'g', 'a', 'switch'].includes(kind)) {
    for (const child of childrenOf(node)) collect(child, own, byId, forms, depth + 1);
    return;
  }
  if (kind === 'use') {
    const target = (attributes.href ?? attributes['xlink:href'] ?? '').trim();
    const other = target.startsWith('#') ? byId.get(target.slice(1)) : undefined;
    if (!other) return;
    const shift = `translate(${number(attributes.x)} ${number(attributes.y)})`;
    const moved = { ...own, transform: joined(own.transform, shift) };
    if (kindOf(other) === 'symbol')
      for (const child of childrenOf(other)) collect(child, moved, byId, forms, depth + 1);
    else collect(other, moved, byId, forms, depth + 1);
    return;
  }
  const path = pathOf(kind, attributes);
  if (path === undefined || own.fill === 'none') return;
  forms.push({
    path,
    fill: own.rule,
    colour: colourOf(own.fill),
    transform: own.transform,
  });
}

const joined = (outer: string, inner: string | undefined): string =>
  `${outer} ${inner ?? ''}`.trim();

const number = (text: string | undefined): number => {
  const value = Number.parseFloat(text ?? '');
  return Number.isFinite(value) ? value : 0;
};

/** Presentation attributes, and what `style` says over them (SVG 1.1, 6.4). */
function styleOf(
  attributes: Readonly<Record<string, string>>,
): Readonly<Record<string, string | undefined>> {
  const style: Record<string, string | undefined> = {};
  for (const key of ['fill', 'fill-rule', 'display', 'visibility'])
    if (attributes[key] !== undefined) style[key] = attributes[key].trim();
  for (const part of (attributes.style ?? '').split(';')) {
    const [key = '', value] = part.split(':');
    if (value !== undefined) style[key.trim()] = value.trim();
  }
  return style;
}

/** Basic shapes as the paths that stand for them (SVG 1.1, chapter 9). */
function pathOf(kind: string, attributes: Readonly<Record<string, string>>): string | undefined {
  const at = (name: string): number => number(attributes[name]);
  const ellipse = (x: number, y: number, rx: number, ry: number): string | undefined =>
    rx > 0 && ry > 0
      ? `M${x - rx} ${y}A${rx} ${ry} 0 1 0 ${x + rx} ${y}A${rx} ${ry} 0 1 0 ${x - rx} ${y}Z`
      : undefined;
  switch (kind) {
    case 'path':
      return attributes.d;
    case 'circle':
      return ellipse(at('cx'), at('cy'), at('r'), at('r'));
    case 'ellipse':
      return ellipse(at('cx'), at('cy'), at('rx'), at('ry'));
    case 'polygon':
    case 'polyline': {
      const points = (attributes.points ?? '').trim();
      return points === '' ? undefined : `M${points}Z`;
    }
    case 'rect': {
      const [x, y, w, h] = [at('x'), at('y'), at('width'), at('height')];
      if (!(w > 0 && h > 0)) return undefined;
      const rx = Math.min(w / 2, attributes.rx === undefined ? at('ry') : at('rx'));
      const ry = Math.min(h / 2, attributes.ry === undefined ? at('rx') : at('ry'));
      if (!(rx > 0 && ry > 0)) return `M${x} ${y}h${w}v${h}h${-w}Z`;
      const arc = (dx: number, dy: number): string => `a${rx} ${ry} 0 0 1 ${dx} ${dy}`;
      return `M${x + rx} ${y}h${w - 2 * rx}${arc(rx, ry)}v${h - 2 * ry}${arc(-rx, ry)}h${2 * rx - w}${arc(-rx, -ry)}v${2 * ry - h}${arc(rx, -ry)}Z`;
    }
    default:
      return undefined;
  }
}

const NAMED: Readonly<Record<string, string>> = {
  black: '#000000',
  white: '#ffffff',
  red: '#ff0000',
  green: '#008000',
  blue: '#0000ff',
  yellow: '#ffff00',
  orange: '#ffa500',
  gray: '#808080',
  grey: '#808080',
};

/** A colour as `#rrggbb`; null where it is none of a few plain ways to say it. */
function colourOf(fill: string): string | null {
  const text = fill.toLowerCase();
  if (/^#[0-9a-f]{6}$/.test(text)) return text;
  const short = /^#([0-9a-f])([0-9a-f])([0-9a-f])$/.exec(text);
  if (short)
    return `#${short
      .slice(1)
      .map((sign) => sign + sign)
      .join('')}`;
  const parts = /^rgb\(\s*(\d+)[\s,]+(\d+)[\s,]+(\d+)\s*\)$/.exec(text);
  if (parts)
    return `#${parts
      .slice(1)
      .map((part) => Math.min(255, Number(part)).toString(16).padStart(2, '0'))
      .join('')}`;
  return NAMED[text] ?? null;
}
