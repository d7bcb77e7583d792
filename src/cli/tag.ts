import { parseArgs } from 'node:util';
import { countEdges, countHeights, middlesOf, printedPart } from '#core/heights/height-map.ts';
import { exportFile, FACE_FORMATS, type ExportFormat } from '#core/formats/mesh/export-files.ts';
import { readTagJson, type ReadTag } from '#core/formats/project/tag-json.ts';
import { readNamesCsv } from '#core/formats/sheet/names-csv.ts';
import { swapSheetText } from '#core/formats/sheet/swap-sheet-text.ts';
import { printPlanOf, swapsJson } from '#core/formats/sheet/swaps-json.ts';
import { readRackCsv } from '#core/formats/rack/rack-csv.ts';
import type { Printer } from '#core/printer/printer.ts';
import { countInlays } from '#core/relief/count-inlays.ts';
import { isInLayer } from '#core/relief/inlaid.ts';
import { areaAt, areaWhere } from '#core/relief/smooth-outlines.ts';
import { makeOwnGcode } from '#core/slicing/own-gcode.ts';
import type { Filament } from '#core/stack/filament.ts';
import { layerThicknessMm, layerTopMm } from '#core/stack/layer-grid.ts';
import { bandEnds } from '#core/stack/stack.ts';
import { TagChecks, type TagProblem } from '#core/tags/check-tag.ts';
import { outlineRelief } from '#core/tags/outline-piece.ts';
import { fieldsOf, fillFields, NUMBER_FIELD } from '#core/tags/series.ts';
import type { Tag } from '#core/tags/tag.ts';
import { BadInput, required } from '../platform/bad-input.ts';
import { PNG_ENCODERS } from '../platform/encode-pictures.ts';
import { faceName, SHIPPED_FACES, takeFace } from '../platform/faces.ts';
import { describeRackFault } from '../platform/fault-words.ts';
import { loadShippedFaces } from '../platform/node/load-faces.ts';
import { describeOwnGcodeFault } from '../platform/slicing-words.ts';
import {
  describeFontFault,
  describeNamesFault,
  describeTagJsonFault,
} from '../platform/tag-words.ts';
import { exportRequest, printingOf, sheetOfDocument } from '../state/project-export.ts';
import { projectOfTag } from '../state/new-tag.ts';
import { readyForTags } from '../state/ready-for-tags.ts';
import { plannedTagOf } from '../state/tag-plan.ts';
import { Answer } from './answer.ts';
import { readInput, readPrinter, readText } from './input.ts';
import { writeFolder } from './write-relief.ts';

/** Problems of which nothing sound could be printed. */
const STOPPING: readonly string[] = ['clash', 'level', 'no-outline'];

interface Made {
  readonly answer: object;
  readonly stopped: boolean;
}

/** `tag T.json --rack R.csv --out DIR`: files and sheet of a tag, or of one for each row of a list of names. */
export async function runTag(args: string[]): Promise<object> {
  const { values, positionals } = parseArgs({
    args,
    allowPositionals: true,
    options: {
      rack: { type: 'string' },
      out: { type: 'string' },
      names: { type: 'string' },
      'all-formats': { type: 'boolean' },
      gcode: { type: 'boolean' },
      printer: { type: 'string' },
    },
  });
  const [path, ...more] = positionals;
  if (path === undefined || more.length > 0)
    throw new BadInput('tag takes one file: tag T.json --rack R.csv --out DIR');
  const out = required(values.out, 'out');
  const rackPath = required(values.rack, 'rack');
  const rack = readRackCsv(await readText(rackPath));
  if (!rack.ok) throw new BadInput(`${rackPath}: ${describeRackFault(rack.fault)}`);
  const read = readTagJson(await readText(path), (id) => rack.value.some((one) => one.id === id));
  if (!read.ok) throw new BadInput(`${path}: ${describeTagJsonFault(read.fault)}`);
  const tag = await withFaces(read.value.tag);
  const printer = values.printer === undefined ? undefined : await readPrinter(values.printer);
  const options = {
    formats: values['all-formats'] === true ? ALL : USUAL,
    gcode: values.gcode === true,
    printer,
  };
  const title = (path.split(/[\\/]/).at(-1) ?? path).replace(/\.json$/i, '');
  if (values.names === undefined) {
    const { answer, stopped } = await makeTag(
      { ...read.value, tag },
      title,
      rack.value,
      out,
      options,
    );
    return stopped ? new Answer(answer, 2) : answer;
  }
  const names = readNamesCsv(await readText(values.names));
  if (!names.ok) throw new BadInput(`${values.names}: ${describeNamesFault(names.fault)}`);
  const missing = fieldsOf(tag).find(
    (field) =>
      field !== NUMBER_FIELD &&
      !names.value.columns.some((name) => name.toLowerCase() === field.toLowerCase()),
  );
  if (missing !== undefined)
    throw new BadInput(
      `${values.names} has no column "${missing}", which the lettering asks for. It has ${names.value.columns.join(', ')}.`,
    );
  const digits = String(names.value.rows.length).length;
  const pieces: Made[] = [];
  for (const [i, row] of names.value.rows.entries()) {
    const own = { ...read.value, tag: fillFields(tag, row, i + 1, digits) };
    const [first = ''] = Object.values(row);
    const name = folderName(i + 1, digits, first);
    if (first.trim() === '')
      process.stderr.write(
        `${values.names}: row ${i + 2} has no ${names.value.columns[0] ?? 'name'}; its piece is in the folder ${name}.\n`,
      );
    pieces.push(
      await makeTag(own, `${title} ${i + 1}`, rack.value, `${out}/${name}`, options, name),
    );
  }
  const printed = { pieces: pieces.map(({ answer }) => answer) };
  return pieces.some(({ stopped }) => stopped) ? new Answer(printed, 2) : printed;
}

