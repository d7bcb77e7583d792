import { XMLParser } from 'fast-xml-parser';
import { fail, succeed, type Result } from '#core/base/result.ts';
import type { PictureFault } from './check-picture.ts';

/** A drawing that may be drawn: its text, and its own size in its own units. */
export interface SvgDrawing {
  readonly text: string;
  /** Its root element, and all that have an id. */
  readonly root: SvgNode;
  readonly byId: ReadonlyMap<string, SvgNode>;
  readonly width: number;
  readonly height: number;
}

/** Longest file, elements, and elements after every reference is followed: a short file may stand for billions. */
const MOST_BYTES = 10_000_000;
const MOST_ELEMENTS = 100_000;
const MOST_DRAWN = 300_000;
/** Widest proportions. */
const MOST_RATIO = 50;

/** An element as the parser gives it: its name with its children, and its attributes. */
export type SvgNode = Readonly<Record<string, unknown>>;
type Node = SvgNode;
const ATTRIBUTES = ':@';

/** What an element is, without its namespace. */
export function kindOf(node: SvgNode): string {
  return local(nameOf(node));
}

function nameOf(node: Node): string {
  return Object.keys(node).find((key) => key !== ATTRIBUTES) ?? '';
}

/** Attributes of an element. */
export function attributesOf(node: Node): Readonly<Record<string, string>> {
  return (node[ATTRIBUTES] ?? {}) as Readonly<Record<string, string>>;
}

/** What lies in an element. */
export function childrenOf(node: Node): readonly Node[] {
  const children = node[nameOf(node)];
  return Array.isArray(children) ? (children as Node[]) : [];
}

const local = (name: string): string => name.replace(/^.*:/, '');

/**
 * Looks at an SVG before it is drawn. What is drawn runs no script and loads nothing from outside; here is refused what would
 * never end, or would make the drawing unreadable: entities, foreign objects, references that multiply.
 */
export function checkSvg(bytes: Uint8Array): Result<SvgDrawing, PictureFault> {
  if (bytes.length > MOST_BYTES) return fail('svg-unsafe', undefined, 'more than 10 MB of text');
  const text = new TextDecoder().decode(bytes);
  if (/<!ENTITY/i.test(text)) return fail('svg-unsafe', undefined, 'entities of its own');
  let roots: readonly Node[];
  try {
    const parser = new XMLParser({
      preserveOrder: true,
      ignoreAttributes: false,
      attributeNamePrefix: '',
      processEntities: false,
    });
    roots = parser.parse(text) as Node[];
  } catch {
    return fail('undecodable');
  }
  const root = roots.find((node) => local(nameOf(node)) === 'svg');
  if (!root) return fail('undecodable');
  const all: Node[] = [root];
  const byId = new Map<string, Node>();
  for (const node of all) {
    if (local(nameOf(node)) === 'foreignObject')
      return fail('svg-unsafe', undefined, 'foreign objects (parts of another kind)');
    const { id } = attributesOf(node);
    if (id !== undefined) byId.set(id, node);
    for (const child of childrenOf(node)) all.push(child);
    if (all.length > MOST_ELEMENTS)
      return fail('svg-unsafe', undefined, `more than ${MOST_ELEMENTS} elements`);
  }
  if (drawnElements(root, byId, new Map(), 0) > MOST_DRAWN)
    return fail('svg-unsafe', undefined, 'references that multiply without end');
  const size = sizeOf(attributesOf(root));
  if (!size) return fail('svg-no-size');
  const ratio = size.width / size.height;
  if (ratio > MOST_RATIO || ratio < 1 / MOST_RATIO)
    return fail('too-many-pixels', undefined, `${size.width} x ${size.height}`);
  return succeed({ text, root, byId, ...size });
}

/** What may stand before the root, and the root's own tag, whose attributes are quoted. */
const ROOT_TAG =
  /^(?<before>\uFEFF?(?:\s|<\?[^>]*>|<!--[\s\S]*?-->|<![^>]*>)*)<(?<name>(?:[\w.-]+:)?svg)(?<attributes>(?:\s+[\w:.-]+\s*=\s*(?:"[^"]*"|'[^']*'))*)\s*(?<end>\/?>)/;

/**
 * The text of a drawing that is to be drawn in other pixels: the size of its root changed, as the page does it in its document. What
 * a drawing says of its own size may be beyond all that can be drawn. As it is where its root is written in a way of its own.
 */
export function svgInPixels(
  { text, width, height }: Pick<SvgDrawing, 'text' | 'width' | 'height'>,
  size: { readonly width: number; readonly height: number },
): string {
  return text.replace(ROOT_TAG, (_tag: string, ...groups: unknown[]) => {
    const { before, name, attributes, end } = groups.at(-1) as Record<string, string>;
    const kept = (attributes ?? '').replace(/\s(?:width|height)\s*=\s*(?:"[^"]*"|'[^']*')/g, ' ');
    const view = /\sviewBox\s*=/.test(kept) ? '' : ` viewBox="0 0 ${width} ${height}"`;
    return `${before}<${name}${kept} width="${size.width}" height="${size.height}"${view}${end}`;
  });
}

/** Elements that are drawn for a node, with every reference followed; more than the limit where it leads to itself. */
function drawnElements(
  node: Node,
  byId: ReadonlyMap<string, Node>,
  known: Map<Node, number>,
  depth: number,
): number {
  const before = known.get(node);
  if (before !== undefined) return before;
  // Until it is counted, a way back to it is endless.
  known.set(node, MOST_DRAWN + 1);
  let count = 1;
  if (depth > 500) count = MOST_DRAWN + 1;
  const attributes = attributesOf(node);
  const target = (attributes.href ?? attributes['xlink:href'] ?? '').trim();
  if (local(nameOf(node)) === 'use' && target.startsWith('#')) {
    const other = byId.get(target.slice(1));
    if (other) count += drawnElements(other, byId, known, depth + 1);
  }
  for (const child of childrenOf(node)) {
    if (count > MOST_DRAWN) break;
    count += drawnElements(child, byId, known, depth + 1);
  }
  known.set(node, count);
  return count;
}

/** Width and height by the attributes of the root, or by its viewBox; percentages say nothing of proportions. */
function sizeOf(
  attributes: Readonly<Record<string, string>>,
): { readonly width: number; readonly height: number } | undefined {
  const length = (text: string | undefined): number =>
    text === undefined || text.trim().endsWith('%') ? Number.NaN : Number.parseFloat(text);
  const [width, height] = [length(attributes.width), length(attributes.height)];
  if (width > 0 && height > 0 && Number.isFinite(width * height)) return { width, height };
  const [, , w = Number.NaN, h = Number.NaN] = (attributes.viewBox ?? '')
    .trim()
    .split(/[\s,]+/)
    .map(Number);
  return w > 0 && h > 0 && Number.isFinite(w * h) ? { width: w, height: h } : undefined;
}
