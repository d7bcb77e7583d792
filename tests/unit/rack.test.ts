import { readFileSync } from 'node:fs';
import { expect } from 'chai';
import {
  guessColumns,
  missingColumns,
  readRackCsv,
  readRackRows,
  readRackTable,
  writeRackCsv,
} from '#core/formats/rack/rack-csv.ts';
import { applyImport, planImport } from '#core/formats/rack/rack-import.ts';
import { readRackJson, writeRackJson } from '#core/formats/rack/rack-json.ts';
import { ciede2000 } from '#core/colour/ciede2000.ts';
import { labOfBytes, linearOfLab } from '#core/colour/lab.ts';
import { bytesOfLinear, linearOfBytes } from '#core/colour/srgb.ts';
import { colourBeforeLamp, lampPalette } from '#core/heights/lamp.ts';
import { packColour } from '#core/heights/height-map.ts';
import { transmissionIn } from '#core/optics/filament-optics.ts';
import { hueOf, opticsOf, tuneFilament, type Filament } from '#core/stack/filament.ts';
import { coversIn, swatchesOver } from '#core/stack/swatch-card.ts';
import { rampOfStack } from '#core/stack/stack-ramp.ts';
import { decodeText, MOST_TEXT_BYTES } from '../../src/platform/decode-text.ts';
import { newProject } from '../../src/state/new-project.ts';
import { changedInRack } from '../../src/state/document-facts.ts';
import {
  copyOf,
  createRackStore,
  freeId,
  groundsOf,
  planningFilaments,
  readStoredRack,
  type Rack,
} from '../../src/state/rack-store.ts';
import { FILAMENTS, stackOf } from '../helpers/stacks.ts';
import { DEMO_RACK, demoFilament } from '../helpers/wedges.ts';

function tableOf(text: string) {
  const table = readRackTable(text);
  if (!table.ok) throw new Error(table.fault.code);
  return table.value;
}

describe('rack table', () => {
  it('splits the examples of RFC 4180, section 2', () => {
    const of = (text: string) => {
      const { header, rows } = tableOf(text);
      return [header, ...rows];
    };
    // Rules 1 and 2: CRLF between records, and none needed after the last.
    expect(of('aaa,bbb,ccc\r\nzzz,yyy,xxx\r\n')).to.deep.equal([
      ['aaa', 'bbb', 'ccc'],
      ['zzz', 'yyy', 'xxx'],
    ]);
    expect(of('aaa,bbb,ccc\r\nzzz,yyy,xxx')).to.have.length(2);
    // Rule 5: quoted and plain fields side by side.
    expect(of('a,b,c\r\n"aaa","bbb","ccc"\r\nzzz,yyy,xxx')[1]).to.deep.equal(['aaa', 'bbb', 'ccc']);
    // Rule 6: line breaks, quotes and commas inside quotes.
    expect(of('a,b,c\r\n"aaa","b\r\nbb","ccc"')[1]).to.deep.equal(['aaa', 'b\r\nbb', 'ccc']);
    expect(of('a,b,c\r\n"a,a",b,c')[1]).to.deep.equal(['a,a', 'b', 'c']);
    // Rule 7: a doubled quote is a quote.
    expect(of('a,b,c\r\n"aaa","b""bb","ccc"')[1]).to.deep.equal(['aaa', 'b"bb', 'ccc']);
  });

  it('takes semicolons, tabs and bare line feeds, and counts lines through cells that break', () => {
    expect(tableOf('id;name\na;x\nb;y').rows).to.deep.equal([
      ['a', 'x'],
      ['b', 'y'],
    ]);
    expect(tableOf('id\tname\na\tx').rows).to.deep.equal([['a', 'x']]);
    expect(tableOf('id,name\n\na,"two\nlines"\nb,y').lines).to.deep.equal([3, 5]);
  });

  it('knows columns by other common names, and which are missing', () => {
    const map = guessColumns(['Key', 'Vendor', 'name', 'HEX', 'Transmission', 'whatever']);
    expect(map).to.deep.equal({ id: 0, maker: 1, name: 2, colour: 3, transmission_mm: 4 });
    expect(missingColumns(map)).to.deep.equal([]);
    expect(missingColumns(guessColumns(['name']))).to.deep.equal([
      'id',
      'colour',
      'transmission_mm',
    ]);
  });

  it('a wrong row does not spoil the good ones', () => {
    const table = tableOf(
      'id,name,colour,transmission_mm\n' +
        'a,A,#112233,1\nb,B,#112233,"0,8"\nc,C,puce,1\na,A2,#112233,1\nd,,#112233,1\ne,E,#445566,-2\nf,F,#445566,1e9\ng,G,#445566,3',
    );
    const rows = readRackRows(table, guessColumns(table.header));
    expect(rows.map((row) => (row.ok ? row.value.id : row.fault.code))).to.deep.equal([
      'a',
      'bad-transmission',
      'bad-colour',
      'duplicate-id',
      'missing-value',
      'bad-transmission',
      'bad-transmission',
      'g',
    ]);
    expect(rows[2]).to.deep.include({
      fault: { code: 'bad-colour', where: 'row 4', detail: 'puce' },
    });
  });

  it('refuses an unclosed quote, nothing, and more filaments than anybody has', () => {
    expect(readRackTable('a,b\n"x,y')).to.have.nested.property('fault.code', 'bad-quotes');
    for (const nothing of ['', '\n\n', 'id,name'])
      expect(readRackTable(nothing)).to.have.nested.property('fault.code', 'no-rows');
    const many = `id\n${'x\n'.repeat(20_001)}`;
    expect(readRackTable(many)).to.have.nested.property('fault.code', 'too-many-rows');
  });
});

