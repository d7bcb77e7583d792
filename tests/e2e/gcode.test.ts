import { mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { expect } from 'chai';
import { By, Key } from 'selenium-webdriver';
import { auditGcode } from '#core/gcode/audit.ts';
import { bandEnds } from '#core/stack/stack.ts';
import { expectDemo } from '../helpers/demo.ts';
import { planOf, reliefForSlices, reportOf, slice, slicedFile } from '../helpers/gcode.ts';
import {
  axeFaults,
  dropFile,
  find,
  findButton,
  findCss,
  pickOption,
  readCanvas,
  readDownload,
  shareSession,
  until,
  upload,
  type Session,
  soon,
} from './browser.ts';
import { begin, openDemo } from './fixtures.ts';
import { DOWN, GcodeDeskPage } from './pages/gcode-desk.ts';

describe('the G-code desk', function () {
  this.timeout(600_000);
  let session: Session;
  let desk: GcodeDeskPage;
  const folder = mkdtempSync(join(tmpdir(), 'strata-desk-'));
  const path = (name: string): string => join(folder, name);
  const HEIGHTS = reliefForSlices();
  before(async () => {
    session = await shareSession();
    desk = new GcodeDeskPage(session);
    writeFileSync(path('swaps.json'), JSON.stringify(planOf(HEIGHTS, 10)));
    writeFileSync(path('plain.gcode'), `${slice(HEIGHTS, 10)}; infill_density = 100%\n`);
    writeFileSync(path('two-tools.gcode'), slicedFile('g_two_tools_rel'));
    writeFileSync(
      path('scaled.gcode'),
      slice(HEIGHTS, 10, { zScale: 1.05, before: { 3: ['M600'], 6: ['M600'] } }),
    );
  });
  beforeEach(async () => {
    await begin(session);
  });
  after(async () => {
    await session.close();
    rmSync(folder, { recursive: true });
  });
  const press = async (name: string): Promise<void> =>
    (await findButton(session.driver, name)).click();
  const dialogText = async (): Promise<string> => (await find(session.driver, 'woven')).getText();

  it('checks the slice of a project against its sheet, weaves the swaps in, and takes them out to the byte', async () => {
    const { driver } = session;
    // Coarse samples are as wide as a line.
    const demo = await expectDemo('dome-at-dusk', 375, 250);
    const ends = bandEnds(demo.bands);
    const [first = 1, ...others] = ends.slice(0, -1).map((end) => end + 1);
    const before = {
      [first - 1]: ['M600'],
      ...Object.fromEntries(others.slice(0, -1).map((layer) => [layer, ['M600']])),
    };
    const text = slice(demo.heights(demo.bands), ends.at(-1) ?? 0, { before });
    writeFileSync(path('dome.gcode'), text);

    await openDemo(session, 'Dome at dusk', 'sheet');
    await press('Sliced file');
    await until(
      driver,
      async () => /\w{4}-\w{4}/.test(await (await find(driver, 'desk-stamp')).getText()),
      'the sheet of the project',
    );
    await desk.open(path('dome.gcode'));
    await desk.shows(new RegExp(`${ends.at(-1) ?? 0} layers`));
    await soon(() => desk.findings()).to.deep.equal(['swap-early', 'swap-missing']);
    await soon(() => axeFaults(session, true)).to.deep.equal([]);

    // A finding leads to its line, and to its layer.
    await (await findCss(driver, '[data-code=swap-early] button')).click();
    const line = text.split('\n').indexOf('M600') + 1;
    await until(driver, async () => (await desk.hereIs()).includes('M600'), 'the line is shown');
    await soon(async () => (await desk.hereIs()).replace(/,/g, '')).to.match(
      new RegExp(`^${line}\\s`),
    );
    await soon(() => desk.layerNow()).to.contain(`layer ${first - 1} of ${ends.at(-1) ?? 0}`);

    // Exactly what is added stands there before anything is saved.
    await press('Weave in 2 swaps');
    const shown = await dialogText();
    expect(shown)
      .to.contain(';@strata begin swap 1 stamp')
      .and.to.contain('Switched off, not deleted');
    await press('Save the file');
    const woven = await readDownload(session, /^dome-swaps\.gcode$/);
    const report = await reportOf(woven.bytes);
    expect(report.pauses.map(({ layer }) => layer)).to.deep.equal([first, ...others]);
    writeFileSync(path(woven.name), woven.bytes);
    await desk.open(path(woven.name));
    await until(
      driver,
      async () => (await desk.findings()).length === 0,
      'the woven file is sound',
    );
    await press('Take out');
    const bare = await readDownload(session, /^dome-plain\.gcode$/);
    expect(bare.bytes.equals(Buffer.from(text))).to.equal(true);
  });

  it('shows layers, the way of the nozzle and the text, by keys and by pointer', async () => {
    const { driver } = session;
    await driver.get(`${session.address}/gcode`);
    await desk.compare(path('swaps.json'));
    await desk.open(path('plain.gcode'));
    await desk.shows(/10 layers/);
    await desk.keysOnLayers(DOWN, DOWN, DOWN);
    await until(
      driver,
      async () => (await desk.layerNow()).includes('layer 4 of 10, 0.40 mm'),
      'layer 4',
    );
    const canvas = await find(driver, 'plate-canvas');
    const drawn = (layer: number): Promise<unknown> =>
      until(
        driver,
        async () => ((await canvas.getAttribute('data-drawn')) ?? '').startsWith(`${layer}:`),
        'drawn',
      );
    await drawn(4);
    const whole = await readCanvas(driver, 'plate-canvas', [[0.5, 0.5]]);
    expect(whole.width).to.be.greaterThan(300);
    const end = await canvas.getAttribute('data-drawn');
    // Keys take the nozzle back along its way, and the text goes with it.
    const before = await (await find(driver, 'nozzle-line')).getText();
    const slider = await findCss(driver, '[role=slider][aria-label="Place in the layer"]');
    for (let n = 0; n < 5; n += 1) await slider.sendKeys(Key.ARROW_LEFT);
    await until(
      driver,
      async () => (await canvas.getAttribute('data-drawn')) !== end,
      'the nozzle moved',
    );
    await soon(async () => (await find(driver, 'nozzle-line')).getText()).to.not.equal(before);
    await slider.sendKeys(Key.HOME);
    await until(
      driver,
      async () => /^4:0$/.test((await canvas.getAttribute('data-drawn')) ?? ''),
      'at its beginning',
    );
    await (await find(driver, 'choice-0')).click();
    await soon(async () => (await find(driver, 'layer-4')).getText()).to.match(/^3\n/);
    await (await find(driver, 'choice-below')).click();
    await drawn(4);
    await (await find(driver, 'layer-7')).click();
    await until(driver, async () => (await desk.layerNow()).includes('layer 7'), 'by pointer');
    await (await find(driver, 'choice-strand')).click();
    for (const told of [
      /25 % of the way up, at 0\.22 mm: [\d.]+ mm of [\d.]+ m/,
      /A soot/,
      /C sand/,
    ])
      await soon(async () => (await find(driver, 'strand')).getText()).to.match(told);
    await soon(() => axeFaults(session, true)).to.deep.equal([]);
  });

  it('tells the cause first, folds what follows, and refuses what it cannot read without losing what is open', async () => {
    const { driver } = session;
    await driver.get(`${session.address}/gcode`);
    await desk.compare(path('swaps.json'));
    await desk.open(path('scaled.gcode'));
    await until(
      driver,
      async () => (await desk.findings()).join() === 'z-scaled',
      'the cause alone',
    );
    await soon(async () => (await findCss(driver, '[data-code=z-scaled]')).getText()).to.contain(
      'Scaled to 105.0 %',
    );
    await (await findCss(driver, '[data-code=z-scaled] summary')).click();
    await soon(async () => (await findCss(driver, '[data-code=z-scaled]')).getText()).to.contain(
      'comes too late',
    );
    // A list of swaps that is dropped is what is compared with; all else is a sliced file.
    const other = { ...planOf(HEIGHTS, 10), stamp: 'DROP-PED1' };
    await dropFile(driver, 'other.json', 'application/json', Buffer.from(JSON.stringify(other)));
    await until(
      driver,
      async () => (await (await find(driver, 'desk-stamp')).getText()) === 'DROP-PED1',
      'another plan',
    );
    await dropFile(driver, 'broken.gcode', 'text/plain', Buffer.from([0x50, 0x4b, 3, 4, 0, 0]));
    const alert = await findCss(driver, '[role=alert]');
    await soon(() => alert.getText()).to.contain('broken.gcode: This is a packed file');
    await soon(() => desk.facts()).to.contain('10 layers');
    await desk.keysOnLayers(DOWN);
    await until(driver, async () => (await desk.hereIs()) !== '', 'the open file is read on');
    // Times by another acceleration.
    const before = await desk.facts();
    const field = await find(driver, 'desk-acceleration');
    await field.sendKeys(Key.chord(Key.CONTROL, 'a'), '200', Key.ENTER);
    await until(driver, async () => (await desk.facts()) !== before, 'other times');
  });

  it('takes the maker’s own lines only where they are sound', async () => {
    const { driver } = session;
    await driver.get(`${session.address}/gcode`);
    await desk.compare(path('swaps.json'));
    await desk.open(path('plain.gcode'));
    await desk.findings();
    await (await findCss(driver, '[data-testid=desk-settings] summary')).click();
    await soon(async () => (await find(driver, 'desk-settings')).getText()).to.match(
      /infill_density\s+100%/,
    );
    await pickOption(driver, 'desk-pause', 'custom');
    const own = await find(driver, 'desk-pause-text');
    await own.sendKeys('M600 ; {to}\nG91');
    const weave = await find(driver, 'weave');
    await until(
      driver,
      async () => (await weave.getText()).includes('Add at its end: G90'),
      'what mends it',
    );
    const [button] = await weave.findElements(By.css('button'));
    await soon(() => button?.isEnabled()).to.equal(false);
    await own.sendKeys('\nG90');
    await until(driver, async () => (await button?.isEnabled()) === true, 'it is sound');
    await press('Weave in 2 swaps');
    await soon(() => dialogText()).to.contain('M600 ; rust');
    await press('Save the file');
    const { bytes } = await readDownload(session, /^plain-swaps\.gcode$/);
    expect(auditGcode(await reportOf(bytes), planOf(HEIGHTS, 10))).to.deep.equal([]);
  });

  it('makes one nozzle of several tools', async () => {
    const { driver } = session;
    // What is given to the shelf, and is no picture, comes to its own place.
    await driver.get(session.address);
    await upload(session, path('two-tools.gcode'));
    await desk.shows(/tools 0, 1/);
    await (await find(driver, 'choice-tools')).click();
    const words = await find(driver, 'tools-words');
    await soon(() => words.getText()).to.match(/^20 swaps, at most 1 in one layer/);
    await soon(() => axeFaults(session, true)).to.deep.equal([]);
    await (await findCss(driver, '[data-testid=tools] input[type=checkbox]')).click();
    await until(
      driver,
      async () => (await words.getText()).startsWith('3 swaps'),
      'only in the first layers',
    );
    await press('Make 3 swaps of the tool changes');
    await press('Save the file');
    const { bytes } = await readDownload(session, /^two-tools-one-nozzle\.gcode$/);
    const report = await reportOf(bytes);
    expect([report.tools, report.pauses.map(({ layer }) => layer)]).to.deep.equal([[0], [1, 2, 3]]);
  });
});
