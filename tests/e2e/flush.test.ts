import { expect } from 'chai';
import { By, Key, type WebElement } from 'selenium-webdriver';
import { strFromU8, unzipSync } from 'fflate';
import { STLLoader } from 'three/addons/loaders/STLLoader.js';
import { readProjectFile } from '../../src/state/project-file.ts';
import { plainMoves } from '../helpers/own-gcode.ts';
import {
  axeFaults,
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
  type Session,
  soon,
} from './browser.ts';
import { begin } from './fixtures.ts';

describe('flush faces and two sides', function () {
  this.timeout(600_000);
  let session: Session;
  before(async () => {
    session = await shareSession();
  });
  beforeEach(async () => {
    await begin(session);
    await session.driver.get(session.address);
  });
  after(async () => {
    await session.close();
  });

  const press = async (name: string): Promise<void> =>
    (await findButton(session.driver, name)).click();
  const text = async (testId: string): Promise<string> =>
    (await find(session.driver, testId)).getText();
  const openLid = async (): Promise<void> => {
    await press('Begin with Eyepiece box lid');
    await find(session.driver, 'elements');
    await settled(session.driver);
  };
  const rows = async (): Promise<string[]> => {
    const own = await session.driver.findElements(By.css('[data-testid="element-row"]'));
    return Promise.all(own.map(async (one) => (await one.getText()).replaceAll('\n', ' ')));
  };
  const element = (name: string): Promise<WebElement> =>
    findCss(session.driver, `[data-testid="tag-element"][aria-label^="${name}"]`);
  /** The box of an STL, by a reader that is not ours. */
  const boxOf = (bytes: Uint8Array): readonly number[] => {
    const { array } = new STLLoader().parse(Uint8Array.from(bytes).buffer).getAttribute('position');
    const along = (k: number): number[] => [...array].filter((_, n) => n % 3 === k);
    const ends = (values: readonly number[]): number[] => [
      values.reduce((least, one) => Math.min(least, one), Infinity),
      values.reduce((most, one) => Math.max(most, one), -Infinity),
    ];
    return [...ends(along(0)), ...ends(along(2))].map((mm) => Number(mm.toFixed(2)));
  };

  it('a pair of aligned files and one G-code that does both come of a lid; what it costs each way is told', async () => {
    const { driver } = session;
    await openLid();
    await soon(() => text('swap-words')).to.match(/^Two swaps\./);
    await soon(() => text('ledger-swaps')).to.match(/^2\b/);
    await soon(() => rows()).to.include('C 9 - 15 - 25 mm flush 0.4');
    await soon(() => driver.findElements(By.css('[data-testid="section-inlay"]'))).to.have.length(
      2,
    );
    await soon(() => axeFaults(session, true)).to.deep.equal([]);
    await press('Within layers (4)');
    await until(driver, async () => (await text('ledger-swaps')).startsWith('4'), 'four swaps');
    await press('Inlays first (2)');
    await settled(driver);

    await (await find(driver, 'stop-relief')).click();
    await pickOption(driver, 'format', 'body');
    await press('Download body');
    const body = boxOf((await readDownload(session, /body\.stl$/)).bytes);
    expect(body).to.deep.equal([0, 84, 0, 2]);
    await pickOption(driver, 'format', 'inlays');
    await press('Download inlays');
    const zip = unzipSync(new Uint8Array((await readDownload(session, /inlays\.zip$/)).bytes));
    const inlays = Object.values(zip).map(boxOf);
    expect(Object.keys(zip)).to.deep.equal(['inlay-1-b-chalk-white.stl', 'inlay-2-c-straw.stl']);
    // The rim is 2 mm from the edge all round; both are two layers thick.
    expect(inlays[0]).to.deep.equal([2, 82, 0, 0.4]);
    // Drawn at the left, so it lies at the right: 27 mm from the middle, 20 mm across, mirrored.
    expect(inlays[1]?.[1]).to.be.closeTo(42 + 27 + 9.6, 0.5);
    // All of it in one file says the same.
    await press('Everything');
    const everything = unzipSync(
      new Uint8Array((await readDownload(session, /everything\.zip$/)).bytes),
    );
    expect(Object.keys(everything)).to.include.members(['relief.stl', 'body.stl', 'swaps.json']);
    expect(boxOf(everything['body.stl'] ?? new Uint8Array())).to.deep.equal(body);
    const packed = unzipSync(everything['inlays.zip'] ?? new Uint8Array());
    expect(Object.entries(packed).map(([name, one]) => [name, boxOf(one)])).to.deep.equal(
      Object.keys(zip).map((name, i) => [name, inlays[i]]),
    );
    const told = JSON.parse(strFromU8(everything['swaps.json'] ?? new Uint8Array())) as {
      flush?: { print: string; layers: number };
    };
    expect(told.flush).to.include({ print: 'first', layers: 2 });
    const project = readProjectFile(everything['eyepiece-box-lid.strata'] ?? new Uint8Array());
    expect(project.ok && project.value.document.tag?.flush).to.deep.equal({
      print: 'first',
      layers: 2,
    });

    await (await find(driver, 'stop-sheet')).click();
    await findCss(driver, '[data-testid=sheet-picture][data-drawn]');
    await soon(() => text('face-steps')).to.include('lift of 0.90 mm');
    await soon(() => text('sheet-summary')).to.include('2 swaps');
    await press('G-code');
    await find(driver, 'own-gcode');
    await press('Save the G-code');
    const { bytes } = await readDownload(session, /\.gcode$/);
    const file = bytes.toString('latin1');
    const parts = file.split('M600\n');
    expect(parts).to.have.length(3);
    const tops = parts.map((part) => {
      const laid = plainMoves(part).filter(
        ({ strand, layer, from, to }) => strand > 0 && layer > 0 && from[0] !== to[0],
      );
      return [...new Set(laid.map(({ to }) => to[2]))].sort((a, b) => a - b);
    });
    expect(tops.slice(0, 2)).to.deep.equal([
      [0.2, 0.4],
      [0.2, 0.4],
    ]);
    expect(tops[2]).to.have.length(10);
    expect(file).to.include('Straw out, Midnight in');

    // The printer that is simulated makes of it what was planned.
    await press('Swap sheet');
    await (await find(driver, 'stop-rehearse')).click();
    await find(driver, 'rehearse');
    await until(
      driver,
      async () => {
        const words = await driver.findElement(By.css('body')).getText();
        return /C Straw\s+in \d+ s/.test(words) && words.includes('A Midnight');
      },
      'both stops to come, by their letters',
    );
    await press('Try all');
    await until(
      driver,
      async () => /as planned\s+1\.000\s+none/.test(await text('tried')),
      'what comes of it where nothing goes wrong',
    );
  });

  it('what stands out of a face on the bed says why, and both ways out are offered', async () => {
    const { driver } = session;
    await openLid();
    await (await find(driver, 'add-text')).click();
    await typeOver(driver, 'element-yMm', '18');
    await soon(async () => (await rows())[0]).to.match(/NAME flush 0\.4/);
    await press('raised');
    const clash = await find(driver, 'clash');
    await soon(() => clash.getText()).to.include('stands out of a face that lies on the bed');
    await (await find(driver, 'stop-relief')).click();
    await until(
      driver,
      async () =>
        (await (await findButton(driver, 'Download STL')).getAttribute('disabled')) !== null,
      'no file is offered',
    );
    await (await find(driver, 'stop-tag')).click();
    await press('Raise all of this face');
    await until(
      driver,
      async () => (await driver.findElements(By.css('[data-testid="clash"]'))).length === 0,
      'all can be printed',
    );
    await soon(async () => (await rows()).filter((row) => / flush \d/.test(row))).to.deep.equal([]);
    await press('Undo');
    await press('Make it flush');
    await settled(driver);
    await soon(async () => (await rows())[0]).to.match(/NAME flush 0\.4/);
  });

  it('a back of its own is built with its holes mirrored, by the pointer too; halves lie beside each other', async () => {
    const { driver } = session;
    await (await find(driver, 'new-tag-rounded')).sendKeys(Key.ENTER);
    await find(driver, 'elements');
    await (await find(driver, 'add-hole')).click();
    await typeOver(driver, 'element-xMm', '-20');
    await (await findCss(driver, '[data-kind="plate"] button[aria-expanded]')).click();
    await pickOption(driver, 'tag-back', 'halves');
    await settled(driver);
    const overlay = await middleOf(await find(driver, 'tag-overlay'));
    await soon(async () => (await middleOf(await element('Hole'))).x).to.be.lessThan(
      overlay.x - 50,
    );
    await press('Back');
    await settled(driver);
    const hole = await middleOf(await element('Hole'));
    expect(hole.x).to.be.greaterThan(overlay.x + 50);
    // Dragged to the right from behind it goes to the left seen from the front.
    await mouse(driver, 'mousePressed', hole.x, hole.y);
    await mouse(driver, 'mouseMoved', hole.x + 12, hole.y + 31);
    await mouse(driver, 'mouseMoved', hole.x + 24, hole.y + 62);
    await mouse(driver, 'mouseReleased', hole.x + 24, hole.y + 62);
    await settled(driver);
    await soon(async () => (await middleOf(await element('Hole'))).x).to.be.closeTo(hole.x + 24, 8);
    await (await element('Hole')).sendKeys(Key.ARROW_RIGHT);
    await settled(driver);
    const right = Number(await (await find(driver, 'element-xMm')).getAttribute('value'));
    expect(right).to.be.lessThan(-20.4);
    await (await find(driver, 'add-text')).click();
    await settled(driver);
    await soon(() => rows()).to.have.length(3);
    await press('Front');
    await settled(driver);
    // Lettering of the back is not on the front.
    await soon(() => rows()).to.have.length(2);
    await soon(() => axeFaults(session, true)).to.deep.equal([]);
    await (await find(driver, 'stop-relief')).click();
    await until(
      driver,
      async () => (await text('ledger-size')).startsWith('125 x 34 mm'),
      'the size of both halves',
    );
    await press('Download STL');
    const [left = 0, end = 0, , top = 0] = boxOf(
      (await readDownload(session, /relief\.stl$/)).bytes,
    );
    expect(end - left).to.be.greaterThan(100);
    expect(top).to.be.closeTo(2.8, 1e-3);
  });
});