describe('import', () => {
  const rack = [demoFilament('rust'), demoFilament('soot')];
  const [rust] = rack as [Filament, Filament];

  it('tells new, changed, same and wrong rows apart, with what changes', () => {
    const text = writeRackCsv([
      { ...rust, transmissionMm: 2.5, note: 'again' },
      demoFilament('soot'),
      demoFilament('fern'),
    ]);
    const table = tableOf(`${text}broken,x,y,PLA,red,1,hiding,1.24,1.75,yes,\r\n`);
    const rows = planImport(rack, readRackRows(table, guessColumns(table.header)), false);
    expect(rows.map(({ kind }) => kind)).to.deep.equal(['changed', 'same', 'new', 'wrong']);
    expect(rows[0]).to.have.deep.property('differences', [
      { field: 'transmission', from: '1.6 mm hiding', to: '2.5 mm hiding' },
      { field: 'note', from: '', to: 'again' },
    ]);
    const after = applyImport(rack, rows);
    expect(after.map(({ id }) => id)).to.deep.equal(['rust', 'soot', 'fern']);
    expect(after[0]).to.include({ transmissionMm: 2.5, note: 'again' });
  });

  it('a CSV takes no measurement away, but another value in it counts', () => {
    const measured: Filament = {
      ...rust,
      found: 'photo',
      uncertainty: 0.02,
      reading: {
        kind: 'eye',
        date: '2026-05-17',
        basis: { kind: 'hiding' },
        metMm: 2,
        notMetMm: 1,
      },
    };
    const readBack = (filament: Filament) => {
      const result = readRackCsv(writeRackCsv([filament]));
      if (!result.ok) throw new Error(result.fault.code);
      return planImport(
        [measured],
        result.value.map((value) => ({ ok: true, value })),
        false,
      )[0];
    };
    expect(readBack({ ...measured, note: 'new note' })).to.deep.include({
      kind: 'changed',
      filament: { ...measured, note: 'new note' },
    });
    expect(readBack({ ...measured, transmissionMm: 9 })).to.have.nested.property(
      'filament.found',
      'label',
    );
  });

  it('the demo rack is the same as CSV and as JSON', () => {
    const text = (kind: string): string =>
      readFileSync(new URL(`../../demo/rack.${kind}`, import.meta.url), 'utf8');
    const csv = readRackCsv(text('csv'));
    const json = readRackJson(text('json'));
    expect(csv.ok && csv.value.length).to.be.greaterThan(20);
    expect(json.ok && json.value.map((one) => one.ok && one.value)).to.deep.equal(
      csv.ok && csv.value,
    );
  });

  it('JSON keeps readings, and names the filament and the field that is wrong', () => {
    const reading = {
      kind: 'photo' as const,
      date: '2026-05-17',
      grounds: { black: '#101010', white: '#f0f0f0' },
      patches: [
        {
          ground: 'white' as const,
          thicknessMm: 0.08,
          code: [200, 100, 50] as [number, number, number],
        },
      ],
    };
    const kept = {
      ...rust,
      found: 'photo' as const,
      uncertainty: 0.03,
      scatterSlope: -0.2,
      nozzleC: 225,
      bedC: 70,
      reading,
    };
    const back = readRackJson(writeRackJson([kept]));
    expect(back.ok && back.value[0]).to.deep.equal({ ok: true, value: kept });
    const mixed = readRackJson(
      JSON.stringify([kept, { ...kept, id: 'x', transmissionMm: -1 }, kept, 5]),
    );
    expect(
      mixed.ok &&
        mixed.value.map((row) => (row.ok ? 'ok' : `${row.fault.code} ${row.fault.where ?? ''}`)),
    ).to.deep.equal([
      'ok',
      'bad-filament filament 2',
      'duplicate-id filament 3',
      'bad-filament filament 4',
    ]);
    expect(readRackJson('{')).to.have.nested.property('fault.code', 'not-json');
    expect(readRackJson('{"a":1}')).to.have.nested.property('fault.code', 'not-a-rack');
  });
});