const USUAL: readonly ExportFormat[] = ['stl', '3mf'];
const ALL: readonly ExportFormat[] = ['stl', '3mf', 'glb', 'obj', 'layers', 'areas', 'print'];

/** A folder of a piece: its number, and what can stand in a file name of what it is for. */
function folderName(number: number, digits: number, of: string): string {
  const word = of
    .normalize('NFKD')
    // Marks are taken off their letters: an umlaut stays the vowel that it is of.
    .replace(/\p{M}+/gu, '')
    .replace(/[^\p{L}\p{N}]+/gu, '-')
    .replace(/^-+|-+$/g, '')
    .slice(0, 40);
  return `${String(number).padStart(digits, '0')}${word === '' ? '' : `-${word}`}`;
}

/** A tag whose lettering names faces by their ids: shipped ones by id or name, others by the path of a font file. */
async function withFaces(tag: Tag): Promise<Tag> {
  const lettered = tag.elements.some(({ kind }) => kind === 'text');
  await readyForTags(lettered ? loadShippedFaces : () => Promise.resolve());
  if (!lettered) return tag;
  const elements = [];
  for (const element of tag.elements) {
    if (element.kind !== 'text') {
      elements.push(element);
      continue;
    }
    elements.push({ ...element, face: await faceIdOf(element.face) });
  }
  return { ...tag, elements };
}

async function faceIdOf(wanted: string): Promise<string> {
  const plain = (text: string): string => text.toLowerCase().replace(/[^a-z0-9]/g, '');
  const shipped = SHIPPED_FACES.find((face) =>
    [
      face.id,
      faceName(face),
      `${face.name} ${face.fileWeight}`,
      `${face.name} ${face.weight}`,
    ].some((name) => plain(name) === plain(wanted)),
  );
  const byName = shipped ?? SHIPPED_FACES.find(({ name }) => plain(name) === plain(wanted));
  if (byName) return byName.id;
  if (!/\.(ttf|otf|woff2?)$/i.test(wanted))
    throw new BadInput(
      `There is no font "${wanted}". Give the path of a font file, or one of: ${SHIPPED_FACES.map(faceName).join('; ')}.`,
    );
  const taken = takeFace(wanted, [await readInput(wanted)]);
  if (!taken.ok) throw new BadInput(`${wanted}: ${describeFontFault(taken.fault)}`);
  return wanted;
}

const round = (value: number, digits = 4): number => Number(value.toFixed(digits));

