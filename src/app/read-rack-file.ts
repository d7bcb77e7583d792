import { readRackTable } from '#core/formats/rack/rack-csv.ts';
import { readRackJson } from '#core/formats/rack/rack-json.ts';
import type { IncomingRack } from '../features/rack/ImportDialog.tsx';
import {
  decodeText,
  describeTextFault,
  MOST_TEXT_BYTES,
  type TextEncoding,
} from '../platform/decode-text.ts';
import { describeRackFault, describeRackJsonFault } from '../platform/fault-words.ts';

const ENCODING_NOTES: Readonly<Record<TextEncoding, string>> = {
  'utf-8': '',
  'utf-16le': 'The file is UTF-16 text; it was read as such.',
  'utf-16be': 'The file is UTF-16 text; it was read as such.',
  'windows-1252':
    'The file is not UTF-8; it was read as Windows-1252. Check names with accents before taking them.',
};

/** Reads a rack file that the maker chose; a sentence tells why it cannot be read. */
export async function readRackFile(file: File): Promise<IncomingRack | string> {
  if (file.size > MOST_TEXT_BYTES)
    return `${file.name}: ${describeTextFault({ code: 'too-large', detail: `${Math.round(file.size / 1e6)} MB` })}`;
  let bytes: Uint8Array;
  try {
    bytes = new Uint8Array(await file.arrayBuffer());
  } catch {
    return `${file.name}: the file cannot be read any more. Was it moved? Choose it again.`;
  }
  const decoded = decodeText(bytes);
  if (!decoded.ok) return `${file.name}: ${describeTextFault(decoded.fault)}`;
  const { text, encoding } = decoded.value;
  const common = { fileName: file.name, note: ENCODING_NOTES[encoding] };
  if (/^\ufeff?\s*[[{]/.test(text)) {
    const rows = readRackJson(text);
    return rows.ok
      ? { kind: 'json', ...common, rows: rows.value }
      : `${file.name}: ${describeRackJsonFault(rows.fault)}`;
  }
  const table = readRackTable(text);
  return table.ok
    ? { kind: 'csv', ...common, table: table.value }
    : `${file.name}: ${describeRackFault(table.fault)}`;
}