describe('text of files', () => {
  it('is read by its byte order mark, as UTF-8, or as older programs write it', () => {
    const text = 'id,name\nä,Grün\n';
    const utf16 = (little: boolean) => {
      const bytes = new Uint8Array(2 * text.length + 2);
      const view = new DataView(bytes.buffer);
      [0xfeff, ...Array.from(text, (sign) => sign.charCodeAt(0))].forEach((code, i) => {
        view.setUint16(2 * i, code, little);
      });
      return bytes;
    };
    const utf8 = new TextEncoder().encode(text);
    const latin = Uint8Array.from(text, (sign) => sign.charCodeAt(0));
    expect(decodeText(utf8)).to.deep.equal({ ok: true, value: { text, encoding: 'utf-8' } });
    expect(decodeText(Uint8Array.of(0xef, 0xbb, 0xbf, ...utf8))).to.have.nested.property(
      'value.text',
      text,
    );
    expect(decodeText(utf16(true))).to.deep.equal({
      ok: true,
      value: { text, encoding: 'utf-16le' },
    });
    expect(decodeText(utf16(false))).to.deep.equal({
      ok: true,
      value: { text, encoding: 'utf-16be' },
    });
    expect(decodeText(latin)).to.deep.equal({
      ok: true,
      value: { text, encoding: 'windows-1252' },
    });
  });

  it('is refused when there is none, too much, or something else', () => {
    expect(decodeText(new Uint8Array())).to.have.nested.property('fault.code', 'empty');
    expect(decodeText(new Uint8Array(MOST_TEXT_BYTES + 1))).to.have.nested.property(
      'fault.code',
      'too-large',
    );
    expect(decodeText(Uint8Array.of(80, 75, 3, 4, 0, 0))).to.have.nested.property(
      'fault.code',
      'not-text',
    );
  });
});

