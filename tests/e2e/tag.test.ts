import { mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { fileURLToPath } from 'node:url';
import { expect } from 'chai';
import { By, Key, type WebElement } from 'selenium-webdriver';
import { STLLoader } from 'three/addons/loaders/STLLoader.js';
import { strFromU8, unzipSync } from 'fflate';
import sharp from 'sharp';
import {
  axeFaults,
  chooseFrom,
  find,
  findButton,
  findCss,
  middleOf,
  mouse,
  pickOption,
  readDownload,
  settled,
  shareSession,
  typeOver,
  until,
  upload,
  type Session,
  soon,
} from './browser.ts';
import { begin } from './fixtures.ts';

describe('tags', function () {
  this.timeout(600_000);
  let session: Session;
  /** For files that are given to the page. */
  const folder = mkdtempSync(join(tmpdir(), 'strata-e2e-tags-'));
  before(async () => {
    session = await shareSession();
  });
  beforeEach(async () => {
    await begin(session);
    await session.driver.get(session.address);
  });
  after(async () => {
    await session.close();
    rmSync(folder, { recursive: true });
  });

  const press = async (name: string): Promise<void> =>
    (await findButton(session.driver, name)).click();
  /** Presses a button by the keyboard. */
  const key = async (testId: string): Promise<void> =>
    (await find(session.driver, testId)).sendKeys(Key.ENTER);
  const text = async (testId: string): Promise<string> =>
    (await find(session.driver, testId)).getText();
  const openDemoTag = async (name: string): Promise<void> => {
    await press(`Begin with ${name}`);
    await find(session.driver, 'elements');
    await settled(session.driver);
  };
  /** The row of an element by what it says. */
  const row = async (words: string): Promise<WebElement> =>
    until(
      session.driver,
      async () => {
        const rows = await session.driver.findElements(
          By.css('[data-testid="element-row"] button[aria-expanded]'),
        );
        for (const one of rows) if ((await one.getText()).includes(words)) return one;
        return null;
      },
      `the row of ${words}`,
    );
  const element = (name: string): Promise<WebElement> =>
    findCss(session.driver, `[data-testid="tag-element"][aria-label^="${name}"]`);
  /** A filament of the rack, to be chosen. */
  const offered = (name: string): Promise<WebElement> =>
    until(
      session.driver,
      async () => {
        for (const one of await session.driver.findElements(
          By.css('[data-testid="filament-list"] button'),
        ))
          if ((await one.getText()).startsWith(name)) return one;
        return null;
      },
      `${name} in the rack`,
    );
  const ledger = (figure: string): Promise<string> => text(`ledger-${figure}`);

  it('one is built by keyboard alone; its STL is as large as geometry says, and the swap comes at layer 11', async () => {
    const { driver } = session;
    await key('new-tag-disc');
    await find(driver, 'elements');
    await key('add-hole');
    await settled(driver);
    // 5 mm across, by numbers in its place.
    await typeOver(driver, 'element-xMm', '0');
    await typeOver(driver, 'element-yMm', '15');
    await key('add-text');
    const lettering = await find(driver, 'element-text');
    await lettering.sendKeys(Key.chord(Key.CONTROL, 'a'), '7');
    await typeOver(driver, 'element-heightMm', '12');
    await typeOver(driver, 'element-layers', '10');
    // Arrows move what is in hand: half a millimetre, with Shift five.
    const seven = await element('7.');
    await seven.sendKeys(Key.ARROW_UP, Key.chord(Key.SHIFT, Key.ARROW_DOWN), Key.ARROW_LEFT);
    await settled(driver);
    const value = async (testId: string): Promise<string | null> =>
      (await find(driver, testId)).getAttribute('value');
    await soon(async () => [await value('element-xMm'), await value('element-yMm')]).to.deep.equal([
      '-0.5',
      '-4.5',
    ]);
    // The filament of the lettering, from the rack.
    await key('element-filament');
    await (await offered('Straw')).sendKeys(Key.ENTER);
    await settled(driver);
    await soon(() => ledger('swaps')).to.match(/^1\b/);
    await soon(() => text('swap-words')).to.match(/^One swap\./);
    await soon(() => axeFaults(session, true)).to.deep.equal([]);

    await (await find(driver, 'stop-relief')).sendKeys(Key.ENTER);
    await (await findButton(driver, 'Download STL')).sendKeys(Key.ENTER);
    const { bytes } = await readDownload(session, /relief\.stl$/);
    const { array } = new STLLoader().parse(new Uint8Array(bytes).buffer).getAttribute('position');
    let six = 0;
    let top = 0;
    for (let n = 0; n < array.length; n += 9) {
      const [ax = 0, ay = 0, az = 0, bx = 0, by = 0, bz = 0, cx = 0, cy = 0, cz = 0] = array.slice(
        n,
        n + 9,
      );
      six += ax * (by * cz - bz * cy) + ay * (bz * cx - bx * cz) + az * (bx * cy - by * cx);
      top = Math.max(top, az, bz, cz);
    }
    const plate = Math.PI * (400 - 6.25) * 2;
    expect(top).to.be.closeTo(4, 1e-5);
    // The figure takes a tenth of the plate at most, 2 mm high.
    expect(six / 6).to.be.within(plate + 20, plate * 1.15);
    await (await find(driver, 'stop-sheet')).sendKeys(Key.ENTER);
    const sheet = await findCss(driver, '#sheet');
    await until(
      driver,
      async () => (await sheet.getText()).includes('Layer 11'),
      'the swap on the sheet',
    );
    await soon(() => sheet.getText()).to.include('2.00 mm');
  });

  it('elements are dragged and keep to lines, lined up, grouped, undone; it is there again after a new start', async () => {
    const { driver } = session;
    await openDemoTag('Locker 7 tag');
    await soon(() => ledger('swaps')).to.match(/^2\b/);
    const seven = await element('7.');
    const from = await middleOf(seven);
    // Without a line near it lies where it is let go; the same drag back brings it home.
    await mouse(driver, 'mousePressed', from.x, from.y);
    await mouse(driver, 'mouseMoved', from.x - 30, from.y + 60);
    await mouse(driver, 'mouseMoved', from.x - 60, from.y + 90);
    await mouse(driver, 'mouseReleased', from.x - 60, from.y + 90);
    await settled(driver);
    const moved = await middleOf(await element('7.'));
    expect(moved.x - from.x).to.be.closeTo(-60, 8);
    expect(moved.y - from.y).to.be.closeTo(90, 8);
    await press('Undo');
    await settled(driver);
    const back = await middleOf(await element('7.'));
    expect(back.x).to.be.closeTo(from.x, 1);
    // Near the middle line it keeps to it.
    const centre = await middleOf(await findCss(driver, '[data-testid="tag-overlay"]'));
    await mouse(driver, 'mousePressed', back.x, back.y);
    await mouse(driver, 'mouseMoved', back.x - 20, centre.y + 30);
    await mouse(driver, 'mouseMoved', back.x - 20, centre.y + 4);
    await mouse(driver, 'mouseReleased', back.x - 20, centre.y + 4);
    await settled(driver);
    await soon(async () => (await middleOf(await element('7.'))).y).to.be.closeTo(centre.y, 2);
    await press('Undo');

    // Two in hand: lined up at their lower edges, and one group from then on.
    await (await row('LOCKER')).click();
    await driver
      .actions()
      .keyDown(Key.SHIFT)
      .click(await row('7'))
      .keyUp(Key.SHIFT)
      .perform();
    await chooseFrom(driver, 'Align', 'Lower edges');
    await settled(driver);
    const bottom = async (name: string): Promise<number> => {
      const { y, height } = await (await element(name)).getRect();
      return y + height;
    };
    await soon(async () => (await bottom('LOCKER')) - (await bottom('7.'))).to.be.closeTo(0, 3);
    await chooseFrom(driver, 'More for what is in hand', 'Make one group');
    await (await element('LOCKER')).sendKeys(Key.ARROW_UP);
    await settled(driver);
    await soon(async () => (await bottom('LOCKER')) - (await bottom('7.'))).to.be.closeTo(0, 3);
    await driver.navigate().refresh();
    await find(driver, 'elements');
    await settled(driver);
    await soon(async () => (await bottom('LOCKER')) - (await bottom('7.'))).to.be.closeTo(0, 3);
    await soon(() => axeFaults(session, true)).to.deep.equal([]);
  });

  it('some of several pieces in layers of their own: sheet, file, G-code, desk and rehearsal are of those at hand; undone', async () => {
    const { driver } = session;
    await openDemoTag('Locker 7 tag');
    await (await find(driver, 'stop-sheet')).click();
    const stamp = async (): Promise<string> => {
      const seen = /[0-9A-Z]{4}-[0-9A-Z]{4}/.exec(await text('swap-sheet'));
      if (!seen) throw new Error('a sheet without a stamp');
      return seen[0];
    };
    await typeOver(driver, 'copies', '3');
    await (await find(driver, 'choice-apart')).click();
    await press('Some in other layers');
    // Half of 0.2 mm; the plate of 2 mm and the letters keep their heights.
    const first = await stamp();
    await soon(() => text('batch-table')).to.match(
      /2 pieces in layers of 0\.20 mm \(this sheet\) 18 .*1 piece in layers of 0\.10 mm 35 .* more/s,
    );
    await soon(() => text('sheet-summary')).to.contain('18 layers, 3.60 mm');
    await pickOption(driver, 'batch', '1');
    await until(driver, async () => (await stamp()) !== first, 'the sheet is of the finer piece');
    const finer = await stamp();
    await soon(() => text('swap-sheet')).to.contain('35 layers, 3.60 mm');
    await soon(() => text('swap-sheet')).to.contain(
      'The printer stops when 2.00 mm is finished. Layer 20 is the first',
    );
    // All of it by hand: two swaps in each of three pieces, and twice back.
    await soon(() => text('batch-sum')).to.contain('All 3 one by one: 8 changes of filament');
    await soon(() => axeFaults(session)).to.deep.equal([]);
    await press('G-code');
    await find(driver, 'own-gcode');
    await press('Save the G-code');
    const gcode = await readDownload(session, /\.gcode$/);
    expect(gcode.name).to.contain(finer);
    const z = [
      ...Buffer.from(gcode.bytes)
        .toString()
        .matchAll(/^; layer (\d+), top at ([\d.]+)/gm),
    ];
    expect(z).to.have.length(35);
    expect(z.slice(0, 3).map(([, , top]) => Number(top))).to.deep.equal([0.2, 0.3, 0.4]);
    await press('Swap sheet');
    await find(driver, 'swap-sheet');
    await press('Sliced file');
    await until(
      driver,
      async () => (await driver.getCurrentUrl()).endsWith('/1'),
      'the desk compares with the same piece',
    );
    await findCss(driver, 'main h1');
    // Also where the desk is the first place of a visit: the letters are waited for, since swaps follow from them.
    await driver.navigate().refresh();
    const kept = join(folder, 'finer.gcode');
    writeFileSync(kept, gcode.bytes);
    await (await find(driver, 'gcode-file')).sendKeys(kept);
    await soon(() => text('desk-stamp')).to.equal(finer);
    await find(driver, 'desk-sound');
    await driver.navigate().back();
    await find(driver, 'stop-relief');
    // Opened anew: the pieces are there, the ones at hand are the project's own again.
    await (await find(driver, 'stop-relief')).click();
    await pickOption(driver, 'batch', '1');
    await pickOption(driver, 'format', 'stl');
    await soon(() => text('file-size')).to.equal('its size is told when it is made');
    await press('Download STL');
    const stl = await readDownload(session, /relief\.stl$/);
    expect(stl.name).to.contain(finer);
    const geometry = new STLLoader().parse(new Uint8Array(stl.bytes).buffer);
    geometry.computeBoundingBox();
    expect(geometry.boundingBox?.max.z).to.be.closeTo(3.6, 1e-5);
    await (await find(driver, 'stop-rehearse')).click();
    await find(driver, 'time-line');
    await soon(() => text('laid-layer')).to.contain('layer 35 of 35');
    await (await find(driver, 'stop-sheet')).click();
    await find(driver, 'batch-table');
    await press('All pieces as the project again: take 0.1 mm away');
    await until(
      driver,
      async () => (await driver.findElements(By.css('[data-testid=batch-table]'))).length === 0,
      'all are alike again',
    );
    await soon(() => stamp()).to.equal(first);
  });

  it('own levels may clash: why is said, the nearest that can be printed is offered, and no file is made meanwhile', async () => {
    const { driver } = session;
    await openDemoTag('Locker 7 tag');
    await press('Own levels');
    await (await row('7')).click();
    await typeOver(driver, 'element-layers', '4');
    const clash = await find(driver, 'clash');
    await soon(() => clash.getText()).to.include('needs a change inside layer 14');
    await (await find(driver, 'stop-relief')).click();
    await until(
      driver,
      async () =>
        (await (await findButton(driver, 'Download STL')).getAttribute('disabled')) !== null,
      'no file is offered',
    );
    await (await find(driver, 'stop-tag')).click();
    const offers = await (await find(driver, 'clash')).findElements(By.css('button'));
    const words = await Promise.all(offers.map((one) => one.getText()));
    expect(words).to.include('Raise it to 1 mm').and.include('Make both Chalk white');
    await press('Raise it to 1 mm');
    await until(driver, async () => (await ledger('swaps')).startsWith('2'), 'both are printed');
    // In the filament of the other it costs a swap less, as was said.
    await press('Fewest swaps');
    await press('Filament of 7: Tangerine');
    const chalk = await offered('Chalk white');
    await driver.actions().move({ origin: chalk }).perform();
    await driver.actions().move({ origin: chalk, x: 3, y: 2 }).perform();
    await until(
      driver,
      async () => (await text('picker-note')).includes('Chalk white: two swaps'),
      'what it would cost',
    );
    await chalk.click();
    await settled(driver);
    await soon(() => ledger('swaps')).to.match(/^2\b/);
  });

  it('what is too fine is marked in place and said with the number that mends it', async () => {
    const { driver } = session;
    await key('new-tag-rounded');
    await key('add-text');
    await typeOver(driver, 'element-heightMm', '2');
    await pickOption(driver, 'element-face', 'barlow');
    await until(
      driver,
      async () => /Capitals are to be \d\.\d+ mm high/.test(await text('problem')),
      'a stroke that is too thin',
    );
    await soon(() => text('problem-mark')).to.match(/stroke 0\.\d+ mm: needs 0\.42 mm/);
    await soon(() => text('notices')).to.match(/\d notice/);
    await typeOver(driver, 'element-heightMm', '9');
    await pickOption(driver, 'element-face', 'hanken-bold');
    await until(
      driver,
      async () => (await driver.findElements(By.css('[data-testid="problem"]'))).length === 0,
      'nothing is wrong',
    );
    await until(
      driver,
      async () => /thinnest stroke 1\.\d+ mm/.test(await text('element-figures')),
      'how fine it is now',
    );
  });

  it('a logo comes from SVG by colour; a drawing that cannot be is refused and changes nothing', async () => {
    const { driver } = session;
    await key('new-tag-hexagon');
    await find(driver, 'elements');
    const logo = join(folder, 'comet.svg');
    writeFileSync(
      logo,
      '<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 40 20"><circle cx="10" cy="10" r="8" fill="#111"/><path d="M20 4h18v4h-18zM20 12h18v4h-18z" fill="#eee"/></svg>',
    );
    await (await find(driver, 'logo-file')).sendKeys(logo);
    await row('comet 2');
    await settled(driver);
    const circle = await (await element('comet 1')).getRect();
    const bars = await (await element('comet 2')).getRect();
    expect(circle.width / bars.width).to.be.closeTo(16 / 18, 0.02);
    expect(bars.x).to.be.greaterThan(circle.x + circle.width);
    const before = (await driver.findElements(By.css('[data-testid="element-row"]'))).length;
    writeFileSync(
      logo,
      '<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 9 9"><text>A</text></svg>',
    );
    await (await find(driver, 'logo-file')).sendKeys(logo);
    await until(
      driver,
      async () =>
        (await driver.findElement(By.css('body')).getText()).includes('Convert lettering'),
      'the refusal',
    );
    await soon(() => driver.findElements(By.css('[data-testid="element-row"]'))).to.have.length(
      before,
    );
  });

  it('a picture gives an outline that goes around it, and its flat areas as a logo', async () => {
    const { driver } = session;
    await key('new-tag-disc');
    await find(driver, 'elements');
    const picture = join(folder, 'comet.png');
    await sharp(
      Buffer.from(
        '<svg xmlns="http://www.w3.org/2000/svg" width="600" height="300"><rect width="600" height="300" fill="#fff"/><rect x="100" y="50" width="400" height="200" fill="#1a2a6c"/><circle cx="300" cy="150" r="60" fill="#e9b800"/></svg>',
      ),
    )
      .png()
      .toFile(picture);
    await (await findCss(driver, '[data-kind="plate"] button[aria-expanded]')).click();
    await (await find(driver, 'outline-file')).sendKeys(picture);
    // 40 mm wide as the disc was, half as high, and 2 mm all round.
    await until(
      driver,
      async () => (await ledger('size')).startsWith('44 x 24 mm'),
      'the contour, grown',
    );
    await typeOver(driver, 'outline-grownMm', '4');
    await until(
      driver,
      async () => (await ledger('size')).startsWith('48 x 28 mm'),
      'the contour, grown by more',
    );
    await (await find(driver, 'logo-file')).sendKeys(picture);
    await row('comet 2');
    await settled(driver);
    const bar = await (await element('comet 1')).getRect();
    const disc = await (await element('comet 2')).getRect();
    expect(Math.max(bar.width, disc.width) / Math.min(bar.width, disc.width)).to.be.closeTo(
      400 / 120,
      0.05,
    );
    const photo = join(folder, 'plain.png');
    await sharp({ create: { width: 40, height: 40, channels: 3, background: '#888' } })
      .png()
      .toFile(photo);
    await (await find(driver, 'logo-file')).sendKeys(photo);
    await until(
      driver,
      async () => (await driver.findElement(By.css('body')).getText()).includes('one colour'),
      'why it gives nothing',
    );
  });

  it('a series of 30 names lies on plates: one sheet, one file of all of a plate, long names set smaller', async () => {
    const { driver } = session;
    await openDemoTag('Observatory name tags');
    await soon(() => ledger('series')).to.match(/^12\s+names, 1 plate/);
    await soon(() => ledger('size')).to.include('68 x 24 mm');
    await (await find(driver, 'stop-series')).click();
    const names = join(folder, 'names.csv');
    const rows = Array.from({ length: 30 }, (_, n) => `Guest ${n + 1},Visitor`);
    rows[4] = 'Bartholomew Feather-Ashby,Guest';
    writeFileSync(names, `Name,Role\n${rows.join('\n')}\n`);
    await (await find(driver, 'names-file')).sendKeys(names);
    await until(driver, async () => (await ledger('series')).startsWith('30'), 'thirty names');
    await settled(driver);
    // 68 x 24 mm with 4 mm between, on 220 x 220: three by eight.
    for (const told of [/A plate holds\s+24/, /Plates\s+2/])
      await soon(() => text('series-facts')).to.match(told);
    await soon(() => text('names')).to.match(/Feather-Ashby, Guest\s+set at \d\d %/);
    await soon(() => ledger('swaps')).to.match(/^1\b/);
    await soon(() => ledger('size')).to.include('212 x 220 mm');
    await soon(() => axeFaults(session, true)).to.deep.equal([]);
    await typeOver(driver, 'series-plate', '2');
    await settled(driver);
    await (await find(driver, 'stop-relief')).click();
    await pickOption(driver, 'format', '3mf');
    await press('Download 3MF');
    const { bytes } = await readDownload(session, /relief\.3mf$/);
    const model = strFromU8(
      unzipSync(new Uint8Array(bytes))['3D/3dmodel.model'] ?? new Uint8Array(),
    );
    expect(model).to.include('A Ledger blue').and.include('B Chalk white');
    const xs = [...model.matchAll(/<vertex x="([\d.]+)"/g)].map(([, x]) => Number(x));
    expect(xs.reduce((most, x) => Math.max(most, x), 0)).to.be.closeTo(212, 0.2);
    // Typed names take the place of the list.
    await (await find(driver, 'stop-series')).click();
    await press('One piece alone');
    await (await find(driver, 'typed-names')).sendKeys('Ada\nBo\n', Key.TAB);
    await until(driver, async () => (await ledger('series')).startsWith('2'), 'two names');
    await soon(() => text('missing-fields')).to.include('{role}');
  });

  it('a font and an outline of one\u2019s own go with the project file, and are there again when it is opened elsewhere', async () => {
    const { driver } = session;
    await key('new-tag-shield');
    await key('add-text');
    const font = fileURLToPath(
      new URL(
        '../../node_modules/@fontsource/fredoka/files/fredoka-latin-600-normal.woff',
        import.meta.url,
      ),
    );
    const width = async (): Promise<number> => (await (await element('NAME')).getRect()).width;
    await settled(driver);
    const before = await width();
    const broken = join(folder, 'broken.ttf');
    writeFileSync(broken, 'no font at all');
    await (await find(driver, 'font-file')).sendKeys(broken);
    await until(
      driver,
      async () =>
        (await driver.findElement(By.css('body')).getText()).includes('no font that can be read'),
      'the refusal',
    );
    await (await find(driver, 'font-file')).sendKeys(font);
    await until(driver, async () => Math.abs((await width()) - before) > 2, 'another face');
    await (await row('Outline')).click();
    const outline = join(folder, 'house.svg');
    writeFileSync(
      outline,
      '<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 40 50"><path d="M0 20L20 0 40 20V50H0Z"/></svg>',
    );
    await (await find(driver, 'outline-file')).sendKeys(outline);
    await row('own outline');
    await settled(driver);
    await soon(() => ledger('size')).to.include('40 x 50 mm');
    const own = await width();
    await chooseFrom(driver, 'Project Tag', 'Download the project file');
    const { bytes } = await readDownload(session, /\.strata$/);
    const again = join(folder, 'again.strata');
    writeFileSync(again, bytes);
    await begin(session);
    await driver.get(session.address);
    await upload(session, again);
    await find(driver, 'elements');
    await settled(driver);
    await soon(() => width()).to.be.closeTo(own, 1);
    await (await row('NAME')).click();
    const face = await findCss(driver, '[data-testid="element-face"] option:checked');
    await soon(() => face.getText()).to.equal('fredoka-latin-600-normal');
  });
});