/** Files and sheet of one tag. */
async function makeTag(
  { tag, grid, uneven }: ReadTag,
  title: string,
  rack: readonly Filament[],
  out: string,
  {
    formats,
    gcode,
    printer,
  }: {
    readonly formats: readonly ExportFormat[];
    readonly gcode: boolean;
    readonly printer: Printer | undefined;
  },
  piece?: string,
): Promise<Made> {
  const plain = projectOfTag(title, tag, grid, rack);
  const document = printer
    ? { ...plain, print: { ...plain.print, printer, lineMm: printer.lineMm } }
    : plain;
  const planned = plannedTagOf(document);
  if (!planned) throw new Error('a tag that is none');
  const problems: TagProblem[] = [
    ...uneven.map(({ element, mm, nearestMm }): TagProblem => ({
      code: 'level',
      element,
      mm,
      neededMm: round(nearestMm),
      at: null,
    })),
    ...new TagChecks().problems(tag, planned, {
      lineMm: document.print.lineMm,
      layerMm: grid.layerMm,
    }),
  ];
  const told = problems.map(({ code, element, mm, neededMm, detail }) => ({
    code,
    element,
    mm,
    ...(neededMm === null ? {} : { neededMm }),
    ...(detail === undefined ? {} : { detail }),
  }));
  const stopped = problems.some(({ code }) => STOPPING.includes(code));
  const named = piece === undefined ? {} : { piece };
  const { request, ...wanted } = exportRequest(document);
  if (stopped || !request.piece) return { answer: { ...named, problems: told }, stopped: true };
  const relief = outlineRelief(request.piece, request);
  const { heights, outlines, inlaid } = relief;
  const { columns = 0, rows = 0 } = printedPart(heights) ?? {};
  if (columns === 0)
    throw new BadInput(`${title}: nothing is left of the plate, so there is nothing to print.`);
  const sheet = sheetOfDocument(document, {
    counts: countHeights(heights),
    edges: countEdges(heights),
    extent: { columns, rows },
    middles: middlesOf(heights),
    inlays: inlaid ? countInlays(heights, inlaid) : null,
  });
  const { sampleMm, face } = request;
  const looked = face && {
    view: face,
    heights: outlineRelief(face.piece, request).heights,
  };
  const source = { ...wanted, heights, outlines, inlaid, sampleMm, looked };
  const own = inlaid ? [...formats, ...FACE_FORMATS] : formats;
  const files: Record<string, readonly Uint8Array[] | string> = Object.fromEntries(
    own.map((format) => {
      const { suffix, pieces } = exportFile(format, source, PNG_ENCODERS);
      return [suffix.replace(/^relief/, 'tag'), pieces];
    }),
  );
  files['swaps.json'] = swapsJson(sheet);
  files['swap-sheet.txt'] = swapSheetText(sheet);
  if (gcode) {
    const made = await makeOwnGcode({
      ...printingOf(document),
      ...source,
      plan: printPlanOf(sheet),
    });
    if (!made.ok) throw new BadInput(`${title}: ${describeOwnGcodeFault(made.fault)}`);
    files['print.gcode'] = made.value.pieces;
  }
  await writeFolder(out, files);
  const ends = bandEnds(planned.bands);
  const inlays = (inlaid?.filaments ?? []).map((filament, i) => ({
    filament,
    volumeMm3: inlaid
      ? areaWhere(inlaid.outlines, isInLayer(inlaid, 1, i + 1)) *
        sampleMm ** 2 *
        layerTopMm(grid, inlaid.layers)
      : 0,
  }));
  const inlaysMm3 = inlays.reduce((sum, { volumeMm3 }) => sum + volumeMm3, 0);
  return {
    stopped: false,
    answer: {
      ...named,
      stamp: wanted.stamp,
      layers: sheet.layers,
      thicknessMm: sheet.thicknessMm,
      widthMm: sheet.widthMm,
      heightMm: sheet.heightMm,
      swaps: sheet.swaps.length,
      bands: [
        ...planned.bands.map(({ filamentId }, i) => ({
          filament: filamentId,
          firstLayer: (ends[i - 1] ?? 0) + 1,
          lastLayer: ends[i],
          volumeMm3: round(bandVolumeMm3(i) - (i === 0 ? inlaysMm3 : 0), 6),
        })),
        ...inlays.map(({ filament, volumeMm3 }) => ({
          filament,
          firstLayer: 1,
          lastLayer: inlaid?.layers,
          volumeMm3: round(volumeMm3, 6),
        })),
      ],
      problems: told,
      files: Object.keys(files),
    },
  };

  function bandVolumeMm3(band: number): number {
    let volume = 0;
    for (let layer = (ends[band - 1] ?? 0) + 1; layer <= (ends[band] ?? 0); layer += 1)
      volume += areaAt(outlines, layer) * sampleMm ** 2 * layerThicknessMm(grid, layer);
    return volume;
  }
}
