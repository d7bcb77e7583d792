import { readFileSync } from 'node:fs';
import { expect } from 'chai';
import { By, Key, Origin, type WebElement } from 'selenium-webdriver';
import { STLLoader } from 'three/addons/loaders/STLLoader.js';
import { layerTopsMm, USUAL_GRID } from '#core/stack/layer-grid.ts';
import { hidingMm } from '#core/stack/same-colour.ts';
import { insertBand, moveBoundary, reorderBand, type Band } from '#core/stack/stack.ts';
import { demoFilaments, expectDemo, pixelsAt, PLACES, type ExpectedDemo } from '../helpers/demo.ts';
import { meshVolume } from '../helpers/meshes.ts';
import {
  chooseFrom,
  find,
  findButton,
  findCss,
  pointUntil,
  readCanvas,
  readDownload,
  readPrint,
  shareSession,
  turnWheel,
  until,
  type Session,
  settled,
  soon,
} from './browser.ts';
import { openWhole } from './fixtures.ts';
import { Bench } from './pages/bench.ts';
import { inSlice } from '../helpers/slices.ts';

describe('workbench', function () {
  this.timeout(600_000);
  let session: Session;
  let bench: Bench;
  let demo: ExpectedDemo;
  let bands: readonly Band[];

  /** Waits until the print on the stage is exactly the one that these bands give. */
  async function expectPrint(wanted: readonly Band[], what: string): Promise<void> {
    const pixels = JSON.stringify(pixelsAt(demo.print(wanted), PLACES));
    await until(
      session.driver,
      async () => (await readPrint(session.driver)) === pixels,
      `the print is that of ${what}`,
    );
  }

  /** Drags an element up or down, in one go: between two of them the driver lets go of the button. */
  async function drag(element: WebElement, dy: number, key?: string): Promise<void> {
    const actions = session.driver.actions().move({ origin: element }).press();
    for (let i = 1; i <= 4; i += 1)
      actions.move({ origin: Origin.POINTER, y: Math.round(dy / 4), duration: 40 });
    if (key !== undefined) actions.sendKeys(key);
    await actions.release().perform();
  }

  before(async () => {
    session = await shareSession();
    bench = new Bench(session);
    demo = await expectDemo('dome-at-dusk', 750, 500);
    bands = demo.bands;
  });
  beforeEach(async () => {
    bands = demo.bands;
    await openWhole(session, 'Dome at dusk');
  });
  after(() => session.close());

  it('shows the very print that the core predicts, one pixel a sample', async () => {
    await expectPrint(bands, 'the demo stack');
    const { width, height } = await readCanvas(session.driver, 'print-canvas', []);
    expect([width, height]).to.deep.equal([750, 500]);
  });

  it('a boundary dragged with the mouse snaps to layers and recolours the print', async () => {
    const { driver } = session;
    const edge = await find(driver, 'edge-C');
    const before = await bench.edgeLayer('C');
    await drag(edge, -40);
    const after = await bench.edgeLayer('C');
    expect(after).to.be.greaterThan(before);
    bands = moveBoundary(bands, 2, after);
    await expectPrint(bands, 'the dragged stack');
    await bench.undo();
    await soon(() => bench.edgeLayer('C')).to.equal(before);
    bands = demo.bands;
    await expectPrint(bands, 'the stack before the drag');
    await bench.redo();
    await soon(() => bench.edgeLayer('C')).to.equal(after);
    await driver.actions().keyDown(Key.CONTROL).sendKeys('z').keyUp(Key.CONTROL).perform();
    await soon(() => bench.edgeLayer('C')).to.equal(before);
  });

  it('Escape takes a drag back', async () => {
    const { driver } = session;
    const edge = await find(driver, 'edge-B');
    const before = await bench.edgeLayer('B');
    await driver.executeScript(
      `window.seen = [];
       new MutationObserver(() => window.seen.push(Number(arguments[0].getAttribute('aria-valuenow'))))
         .observe(arguments[0], { attributes: true, attributeFilter: ['aria-valuenow'] });`,
      edge,
    );
    await drag(edge, -32, Key.ESCAPE);
    const seen: number[] = await driver.executeScript('return window.seen');
    expect(Math.max(...seen), 'it had moved').to.be.greaterThan(before);
    await soon(() => bench.edgeLayer('B')).to.equal(before);
    await expectPrint(bands, 'the stack before the drag');
  });

  it('arrow keys move a boundary by one layer, Shift by five, and never past its neighbours', async () => {
    const { driver } = session;
    const edge = await find(driver, 'edge-D');
    await edge.sendKeys(Key.ARROW_UP);
    await soon(() => bench.edgeLayer('D')).to.equal(19);
    await edge.sendKeys(Key.ARROW_DOWN, Key.ARROW_DOWN);
    bands = moveBoundary(bands, 3, 17);
    await expectPrint(bands, 'the keyed stack');
    for (let i = 0; i < 4; i += 1) await edge.sendKeys(Key.chord(Key.SHIFT, Key.ARROW_UP));
    const [least, greatest] = [
      await edge.getAttribute('aria-valuemin'),
      await edge.getAttribute('aria-valuemax'),
    ];
    expect([least, greatest]).to.deep.equal(['13', '23']);
    await soon(() => bench.edgeLayer('D')).to.equal(23);
    await soon(() => edge.getAttribute('aria-valuetext')).to.equal('ends with layer 23 at 1.92 mm');
    await edge.sendKeys(Key.HOME);
    await soon(() => bench.edgeLayer('D')).to.equal(13);
    bands = moveBoundary(bands, 3, 13);
    await expectPrint(bands, 'the stack with a band of one layer');
    for (let i = 0; i < 5; i += 1) await edge.sendKeys(Key.ARROW_UP);
    bands = moveBoundary(bands, 3, 18);
  });

  it('the top edge changes the height of the stack, and heights follow', async () => {
    const { driver } = session;
    const edge = await find(driver, 'edge-F');
    await edge.sendKeys(Key.chord(Key.SHIFT, Key.ARROW_UP));
    bands = moveBoundary(bands, 5, 35);
    await expectPrint(bands, 'the taller stack');
    await soon(() => bench.ledger('height')).to.contain('2.88 mm');
    await edge.sendKeys(Key.chord(Key.SHIFT, Key.ARROW_DOWN));
    bands = moveBoundary(bands, 5, 30);
    await expectPrint(bands, 'the stack as it was');
  });

  it('the rack is searched and sorted, what is pointed at is tried out, and what is picked becomes a band', async () => {
    const { driver } = session;
    await (await findButton(driver, 'Add filament on top')).click();
    await find(driver, 'filament-list');
    const shown = async (): Promise<string[]> => {
      const items = await driver.findElements(By.css('[data-filament]'));
      return Promise.all(
        items.map(async (item) => (await item.getAttribute('data-filament')) ?? ''),
      );
    };
    const lightness =
      (await driver.findElement(By.css('[data-testid=filament-list]')).getText())
        .match(/(?<=L\* )\d+/g)
        ?.map(Number) ?? [];
    expect(lightness.length).to.be.greaterThan(20);
    expect(lightness).to.deep.equal([...lightness].sort((a, b) => a - b));
    await (await findCss(driver, '[aria-label="Sort by"] option[value=transmission]')).click();
    const filaments = demoFilaments();
    const transmissions = (await shown()).map((id) => hidingMm(filaments[id] ?? expect.fail()));
    expect(transmissions).to.deep.equal([...transmissions].sort((a, b) => a - b));
    await (await findCss(driver, 'input[type=search]')).sendKeys('pale ivo');
    await soon(() => shown()).to.deep.equal(['ivory']);
    const tried = insertBand(bands, 6, { filamentId: 'ivory', layers: 4 });
    const item = await findCss(driver, '[data-filament=ivory]');
    const pixels = JSON.stringify(pixelsAt(demo.print(tried), PLACES));
    await pointUntil(
      driver,
      item,
      async () => (await readPrint(driver)) === pixels,
      'the print is that of the stack with the tried filament',
    );
    await soon(() => bench.ledger('height'), 'only tried out').to.contain('2.48 mm');
    await item.click();
    bands = tried;
    await expectPrint(bands, 'the stack with the new band');
    await soon(() => bench.ledger('swaps')).to.contain('6');
  });

  it('bands change places by menu and by dragging the label, and are removed', async () => {
    const { driver } = session;
    await (await findButton(driver, 'Band F')).click();
    await (await findButton(driver, 'Move down')).click();
    bands = reorderBand(bands, 5, 4);
    await expectPrint(bands, 'the reordered stack');
    const from = await findButton(driver, 'Move band E, Straw');
    const to = await findButton(driver, 'Move band D, Orchid');
    await driver.actions().move({ origin: from }).press().move({ origin: from, y: 8 }).perform();
    await findCss(driver, '[data-testid=band-E][data-dragging=true]');
    await driver.actions().move({ origin: to, duration: 200 }).perform();
    // The label that is passed makes room as soon as the drop would land there.
    await findCss(driver, '[data-testid=band-D][style*="translate3d"]');
    await driver.actions().release().perform();
    bands = reorderBand(bands, 4, 3);
    await expectPrint(bands, 'the stack after the dragged label');
    await bench.undo();
    bands = reorderBand(bands, 3, 4);
    await (await findButton(driver, 'Band F')).click();
    await (await findButton(driver, 'Remove band')).click();
    bands = bands.filter((_, i) => i !== 5);
    await expectPrint(bands, 'the stack without the ivory');
  });

  it('tone is reversed, and its points move with the keys', async () => {
    const { driver } = session;
    await (await findButton(driver, 'Dark low, light high')).click();
    const reversed = { ...demo.rule, reversed: true };
    const wanted = JSON.stringify(pixelsAt(demo.print(bands, reversed), PLACES));
    await until(driver, async () => (await readPrint(driver)) === wanted, 'the print is reversed');
    await (await findButton(driver, 'Light low, dark high')).click();
    const black = await findCss(driver, '[aria-label="Black point, L*"]');
    await black.sendKeys(Key.ARROW_RIGHT, Key.ARROW_RIGHT);
    await soon(() => black.getAttribute('aria-valuenow')).to.equal('5');
    await black.sendKeys(Key.ARROW_LEFT, Key.ARROW_LEFT);
    // The midpoint keeps its share of the way, so the rule is back where it was.
    await expectPrint(bands, 'the rule as it was');
  });

  it('wipe shows artwork left and print right of a line that moves', async () => {
    const { driver } = session;
    await bench.choose('wipe');
    await find(driver, 'artwork-canvas');
    const line = await find(driver, 'wipe-line');
    await driver
      .actions()
      .move({ origin: line })
      .press()
      .move({ origin: line, x: 150, duration: 50 })
      .release()
      .perform();
    const share = Number(await line.getAttribute('aria-valuenow'));
    expect(share).to.be.within(60, 75);
    await line.sendKeys(Key.HOME);
    await soon(() => line.getAttribute('aria-valuenow')).to.equal('0');
    await bench.choose('print');
  });

  it('zooms by wheel, key and button, pans by drag, and fits again', async () => {
    const { driver } = session;
    const percent = async (): Promise<number> =>
      Number.parseInt(await (await find(driver, 'zoom-percent')).getText(), 10);
    const left = async (): Promise<number> =>
      (await (await find(driver, 'print-canvas')).getRect()).x;
    const stage = await find(driver, 'stage-area');
    const fitted = await percent();
    await turnWheel(driver, 300, 400, -400);
    await until(driver, async () => (await percent()) > fitted * 1.3, 'it is zoomed in');
    const before = await left();
    await driver
      .actions()
      .move({ origin: stage })
      .press()
      .move({ origin: stage, x: 70, duration: 50 })
      .release()
      .perform();
    await soon(() => left()).to.be.closeTo(before + 70, 2);
    await stage.sendKeys('+');
    await (await find(driver, 'zoom-percent')).click();
    await soon(() => percent()).to.equal(100);
    await stage.sendKeys('0');
    await soon(() => percent()).to.equal(fitted);
  });

  it('the readout tells layer, height and band under the pointer', async () => {
    const { driver } = session;
    const stage = await find(driver, 'stage-area');
    await driver.actions().move({ origin: stage, x: 10, y: 200 }).perform();
    const text = await until(
      driver,
      async () => {
        const told = await (await find(driver, 'readout')).getText();
        return /artwork #[0-9a-f]{6}/.test(told) ? told : '';
      },
      'the place is read',
    );
    expect(text).to.match(/difference \d/);
    const [, layer = '', mm = ''] = /layer (\d+), (\d+\.\d\d) mm, band [A-G]/.exec(text) ?? [];
    expect(Number(mm)).to.be.closeTo(layerTopsMm(USUAL_GRID, 60)[Number(layer)] ?? -1, 1e-9);
  });

  it('width and height stay linked, wrong numbers are told and change nothing', async () => {
    const { driver } = session;
    await bench.goTo('relief');
    const enter = async (field: string, text: string): Promise<void> => {
      const input = await find(driver, field);
      await input.sendKeys(Key.chord(Key.CONTROL, 'a'), text, Key.ENTER);
    };
    await enter('width-mm', '60');
    await soon(async () => (await find(driver, 'height-mm')).getAttribute('value')).to.equal('40');
    await enter('height-mm', '30');
    await soon(async () => (await find(driver, 'width-mm')).getAttribute('value')).to.equal('45');
    await enter('sample-mm', '0,3');
    await soon(async () => (await find(driver, 'relief-facts')).getText()).to.contain('150 x 100');
    for (const wrong of ['abc', '-5', '0', '1e9', Key.BACK_SPACE]) {
      await enter('width-mm', wrong);
      await soon(async () => (await findCss(driver, '[role=alert]')).getText()).to.contain(
        'Width is a number from 1 to 2000 mm',
      );
      await (await find(driver, 'width-mm')).sendKeys(Key.ESCAPE);
    }
    await soon(async () => (await find(driver, 'width-mm')).getAttribute('value')).to.equal('45');
  });

  it('downloads an STL that is the relief shown, with the stamp of the sheet', async () => {
    await openWhole(session, 'Dome at dusk', 'relief', {
      change: inSlice('piece', { widthMm: 45, sampleMm: 0.3 }),
    });
    const { driver } = session;
    await (await findButton(driver, 'Download STL')).click();
    const { name, bytes } = await readDownload(session, /\.stl$/);
    const small = await expectDemo('dome-at-dusk', 150, 100, 45);
    const heights = small.heights(bands);
    const tops = layerTopsMm(USUAL_GRID, 60);
    const volume = heights.data.reduce((sum, layers) => sum + (tops[layers] ?? 0) * 0.09, 0);
    const geometry = new STLLoader().parse(
      bytes.buffer.slice(bytes.byteOffset, bytes.byteOffset + bytes.length) as ArrayBuffer,
    );
    const positions = geometry.getAttribute('position').array as Float32Array;
    expect(
      meshVolume({
        positions,
        triangles: Uint32Array.from({ length: positions.length / 3 }, (_, i) => i),
      }),
    ).to.be.closeTo(volume, volume * 1e-5);
    geometry.computeBoundingBox();
    const box = geometry.boundingBox;
    expect([box?.max.x, box?.max.y].map((mm) => Number(mm?.toFixed(3)))).to.deep.equal([45, 30]);

    await bench.goTo('sheet');
    const paper = await (await find(driver, 'swap-sheet')).getText();
    const [stamp = ''] = /[0-9A-Z]{4}-[0-9A-Z]{4}/.exec(paper) ?? [];
    expect(name).to.equal(`dome-at-dusk-${stamp}-relief.stl`);
    expect(bytes.toString('latin1', 0, 80)).to.contain(stamp);
    expect(paper).to.contain(
      'The printer stops when 0.32 mm is finished. Layer 4 is the first one in Midnight.',
    );
    expect(paper).to.contain('layer viewer: 0.40 mm · counted from 0: layer 3');

    await chooseFrom(driver, 'Download the sheet', 'Text');
    const text = (await readDownload(session, /swap-sheet\.txt$/)).bytes.toString('utf8');
    expect(text)
      .to.contain(`Stamp ${stamp}`)
      .and.to.contain('Layer 4 is the first one in Midnight.');
    await chooseFrom(driver, 'Download the sheet', 'JSON for programs');
    const json = JSON.parse(
      (await readDownload(session, /swaps\.json$/)).bytes.toString('utf8'),
    ) as { stamp: string; swaps: unknown[] };
    expect(json.stamp).to.equal(stamp);
    let below = 0;
    const wanted = bands.slice(0, -1).map((band, i) => {
      below += band.layers;
      return {
        swap: i + 1,
        layer: below + 1,
        stopAfterMm: tops[below],
        layerTopMm: tops[below + 1],
        from: band.filamentId,
        to: bands[i + 1]?.filamentId,
      };
    });
    expect(json.swaps).to.deep.equal(wanted);
  });

  it('an export can be cancelled, and the page goes on', async () => {
    const { driver } = session;
    await bench.goTo('relief');
    await (await find(driver, 'width-mm')).sendKeys(Key.chord(Key.CONTROL, 'a'), '300', Key.ENTER);
    await (await find(driver, 'sample-mm')).sendKeys(Key.chord(Key.CONTROL, 'a'), '0.1', Key.ENTER);
    await soon(async () => (await find(driver, 'relief-facts')).getText()).to.contain(
      '3000 x 2000',
    );
    await (await findButton(driver, 'Download STL')).click();
    await (await findButton(driver, 'Cancel')).click();
    await findButton(driver, 'Download STL');
    await (await find(driver, 'sample-mm')).sendKeys(Key.chord(Key.CONTROL, 'a'), '2', Key.ENTER);
    await (await findButton(driver, 'Download STL')).click();
    const { bytes } = await readDownload(session, /\.stl$/);
    expect(bytes.length).to.be.lessThan(5_000_000);
    await (await find(driver, 'width-mm')).sendKeys(Key.chord(Key.CONTROL, 'a'), '150', Key.ENTER);
    await (await find(driver, 'sample-mm')).sendKeys(Key.chord(Key.CONTROL, 'a'), '0.2', Key.ENTER);
  });

  it('everything is there after a reload, the picture byte for byte', async () => {
    const { driver } = session;
    await bench.nudge('B', Key.ARROW_UP);
    bands = moveBoundary(bands, 1, 9);
    await bench.goTo('relief');
    await (await find(driver, 'sample-mm')).sendKeys(Key.chord(Key.CONTROL, 'a'), '0,2', Key.ENTER);
    await settled(driver);
    await driver.navigate().refresh();
    await settled(driver);
    await expectPrint(bands, 'the saved stack');
    await soon(async () => (await find(driver, 'width-mm')).getAttribute('value')).to.equal('150');
    await bench.goTo('artwork');
    await (await findButton(driver, 'Download original')).click();
    const { bytes } = await readDownload(session, /\.png$/);
    const original = readFileSync(new URL('../../demo/art/dome-at-dusk.png', import.meta.url));
    expect(Buffer.compare(bytes, original)).to.equal(0);
  });
});
