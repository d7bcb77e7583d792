import { execFileSync } from 'node:child_process';
import { mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { expect } from 'chai';
import { parse } from 'csv-parse/sync';
import ICAL from 'ical.js';
import { By, type WebElement } from 'selenium-webdriver';
import { PAUSE_COMMANDS } from '#core/printer/pause.ts';
import {
  axeFaults,
  chooseFrom,
  find,
  findButton,
  findCss,
  pickOption,
  readDownload,
  resizeTo,
  shareSession,
  typeOver,
  until,
  type Session,
  soon,
} from './browser.ts';
import { begin, openDemo } from './fixtures.ts';
import { SheetStop } from './pages/sheet-stop.ts';

describe('printers on screen', function () {
  this.timeout(600_000);
  let session: Session;
  before(async () => {
    session = await shareSession();
  });
  beforeEach(async () => {
    await begin(session);
    await session.driver.get(`${session.address}/printers`);
  });
  after(async () => {
    await session.close();
  });
  const troubles = async (): Promise<string[]> =>
    Promise.all(
      (await session.driver.findElements(By.css('form [role=alert]'))).map((one) => one.getText()),
    );
  const save = async (): Promise<void> =>
    (await findButton(session.driver, 'Save printer')).click();

  /** A round printer of one's own, 180 mm wide, called Workshop. */
  const makeRound = async (): Promise<void> => {
    const { driver } = session;
    await (await findButton(driver, 'New printer')).click();
    await typeOver(driver, 'printer-name', 'Workshop');
    await pickOption(driver, 'printer-shape', 'round');
    await typeOver(driver, 'printer-diameterMm', '180');
    await typeOver(driver, 'printer-swapS', '240');
    await typeOver(driver, 'printer-solidMmS', '62,5');
    await save();
    await until(
      driver,
      async () =>
        (await (await find(driver, 'printer-card-printer')).getText()).includes(
          'Workshop\n180 mm round',
        ),
      'the printer is saved',
    );
  };

  it('shows the generic ones, takes a profile of one’s own, and has it after a reload', async () => {
    const { driver } = session;
    const cards = await find(driver, 'printer-card-medium-hand').then(() =>
      driver.findElements(By.css('[data-testid^=printer-card]')),
    );
    expect(cards).to.have.length(6);
    await makeRound();
    await driver.navigate().refresh();
    await (await find(driver, 'printer-card-printer')).click();
    await soon(async () => (await find(driver, 'printer-solidMmS')).getAttribute('value')).to.equal(
      '62.5',
    );
    await soon(() => axeFaults(session)).to.deep.equal([]);
  });

  it('refuses a bed of 0, a nozzle larger than the bed, a speed of 0 and 1e9, and says what may stand there', async () => {
    const { driver } = session;
    const refused = async (testId: string, value: string, reason: string): Promise<void> => {
      await typeOver(driver, testId, value);
      await save();
      await until(
        driver,
        async () => (await troubles()).some((text) => text.includes(reason)),
        `${value} in ${testId} is refused with: ${reason}`,
      );
      await (await findButton(driver, 'Put back')).click();
      await soon(() => troubles()).to.deep.equal([]);
    };
    await makeRound();
    await refused('printer-diameterMm', '0', 'A number from 20 to 3000');
    await refused('printer-nozzleMm', '200', 'The nozzle is as wide as the bed');
    await refused('printer-solidMmS', '0', 'A number from 1 to 1000');
    await refused('printer-travelMmS', '1e9', 'A number from 1 to 2000');
    await refused('printer-layerMm', '0.5', 'lower than the nozzle');
    await refused('printer-swapS', 'soon', 'A number from 5 to 3600');
    await refused('printer-name', '', 'A name of 1 to 80 signs');
    // Nothing of it was kept.
    await driver.navigate().refresh();
    await soon(async () => (await find(driver, 'printer-card-printer')).getText()).to.contain(
      '180 mm round',
    );
  });

  it('each way to pause says what it does, and has a test tile that pauses so', async () => {
    const { driver } = session;
    await (await find(driver, 'printer-card-medium-hand')).click();
    const said = new Set<string>();
    for (const command of PAUSE_COMMANDS) {
      await pickOption(driver, 'printer-command', command);
      const words = await (await find(driver, 'pause-words')).getText();
      expect(words).to.match(/\..*\./);
      said.add(words);
    }
    expect(said.size).to.equal(PAUSE_COMMANDS.length);
    await (await find(driver, 'printer-text')).sendKeys('M117 swap {swap} to {tool}');
    await save();
    await until(
      driver,
      async () => (await troubles()).join().includes('{tool} is not a word that is replaced'),
      'an unknown word is refused',
    );
    const text = await find(driver, 'printer-text');
    await text.clear();
    await text.sendKeys('M117 swap {swap} at {stop}\nM0');
    await save();
    await until(
      driver,
      async () =>
        (await (await find(driver, 'printer-card-medium-hand')).getText()).includes('own lines'),
      'the lines are saved',
    );
    await (await findButton(driver, 'Download the test tile')).click();
    const { bytes } = await readDownload(session, /^pause-test-custom\.gcode$/);
    expect(bytes.toString('utf8')).to.match(
      /;@strata begin swap 1 stamp test\n; .*\nM117 swap 1 at 0\.24\nM0\n;@strata end swap 1\n; layer 3/,
    );
  });

  it('are duplicated, deleted with undo, and travel as a file', async () => {
    const { driver } = session;
    const names = async (): Promise<string[]> =>
      Promise.all(
        (await driver.findElements(By.css('[data-testid^=printer-card] strong'))).map((one) =>
          one.getText(),
        ),
      );
    await makeRound();
    await (await find(driver, 'printer-card-printer')).click();
    await (await findButton(driver, 'Duplicate')).click();
    await until(driver, async () => (await names()).includes('Workshop copy'), 'there is a copy');
    await (await findButton(driver, 'Delete')).click();
    await until(driver, async () => !(await names()).includes('Workshop copy'), 'it is gone');
    await (await findButton(driver, 'Undo')).click();
    await until(driver, async () => (await names()).includes('Workshop copy'), 'it is back');
    await (await findButton(driver, 'Export')).click();
    const { bytes } = await readDownload(session, /^printers\.json$/);
    const folder = mkdtempSync(join(tmpdir(), 'strata-printers-'));
    try {
      const give = async (name: string, content: string | Buffer): Promise<void> => {
        writeFileSync(join(folder, name), content);
        await (await find(driver, 'printers-file')).sendKeys(join(folder, name));
      };
      const before = (await names()).length;
      await give('good.json', bytes);
      await until(driver, async () => (await names()).length === 2 * before, 'all came in');
      await give('bad.json', bytes.toString('utf8').replace('"solidMmS": 80', '"solidMmS": 0'));
      const alert = await findCss(driver, 'main > [role=alert]');
      await soon(() => alert.getText()).to.match(
        /bad\.json: printer \d+ is not right \(solidMmS: /,
      );
      await soon(() => names()).to.have.length(2 * before);
    } finally {
      rmSync(folder, { recursive: true });
    }
  });
});

describe('the swap sheet on screen', function () {
  this.timeout(600_000);
  let session: Session;
  let sheet: SheetStop;
  const FIRST = 'The printer stops when 0.32 mm is finished. Layer 4 is the first one in Midnight.';

  before(async () => {
    session = await shareSession();
    sheet = new SheetStop(session);
  });
  beforeEach(async () => {
    await openDemo(session, 'Dome at dusk', 'sheet');
    await find(session.driver, 'swap-sheet');
  });
  after(async () => {
    await session.close();
  });

  it('tells each swap by height, layer, viewer, from 0, time, clock and purge; ruler and picture are there', async () => {
    const { driver } = session;
    await soon(() => sheet.read('swap-sheet')).to.contain(FIRST);
    // The project's printer is the profile as it still is, although it was read again.
    const changed = '//button[contains(., "changed profile")]';
    await soon(() => driver.findElements(By.xpath(changed))).to.have.length(0);
    await soon(() => sheet.read('swap-when-1')).to.match(
      /^\d+ min after the start · purge 150 mm$/,
    );
    await sheet.beginAt('2026-11-25T21:30');
    await sheet.reads('swap-when-1', /^at 2[123]:\d\d, /);
    // A print of two hours begun in the evening ends on the next day.
    await sheet.reads('sheet-summary', /21:30 to (Wed 23:\d\d|2\d:\d\d|Thu 0\d:\d\d)/);
    await findCss(driver, '[data-testid=sheet-picture][data-drawn]');
    await soon(async () =>
      (await find(driver, 'height-ruler')).getAttribute('aria-label'),
    ).to.contain('A up to 0.32 mm');
    await soon(() => sheet.read('checklist-to-light')).to.contain('170 degrees');
    await soon(() => sheet.read('settings-table')).to.contain('X and Y only');
    await soon(() => axeFaults(session)).to.deep.equal([]);
  });

  it('another printer, the slicing program’s figures, and copies change what is told; all can be undone', async () => {
    const { driver } = session;
    const before = await sheet.minutes();
    await pickOption(driver, 'sheet-printer', 'medium-feeder');
    await sheet.reads('swap-sheet', /Swap sheet for Medium bed, with feeder/);
    // Five swaps of 90 s in place of 180 s.
    await until(
      driver,
      async () => Math.abs(before - (await sheet.minutes()) - 7.5) <= 1,
      'swaps are faster',
    );
    await soon(() => sheet.read('checklist-to-light')).to.contain('feeder');
    await soon(() => driver.findElements(By.css('[data-testid^=unsuited]'))).to.have.length(0);
    await pickOption(driver, 'sheet-printer', 'small-hand');
    await sheet.reads('unsuited-off-bed', /150 x 100 mm does not lie on its bed of 120 x 120 mm/);
    await sheet.undo();
    await sheet.reads('swap-sheet', /Swap sheet for Medium bed, with feeder/);
    await typeOver(driver, 'sliced-minutes', '100.3');
    await until(
      driver,
      // 100.3 min and five swaps of 90 s; a whole number would leave half a minute, which rounds either way.
      async () => (await sheet.minutes()) === 108,
      'the slicing program’s time counts',
    );
    await soon(() => sheet.read('assumptions')).to.contain(
      'slicing program’s, spread over the layers',
    );
    await typeOver(driver, 'sliced-minutes', 'long');
    await findCss(driver, '[data-testid=sliced-minutes][aria-invalid=true]');
    await soon(() => sheet.minutes()).to.equal(108);
    await typeOver(driver, 'sliced-minutes', '');
    await typeOver(driver, 'sliced-grams', '33,5');
    await sheet.reads('sheet-summary', /33\.5 g/);
    await typeOver(driver, 'copies', '4');
    await sheet.reads('pieces-table', /together \(this sheet\)\s+5\s/);
    await sheet.reads('pieces-table', /one after the other\s+23\s/);
    await sheet.reads('pieces-table', /does not fit, room for 2/);
    await soon(() => sheet.read('advice')).to.contain('they do not fit on the bed together');
    await sheet.choose('apart');
    await sheet.reads('sheet-summary', /5 swaps a piece, 23 in all/);
    await soon(() => sheet.read('swap-back')).to.match(/Before each further piece.*3 times/s);
    await typeOver(driver, 'copies', '1');
    for (let step = 0; step < 7; step += 1) await sheet.undo();
    await sheet.reads('swap-sheet', /Swap sheet for Medium bed, by hand/);
  });

  it('the splice plan, thicker base and high contrast reach the paper', async () => {
    const { driver } = session;
    await (await find(driver, 'with-splices')).click();
    await typeOver(driver, 'splice-margin', '500');
    await sheet.reads('splice-table', /F\s+Straw\s+\d+ mm\s+150 mm\s+500 mm/);
    const marks = (await sheet.read('splice-table'))
      .split('\n')
      .flatMap((line) => /(\d+) mm$/.exec(line)?.[1] ?? [])
      .map(Number);
    expect(marks).to.have.length(6);
    expect([...marks].sort((a, b) => a - b)).to.deep.equal(marks);
    const paper = await find(driver, 'swap-sheet');
    await (await find(driver, 'contrast')).click();
    await soon(() => paper.getAttribute('data-contrast')).to.equal('high');
    await soon(() => paper.getCssValue('background-color')).to.match(/255, 255, 255/);
    await soon(() => axeFaults(session)).to.deep.equal([]);
    await (await find(driver, 'contrast')).click();
  });

  it('prints as one or two pages of A4 and of Letter, with every swap and without the tools', async () => {
    const { driver } = session;
    await (await find(driver, 'with-splices')).click();
    await find(driver, 'splice-table');
    const folder = mkdtempSync(join(tmpdir(), 'strata-pdf-'));
    const stamp = await sheet.stamp();
    try {
      for (const [name, width, height] of [
        ['a4', 21, 29.7],
        ['letter', 21.59, 27.94],
      ] as const) {
        const path = join(folder, `${name}.pdf`);
        const print = driver as unknown as { printPage(options: object): Promise<string> };
        writeFileSync(path, await print.printPage({ width, height, background: true }), 'base64');
        const pages = /Pages:\s+(\d+)/.exec(execFileSync('pdfinfo', [path], { encoding: 'utf8' }));
        expect(Number(pages?.[1]), name).to.be.within(1, 2);
        const text = execFileSync('pdftotext', [path, '-'], { encoding: 'utf8' });
        const flat = text.replace(/\s+/g, ' ');
        for (const mm of ['0.32', '0.72', '1.04', '1.52', '2.00'])
          expect(flat, `${name} ${mm}`).to.contain(`stops when ${mm} mm is finished`);
        expect(flat)
          .to.contain(stamp)
          .and.to.contain('Splice plan')
          .and.to.contain('nearest corner');
        expect(flat).to.not.contain('Lines to paste').and.to.not.contain('At the printer');
      }
    } finally {
      rmSync(folder, { recursive: true });
    }
  });

  it('every download carries the stamp and tells the same swaps', async () => {
    const { driver } = session;
    await sheet.beginAt('2026-11-25T21:30');
    const stamp = await sheet.stamp();
    const take = async (entry: string, pattern: RegExp): Promise<string> => {
      await chooseFrom(driver, 'Download the sheet', entry);
      const { name, bytes } = await readDownload(session, pattern);
      expect(name).to.contain(stamp);
      expect(bytes.toString('utf8')).to.contain(stamp);
      return bytes.toString('utf8');
    };
    await soon(() => take('Text', /swap-sheet\.txt$/)).to.contain(
      'Layer 4 is the first one in Midnight',
    );
    const rows: Record<string, string>[] = parse(await take('CSV, a line a swap', /swaps\.csv$/), {
      columns: true,
    });
    expect(rows.map(({ layer }) => layer)).to.deep.equal(['4', '9', '13', '19', '25']);
    const json = JSON.parse(await take('JSON for programs', /swaps\.json$/)) as {
      swaps: { layer: number }[];
    };
    expect(json.swaps.map(({ layer }) => layer)).to.deep.equal([4, 9, 13, 19, 25]);
    const calendar = new ICAL.Component(
      ICAL.parse(await take('Calendar with alarms', /swaps\.ics$/)) as unknown[],
    );
    const events = calendar.getAllSubcomponents('vevent').map((one) => new ICAL.Event(one));
    expect(events).to.have.length(5);
    const start = await driver.executeScript<number>(
      'return new Date("2026-11-25T21:30").getTime()',
    );
    events.forEach((event, i) => {
      const at = event.startDate.toJSDate().getTime();
      expect(at).to.equal(start + 1000 * Number(rows[i]?.into_print_s));
    });
    for (const command of PAUSE_COMMANDS.filter((one) => one !== 'custom')) {
      await pickOption(driver, 'snippet-command', command);
      await (await findButton(driver, 'Download lines')).click();
      const { name, bytes } = await readDownload(session, /pauses-.*\.txt$/);
      expect(name).to.contain(stamp);
      const lines = bytes.toString('utf8').split('\n');
      const wanted =
        command === 'T1' ? /^T[1-5]$/ : new RegExp(`^${command}\\b`.replace('^@', '@'));
      expect(
        lines.filter((line) => wanted.test(line)),
        command,
      ).to.have.length(5);
    }
  });

  it('a thicker base keeps the heights, moves the layers, and says to go by height', async () => {
    const { driver } = session;
    await sheet.goTo('relief');
    await (await findCss(driver, '[data-testid=base-section] summary')).click();
    await typeOver(driver, 'base-until', '0.64');
    await typeOver(driver, 'base-layer', '0.24');
    await (await findButton(driver, 'Print the base in these')).click();
    await sheet.goTo('sheet');
    await sheet.reads('by-height', /Go by the heights/);
    const paper = await sheet.read('swap-sheet');
    const [, stop = '', layer = ''] =
      /stops when ([\d.]+) mm is finished. Layer (\d+) is the first one in Damson/.exec(paper) ??
      [];
    const [, top = ''] = /first one in Damson.\s+layer viewer: ([\d.]+) mm/.exec(paper) ?? [];
    // 0.16, 0.40, 0.64 and 0.72 mm lie below: the same stop, four layers earlier.
    expect([stop, top, layer]).to.deep.equal(['0.72', '0.80', '5']);
    await sheet.undo();
    await sheet.reads('swap-sheet', /stops when 0\.72 mm is finished. Layer 9 is/);
  });

  it('beside the printer: counts down, goes on from "I resumed now", is there after a reload, on a phone', async () => {
    const { driver } = session;
    await sheet.beginAt('2099-01-01T00:00');
    await sheet.reads('sheet-summary', /00:00 to/);
    await sheet.beginAt('');
    await (await findButton(driver, 'At the printer')).click();
    await soon(() => sheet.read('countdown')).to.equal('--:--');
    await resizeTo(driver, 390, 780, true);
    await (await findButton(driver, 'I started now')).click();
    const secondsOf = async (): Promise<number> =>
      (await sheet.read('countdown'))
        .replace('+', '')
        .split(':')
        .reduce((sum, part) => 60 * sum + Number(part), 0);
    const first = await until(driver, secondsOf, 'it counts');
    expect(first).to.be.within(60, 7200);
    await until(driver, async () => (await secondsOf()) < first, 'it counts down');
    await soon(() => sheet.read('load')).to.equal('B Midnight');
    const button = await findButton(driver, 'Done, I resumed now');
    const { width, height } = await sizeOf(button);
    expect(width).to.be.at.least(300);
    expect(height).to.be.at.least(64);
    await soon(() => axeFaults(session)).to.deep.equal([]);
    await button.click();
    await sheet.reads('load', /C Damson/);
    await driver.navigate().refresh();
    await sheet.reads('load', /C Damson/);
    const scrolls = await driver.executeScript<boolean>(
      'return document.documentElement.scrollWidth > window.innerWidth',
    );
    expect(scrolls).to.equal(false);
    await (await findButton(driver, 'That was too early')).click();
    await sheet.reads('load', /B Midnight/);
    await (await findButton(driver, 'Sheet')).click();
    await soon(() => sheet.read('swap-sheet')).to.contain(FIRST);
    // The project's printer is the profile as it still is, although it was read again.
    const changed = '//button[contains(., "changed profile")]';
    await soon(() => driver.findElements(By.xpath(changed))).to.have.length(0);
  });

  async function sizeOf(element: WebElement): Promise<{ width: number; height: number }> {
    return element.getRect();
  }
});
