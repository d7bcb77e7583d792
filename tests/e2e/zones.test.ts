import { expect } from 'chai';
import { By, Key } from 'selenium-webdriver';
import { gatherColours } from '#core/artwork/colour-cells.ts';
import { measureBrightness } from '#core/artwork/brightness.ts';
import { coloursOfRamp } from '#core/heights/closest.ts';
import { paintPrint } from '#core/heights/height-map.ts';
import type { HeightRule } from '#core/heights/height-rules.ts';
import { USUAL_GRID } from '#core/stack/layer-grid.ts';
import { rampOfStack } from '#core/stack/stack-ramp.ts';
import { proposeZones } from '#core/zones/propose.ts';
import { demoFilaments, expectDemo, pixelsAt } from '../helpers/demo.ts';
import { partedByRule } from '../helpers/parted.ts';
import {
  axeFaults,
  chooseFrom,
  find,
  findButton,
  findCss,
  middleOf,
  mouse,
  pickOption,
  readCanvas,
  readPrint,
  settled,
  shareSession,
  until,
  type Session,
  soon,
} from './browser.ts';
import { openDemo, openWhole, QUICK_SEARCH } from './fixtures.ts';
import { Bench } from './pages/bench.ts';
import { FindPanel } from './pages/find-panel.ts';

const PLACES = [
  [0.3, 0.3],
  [0.5, 0.62],
  [0.7, 0.45],
  [0.77, 0.25],
  [0.12, 0.85],
  [0.4, 0.7],
] as const;

