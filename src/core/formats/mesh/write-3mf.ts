import type { BytePieces, PieceWriter } from '../../base/byte-pieces.ts';
import { noCheckpoint, partOf, type Checkpoint } from '../../base/checkpoint.ts';
import type { Mesh } from '../../relief/terrace-mesh.ts';
import type { NamedSolid } from './band-solids.ts';
import { zipPieces } from './zip-pieces.ts';

/** Numbers of the two property resources; objects are numbered from the next one on. */
const MATERIALS_ID = 1;
const COLOURS_ID = 2;
const FIRST_OBJECT_ID = 3;

const CONTENT_TYPES = `<?xml version="1.0" encoding="UTF-8"?>
<Types xmlns="http://schemas.openxmlformats.org/package/2006/content-types"><Default Extension="rels" ContentType="application/vnd.openxmlformats-package.relationships+xml"/><Default Extension="model" ContentType="application/vnd.ms-package.3dmanufacturing-3dmodel+xml"/></Types>`;

const RELATIONSHIPS = `<?xml version="1.0" encoding="UTF-8"?>
<Relationships xmlns="http://schemas.openxmlformats.org/package/2006/relationships"><Relationship Target="/3D/3dmodel.model" Id="rel0" Type="http://schemas.microsoft.com/3dmanufacturing/2013/01/3dmodel"/></Relationships>`;

function escapeXml(text: string): string {
  const clean = text.replace(/[^\t\n\r\x20-\ud7ff\ue000-\ufffd]/g, '');
  return clean.replace(/[<>&"']/g, (sign) => `&#${sign.charCodeAt(0)};`);
}

/** Shortest text that reads back as the same 32-bit number is not needed: seven digits separate any two on a bed. */
function number(value: number): string {
  return String(Math.round(value * 1e5) / 1e5);
}

/** Corners or triangles between two looks at whether anybody still wants the file. */
const STRIDE = 30_000;

function writeMesh(
  { positions: p, triangles: t }: Mesh,
  out: PieceWriter,
  checkpoint: Checkpoint,
): void {
  const steps = p.length + t.length;
  out.text('<mesh><vertices>');
  for (let i = 0; i < p.length; i += 3) {
    if (i % STRIDE === 0) checkpoint(i / steps);
    out.text(
      `<vertex x="${number(p[i] as number)}" y="${number(p[i + 1] as number)}" z="${number(p[i + 2] as number)}"/>`,
    );
  }
  out.text('</vertices><triangles>');
  for (let i = 0; i < t.length; i += 3) {
    if (i % STRIDE === 0) checkpoint((p.length + i) / steps);
    out.text(`<triangle v1="${t[i]}" v2="${t[i + 1]}" v3="${t[i + 2]}"/>`);
  }
  out.text('</triangles></mesh>');
}

/**
 * A 3MF package with one coloured, named object for each solid, stacked where it belongs.
 * Source: 3MF Core Specification 1.2 (base materials, build items with a transform), packaged as OPC, and 3MF Materials and
 * Properties Extension 1.1 (colour groups). Each object has its band's colour; the names of the filaments are the materials.
 * Solids without triangles are left out, since the format does not allow empty meshes.
 * @param metadata names as in the specification (Title, Description ...) or with a namespace prefix of their own
 */
export function write3mf(
  solids: readonly NamedSolid[],
  metadata: Readonly<Record<string, string>>,
  checkpoint: Checkpoint = noCheckpoint,
): BytePieces {
  const used = solids.filter(({ mesh }) => mesh.triangles.length > 0);
  const model = (out: PieceWriter): void => {
    out.text(
      '<?xml version="1.0" encoding="UTF-8"?>\n<model unit="millimeter" xml:lang="en" xmlns="http://schemas.microsoft.com/3dmanufacturing/core/2015/02" xmlns:m="http://schemas.microsoft.com/3dmanufacturing/material/2015/02">',
    );
    for (const [name, value] of Object.entries(metadata))
      out.text(`<metadata name="${escapeXml(name)}">${escapeXml(value)}</metadata>`);
    out.text(`<resources><basematerials id="${MATERIALS_ID}">`);
    for (const { name, colour } of used)
      out.text(`<base name="${escapeXml(name)}" displaycolor="${colour.toUpperCase()}"/>`);
    out.text(`</basematerials><m:colorgroup id="${COLOURS_ID}">`);
    for (const { colour } of used) out.text(`<m:color color="${colour.toUpperCase()}FF"/>`);
    out.text('</m:colorgroup>');
    used.forEach(({ name, mesh }, i) => {
      out.text(
        `<object id="${i + FIRST_OBJECT_ID}" type="model" name="${escapeXml(name)}" pid="${COLOURS_ID}" pindex="${i}">`,
      );
      writeMesh(mesh, out, partOf(checkpoint, i / used.length, (i + 1) / used.length));
      out.text('</object>');
    });
    out.text('</resources><build>');
    used.forEach(({ liftMm }, i) => {
      out.text(
        `<item objectid="${i + FIRST_OBJECT_ID}" transform="1 0 0 0 1 0 0 0 1 0 0 ${number(liftMm)}"/>`,
      );
    });
    out.text('</build></model>');
  };
  return zipPieces([
    {
      name: '[Content_Types].xml',
      write: (out) => {
        out.text(CONTENT_TYPES);
      },
    },
    {
      name: '_rels/.rels',
      write: (out) => {
        out.text(RELATIONSHIPS);
      },
    },
    { name: '3D/3dmodel.model', write: model },
  ]);
}
