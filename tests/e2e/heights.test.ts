import { expect } from 'chai';
import { Key } from 'selenium-webdriver';
import { gatherColours } from '#core/artwork/colour-cells.ts';
import { measureBrightness } from '#core/artwork/brightness.ts';
import { coloursOfRamp } from '#core/heights/closest.ts';
import { paintPrint } from '#core/heights/height-map.ts';
import { naturalness } from '#core/heights/natural.ts';
import { USUAL_GRID } from '#core/stack/layer-grid.ts';
import { rampOfStack } from '#core/stack/stack-ramp.ts';
import { demoFilaments, expectDemo } from '../helpers/demo.ts';
import { fixture } from '../helpers/pictures.ts';
import { inSlice } from '../helpers/slices.ts';
import { partedByRule } from '../helpers/parted.ts';
import {
  axeFaults,
  chooseFrom,
  find,
  findButton,
  findCss,
  goes,
  middleOf,
  readCanvas,
  settled,
  shareSession,
  until,
  upload,
  type Session,
  soon,
} from './browser.ts';
import { begin, openDemo, openWhole, QUICK_SEARCH } from './fixtures.ts';
import { Bench } from './pages/bench.ts';
import { FindPanel } from './pages/find-panel.ts';

const PLACES = [
  [0.3, 0.3],
  [0.5, 0.62],
  [0.7, 0.45],
  [0.86, 0.8],
  [0.12, 0.55],
] as const;

