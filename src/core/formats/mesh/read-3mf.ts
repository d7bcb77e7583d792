import { XMLParser } from 'fast-xml-parser';
import { SyntaxValidator } from 'fast-xml-validator';
import { strFromU8, unzipSync } from 'fflate';
import { fail, succeed, type Fault, type Result } from '../../base/result.ts';
import type { Mesh } from '../../relief/terrace-mesh.ts';

/** What can be wrong with a 3MF file before its meshes are looked at. */
export type ThreeMfFault = Fault<
  | 'not-a-zip'
  | 'part-missing'
  | 'not-xml'
  | 'doctype'
  | 'not-a-model'
  | 'unknown-unit'
  | 'unknown-extension'
  | 'bad-number'
  | 'bad-index'
  | 'bad-colour'
  | 'unknown-id'
  | 'duplicate-id'
  | 'nothing-to-build'
>;

const CORE = 'http://schemas.microsoft.com/3dmanufacturing/core/2015/02';
const MODEL_RELATION = 'http://schemas.microsoft.com/3dmanufacturing/2013/01/3dmodel';

/** Extensions that are understood: materials alone. */
const KNOWN_EXTENSIONS = ['http://schemas.microsoft.com/3dmanufacturing/material/2015/02'];

const UNITS = ['micron', 'millimeter', 'centimeter', 'inch', 'foot', 'meter'];

/** Real numbers as the schema has them: a decimal point, no words. */
const NUMBER = /^[+-]?(\d+\.?\d*|\.\d+)([eE][+-]?\d+)?$/;
const INDEX = /^\d+$/;
const COLOUR = /^#([0-9A-Fa-f]{6}|[0-9A-Fa-f]{8})$/;

/** An element as the parser gives it: attributes begin with `@`. */
type Element = Readonly<Record<string, unknown>>;

/** Thrown within this file alone: a fault that ends the reading. */
class Stop extends Error {
  constructor(readonly fault: ThreeMfFault) {
    super(fault.code);
  }
}

function stop(code: ThreeMfFault['code'], where?: string, detail?: string): never {
  const { fault } = fail(code, where, detail);
  throw new Stop(fault);
}

/**
 * Reads the meshes of a 3MF file, in mm but where the file says otherwise, and looks over what the format asks for: parts,
 * relationship, namespaces, units, numbers, indices, references. Source: 3MF Consortium, "3D Manufacturing Format, Core
 * Specification & Reference Guide", version 1.3.0, chapters 2 to 5.
 */
export function read3mf(bytes: Uint8Array): Result<Mesh[], ThreeMfFault> {
  try {
    return succeed(readModel(modelOf(bytes)));
  } catch (error) {
    if (error instanceof Stop) return { ok: false, fault: error.fault };
    throw error;
  }
}

/** Attributes begin with `@`; names keep their prefixes. */
const PARSER = new XMLParser({
  ignoreAttributes: false,
  attributeNamePrefix: '@',
  parseAttributeValue: false,
  parseTagValue: false,
  processEntities: false,
});

function parseXml(bytes: Uint8Array | undefined, part: string): Element {
  if (!bytes) return stop('part-missing', part);
  const text = strFromU8(bytes).replace(/^\ufeff/, '');
  // Entities of one's own can grow without end; the format forbids them.
  if (/<!DOCTYPE/i.test(text)) return stop('doctype', part);
  try {
    SyntaxValidator.validate(text);
  } catch (error) {
    return stop('not-xml', part, error instanceof Error ? error.message : String(error));
  }
  return PARSER.parse(text) as Element;
}

