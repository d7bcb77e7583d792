import type { ColourCells } from '#core/artwork/colour-cells.ts';
import { readZonesJson, type ZonesFile } from '#core/formats/project/zones-json.ts';
import { proposeZones } from '#core/zones/propose.ts';
import { LEAST_ZONES, MOST_ZONES, USUAL_SHARED, USUAL_ZONES } from '#core/zones/zone.ts';
import { BadInput, numberOption } from '../bad-input.ts';

/** What `--zones` said: a number of zones to be found by colour, or zones themselves. */
export type ZonesOption = { readonly count: number } | { readonly file: ZonesFile };

/**
 * Reads the option: a number, or the text of a zones file.
 * @param text undefined where it was not given
 * @param name of the file, for messages
 * @throws BadInput with what is wrong, and where
 */
export function readZonesOption(text: string | undefined, name = 'zones'): ZonesOption {
  if (text === undefined) return { count: USUAL_ZONES };
  if (!text.trimStart().startsWith('{'))
    return { count: Math.round(numberOption(text, 'zones', USUAL_ZONES, LEAST_ZONES, MOST_ZONES)) };
  const read = readZonesJson(text);
  if (!read.ok)
    throw new BadInput(
      read.fault.code === 'not-json'
        ? `${name} is no JSON (${read.fault.detail ?? ''}). Write {"zones": [{"colours": ["#rrggbb"]}]}.`
        : `${name}: ${read.fault.where ?? 'zones'}: ${read.fault.detail ?? ''}. Write {"zones": [{"colours": ["#rrggbb"]}]}, the lowest first.`,
    );
  return { file: read.value };
}

/** The zones of an option for a picture; those found by colour may stand in any order. */
export function zonesOf(
  option: ZonesOption,
  cells: ColourCells,
): ZonesFile & { readonly anyOrder: boolean } {
  if ('file' in option) return { ...option.file, anyOrder: false };
  return {
    zones: proposeZones(cells, option.count).map((zone) => ({
      ...zone,
      reversed: false,
      span: null,
    })),
    shared: USUAL_SHARED,
    lean: undefined,
    softMm: 0,
    anyOrder: true,
  };
}