describe('zones of the heights', function () {
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

  const rows = () => session.driver.findElements(By.css('[data-testid=zone]'));
  const names = (): Promise<string[]> =>
    session.driver.executeScript(
      `return [...document.querySelectorAll('[data-testid=zone]')].map((row) => row.dataset.name)`,
    );
  const spans = (): Promise<string[]> =>
    session.driver.executeScript(
      `return [...document.querySelectorAll('[data-testid=zone]')].map((row) => row.dataset.span)`,
    );
  const shares = async (): Promise<number[]> => {
    const told = await session.driver.findElements(By.css('[data-testid=zone-share]'));
    return Promise.all(told.map(async (one) => parseInt(await one.getText(), 10)));
  };
  /** Chooses the rule and waits until the picture is parted. */
  const part = async (): Promise<void> => {
    await bench.choose('zones');
    await until(session.driver, async () => (await rows()).length === 3, 'three zones are there');
    await settled(session.driver);
    await until(session.driver, async () => (await spans()).every((span) => span !== ''), 'spans');
  };

  it("three zones by colour are proposed, and their print is the core's, pixel for pixel", async () => {
    const { driver } = session;
    await openWhole(session, 'Dome at dusk');
    await part();
    await soon(async () => (await shares()).reduce((sum, share) => sum + share, 0)).to.be.within(
      99,
      101,
    );
    const { pixels, width, height } = await readCanvas(driver, 'print-canvas', PLACES);
    const demo = await expectDemo('dome-at-dusk', width, height);
    const cells = gatherColours(demo.samples);
    const ramp = rampOfStack({ grid: USUAL_GRID, bands: demo.bands }, demoFilaments());
    const rule: HeightRule = {
      kind: 'zones',
      zones: proposeZones(cells, 3).map((zone) => ({ ...zone, reversed: false, span: null })),
      painted: [],
      shared: 3,
      lean: 15,
      softMm: 0,
      colours: coloursOfRamp(ramp),
      calm: 0,
      smallestMm: 0.4,
      details: true,
    };
    const artwork = { brightness: measureBrightness(demo.samples), cells: () => cells };
    const limits = { layers: ramp.length, leastLayers: 3, sampleMm: 150 / width };
    const { heights } = partedByRule(artwork, rule, limits);
    expect(pixels).to.deep.equal(pixelsAt(paintPrint(heights, ramp), PLACES));
    await soon(() => axeFaults(session, true)).to.deep.equal([]);
  });

  it('a zone is dragged over another, moved by menu and keys, and taken back; prices of orders are told', async () => {
    const { driver } = session;
    await openDemo(session, 'Dome at dusk');
    await part();
    const before = await names();
    const print = await readPrint(driver);
    const [first, , last] = await driver.findElements(
      By.css('[aria-roledescription="zone to be moved"]'),
    );
    if (!first || !last) throw new Error('three grips');
    const from = await middleOf(first);
    const to = await middleOf(last);
    const [x, y] = [Math.round(from.x), Math.round(from.y)];
    await mouse(driver, 'mouseMoved', x, y);
    await mouse(driver, 'mousePressed', x, y);
    for (let step = 1; step <= 6; step += 1)
      await mouse(driver, 'mouseMoved', x, y + Math.round(((to.y - from.y + 4) * step) / 6));
    await mouse(driver, 'mouseReleased', x, Math.round(to.y) + 4);
    await until(driver, async () => (await names())[2] === before[0], 'it lies behind now');
    await soon(() => names()).to.deep.equal([before[1], before[2], before[0]]);
    await settled(driver);
    await soon(() => readPrint(driver)).to.not.equal(print);
    const order = await find(driver, 'zone-order');
    await soon(() => order.getAttribute('value')).to.equal('hand');
    await until(
      driver,
      async () => /as they stand, [\d.]+ \(\+/.test(await order.getText()),
      'its price',
    );
    await bench.undo();
    await until(driver, async () => (await names())[0] === before[0], 'undone');
    await settled(driver);
    await soon(() => readPrint(driver)).to.equal(print);
    await chooseFrom(driver, `More for ${before[0] ?? ''}`, 'Further back');
    await until(driver, async () => (await names())[1] === before[0], 'one place further back');
    await settled(driver);
    await until(driver, async () => /best order, [\d.]+/.test(await order.getText()), 'prices');
    await pickOption(driver, 'zone-order', 'found');
    await settled(driver);
    await until(driver, async () => (await order.getAttribute('value')) === 'found', 'found');
    await soon(() => axeFaults(session, true)).to.deep.equal([]);
  });

  it('a span is dragged and moved by keys, given back to the colours, and kept over a reload', async () => {
    const { driver } = session;
    await openDemo(session, 'Dome at dusk');
    await part();
    await (await findCss(driver, '[aria-label="30: walls: nothing leaves its zone"]')).click();
    await settled(driver);
    const print = await readPrint(driver);
    const error = await bench.settledError();
    const found = await spans();
    const [upper] = (await driver.findElements(By.css('[data-testid=zone-upper]'))).slice(-1);
    if (!upper) throw new Error('a bracket');
    await soon(() => upper.getAttribute('aria-label')).to.match(/^Upper end of zone III/);
    const own = Number(await upper.getAttribute('aria-valuenow'));
    const { x, y } = await middleOf(upper);
    const [px, py] = [Math.round(x), Math.round(y)];
    await mouse(driver, 'mouseMoved', px, py);
    await mouse(driver, 'mousePressed', px, py);
    await mouse(driver, 'mouseMoved', px, py + 12);
    await mouse(driver, 'mouseMoved', px, py + 30);
    await until(
      driver,
      async () => Number(await upper.getAttribute('aria-valuenow')) < own - 1,
      'it follows the hand',
    );
    await until(driver, async () => (await spans())[0] !== found[0], 'the zone follows');
    await mouse(driver, 'mouseReleased', px, py + 30);
    await settled(driver);
    const dragged = Number(await upper.getAttribute('aria-valuenow'));
    await upper.sendKeys(Key.ARROW_UP);
    await until(
      driver,
      async () => Number(await upper.getAttribute('aria-valuenow')) === dragged + 1,
      'a key moves it',
    );
    await settled(driver);
    const kept = await spans();
    await soon(() => bench.settledError()).to.be.above(error);
    await driver.navigate().refresh();
    await until(driver, async () => (await rows()).length === 3, 'three zones are there');
    await settled(driver);
    await until(driver, async () => (await spans()).join() === kept.join(), 'as before the reload');
    await chooseFrom(
      driver,
      `More for ${(await names())[0] ?? ''}`,
      'Let the colours find its span',
    );
    await until(driver, async () => (await spans()).join() === found.join(), 'found by colour');
    await settled(driver);
    await soon(() => readPrint(driver)).to.equal(print);
  });

  it('zones are marked over the picture; what is painted is theirs, by pointer and by keys', async () => {
    const { driver } = session;
    await openDemo(session, 'Dome at dusk');
    await part();
    await (await findButton(driver, 'Mark zones on the picture')).click();
    await find(driver, 'zones-marked');
    const tags = await driver.findElements(By.css('[data-testid=zone-tag]'));
    await soon(async () =>
      (await Promise.all(tags.map((tag) => tag.getText()))).sort(),
    ).to.deep.equal(['I', 'II', 'III']);
    const [foremost] = await names();
    await (await findCss(driver, `[data-testid=zone] [aria-expanded]`)).click();
    const [before = 0] = await shares();
    await (await findButton(driver, 'Paint')).click();
    const stage = await find(driver, 'stage-area');
    await driver
      .actions()
      .move({ origin: stage, x: -250, y: -160 })
      .press()
      .move({ origin: stage, x: -60, y: -160 })
      .move({ origin: stage, x: 80, y: -120 })
      .release()
      .perform();
    await until(driver, async () => ((await shares())[0] ?? 0) > before + 2, 'more belongs to it');
    await settled(driver);
    const [painted = 0] = await shares();
    await stage.sendKeys(Key.ARROW_UP, Key.ARROW_LEFT, Key.ARROW_LEFT, ' ');
    await settled(driver);
    await soon(async () => (await shares())[0]).to.be.at.least(painted);
    await soon(() => axeFaults(session, true)).to.deep.equal([]);
    await bench.undo();
    await bench.undo();
    await until(driver, async () => (await shares())[0] === before, 'undone');
    await bench.redo();
    await until(driver, async () => (await shares())[0] === painted, 'painted again');
    await settled(driver);
    await driver.navigate().refresh();
    await until(driver, async () => (await rows()).length === 3, 'three zones are there');
    await settled(driver);
    await until(driver, async () => (await shares())[0] === painted, 'kept beside the project');
    await chooseFrom(driver, `More for ${foremost ?? ''}`, 'Take back what was painted or given');
    await until(driver, async () => (await shares())[0] === before, 'taken back');
  });

  it('lean makes walls, zones are fitted to the stack, direction and curve are their own, one more is parted off', async () => {
    const { driver } = session;
    await openDemo(session, 'Veil nebula');
    await part();
    const errorOf = async (): Promise<number> => {
      await settled(driver);
      return bench.settledError();
    };
    const soft = await errorOf();
    await (await findCss(driver, '[aria-label="30: walls: nothing leaves its zone"]')).click();
    const walls = await errorOf();
    expect(walls).to.be.at.least(soft);
    await (await findButton(driver, 'Fit to the stack')).click();
    await until(
      driver,
      async () => (await findButton(driver, 'Fit to the stack')).isEnabled(),
      'the zones are fitted',
    );
    await soon(() => errorOf()).to.be.at.most(walls);
    // The largest zone: turning it cannot go unseen.
    const of = await shares();
    const heads = await driver.findElements(By.css('[data-testid=zone] [aria-expanded]'));
    await heads[of.indexOf(Math.max(...of))]?.click();
    const upright = await errorOf();
    await (await findButton(driver, 'Dark low, light high')).click();
    const turned = await errorOf();
    expect(turned).to.not.equal(upright);
    await (await findButton(driver, 'Own curve')).click();
    await find(driver, 'tone-curve');
    const span = (await spans())[0];
    await settled(driver);
    const point = await find(driver, 'curve-point-1');
    await point.sendKeys(Key.ARROW_DOWN);
    await until(
      driver,
      async () => (await point.getAttribute('aria-valuenow')) === '99',
      'the curve is bent',
    );
    await settled(driver);
    await soon(async () => (await spans())[0]).to.equal(span);
    await soon(() => axeFaults(session, true)).to.deep.equal([]);
    const [name = ''] = await names();
    await chooseFrom(driver, `More for ${name}`, 'Part in two by colour');
    await until(driver, async () => (await rows()).length === 4, 'four zones');
    await settled(driver);
    await chooseFrom(driver, 'One zone more', 'To be painted');
    await until(driver, async () => (await rows()).length === 5, 'five zones');
    await settled(driver);
    await until(driver, async () => (await spans())[0] === '', 'an empty zone takes no layers');
    await soon(async () => (await rows())[0]?.getText()).to.contain('empty');
  });

  it('a search for zones finds stack, order and colours of them, and takes them in one step', async () => {
    const { driver } = session;
    const panel = new FindPanel(session);
    await openDemo(session, 'Dome at dusk', 'stack', QUICK_SEARCH);
    await part();
    const before = await bench.settledError();
    const parted = await shares();
    await panel.open();
    await findCss(driver, '[role=dialog] [data-testid=choice-zones][data-state=on]');
    await panel.ended();
    const told = Number(/\d+\.\d+/.exec(await panel.state())?.[0]);
    await (await findCss(driver, '[aria-label^="Use the stack with 5 swaps"]')).click();
    await settled(driver);
    const found = await bench.settledError();
    expect(found).to.be.below(before);
    // What was promised for zones that were fitted on the way is what the picture has with them.
    expect(found).to.be.closeTo(told, 0.05 * told);
    await findCss(driver, '[data-testid=choice-zones][data-state=on]');
    await soon(() => rows()).to.have.length(3);
    expect(await shares()).not.to.deep.equal(parted);
    // Under another rule the stop says what that costs.
    await bench.choose('tone');
    await settled(driver);
    await soon(() => bench.read('found-for')).to.match(/found for zones with a lean of 15/);
    await bench.undo();
    await bench.undo();
    await settled(driver);
    await soon(() => bench.settledError()).to.equal(before);
    expect(await shares()).to.deep.equal(parted);
  });
});