describe('rack store', () => {
  const rack: Rack = { filaments: [demoFilament('rust'), demoFilament('soot')], tuning: 1 };

  it('saves every change, and undoes and redoes it', () => {
    const saved: Rack[] = [];
    const store = createRackStore(rack, (changed) => saved.push(changed));
    store.getState().edit('rust', (filament) => ({ ...filament, name: 'Oxide' }));
    store.getState().change((before) => ({ ...before, tuning: 1.3 }));
    expect(store.getState().filaments[0]?.name).to.equal('Oxide');
    store.getState().undo();
    store.getState().undo();
    store.getState().undo();
    expect(store.getState()).to.deep.include({ filaments: rack.filaments, tuning: 1 });
    store.getState().redo();
    expect(store.getState().filaments[0]?.name).to.equal('Oxide');
    expect(
      saved.map(({ filaments, tuning }) => `${filaments[0]?.name ?? ''} ${tuning}`),
    ).to.deep.equal(['Oxide 1', 'Oxide 1.3', 'Oxide 1', 'Rust 1', 'Oxide 1']);
  });

  it('takes what another tab wrote, and can still go back to its own', () => {
    const store = createRackStore(rack, () => undefined);
    store.getState().adopt({ filaments: [], tuning: 2 });
    expect(store.getState().filaments).to.deep.equal([]);
    store.getState().undo();
    expect(store.getState().filaments).to.have.length(2);
  });

  it('reads racks of the first version, and leaves out what is broken', () => {
    const { found: _found, ...old } = demoFilament('rust');
    expect(readStoredRack([old])).to.deep.equal({ filaments: [demoFilament('rust')], tuning: 1 });
    expect(readStoredRack({ filaments: [old, { id: 'broken' }], tuning: 99 })).to.deep.equal({
      filaments: [demoFilament('rust')],
      tuning: 1,
    });
    expect(readStoredRack({ filaments: [], tuning: 1 })).to.deep.equal({
      filaments: [],
      tuning: 1,
    });
    expect(readStoredRack(undefined)).to.equal(undefined);
  });

  it('gives copies and new filaments an id of their own', () => {
    expect(copyOf(demoFilament('rust'), new Set(['rust', 'rust-2']))).to.include({
      id: 'rust-3',
      name: 'Rust copy',
    });
    expect(freeId('Grün & Blau', new Set())).to.equal('grun-blau');
    expect(freeId('???', new Set(['filament']))).to.equal('filament-2');
  });

  it('tuning multiplies values from labels and no others', () => {
    const rust = demoFilament('rust');
    const [tuned, eye] = planningFilaments({
      filaments: [rust, { ...rust, id: 'eye', found: 'eye' }],
      tuning: 1.5,
    });
    expect(tuned?.transmissionMm).to.be.closeTo(2.4, 1e-9);
    expect(eye?.transmissionMm).to.equal(1.6);
    expect(tuneFilament(rust, 1)).to.equal(rust);
    expect(tuneFilament(rust, 1e9).transmissionMm).to.equal(1000);
  });

  it('finds grounds among what is on hand, and goes without them', () => {
    const { black, white } = groundsOf(DEMO_RACK);
    expect([black.id, white.id]).to.deep.equal(['soot', 'chalk']);
    expect(groundsOf([]).white.id).to.equal('plain-white');
    expect(groundsOf([demoFilament('rust')]).black.id).to.equal('plain-black');
  });
});

describe('projects and the rack', () => {
  const picture = {
    name: 'Dome at dusk',
    artwork: {
      fileName: 'dome.png',
      kind: 'png' as const,
      digest: 'a'.repeat(64),
      width: 30,
      height: 20,
    },
    histogram: new Uint32Array(4097).fill(1),
  };

  it('tells which filaments the rack sees otherwise now', () => {
    const document = newProject(picture, DEMO_RACK, [
      ['rust', 4],
      ['soot', 4],
    ]);
    expect(changedInRack(document, DEMO_RACK)).to.deep.equal([]);
    const changed = DEMO_RACK.map((filament) =>
      filament.id === 'rust'
        ? { ...filament, transmissionMm: 2.1 }
        : { ...filament, note: 'notes do not count' },
    );
    expect(changedInRack(document, changed).map(({ id }) => id)).to.deep.equal(['rust']);
  });
});