describe('heights between colour and relief', function () {
  this.timeout(300_000);
  let session: Session;
  let bench: Bench;

  before(async () => {
    session = await shareSession();
    bench = new Bench(session);
  });
  after(async () => {
    await session.close();
  });

  const figures = async (): Promise<[error: number, natural: number]> => {
    const text = await (await find(session.driver, 'lean-figures')).getText();
    const [, error = 'NaN', natural = 'NaN'] =
      /error ([\d.]+)\s+natural (-?[\d.]+)/.exec(text) ?? [];
    return [Number(error), Number(natural)];
  };
  const slider = () => findCss(session.driver, '[aria-label="Lean from colour to relief"]');

  it('a dropped photo comes with a first stack, calmed; one undo goes back to the greys', async () => {
    const { driver, address } = session;
    await begin(session);
    await driver.get(address);
    await upload(session, fixture('s24_cat.webp'));
    const note = await find(driver, 'first-stack');
    await settled(driver);
    await soon(() => note.getText()).to.match(/A first stack: [234] of your filaments/);
    await soon(async () => (await slider()).getAttribute('aria-valuenow')).to.equal('15');
    const own = await bench.settledError();
    await soon(() => axeFaults(session, true)).to.deep.equal([]);
    await bench.undo();
    await goes(driver, '[data-testid=first-stack]');
    await settled(driver);
    await findCss(driver, '[data-testid=choice-tone][data-state=on]');
    const greys = await bench.settledError();
    expect(own).to.be.below(0.55 * greys);
  });

  it('flat art begins with flat areas, each colour with a filament of its own', async () => {
    const { driver, address } = session;
    await begin(session, { findEffort: '1' });
    await driver.get(address);
    await (await findButton(driver, 'Begin with Dome badge')).click();
    await soon(async () => (await find(driver, 'first-stack')).getText()).to.contain(
      'flat colours',
    );
    await settled(driver);
    await soon(() => bench.settledError()).to.be.below(6);
    await findCss(driver, '[data-testid=choice-flat][data-state=on]');
    // Looking for more keeps to the areas, and is never worse than what was there.
    const before = await bench.settledError();
    const panel = new FindPanel(session);
    await panel.open();
    await panel.ended();
    await findCss(driver, '[role=dialog] [data-testid=choice-flat][data-state=on]');
    await soon(() => axeFaults(session)).to.deep.equal([]);
    await (await findButton(driver, 'Use the stack with 3 swaps')).click();
    await goes(driver, '[role=dialog]');
    await findCss(driver, '[data-testid=choice-flat][data-state=on]');
    await soon(() => bench.settledError()).to.be.at.most(before + 0.05);
  });

  it('a mood of the own rack is one step, and names what it has', async () => {
    const { driver } = session;
    await openDemo(session, 'Dome at dusk');
    const before = await bench.settledError();
    await chooseFrom(driver, 'Begin from a mood', 'Greys: 7 of yours');
    await find(driver, 'first-stack');
    await settled(driver);
    await soon(() => bench.settledError()).to.not.equal(before);
    await bench.undo();
    await goes(driver, '[data-testid=first-stack]');
    await soon(() => bench.settledError()).to.equal(before);
  });

  it("the slider trades colour for relief while it is dragged; its print is the core's, pixel for pixel", async () => {
    const { driver } = session;
    await openWhole(session, 'Veil nebula', 'stack', {
      change: inSlice('heights', {
        rule: 'closest',
        closest: { bandIds: null, aims: [], lean: 0 },
        calm: 0.4,
      }),
    });
    const [colourAlone, unnatural] = await figures();
    const thumb = await slider();
    const { x, y } = await middleOf(thumb);
    const track = 250;
    await driver
      .actions()
      .move({ x: Math.round(x), y: Math.round(y) })
      .press()
      .move({ x: Math.round(x) + track / 2, y: Math.round(y), duration: 60 })
      .perform();
    try {
      await until(
        driver,
        async () => (await figures())[1] !== unnatural,
        'the relief is another one while the hand is down',
      );
    } finally {
      await driver.actions().release().perform();
    }
    await settled(driver);
    await soon(async () => (await figures())[0]).to.be.at.least(colourAlone);
    await soon(async () => (await figures())[1]).to.be.at.least(unnatural);
    await thumb.sendKeys(Key.END);
    await settled(driver);
    await soon(() => thumb.getAttribute('aria-valuenow')).to.equal('30');
    await (await findCss(driver, '[aria-label="15: both"]')).click();
    await settled(driver);
    const [, natural] = await figures();
    const { pixels, width, height } = await readCanvas(driver, 'print-canvas', PLACES);
    const demo = await expectDemo('veil-nebula', width, height);
    const ramp = rampOfStack({ grid: USUAL_GRID, bands: demo.bands }, demoFilaments());
    const rule = {
      kind: 'closest' as const,
      colours: coloursOfRamp(ramp),
      lean: { price: 15, tone: demo.rule },
      calm: 0.4,
      smallestMm: 0.4,
      details: true,
    };
    const brightness = measureBrightness(demo.samples);
    const limits = { layers: ramp.length, leastLayers: 3, sampleMm: 150 / width };
    const artwork = { brightness, cells: () => gatherColours(demo.samples) };
    const { heights } = partedByRule(artwork, rule, limits);
    const { data } = paintPrint(heights, ramp);
    PLACES.forEach(([px, py], i) => {
      const at = 4 * (Math.floor(py * height) * width + Math.floor(px * width));
      expect(pixels[i]).to.deep.equal([...data.subarray(at, at + 4)]);
    });
    expect(natural).to.be.closeTo(naturalness(brightness, heights) ?? 9, 0.006);
    await soon(() => axeFaults(session, true)).to.deep.equal([]);
  });

  it('the colour error opens what is known of it, and the difference is seen from afar', async () => {
    const { driver } = session;
    await openDemo(session, 'Veil nebula');
    const mean = await bench.settledError();
    await (await find(driver, 'ledger-error')).click();
    const details = await find(driver, 'error-details');
    const told = await until(
      driver,
      async () => {
        const text = await details.getText();
        return /from 1 m\s+[\d.]+\d/.test(text) ? text : null;
      },
      'all figures are there',
    );
    const figure = (name: string): number =>
      Number(new RegExp(`${name}\\s+([\\d.]+)`).exec(told)?.[1]);
    expect(figure('mean')).to.equal(mean);
    expect(figure('95 % of the picture up to')).to.be.above(mean);
    expect(figure('seen from 1 m')).to.be.below(figure('seen from 0.5 m'));
    expect(figure('seen from 0.5 m')).to.be.below(mean);
    expect(figure('the rarest 5 % of the colours')).to.be.above(0);
    await soon(() => axeFaults(session, true)).to.deep.equal([]);
    await driver.actions().sendKeys(Key.ESCAPE).perform();
    await (await find(driver, 'choice-difference')).click();
    const legend = await find(driver, 'difference-legend');
    await until(
      driver,
      async () => (await legend.getText()).includes(`mean ${mean.toFixed(1)}`),
      'side by side',
    );
    await (await find(driver, 'choice-1000')).click();
    const far = figure('seen from 1 m').toFixed(1);
    await until(driver, async () => (await legend.getText()).includes(`mean ${far}`), 'from 1 m');
    await findCss(driver, '[data-testid=difference-canvas][data-painted]');
    await soon(() => axeFaults(session, true)).to.deep.equal([]);
  });

  it('the side view is the relief, cut along a line that is dragged and moved by keys', async () => {
    const { driver } = session;
    await openDemo(session, 'Dome at dusk');
    await (await find(driver, 'choice-side')).click();
    const canvas = await findCss(driver, '[data-testid=side-canvas][data-row]');
    const { width, height, pixels } = await readCanvas(driver, 'print-canvas', [[0, 0]]);
    expect(pixels).to.have.length(1);
    const rowOf = async (): Promise<number> => Number(await canvas.getAttribute('data-row'));
    const first = await rowOf();
    expect(first).to.equal(Math.floor(height / 2));
    const line = await find(driver, 'side-line');
    const { x, y } = await middleOf(line);
    const [px, py] = [Math.round(x) + 90, Math.round(y)];
    await driver
      .actions()
      .move({ x: px, y: py })
      .press()
      .move({ x: px, y: py - 40 })
      .release()
      .perform();
    await until(driver, async () => (await rowOf()) < first - 10, 'it was dragged up');
    const dragged = await rowOf();
    await line.sendKeys(Key.ARROW_DOWN);
    await until(driver, async () => (await rowOf()) > dragged, 'a key moves it');
    await line.sendKeys(Key.HOME);
    await until(driver, async () => (await rowOf()) === 0, 'the first row');
    // Column by column the strip ends at the height that the core has there.
    const demo = await expectDemo('dome-at-dusk', width, height);
    const relief = demo.heights(demo.bands);
    const layers = demo.bands.reduce((sum, band) => sum + band.layers, 0);
    const filled = await driver.executeScript<number[]>(
      `const canvas = document.querySelector('[data-testid=side-canvas]');
       const { data, width, height } = canvas.getContext('2d').getImageData(0, 0, canvas.width, canvas.height);
       return Array.from({ length: width }, (_, x) => {
         let full = 0;
         for (let y = 0; y < height; y += 1) if (data[4 * (y * width + x) + 3] === 255) full += 1;
         return full / height;
       });`,
    );
    expect(filled).to.have.length(width);
    filled.forEach((share, column) => {
      const mm = 0.16 + 0.08 * ((relief.data[column] ?? 1) - 1);
      expect(share).to.be.closeTo(mm / (0.16 + 0.08 * (layers - 1)), 1 / 60);
    });
    await soon(() => axeFaults(session, true)).to.deep.equal([]);
  });

  it('a rule that the stack was not found for says what that costs, and finds again', async () => {
    const { driver } = session;
    await openDemo(session, 'Veil nebula', 'stack', {
      change: inSlice('heights', {
        rule: 'closest',
        closest: { bandIds: null, aims: [], lean: 6 },
      }),
      ...QUICK_SEARCH,
    });
    const panel = new FindPanel(session);
    await panel.open();
    await soon(async () => (await find(driver, 'find-lean')).getText()).to.equal('6 to relief');
    await panel.ended();
    await (await findButton(driver, 'Use the stack with 4 swaps')).click();
    await settled(driver);
    await soon(() => driver.findElements({ css: '[data-testid=found-for]' })).to.have.length(0);
    await bench.choose('tone');
    await settled(driver);
    const note = await find(driver, 'found-for');
    await until(
      driver,
      async () => /lean of 6.*colour error of \d.*\(\+\d/s.test(await note.getText()),
      'it says what tone costs',
    );
    await soon(() => axeFaults(session, true)).to.deep.equal([]);
    await (await findButton(driver, 'Find again')).click();
    await find(driver, 'find-state');
    await (await findButton(driver, 'Close')).click();
    // With another stack it is not said any more: the uppermost edge can always go up.
    await (await find(driver, 'edge-E')).sendKeys(Key.ARROW_UP);
    await goes(driver, '[data-testid=found-for]');
  });
});
