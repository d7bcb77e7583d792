import { expect } from 'chai';
import { By, Key } from 'selenium-webdriver';
import { auditGcode } from '#core/gcode/audit.ts';
import { bandEnds } from '#core/stack/stack.ts';
import { expectDemo, PLACES } from '../helpers/demo.ts';
import { planOf, reportOf } from '../helpers/gcode.ts';
import { plainMoves } from '../helpers/own-gcode.ts';
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
import { begin, openDemo } from './fixtures.ts';
import { DOWN, GcodeDeskPage } from './pages/gcode-desk.ts';

describe('G-code of our own', function () {
  this.timeout(600_000);
  let session: Session;
  let desk: GcodeDeskPage;
  before(async () => {
    session = await shareSession();
    desk = new GcodeDeskPage(session);
  });
  beforeEach(async () => {
    await begin(session);
  });
  after(async () => {
    await session.close();
  });
  const press = async (name: string): Promise<void> =>
    (await findButton(session.driver, name)).click();
  /** What stands beside a name in the facts. */
  const fact = async (name: string): Promise<string> => {
    const lines = (await (await find(session.driver, 'own-facts')).getText()).split('\n');
    return lines[lines.indexOf(name) + 1] ?? '';
  };
  /** A duration in words, as minutes. */
  const minutes = (words: string): number => {
    const [, hours = '0', rest = '0'] = /(?:(\d+) h )?(\d+) min/.exec(words) ?? [];
    return 60 * Number(hours) + Number(rest);
  };
  const sheetWords = async (): Promise<string> => {
    await findCss(session.driver, '[data-testid=sheet-picture][data-drawn]');
    return (await findCss(session.driver, '#sheet')).getText();
  };

  it('is made on the swap sheet, looked at before it is saved, right in the saved file, and gives the sheet its times', async () => {
    const { driver } = session;
    await openDemo(session, 'Dome at dusk', 'sheet');
    const before = await sheetWords();
    expect(before).to.match(/about \d h \d+ min/);
    await press('G-code');
    await find(driver, 'own-gcode');
    await soon(() => fact('Layers, swaps')).to.equal('30, 5');
    await soon(() => desk.findings()).to.deep.equal([]);
    await soon(() => axeFaults(session, true)).to.deep.equal([]);
    const printing = minutes(await fact('Printing'));
    await soon(async () =>
      minutes(await fact('of it, slowing down for corners')),
    ).to.be.greaterThan(1);
    const bands = await (await find(driver, 'own-bands')).findElements(By.css('tbody tr'));
    const told = await Promise.all(bands.map((row) => row.getText()));
    expect(told.map((row) => /^([A-F]) /.exec(row)?.[1]).join('')).to.equal('ABCDEF');
    const each = told.map((row) =>
      minutes(/\S+ \S+ \S+ ((?:\d+ h )?\d+ min)$/.exec(row)?.[1] ?? ''),
    );
    expect(each.reduce((sum, one) => sum + one, 0)).to.be.closeTo(printing, bands.length);

    // Layer by layer in the colour of its band.
    await desk.keysOnLayers(DOWN, DOWN, DOWN, DOWN, DOWN);
    await until(
      driver,
      async () => (await desk.layerNow()).includes('layer 6 of 30, 0.56 mm'),
      'layer 6',
    );
    await until(
      driver,
      async () =>
        /^6:\d+$/.test(
          (await (await find(driver, 'plate-canvas')).getAttribute('data-drawn')) ?? '',
        ),
      'layer 6 is drawn',
    );
    // Midnight is blue: over most of the plate.
    const { pixels } = await readCanvas(driver, 'plate-canvas', PLACES);
    const blue = pixels.filter(([red = 0, , blueness = 0]) => blueness > red + 20);
    expect(blue.length).to.be.greaterThan(PLACES.length / 4);

    await press('Save the G-code');
    const { bytes, name } = await readDownload(session, /^dome-at-dusk-.*\.gcode$/i);
    const stamp = /stamp (\w{4}-\w{4})/.exec(before)?.[1] ?? '';
    expect(name).to.contain(stamp);
    const text = bytes.toString('latin1');
    expect(text).to.contain(`;@strata begin swap 1 stamp ${stamp}`);
    // Compared with what this page counts in the demo's own heights.
    const demo = await expectDemo('dome-at-dusk', 375, 250);
    const ends = bandEnds(demo.bands);
    const plan = planOf(
      demo.heights(demo.bands),
      ends.at(-1) ?? 0,
      ends.slice(0, -1).map((end) => end + 1),
    );
    const report = await reportOf(bytes, { accelerationMmS2: 1500, cornerMmS: 8 });
    expect(auditGcode(report, plan).filter(({ code }) => code !== 'other-stamp')).to.deep.equal([]);
    expect(Math.round(report.seconds / 60)).to.equal(printing);
    expect(new Set(plainMoves(text).map(({ layer }) => layer)).size).to.equal(31);

    // The sheet has its times now, and says whose they are.
    await press('Swap sheet');
    await soon(sheetWords).to.contain('those of the G-code that was made here');
    const after = await sheetWords();
    const whole = /5 swaps\s+((?:\d+ h )?\d+ min)/.exec(after)?.[1] ?? '';
    expect(minutes(whole)).to.be.closeTo(printing + 5 * 3, 1);
    // Another picture of it: an edit makes the slice one of before, and the sheet estimates again.
    await (await find(driver, 'copies')).sendKeys(Key.chord(Key.CONTROL, 'a'), '2', Key.ENTER);
    await until(driver, async () => /about \d+ h/.test(await sheetWords()), 'an estimate again');
  });

  it('irons chosen tops, which takes its time, and undo takes it back', async () => {
    const { driver } = session;
    await openDemo(session, 'Dome badge', 'sheet');
    await sheetWords();
    await press('G-code');
    await find(driver, 'own-gcode');
    const plain = await fact('Printing');
    await (await findCss(driver, '[data-testid=ironing] input')).click();
    await until(
      driver,
      async () => {
        const [page] = await driver.findElements(By.css('[data-testid=own-facts]'));
        return page ? minutes(await fact('Printing')) > minutes(plain) : false;
      },
      'ironing takes its time',
    );
    const ironed = minutes(await fact('Printing'));
    const spacing = await find(driver, 'iron-spacing');
    await spacing.sendKeys(Key.chord(Key.CONTROL, 'a'), '0.24', Key.ENTER);
    await until(
      driver,
      async () => {
        const [page] = await driver.findElements(By.css('[data-testid=own-facts]'));
        return page ? minutes(await fact('Printing')) < ironed : false;
      },
      'wider rows take less',
    );
    await press('Undo');
    await press('Undo');
    await until(
      driver,
      async () => {
        const [page] = await driver.findElements(By.css('[data-testid=own-facts]'));
        return page ? (await fact('Printing')) === plain : false;
      },
      'as it was',
    );
  });

  it('what the printer cannot do is said before anything is sliced; texts that leave the wrong modes are refused', async () => {
    const { driver } = session;
    await openDemo(session, 'Dome at dusk', 'sheet');
    await sheetWords();
    await pickOption(driver, 'sheet-printer', 'small-hand');
    await sheetWords();
    await press('G-code');
    const alert = await findCss(driver, '[data-testid=own-gcode-wait] [role=alert]');
    await soon(() => alert.getText()).to.contain('room for 0');
    await press('Swap sheet');
    await sheetWords();

    await driver.get(`${session.address}/printers`);
    const start = await find(driver, 'printer-startText');
    await find(driver, 'printer-pace');
    await start.sendKeys(Key.chord(Key.CONTROL, Key.END), '\nG91');
    await press('Save printer');
    await until(
      driver,
      async () =>
        (await driver.findElement(By.css('form')).getText()).includes('Add at its end: G90'),
      'the line that mends it is given',
    );
    await start.sendKeys(Key.chord(Key.CONTROL, Key.END), '\nG90');
    await typeOver(driver, 'printer-mostNozzleC', '205');
    await press('Save printer');
    const words = async (): Promise<string> => driver.findElement(By.css('form')).getText();
    await soon(words).to.contain('A number from 210 (what is usual) to 450, or nothing');
    await typeOver(driver, 'printer-mostNozzleC', '260');
    await start.sendKeys(Key.chord(Key.CONTROL, Key.END), '\nM109 S270');
    await press('Save printer');
    await soon(words).to.contain('beyond what the printer allows: M109 S270');
    await typeOver(driver, 'printer-mostNozzleC', '');
    const pace = async (): Promise<string> => (await find(driver, 'printer-pace')).getText();
    const before = await pace();
    const acceleration = await find(driver, 'printer-accelerationMmS2');
    await acceleration.sendKeys(Key.chord(Key.CONTROL, 'a'), '200');
    await until(driver, async () => (await pace()) !== before, 'slow acceleration costs more');
    await press('Save printer');
    await press('Download the test tile');
    const { bytes } = await readDownload(session, /^pause-test-M600\.gcode$/i);
    expect(bytes.toString('latin1')).to.contain(
      'G28 ; home\nG91\nG90\nM109 S270\n; fills the nozzle',
    );
    expect((await reportOf(bytes)).layers).to.have.length(4);
  });
});