/** The model part that the package's relationship names. */
function modelOf(bytes: Uint8Array): Element {
  let parts: Record<string, Uint8Array>;
  try {
    parts = unzipSync(bytes);
  } catch {
    return stop('not-a-zip');
  }
  parseXml(parts['[Content_Types].xml'], '[Content_Types].xml');
  const rels = parseXml(parts['_rels/.rels'], '_rels/.rels');
  const relation = list(child(rels, 'Relationships'), 'Relationship').find(
    (one) => one['@Type'] === MODEL_RELATION,
  );
  const target = text(relation?.['@Target']).replace(/^\//, '');
  const file = parseXml(parts[target], target || '_rels/.rels');
  const model = child(file, 'model');
  if (model?.['@xmlns'] !== CORE) return stop('not-a-model', target);
  return model;
}

function readModel(model: Element): Mesh[] {
  const unit = text(model['@unit'] ?? 'millimeter');
  if (!UNITS.includes(unit)) stop('unknown-unit', undefined, unit);
  for (const prefix of text(model['@requiredextensions']).split(/\s+/).filter(Boolean)) {
    const name = text(model[`@xmlns:${prefix}`]);
    if (!KNOWN_EXTENSIONS.includes(name)) stop('unknown-extension', undefined, prefix);
  }
  const resources = child(model, 'resources') ?? {};
  const ids = new Set<string>();
  for (const [name, value] of Object.entries(resources)) {
    if (name.startsWith('@')) continue;
    for (const one of asList(value)) {
      const id = text(one['@id']);
      if (ids.has(id)) stop('duplicate-id', `${name} ${id}`);
      ids.add(id);
    }
  }
  for (const base of list(resources, 'basematerials').flatMap((group) => list(group, 'base')))
    if (!COLOUR.test(text(base['@displaycolor'])))
      stop('bad-colour', 'base', text(base['@displaycolor']));
  const objects = list(resources, 'object');
  const meshes = objects.flatMap((object) => {
    const where = `object ${text(object['@id'])}`;
    refer(object['@pid'], ids, where);
    for (const part of list(child(object, 'components'), 'component'))
      refer(part['@objectid'], ids, where);
    const mesh = child(object, 'mesh');
    return mesh ? [readMesh(mesh, ids, where)] : [];
  });
  const items = list(child(model, 'build'), 'item');
  if (items.length === 0) stop('nothing-to-build');
  const own = new Set(objects.map((object) => text(object['@id'])));
  for (const item of items) refer(item['@objectid'], own, 'build');
  return meshes;
}

function readMesh(mesh: Element, ids: ReadonlySet<string>, where: string): Mesh {
  const vertices = list(child(mesh, 'vertices'), 'vertex');
  const positions = vertices.flatMap((vertex, n) =>
    ['@x', '@y', '@z'].map((axis) => {
      const value = text(vertex[axis]);
      if (!NUMBER.test(value)) stop('bad-number', `${where}, vertex ${n}`, value);
      return Number(value);
    }),
  );
  const triangles = list(child(mesh, 'triangles'), 'triangle').flatMap((triangle, n) => {
    refer(triangle['@pid'], ids, `${where}, triangle ${n}`);
    const corners = ['@v1', '@v2', '@v3'].map((key) => {
      const value = text(triangle[key]);
      if (!INDEX.test(value) || Number(value) >= vertices.length)
        stop('bad-index', `${where}, triangle ${n}`, value);
      return Number(value);
    });
    if (new Set(corners).size < 3) stop('bad-index', `${where}, triangle ${n}`, corners.join(' '));
    return corners;
  });
  return { positions: Float32Array.from(positions), triangles: Uint32Array.from(triangles) };
}

function refer(id: unknown, known: ReadonlySet<string>, where: string): void {
  if (id !== undefined && !known.has(text(id))) stop('unknown-id', where, text(id));
}

function text(value: unknown): string {
  return typeof value === 'string' ? value : '';
}

function asList(value: unknown): Element[] {
  return (Array.isArray(value) ? value : [value]).filter(
    (one): one is Element => typeof one === 'object' && one !== null,
  );
}

/** All children of a name; none where there is no such element. */
function list(element: Element | undefined, name: string): Element[] {
  return asList(element?.[name]);
}

function child(element: Element | undefined, name: string): Element | undefined {
  return list(element, name)[0];
}
