import { mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { expect } from 'chai';
import { Key } from 'selenium-webdriver';
import { runBookSchema } from '#core/rehearse/kept-run.ts';
import { bandEnds } from '#core/stack/stack.ts';
import { expectDemo, PLACES } from '../helpers/demo.ts';
import { slice } from '../helpers/gcode.ts';
import {
  axeFaults,
  find,
  findButton,
  findCss,
  pickOption,
  readCanvas,
  readDownload,
  shareSession,
  typeOver,
  until,
  type Session,
  soon,
} from './browser.ts';
import { openDemo } from './fixtures.ts';

describe('Rehearse', function () {
  this.timeout(600_000);
  let session: Session;
  const folder = mkdtempSync(join(tmpdir(), 'strata-rehearse-'));
  before(async () => {
    session = await shareSession();
  });
  beforeEach(async () => {
    await openDemo(session, 'Dome at dusk', 'rehearse');
    await find(session.driver, 'rehearse');
  });
  after(async () => {
    rmSync(folder, { recursive: true });
    await session.close();
  });
  const press = async (name: string): Promise<void> =>
    (await findButton(session.driver, name)).click();
  const textOf = async (testId: string): Promise<string> =>
    (await find(session.driver, testId)).getText();
  const state = (): Promise<string> => textOf('printer-state');
  const reaches = (wanted: string): Promise<unknown> =>
    until(
      session.driver,
      async () => ((await state()) === wanted ? wanted : null),
      `the printer is ${wanted}`,
    );
  const start = async (speed: '600' | '3600' = '3600'): Promise<void> => {
    await (await find(session.driver, `choice-${speed}`)).click();
    await press('Start the rehearsal');
  };
  /** Waits for words. */
  const says = (testId: string, words: RegExp): Promise<unknown> =>
    until(
      session.driver,
      async () => (words.test(await textOf(testId)) ? true : null),
      `${testId} says ${words.source}`,
    );
  /** The areas of the bands, in samples, from the demo's own heights. */
  const bandAreas = async (): Promise<number[]> => {
    const demo = await expectDemo('dome-at-dusk', 375, 250);
    const { data } = demo.heights(demo.bands);
    let below = 0;
    return bandEnds(demo.bands).map((end) => {
      let sum = 0;
      for (let layer = below + 1; layer <= end; layer += 1)
        sum += data.reduce((count, own) => count + (own >= layer ? 1 : 0), 0);
      below = end;
      return sum;
    });
  };
  const pixels = async (canvas: string): Promise<number[][]> =>
    (await readCanvas(session.driver, canvas, PLACES)).pixels;

  it('runs a whole print: each stop is served, the print comes out as planned, and the run is kept', async () => {
    const { driver } = session;
    await soon(() => axeFaults(session)).to.deep.equal([]);
    await start();
    const loaded: string[] = [];
    for (let stop = 1; stop <= 5; stop += 1) {
      await until(
        driver,
        async () =>
          (await state()) === 'waiting' &&
          (await textOf('printer-says')).startsWith(`stop ${stop} of 5`)
            ? true
            : null,
        `stop ${stop}`,
      );
      loaded.push((await textOf('load')).replace(/^\S+ /, ''));
      if (stop === 1) await soon(() => axeFaults(session)).to.deep.equal([]);
      await press('Loaded, resume');
    }
    await reaches('done');
    expect(loaded).to.deep.equal(['Midnight', 'Damson', 'Orchid', 'Coral', 'Straw']);
    await until(
      driver,
      async () => ((await textOf('score')) === '1.000' ? true : null),
      'the score',
    );
    await soon(() => textOf('outcome')).to.match(/planned filament/);
    await until(
      driver,
      async () =>
        JSON.stringify(await pixels('laid')) === JSON.stringify(await pixels('planned'))
          ? true
          : null,
      'what is laid is what was planned',
    );
    await soon(() => textOf('run-book')).to.match(/1\.000/);
    await press('Save as JSON');
    const { bytes } = await readDownload(session, /-runs\.json$/);
    const book = runBookSchema.parse(JSON.parse(bytes.toString()));
    expect(book.runs[0]?.score).to.equal(1);
    expect(book.runs[0]?.events.filter(({ kind }) => kind === 'loaded')).to.have.length(5);
    // It is there after a new start.
    await driver.navigate().refresh();
    await says('run-book', /1\.000/);
  });

  it('shows what would become of the print, and a spoilt one scores as its areas say', async () => {
    const { driver } = session;
    const areas = await bandAreas();
    const all = areas.reduce((a, b) => a + b, 0);
    await pickOption(driver, 'fault', 'runs-through');
    await typeOver(driver, 'fault-value', `2${Key.ENTER}`);
    const wanted = 1 - (areas[2] ?? 0) / all;
    const told = await until(
      driver,
      async () => /score (\d\.\d+), differs from layer (\d+)/.exec(await textOf('spoilt')),
      'the spoilt print',
    );
    expect(Number(told[1])).to.be.closeTo(wanted, 0.006);
    expect(Number(told[2])).to.equal(
      (await expectDemo('dome-at-dusk', 375, 250)).bands
        .slice(0, 2)
        .reduce((sum, { layers }) => sum + layers, 0) + 1,
    );
    const planned = await pixels('planned');
    await soon(() => pixels('spoilt-picture')).to.not.deep.equal(planned);
    await start();
    for (const stop of [1, 3, 4, 5]) {
      await says('printer-says', new RegExp(`^stop ${stop} of 5`));
      await press('Loaded, resume');
    }
    await reaches('done');
    await until(
      driver,
      async () => ((await textOf('score')) === told[1] ? true : null),
      'the foretold score',
    );
    await soon(() => textOf('outcome')).to.match(/ran through M600 in line [\d,]+.*test tile/);
    await (await find(driver, 'try-all')).click();
    await says('tried', /Of 7 things/);
    await soon(() => axeFaults(session)).to.deep.equal([]);
    await soon(async () => {
      const row = await (await findCss(driver, 'tr[data-trial=unknown-command]')).getText();
      return Number(/(\d\.\d+)/.exec(row)?.[1]);
    }).to.be.closeTo((areas[0] ?? 0) / all, 0.006);
    await press('Close');
  });

  it('is looked at layer by layer with pointer and keys, before and while it prints', async () => {
    const { driver } = session;
    const line = await find(driver, 'time-line');
    const layer = async (): Promise<number> =>
      Number(/layer (\d+) of/.exec(await textOf('laid-layer'))?.[1]);
    const shown = async (test: (at: number) => boolean, what: string): Promise<void> => {
      await until(
        driver,
        async () => {
          const at = Number(await (await find(driver, 'rehearse')).getAttribute('data-shown'));
          return test(at) ? true : null;
        },
        what,
      );
    };
    await soon(() => layer()).to.equal(30);
    await line.sendKeys(Key.HOME);
    await shown((at) => at === 0, 'the bare plate');
    await soon(async () => (await pixels('laid')).every(([, , , alpha]) => alpha === 0)).to.equal(
      true,
    );
    await line.sendKeys(Key.ARROW_RIGHT);
    await soon(() => layer()).to.equal(1);
    await line.sendKeys(Key.ARROW_RIGHT, Key.ARROW_RIGHT);
    await soon(() => layer()).to.equal(3);
    await shown((at) => at > 0, 'the first band');
    // The first band is whole: one colour everywhere.
    await soon(async () => new Set((await pixels('laid')).map(String)).size).to.equal(1);
    await line.sendKeys(Key.PAGE_UP);
    await soon(() => layer()).to.equal(8);
    await line.sendKeys(Key.ARROW_LEFT);
    await soon(() => layer()).to.equal(7);
    await line.sendKeys(Key.PAGE_DOWN);
    await soon(() => layer()).to.equal(3);
    await line.sendKeys(Key.END);
    await soon(() => layer()).to.equal(30);
    await until(
      driver,
      async () =>
        JSON.stringify(await pixels('laid')) === JSON.stringify(await pixels('planned'))
          ? true
          : null,
      'the whole print again',
    );
    await driver.actions().move({ origin: line, x: 0, y: 0 }).press().release().perform();
    await soon(() => layer()).to.be.within(8, 14);
    // While it prints, another moment stays until somebody goes back to now.
    await start();
    await reaches('waiting');
    await (await find(driver, 'time-line')).sendKeys(Key.HOME);
    await press('Back to now');
    await until(driver, async () => ((await layer()) === 3 ? true : null), 'the present layer');
  });

  it('somebody who comes late, or changes too early, sees what becomes of it', async () => {
    const { driver } = session;
    await pickOption(driver, 'fault', 'resumes-itself');
    await start('600');
    await says('outcome', /went on by itself/);
    await until(
      driver,
      async () => (Number(await textOf('score')) < 1 ? true : null),
      'the score of what it laid meanwhile',
    );
    await press('Stop');
    await reaches('done');
    await pickOption(driver, 'fault', 'nothing');
    await (await find(driver, 'choice-60')).click();
    await press('Rehearse again');
    await reaches('printing');
    await (await find(driver, 'load-now')).click();
    await says('outcome', /too early or too late/);
  });

  it('a file without stops says so, tells when to stand there, and is paused at the panel', async () => {
    const { driver } = session;
    const demo = await expectDemo('dome-at-dusk', 375, 250);
    const path = join(folder, 'bare.gcode');
    writeFileSync(path, slice(demo.heights(demo.bands), bandEnds(demo.bands).at(-1) ?? 0));
    await (await find(driver, 'rehearse-file')).sendKeys(path);
    await says('queue', /The file has no stop/);
    await (await findCss(driver, '[data-testid=panel-swaps] summary')).click();
    for (const name of ['Midnight', 'Damson', 'Orchid', 'Coral', 'Straw'])
      await soon(() => textOf('panel-swaps')).to.contain(name);
    await (await find(driver, 'choice-60')).click();
    await press('Start the rehearsal');
    await reaches('printing');
    await press('Pause at the panel');
    await reaches('waiting');
    await soon(() => textOf('load')).to.contain('Midnight');
    await press('Loaded, resume');
    await reaches('printing');
    await (await find(driver, 'choice-3600')).click();
    await reaches('done');
    await soon(async () => Number(await textOf('score'))).to.be.below(0.9);
    // What is no file to print is told, and another one can be chosen.
    const wrong = join(folder, 'wrong.gcode');
    writeFileSync(wrong, 'nothing here\n');
    await (await find(driver, 'rehearse-file')).sendKeys(wrong);
    await soon(async () => (await findCss(driver, '[role=alert]')).getText()).to.contain(
      'wrong.gcode',
    );
    await (await find(driver, 'choice-own')).click();
    await find(driver, 'rehearse');
  });

  it('takes the file that lies on the G-code desk', async () => {
    const { driver } = session;
    await (await find(driver, 'stop-sheet')).click();
    await findCss(driver, '[data-testid=sheet-picture][data-drawn]');
    await press('Sliced file');
    const demo = await expectDemo('dome-at-dusk', 375, 250);
    const path = join(folder, 'from-elsewhere.gcode');
    const starts = bandEnds(demo.bands).slice(0, -1);
    const before = Object.fromEntries(starts.map((end) => [end + 1, ['M0']]));
    writeFileSync(
      path,
      slice(demo.heights(demo.bands), bandEnds(demo.bands).at(-1) ?? 0, { before }),
    );
    await (await find(driver, 'gcode-file')).sendKeys(path);
    await find(driver, 'layer-list');
    await driver.navigate().back();
    await (await find(driver, 'stop-rehearse')).click();
    await (await find(driver, 'choice-desk')).click();
    await findCss(driver, '[data-testid=rehearse][data-file="from-elsewhere.gcode"]');
    await soon(() => textOf('queue')).to.match(/Midnight/);
    await start();
    await reaches('done');
    await soon(() => textOf('outcome')).to.match(
      /ran through M0 in line [\d,]+, which it does not know.*M600/,
    );
  });

  it('notes of the real print go into the printer, and the sheet counts with them', async () => {
    const { driver } = session;
    await (await findCss(driver, '[data-testid=print-notes] summary')).click();
    const fill = async (testId: string, text: string): Promise<void> => {
      await typeOver(driver, testId, `${text}${Key.TAB}`);
    };
    await press('Take over into the printer');
    await soon(async () =>
      (await findCss(driver, '[data-testid=print-notes] [role=alert]')).getText(),
    ).to.match(/first/);
    await fill('note-stopped-1', '60');
    await fill('note-took-1', '7,5');
    await press('Take over into the printer');
    await soon(async () => (await findCss(driver, '[data-sonner-toast]')).getText()).to.match(
      /a swap takes 450 s, printing takes \d\.\d+ times as long/,
    );
    await driver.get((await driver.getCurrentUrl()).replace(/rehearse$/, 'sheet'));
    await findCss(driver, '[data-testid=sheet-picture][data-drawn]');
    await soon(async () => (await findCss(driver, '#sheet')).getText()).to.match(/8 min a swap/);
  });

  it('says when the simulated printer is gone, and begins anew', async () => {
    const { driver, address } = session;
    await start();
    await reaches('waiting');
    const { printers } = (await (await fetch(`${address}/api/printer`)).json()) as {
      printers: { id: string; state: string }[];
    };
    for (const { id } of printers)
      await fetch(`${address}/api/printer/${id}`, { method: 'DELETE' });
    await reaches('gone');
    await soon(async () => (await findCss(driver, 'aside [role=alert]')).getText()).to.contain(
      'start the rehearsal again',
    );
    await press('Rehearse again');
    await reaches('waiting');
  });
});
