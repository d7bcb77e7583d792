import { mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { expect } from 'chai';
import { By, Key } from 'selenium-webdriver';
import { STLLoader } from 'three/addons/loaders/STLLoader.js';
import sharp from 'sharp';
import { formatHex } from '#core/colour/srgb.ts';
import { readRackCsv, writeRackCsv } from '#core/formats/rack/rack-csv.ts';
import { readRackJson } from '#core/formats/rack/rack-json.ts';
import { readWedgeCsv } from '#core/formats/rack/wedge-csv.ts';
import { colourBeforeLamp, USUAL_LIGHT } from '#core/heights/lamp.ts';
import { USUAL_GRID } from '#core/stack/layer-grid.ts';
import { rampOfStack } from '#core/stack/stack-ramp.ts';
import { CARD_BLACK_MM, swatchesOver } from '#core/stack/swatch-card.ts';
import demoWedge from '../../demo/wedge/rust-wedge.json' with { type: 'json' };
import { DEMO_PROJECTS } from '../../demo/projects.ts';
import { demoFilaments } from '../helpers/demo.ts';
import { reportOf } from '../helpers/gcode.ts';
import { DEMO_RACK, demoFilament } from '../helpers/wedges.ts';
import {
  axeFaults,
  find,
  findButton,
  findCss,
  goes,
  readCanvas,
  readDownload,
  shareSession,
  until,
  type Session,
  soon,
} from './browser.ts';
import { begin } from './fixtures.ts';
import { Bench } from './pages/bench.ts';
import { RackPage } from './pages/rack-page.ts';

describe('rack', function () {
  this.timeout(600_000);
  let session: Session;
  let bench: Bench;
  let rack: RackPage;
  const folder = mkdtempSync(join(tmpdir(), 'strata-rack-'));

  before(async () => {
    session = await shareSession();
    bench = new Bench(session);
    rack = new RackPage(session);
  });
  beforeEach(async () => {
    await begin(session);
    await rack.open();
  });
  after(async () => {
    await session.close();
    rmSync(folder, { recursive: true });
  });

  const file = (name: string, content: string | Uint8Array): string => {
    const path = join(folder, name);
    writeFileSync(path, content);
    return path;
  };

  it('is reached from the shelf, and sorts by each column both ways', async () => {
    const { driver } = session;
    await driver.get(session.address);
    await (await findButton(driver, 'Rack')).click();
    await findCss(driver, '[data-filament="soot"]');
    await soon(() => driver.getCurrentUrl()).to.match(/\/rack$/);
    await soon(async () => (await rack.shownIds())[0]).to.equal('soot');
    const sortBy = async (name: string): Promise<string> => {
      await (await findButton(driver, name)).click();
      return (await rack.shownIds())[0] ?? '';
    };
    const by = (pick: (id: string) => number | string, descending = false): string => {
      const ids = DEMO_RACK.map(({ id }) => id).sort((a, b) => {
        const [x, y] = [pick(a), pick(b)];
        return typeof x === 'number' && typeof y === 'number'
          ? x - y
          : String(x).localeCompare(String(y));
      });
      return (descending ? ids.at(-1) : ids[0]) ?? '';
    };
    const firsts = [await sortBy('Transmission'), await sortBy('Transmission')];
    expect(firsts).to.have.members([
      by((id) => demoFilament(id).transmissionMm),
      by((id) => demoFilament(id).transmissionMm, true),
    ]);
    const named = [await sortBy('Name'), await sortBy('Name')];
    expect(named).to.have.members([
      by((id) => demoFilament(id).name),
      by((id) => demoFilament(id).name, true),
    ]);
    for (const column of ['Maker', 'Material', 'Colour', 'Found', 'On hand', 'Note', 'L*']) {
      await sortBy(column);
      const header = await findCss(driver, 'th[aria-sort="ascending"], th[aria-sort="descending"]');
      await soon(() => header.getText()).to.equal(column);
    }
    await soon(() => axeFaults(session)).to.deep.equal([]);
  });

  it('filters by words, hue, material and what is on hand', async () => {
    const { driver } = session;
    await rack.open();
    const search = await findCss(driver, 'input[type=search]');
    await search.sendKeys('rust ninefold');
    await soon(() =>
      until(
        driver,
        async () => (await rack.shownIds()).length === 1 && rack.shownIds(),
        'one is left',
      ),
    ).to.deep.equal(['rust-veil']);
    await search.sendKeys(Key.chord(Key.CONTROL, 'a'), Key.DELETE);
    await (await find(driver, 'filter-hue')).sendKeys('teal');
    await until(
      driver,
      async () =>
        (await rack.shownIds()).every((id) => ['lagoon', 'lagoon-thin', 'ice'].includes(id)),
      'teal ones are left',
    );
    await (await find(driver, 'filter-material')).sendKeys('PLA');
    await soon(() =>
      until(
        driver,
        async () => (await rack.shownIds()).length === 1 && rack.shownIds(),
        'PLA ones are left',
      ),
    ).to.deep.equal(['lagoon']);
    await search.sendKeys('nothing like this');
    await until(
      driver,
      async () => (await driver.findElement(By.css('main')).getText()).includes('No filament fits'),
      'it says so',
    );
  });

  it('edits in place; Escape leaves things as they were, bad numbers are told, undo takes it back', async () => {
    const { driver } = session;
    await rack.open();
    const edit = async (column: string, ...keys: string[]): Promise<void> => {
      await (
        await findCss(driver, `[data-filament="rust"] [data-column="${column}"] button`)
      ).click();
      const input = await findCss(driver, `[data-filament="rust"] [data-column="${column}"] input`);
      await input.sendKeys(Key.chord(Key.CONTROL, 'a'), ...keys);
    };
    await edit('name', 'Oxide', Key.ESCAPE);
    await soon(() => rack.cellText('rust', 'name')).to.equal('Rust');
    await edit('name', 'Oxide', Key.ENTER);
    await until(
      driver,
      async () => (await rack.cellText('rust', 'name')) === 'Oxide',
      'the name has changed',
    );
    await edit('transmission', '-3', Key.ENTER);
    await findCss(driver, '[data-filament="rust"] [role=alert]');
    await (
      await findCss(driver, '[data-filament="rust"] [data-column="transmission"] input')
    ).sendKeys(Key.chord(Key.CONTROL, 'a'), '2,25', Key.ENTER);
    await until(
      driver,
      async () => (await rack.cellText('rust', 'transmission')).startsWith('2.25 mm'),
      'a decimal comma is understood',
    );
    await soon(() => rack.cellText('rust', 'found')).to.equal('Typed in');
    await bench.undo();
    await until(
      driver,
      async () => (await rack.cellText('rust', 'transmission')).startsWith('1.6 mm'),
      'undone',
    );
    await driver.findElement(By.css('body')).sendKeys(Key.chord(Key.CONTROL, 'z'));
    await until(
      driver,
      async () => (await rack.cellText('rust', 'name')) === 'Rust',
      'undone by key',
    );
    // At once: what the page cannot finish writing is there all the same.
    await driver.navigate().refresh();
    await findCss(driver, '[data-filament="rust"]');
    await soon(() => rack.cellText('rust', 'name')).to.equal('Rust');
  });

  it('changes several at once, duplicates, deletes, and brings back', async () => {
    const { driver } = session;
    await rack.open();
    for (const name of ['Soot', 'Midnight'])
      await (await findCss(driver, `input[aria-label="Select ${name}"]`)).click();
    await soon(async () => (await find(driver, 'chosen-count')).getText()).to.equal('2 selected');
    await (await findButton(driver, 'Not on hand')).click();
    const onHand = async (id: string): Promise<boolean> =>
      (await findCss(driver, `[data-filament="${id}"] [data-column="onHand"] input`)).isSelected();
    await soon(async () => [
      await onHand('soot'),
      await onHand('midnight'),
      await onHand('slate'),
    ]).to.deep.equal([false, false, true]);
    await (await findButton(driver, 'Duplicate')).click();
    await findCss(driver, '[data-filament="soot-2"]');
    await (await findCss(driver, 'input[aria-label="Select Soot copy"]')).click();
    await (await findButton(driver, 'Delete')).click();
    await until(driver, async () => !(await rack.shownIds()).includes('soot-2'), 'it is gone');
    const undo = await until(
      driver,
      async () => {
        const [button] = await driver.findElements(By.css('[data-sonner-toast] button'));
        return button ?? null;
      },
      'the way back is offered',
    );
    await undo.click();
    await findCss(driver, '[data-filament="soot-2"]');
    for (let i = 0; i < 2; i += 1) await bench.undo();
    await until(driver, async () => onHand('soot'), 'all is as before');
  });

  it('adds a filament by the form, which says what is wrong with a field', async () => {
    const { driver } = session;
    await rack.open();
    await (await findButton(driver, 'Add filament')).click();
    const field = async (label: string) =>
      driver.findElement(
        By.xpath(
          `//div[@role="dialog"]//label[normalize-space()="${label}"]/following-sibling::*/descendant-or-self::input`,
        ),
      );
    await (await findButton(driver, 'Add')).click();
    await until(
      driver,
      async () =>
        (await driver.findElement(By.css('[role=dialog]')).getText()).includes('A name, please'),
      'a name is asked for',
    );
    await (await field('Name')).sendKeys('Moonstone');
    for (const [bad, told] of [
      ['0', true],
      ['1e9', true],
      ['NaN', true],
      ['-2', true],
      ['2,4', false],
    ] as const) {
      await (await field('Transmission, mm')).sendKeys(Key.chord(Key.CONTROL, 'a'), bad, Key.TAB);
      await until(
        driver,
        async () =>
          (await driver.findElement(By.css('[role=dialog]')).getText()).includes(
            'A number from 0.01 to 1000 mm',
          ) === told,
        `${bad} is ${told ? 'told' : 'taken'}`,
      );
    }
    await (await field('Colour when opaque')).sendKeys(Key.chord(Key.CONTROL, 'a'), '#AABBCC');
    await soon(() => axeFaults(session)).to.deep.equal([]);
    await (await findButton(driver, 'Add')).click();
    await findCss(driver, '[data-filament="moonstone"]');
    await soon(() => rack.cellText('moonstone', 'transmission')).to.match(/^2\.4 mm/);
    await soon(() => rack.cellText('moonstone', 'colour')).to.equal('#aabbcc');
    await bench.undo();
  });

  it('shows a file before taking it in: new, changed and wrong rows; columns can be mapped', async () => {
    const { driver } = session;
    await rack.open();
    await rack.importFile(
      file(
        'spools.csv',
        'Spool no;Maker;What;Material;Shade;T\nrust;Brightloom;Rust;PLA;#9c4322;1.9\nplum;Ninefold;"Plum; deep";PLA;#4a1f4a;0,9\nfig;Ninefold;Fig;PLA;#5a2340;1.2\nodd;Ninefold;Odd;PLA;purple;1.2\n',
      ),
    );
    await until(
      driver,
      async () =>
        (await driver.findElement(By.css('[role=dialog]')).getText()).includes(
          'Say which columns hold',
        ),
      'columns are asked for',
    );
    for (const [column, heading] of [
      ['id', 'Spool no'],
      ['name', 'What'],
      ['colour', 'Shade'],
      ['transmission_mm', 'T'],
    ] as const)
      await (await find(driver, `column-${column}`)).sendKeys(heading);
    await until(
      driver,
      async () =>
        (await (await find(driver, 'import-counts')).getText()).startsWith(
          '1 new, 1 changed, 0 the same, 2 wrong',
        ),
      'the rows are counted',
    );
    const rows = await driver.findElements(By.css('[data-testid=import-row]'));
    const texts = await Promise.all(rows.map((row) => row.getText()));
    expect(texts.join('\n'))
      .to.contain('row 3')
      .and.to.contain('write 0.9 with a decimal point')
      .and.to.contain('row 5: the colour "purple"')
      .and.to.contain('1.6 mm hiding to 1.9 mm hiding');
    await soon(() => axeFaults(session)).to.deep.equal([]);
    await (await findCss(driver, 'input[aria-label="Take Rust"]')).click();
    await (await findButton(driver, 'Take 1 filament')).click();
    await findCss(driver, '[data-filament="fig"]');
    await soon(() => rack.cellText('rust', 'transmission')).to.match(/^1\.6 mm/);
    await bench.undo();
    await until(driver, async () => !(await rack.shownIds()).includes('fig'), 'taken back');
  });

  it('refuses what is no rack, and loses nothing', async () => {
    const { driver } = session;
    await rack.open();
    const count = async (): Promise<string> => (await find(driver, 'rack-count')).getText();
    const before = await count();
    const cases: readonly (readonly [string, string | Uint8Array, string])[] = [
      ['empty.csv', '', 'empty'],
      ['head.csv', 'id,name\n', 'no filaments'],
      ['photo.csv', Uint8Array.of(0x89, 0x50, 0x4e, 0x47, 0, 0, 0, 0), 'not a text file'],
      ['cut.json', '{"filaments": [', 'not JSON'],
      ['huge.csv', new Uint8Array(50_000_000).fill(65), 'at most 8 MB'],
    ];
    for (const [name, content, told] of cases) {
      await rack.importFile(file(name, content));
      await until(
        driver,
        async () => {
          const text = await (await find(driver, 'rack-trouble')).getText();
          return text.includes(name) && text.includes(told);
        },
        `${name} is refused`,
      );
    }
    await soon(() => count()).to.equal(before);
    const text = 'id,name,colour,transmission_mm\nutf,Grün,#112233,1\n';
    const utf16 = Buffer.from(`\ufeff${text}`, 'utf16le');
    await rack.importFile(file('utf16.csv', utf16));
    await until(
      driver,
      async () => (await driver.findElement(By.css('[role=dialog]')).getText()).includes('Grün'),
      'UTF-16 is read',
    );
    await (await findButton(driver, 'Cancel')).click();
  });

  it('exports CSV and JSON that read back as the rack', async () => {
    const { driver } = session;
    await rack.open();
    await (await findButton(driver, 'Export as CSV')).click();
    const csv = await readDownload(session, /^rack.*\.csv$/);
    expect(readRackCsv(csv.bytes.toString('utf8'))).to.deep.equal({ ok: true, value: DEMO_RACK });
    await (await findButton(driver, 'Export as JSON')).click();
    const json = readRackJson(
      (await readDownload(session, /^rack.*\.json$/)).bytes.toString('utf8'),
    );
    expect(json.ok && json.value.map((row) => row.ok && row.value)).to.deep.equal(DEMO_RACK);
  });

  it('holds 2,000 filaments: only the rows in view exist, and the last one is reached', async () => {
    const { driver } = session;
    await rack.open();
    const many = Array.from({ length: 2000 }, (_, i) => ({
      ...demoFilament('rust'),
      id: `many-${i}`,
      name: `Many ${i}`,
      colour: `#${((i * 7919) % 0xffffff).toString(16).padStart(6, '0')}`,
    }));
    await rack.importFile(file('many.csv', writeRackCsv(many)));
    await (await findButton(driver, 'Take 2000 filaments')).click();
    await until(
      driver,
      async () => (await (await find(driver, 'rack-count')).getText()) === '2030 filaments',
      'they are there',
    );
    await soon(async () => (await rack.shownIds()).length).to.be.below(60);
    await (await findButton(driver, 'Name')).click();
    await driver.executeScript(
      `const s = document.querySelector('[data-testid=rack-scroller]'); s.scrollTop = s.scrollHeight;`,
    );
    await until(
      driver,
      async () =>
        (await rack.shownIds()).at(-1) === 'straw' ||
        (await rack.shownIds()).some((id) => id === 'tangerine'),
      'the end of the alphabet is in view',
    );
    await soon(async () => (await rack.shownIds()).length).to.be.below(60);
    await (await findCss(driver, 'input[type=search]')).sendKeys('many 1999');
    await until(
      driver,
      async () => (await rack.shownIds()).join() === 'many-1999',
      'one of them is found',
    );
    await (
      await findCss(driver, 'input[type=search]')
    ).sendKeys(Key.chord(Key.CONTROL, 'a'), Key.DELETE);
    await bench.undo();
    await until(
      driver,
      async () => (await (await find(driver, 'rack-count')).getText()) === '30 filaments',
      'taken back',
    );
  });

  it('shows a filament over black and white, how fast it covers, and both ways of saying its value', async () => {
    const { driver } = session;
    await rack.open();
    await rack.openFilament('Slate grey');
    const swatches = await find(driver, 'swatches');
    const colours: string[] = await driver.executeScript(
      `return [...arguments[0].querySelectorAll('[data-colour]')].map((tile) => tile.dataset.colour);`,
      swatches,
    );
    const wanted = swatchesOver(
      demoFilament('slate'),
      { filament: demoFilament('soot'), thicknessMm: CARD_BLACK_MM },
      USUAL_GRID.layerMm,
      10,
    );
    expect(colours).to.have.length(40);
    expect(colours.slice(0, 10)).to.deep.equal(wanted.map(({ colour }) => formatHex(colour)));
    expect(colours.slice(20, 30)).to.deep.equal(
      wanted.map((step) => formatHex(colourBeforeLamp(step, USUAL_LIGHT))),
    );
    await soon(async () => (await find(driver, 'covers-in')).getText()).to.match(
      /Covers Soot in \d+ layers \(0\.\d+ mm\), Chalk white in \d+ layers/,
    );
    await until(
      driver,
      async () =>
        (await driver.findElements(By.css('[data-testid=cover-chart] svg path'))).length > 3,
      'the chart is drawn',
    );
    await soon(() => axeFaults(session)).to.deep.equal([]);
    await bench.choose('values');
    const words = async () => (await find(driver, 'basis-words')).getText();
    await soon(() => words()).to.match(/Hiding 1\.1 mm is the same as 1 % light through 1\.\d+ mm/);
    await (await find(driver, 'basis')).sendKeys('Light through: 1 %');
    await until(
      driver,
      async () => (await words()).includes('same as 1 % light through 1.1 mm'),
      'the value means something else',
    );
    await soon(() => axeFaults(session)).to.deep.equal([]);
  });

  it('tunes what labels say by one factor, and takes that back', async () => {
    const { driver } = session;
    await rack.open();
    await (await find(driver, 'tuning-button')).click();
    const slider = await findCss(driver, '[role=dialog] [role=slider]');
    await slider.sendKeys(...Array.from({ length: 30 }, () => Key.ARROW_RIGHT));
    const factor = Number.parseFloat(await (await find(driver, 'tuning-factor')).getText());
    expect(factor).to.be.above(1.2);
    await soon(() => axeFaults(session)).to.deep.equal([]);
    await (await findButton(driver, 'Use these values')).click();
    await until(
      driver,
      async () =>
        (await (await find(driver, 'tuning-button')).getText()).includes(factor.toFixed(2)),
      'the factor is in use',
    );
    await rack.openFilament('Rust');
    await bench.choose('measured');
    await until(
      driver,
      async () =>
        (await driver.findElement(By.css('[role=dialog]')).getText()).includes(
          `${Number((1.6 * factor).toFixed(2))} mm`,
        ),
      'planning uses it',
    );
    await (await findButton(driver, 'Close')).click();
    await bench.undo();
    await until(
      driver,
      async () => (await (await find(driver, 'tuning-button')).getText()).includes('1.00'),
      'without tuning',
    );
  });

  it('makes a step wedge: STL, 3MF and its own swap sheet', async () => {
    const { driver } = session;
    await rack.open();
    await rack.openFilament('Rust');
    await bench.choose('measured');
    await (await findButton(driver, 'Measure with a step wedge')).click();
    await find(driver, 'wedge-drawing');
    for (const name of ['Rust', 'Soot'])
      await soon(async () => (await find(driver, 'wedge-swaps')).getText()).to.contain(
        `is the first one in ${name}`,
      );
    await soon(() => axeFaults(session)).to.deep.equal([]);
    await (await findButton(driver, 'STL')).click();
    const stl = await readDownload(session, /^wedge-rust-.*\.stl$/);
    const geometry = new STLLoader().parse(
      stl.bytes.buffer.slice(
        stl.bytes.byteOffset,
        stl.bytes.byteOffset + stl.bytes.length,
      ) as ArrayBuffer,
    );
    geometry.computeBoundingBox();
    expect(geometry.boundingBox?.max.x).to.be.closeTo(108, 0.01);
    expect(geometry.boundingBox?.max.y).to.be.closeTo(52, 0.01);
    await (await findButton(driver, 'Swap sheet')).click();
    const sheet = await readDownload(session, /^wedge-rust-.*\.txt$/);
    expect(sheet.bytes.toString('utf8')).to.contain('SWAP SHEET  Step wedge Rust');
    await (await findButton(driver, '3MF')).click();
    const threeMf = await readDownload(session, /^wedge-rust-.*\.3mf$/);
    expect(threeMf.bytes.subarray(0, 2).toString('latin1')).to.equal('PK');
    await (await findButton(driver, 'G-code')).click();
    const sliced = await readDownload(session, /^wedge-rust-.*\.gcode$/);
    const report = await reportOf(sliced.bytes);
    expect(report.pauses).to.have.length(3);
    const top = await find(driver, 'wedge-top');
    await top.sendKeys(Key.chord(Key.CONTROL, 'a'), '99', Key.ENTER);
    await until(
      driver,
      async () => (await driver.findElement(By.css('main')).getText()).includes('is a number from'),
      'too tall a step is refused',
    );
  });

  it('reads a wedge by eye', async () => {
    const { driver } = session;
    await driver.get(`${session.address}/rack/wedge/brick`);
    await rack.choose('Read by', 'eye');
    await until(
      driver,
      async () =>
        (await driver.findElement(By.css('main')).getText()).includes(
          'Steps beyond the expected transmission',
        ),
      'the method is chosen',
    );
    await rack.choose('Step', 'eye');
    await (await find(driver, 'eye-step-7')).click();
    await until(
      driver,
      async () => (await driver.findElement(By.css('main')).getText()).includes('half a step'),
      'there is a value',
    );
    await soon(() => axeFaults(session)).to.deep.equal([]);
    await (await findButton(driver, 'Keep this value')).click();
    await findCss(driver, '[data-filament="brick"]');
    await soon(() => rack.cellText('brick', 'found')).to.equal('By eye');
    await soon(() => rack.cellText('brick', 'transmission')).to.match(/±\d+ %/);
  });

  it('reads a wedge from a photo: corners by pointer and key under a loupe, a value with its certainty, kept with the reading', async () => {
    const { driver } = session;
    await driver.get(`${session.address}/rack/wedge/rust`);
    await find(driver, 'wedge-drawing');
    await rack.choose('Step', 'photo');
    await (await findButton(driver, 'Try a simulated photo')).click();
    const value = async (): Promise<number> =>
      Number.parseFloat(await (await find(driver, 'fit-value')).getText());
    const { transmissionMm } = demoWedge.truth;
    await soon(async () => (await value()) / transmissionMm).to.be.closeTo(1, 0.05);
    // The simulated print is of plastic in which light goes straight.
    await soon(async () => (await findCss(driver, 'main')).getText()).to.match(
      /Light spreads sideways\s+less than 0.18 mm, counted as 0/,
    );
    await soon(
      async () => (await driver.findElements(By.css('[data-testid=patch]'))).length,
    ).to.equal(16);
    await soon(() => axeFaults(session)).to.deep.equal([]);

    const corner = await find(driver, 'corner-0');
    const name = async () => (await corner.getAttribute('aria-label')) ?? '';
    const at = async (): Promise<number[]> =>
      (/at (-?\d+), (-?\d+)/.exec(await name()) ?? []).slice(1).map(Number);
    await driver.executeScript('arguments[0].focus()', corner);
    await find(driver, 'loupe');
    const [x = 0, y = 0] = await at();
    await corner.sendKeys(Key.ARROW_LEFT, Key.chord(Key.SHIFT, Key.ARROW_UP));
    await soon(() => at()).to.deep.equal([x - 1, y - 10]);
    await corner.sendKeys(Key.ARROW_RIGHT, Key.chord(Key.SHIFT, Key.ARROW_DOWN));

    // A corner dragged across the print makes no rectangle; dragged back, the value returns.
    await driver
      .actions()
      .move({ origin: corner })
      .press()
      .move({ origin: corner, x: 330, y: 190 })
      .release()
      .perform();
    await find(driver, 'photo-fault');
    const [nx = 0, ny = 0] = await at();
    const size: { width: number; height: number } = await driver.executeScript(
      `const box = arguments[0].parentElement.getBoundingClientRect(); return { width: box.width, height: box.height };`,
      corner,
    );
    const scale = size.width / 1200;
    await driver
      .actions()
      .move({ origin: corner })
      .press()
      .move({ origin: corner, x: Math.round((x - nx) * scale), y: Math.round((y - ny) * scale) })
      .release()
      .perform();
    await soon(async () => (await value()) / transmissionMm).to.be.closeTo(1, 0.05);

    await (await findButton(driver, 'Keep this value')).click();
    await findCss(driver, '[data-filament="rust"]');
    await soon(() => rack.cellText('rust', 'found')).to.equal('By photo');
    await soon(
      async () => Number.parseFloat(await rack.cellText('rust', 'transmission')) / transmissionMm,
    ).to.be.closeTo(1, 0.05);

    await rack.openFilament('Rust');
    await bench.choose('measured');
    await (await findButton(driver, 'Readings as CSV')).click();
    const readings = readWedgeCsv(
      (await readDownload(session, /readings.*\.csv$/)).bytes.toString('utf8'),
      '',
    );
    expect(readings.ok && readings.value.patches).to.have.length(16);
    await (await findButton(driver, 'Work out anew')).click();
    await until(
      driver,
      async () =>
        (await driver.findElement(By.css('[role=dialog]')).getText()).includes(
          'Worked out anew: 2.1',
        ),
      'it is worked out again',
    );
  });

  it('says why a photo is not good enough', async () => {
    const { driver } = session;
    await driver.get(`${session.address}/rack/wedge/rust`);
    await find(driver, 'wedge-drawing');
    await rack.choose('Step', 'photo');
    const dark = join(folder, 'dark.jpg');
    await sharp({ create: { width: 900, height: 600, channels: 3, background: '#101010' } })
      .jpeg()
      .toFile(dark);
    await (await find(driver, 'wedge-photo')).sendKeys(dark);
    await soon(async () => (await find(driver, 'photo-fault')).getText()).to.match(
      /too dark|should be bare white/,
    );
    await (await find(driver, 'wedge-photo')).sendKeys(file('no.jpg', 'this is no photo'));
    await until(
      driver,
      async () =>
        (await driver.findElement(By.css('main')).getText()).includes(
          'not a picture that can be read',
        ),
      'it is refused',
    );
  });

  it("a project keeps its values until it is told to use the rack's, as one step", async () => {
    const { driver } = session;
    await driver.get(session.address);
    await (await findButton(driver, 'Begin with Crater study')).click();
    await find(driver, 'ledger-error');
    await soon(() => driver.findElements(By.css('[data-testid=rack-news]'))).to.have.length(0);
    const project = await driver.getCurrentUrl();
    await rack.open();
    await (
      await findCss(driver, '[data-filament="slate"] [data-column="transmission"] button')
    ).click();
    await (
      await findCss(driver, '[data-filament="slate"] [data-column="transmission"] input')
    ).sendKeys(Key.chord(Key.CONTROL, 'a'), '2', Key.ENTER);
    await until(
      driver,
      async () => (await rack.cellText('slate', 'transmission')).startsWith('2 mm'),
      'the value is there',
    );
    await driver.get(project);
    const news = await find(driver, 'rack-news');
    await soon(() => news.getText()).to.contain('Slate grey');
    await (await findButton(driver, "Use the rack's")).click();
    await goes(driver, '[data-testid=rack-news]');
    await bench.undo();
    await find(driver, 'rack-news');
  });

  it('the lamp view shows what the core predicts, and follows lamp and room', async () => {
    const { driver } = session;
    await driver.get(session.address);
    await (await findButton(driver, 'Begin with Veil nebula')).click();
    await find(driver, 'ledger-error');
    await bench.choose('lamp');
    const demo = DEMO_PROJECTS.find(({ name }) => name === 'Veil nebula');
    const filaments = demoFilaments();
    const ramp = rampOfStack(
      {
        grid: USUAL_GRID,
        bands: (demo?.recipe ?? []).map(([filamentId, layers]) => ({ filamentId, layers })),
      },
      filaments,
    );
    const places = [
      [0.2, 0.3],
      [0.5, 0.5],
      [0.8, 0.7],
      [0.62, 0.41],
    ] as const;
    const allowed = (light: { lamp: number; room: number }): Set<string> =>
      new Set(ramp.map((step) => colourBeforeLamp(step, light).join()));
    const seen = async (): Promise<string[]> =>
      (await readCanvas(driver, 'lamp-canvas', places)).pixels.map((pixel) =>
        pixel.slice(0, 3).join(),
      );
    const first = allowed(USUAL_LIGHT);
    await until(
      driver,
      async () => (await seen()).every((colour) => first.has(colour)),
      'the lamp view is painted',
    );
    const [lamp] = await driver.findElements(By.css('[data-testid=lamp-controls] [role=slider]'));
    await lamp?.sendKeys(Key.END);
    const bright = allowed({ ...USUAL_LIGHT, lamp: 2 });
    await until(
      driver,
      async () => (await seen()).every((colour) => bright.has(colour)),
      'it is brighter',
    );
    await soon(() => axeFaults(session)).to.deep.equal([]);
  });
});