describe('looks of a filament', () => {
  it('hues are those that the demo filaments are named for', () => {
    const wanted = {
      soot: 'grey',
      chalk: 'grey',
      brick: 'red',
      tangerine: 'orange',
      lemon: 'yellow',
      fern: 'green',
      lagoon: 'teal',
      ledger: 'blue',
      damson: 'violet',
      beet: 'pink',
    };
    for (const [id, hue] of Object.entries(wanted))
      expect(hueOf(demoFilament(id)), id).to.equal(hue);
  });

  it('swatches over black and white meet at the transmission, and cover is told in layers', () => {
    const rust = demoFilament('rust');
    const layers = Math.round(transmissionIn(opticsOf(rust), { kind: 'hiding' }) / 0.08);
    const over = (id: string) =>
      swatchesOver(rust, { filament: demoFilament(id), thicknessMm: 2 }, 0.08, layers);
    const black = over('soot').at(-1);
    const white = over('chalk').at(-1);
    expect(ciede2000(black?.lab ?? [0, 0, 0], white?.lab ?? [100, 0, 0])).to.be.below(1);
    const count = coversIn(over('soot')) ?? 0;
    expect(over('soot')[count - 1]?.cover).to.be.at.least(0.95);
    expect(over('soot')[count - 2]?.cover).to.be.below(0.95);
    expect(coversIn(over('soot').slice(0, 1))).to.equal(undefined);
  });

  it('CIELAB goes back to linear light', () => {
    for (const bytes of [
      [0, 0, 0],
      [255, 255, 255],
      [12, 200, 97],
      [3, 1, 2],
    ] as const)
      linearOfLab(labOfBytes(bytes)).forEach((value, i) => {
        expect(value).to.be.closeTo(linearOfBytes(bytes)[i] ?? Number.NaN, 1e-12);
      });
  });
});

describe('lamp', () => {
  const ramp = rampOfStack(stackOf(3, 3, 4), FILAMENTS);

  it('alone it shows what comes through; with the lamp off, the print in the room', () => {
    for (const step of ramp) {
      expect(colourBeforeLamp(step, { lamp: 1, room: 0 })).to.deep.equal(step.lamp);
      expect(colourBeforeLamp(step, { lamp: 0, room: 1 })).to.deep.equal(step.colour);
    }
  });

  it('light adds up, and where nothing is printed the lamp itself shines', () => {
    const palette = lampPalette(ramp, { lamp: 0.5, room: 0.25 });
    expect(palette[0]).to.equal(packColour(bytesOfLinear([0.5, 0.5, 0.5])));
    const step = ramp[4];
    if (!step) throw new Error('no step');
    const sum = linearOfBytes(step.colour).map(
      (front, i) => 0.25 * front + 0.5 * (step.through[i] ?? 0),
    );
    expect(palette[5]).to.equal(packColour(bytesOfLinear([sum[0] ?? 0, sum[1] ?? 0, sum[2] ?? 0])));
    expect(palette[255]).to.equal(palette[10]);
  });
});

describe('rack files from elsewhere', () => {
  const row = (cells: Record<string, string>): string => {
    const all = { id: 'a', name: 'A', colour: '#102030', transmission_mm: '2', ...cells };
    return `${Object.keys(all).join(',')}\n${Object.values(all).join(',')}\n`;
  };

  it('words of the language are no values', () => {
    for (const word of ['constructor', 'toString', '__proto__']) {
      const read = readRackCsv(row({ on_hand: word }));
      expect(read.ok ? 'taken' : read.fault.code, word).to.equal('bad-on-hand');
      expect(readRackCsv(row({ [word]: 'x' })).ok, `a column ${word}`).to.equal(true);
    }
  });

  it('texts that a table program would run are written so that it does not, and come back', () => {
    const name = '=HYPERLINK("http://x";"y")';
    const [first] = Object.values(FILAMENTS);
    if (!first) throw new Error('no filament');
    const rack = [{ ...first, name, note: '@sum, +1 and -1' }];
    const text = writeRackCsv(rack);
    expect(text).to.contain("'=HYPERLINK").and.to.contain("'@sum");
    const read = readRackCsv(text);
    expect(read.ok && read.value[0]).to.include({ name, note: '@sum, +1 and -1' });
  });
});
