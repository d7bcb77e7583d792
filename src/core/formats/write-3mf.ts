import { strToU8, zipSync } from 'fflate';
import type { Mesh } from '../relief/terrace-mesh.ts';
import type { NamedSolid } from './band-solids.ts';

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

function meshXml(mesh: Mesh): string {
  const parts: string[] = ['<mesh><vertices>'];
  const { positions: p, triangles: t } = mesh;
  for (let i = 0; i < p.length; i += 3)
    parts.push(
      `<vertex x="${number(p[i] as number)}" y="${number(p[i + 1] as number)}" z="${number(p[i + 2] as number)}"/>`,
    );
  parts.push('</vertices><triangles>');
  for (let i = 0; i < t.length; i += 3)
    parts.push(`<triangle v1="${t[i]}" v2="${t[i + 1]}" v3="${t[i + 2]}"/>`);
  parts.push('</triangles></mesh>');
  return parts.join('');
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
): Uint8Array<ArrayBuffer> {
  const used = solids.filter(({ mesh }) => mesh.triangles.length > 0);
  const parts = [
    '<?xml version="1.0" encoding="UTF-8"?>\n<model unit="millimeter" xml:lang="en" xmlns="http://schemas.microsoft.com/3dmanufacturing/core/2015/02" xmlns:m="http://schemas.microsoft.com/3dmanufacturing/material/2015/02">',
    ...Object.entries(metadata).map(
      ([name, value]) => `<metadata name="${escapeXml(name)}">${escapeXml(value)}</metadata>`,
    ),
    `<resources><basematerials id="${MATERIALS_ID}">`,
    ...used.map(
      ({ name, colour }) =>
        `<base name="${escapeXml(name)}" displaycolor="${colour.toUpperCase()}"/>`,
    ),
    `</basematerials><m:colorgroup id="${COLOURS_ID}">`,
    ...used.map(({ colour }) => `<m:color color="${colour.toUpperCase()}FF"/>`),
    '</m:colorgroup>',
    ...used.map(
      ({ name, mesh }, i) =>
        `<object id="${i + FIRST_OBJECT_ID}" type="model" name="${escapeXml(name)}" pid="${COLOURS_ID}" pindex="${i}">${meshXml(mesh)}</object>`,
    ),
    '</resources><build>',
    ...used.map(
      ({ liftMm }, i) =>
        `<item objectid="${i + FIRST_OBJECT_ID}" transform="1 0 0 0 1 0 0 0 1 0 0 ${number(liftMm)}"/>`,
    ),
    '</build></model>',
  ];
  return zipSync(
    {
      '[Content_Types].xml': strToU8(CONTENT_TYPES),
      '_rels/.rels': strToU8(RELATIONSHIPS),
      '3D/3dmodel.model': strToU8(parts.join('')),
    },
    { level: 6 },
  );
}
