import { expect } from 'chai';
import { By, Key } from 'selenium-webdriver';
import {
  axeFaults,
  find,
  findButton,
  findCss,
  readCanvas,
  shareSession,
  until,
  type Session,
  settled,
  soon,
} from './browser.ts';
import { openDemo } from './fixtures.ts';
import { Bench } from './pages/bench.ts';

describe('height rules and views', function () {
  this.timeout(600_000);
  let session: Session;
  let bench: Bench;

  before(async () => {
    session = await shareSession();
    bench = new Bench(session);
  });
  after(async () => {
    await session.close();
  });

  const open = async (name: string): Promise<void> => {
    await openDemo(session, name);
  };
  const printAt = async (): Promise<string> =>
    JSON.stringify(
      (
        await readCanvas(session.driver, 'print-canvas', [
          [0.3, 0.3],
          [0.5, 0.62],
          [0.7, 0.45],
          [0.86, 0.8],
        ])
      ).pixels,
    );
  /** The print once it has stopped changing. */
  const settledPrint = async (): Promise<string> => {
    await settled(session.driver);
    return printAt();
  };
  const changesFrom = (before: string, what: string): Promise<boolean> =>
    until(session.driver, async () => (await printAt()) !== before, what);

  it('closest blend lowers the colour error, keeps to chosen bands, and each rule keeps its own settings', async () => {
    const { driver } = session;
    await open('Dome at dusk');
    const tone = await bench.settledError();
    const toned = await settledPrint();
    await bench.choose('closest');
    await until(driver, async () => (await bench.settledError()) < tone, 'the error is lower');
    const closest = await settledPrint();
    await (await findButton(driver, 'Heights may end in band F')).click();
    await changesFrom(closest, 'no spot ends in the top band');
    await (await findButton(driver, 'Heights may end in band F')).click();
    await until(driver, async () => (await printAt()) === closest, 'all bands are back');
    await soon(() => axeFaults(session)).to.deep.equal([]);
    await bench.choose('tone');
    await until(driver, async () => (await printAt()) === toned, 'tone is as it was');
    await bench.undo();
    await until(driver, async () => (await printAt()) === closest, 'a change of rule is one step');
  });

  it('an aim colour steers heights, says so, and goes again', async () => {
    const { driver } = session;
    await open('Dome at dusk');
    await bench.choose('closest');
    await findButton(driver, 'Aim colour');
    const before = await settledPrint();
    await (await findButton(driver, 'Aim colour')).click();
    await soon(async () => (await find(driver, 'aims')).getText()).to.contain('steer heights');
    const layer = await findCss(driver, '[aria-label="Layer of aim colour 1"]');
    await layer.sendKeys(Key.chord(Key.CONTROL, 'a'), '8');
    await changesFrom(before, 'heights follow the aim');
    await soon(() => axeFaults(session)).to.deep.equal([]);
    await (await findButton(driver, 'Remove aim colour 1')).click();
    await until(driver, async () => (await printAt()) === before, 'the filaments count again');
  });

  it('the tone curve: points by key and pointer, added and removed, Escape takes a drag back, one-click starts', async () => {
    const { driver } = session;
    await open('Crater study');
    const before = await settledPrint();
    await (await findButton(driver, 'Curve')).click();
    const points = async (): Promise<number> =>
      (await driver.findElements(By.css('[data-testid^=curve-point-]'))).length;
    await soon(() => points()).to.equal(5);
    const place = async (): Promise<string> =>
      (await (await find(driver, 'curve-point-2')).getAttribute('style')) ?? '';
    const start = await place();
    await (await find(driver, 'curve-point-2')).sendKeys(Key.chord(Key.SHIFT, Key.ARROW_UP));
    await until(driver, async () => (await place()) !== start, 'the point has moved');
    await changesFrom(before, 'the print follows the curve');
    const moved = await place();
    const point = await find(driver, 'curve-point-2');
    await driver
      .actions()
      .move({ origin: point })
      .press()
      .move({ origin: point, x: 12, y: 20 })
      .sendKeys(Key.ESCAPE)
      .release()
      .perform();
    await soon(() => place()).to.equal(moved);
    await driver
      .actions()
      .move({ origin: await find(driver, 'curve-point-2') })
      .press()
      .move({ origin: point, x: 12, y: 20 })
      .release()
      .perform();
    await until(driver, async () => (await place()) !== moved, 'it was dragged');
    const curve = await find(driver, 'tone-curve');
    await driver.actions().move({ origin: curve, x: 150, y: 40 }).doubleClick().perform();
    await until(driver, async () => (await points()) === 6, 'a point was added');
    await (await find(driver, 'curve-point-5')).sendKeys(Key.DELETE);
    await until(driver, async () => (await points()) === 5, 'and removed');
    for (const name of ['Linear', 'Equalised', 'Matched to the stack']) {
      const last = await printAt();
      await (await findButton(driver, name)).click();
      await changesFrom(last, `${name} changes the print`);
    }
    await soon(() => axeFaults(session)).to.deep.equal([]);
    await (await findButton(driver, 'Curve')).click();
    await until(driver, async () => (await printAt()) === before, 'the three points count again');
  });

  it('flat areas: one colour a band to begin with, other counts, heights typed and swapped', async () => {
    const { driver } = session;
    await open('Dome badge');
    await bench.choose('flat');
    const rows = async (): Promise<string[]> =>
      Promise.all(
        (await driver.findElements(By.css('[data-testid=flat-colours] li'))).map((row) =>
          row.getText(),
        ),
      );
    await until(driver, async () => (await rows()).length === 4, 'four colours are found');
    const colours = (): Promise<number> =>
      driver.executeScript(
        `const canvas = document.querySelector('[data-testid=print-canvas]');
         const { data } = canvas.getContext('2d').getImageData(0, 0, canvas.width, canvas.height);
         return new Set(new Uint32Array(data.buffer)).size;`,
      );
    // Four heights, and what is cut away.
    await until(driver, async () => (await colours()) === 5, 'the print has four colours');
    const [top = '', second = ''] = await rows();
    const before = await printAt();
    await (await findButton(driver, `${top.slice(0, 7)} lower`)).click();
    await until(
      driver,
      async () => (await rows())[0]?.startsWith(second.slice(0, 7)),
      'the first two have changed places',
    );
    await changesFrom(before, 'the print follows');
    const count = await find(driver, 'flat-count');
    await count.sendKeys(Key.chord(Key.CONTROL, 'a'), '3', Key.ENTER);
    await until(driver, async () => (await rows()).length === 3, 'three colours are left');
    await soon(() => axeFaults(session)).to.deep.equal([]);
  });

  it('calm and islands change the print, and come with the project after a reload', async () => {
    const { driver } = session;
    await open('Veil nebula');
    await bench.choose('closest');
    await settled(driver);
    const painted = async (): Promise<number> =>
      (await readCanvas(driver, 'print-canvas', [])).painted;
    const before = await painted();
    const calm = await findCss(driver, '[aria-label="Calm, percent"]');
    await calm.sendKeys(Key.END);
    await until(driver, async () => (await painted()) > before, 'the print is calmer');
    const island = await find(driver, 'smallest-island');
    await island.sendKeys(Key.chord(Key.CONTROL, 'a'), '1,2', Key.ENTER);
    await until(
      driver,
      async () => (await driver.findElement(By.css('header')).getText()).includes('saved'),
      'it is saved',
    );
    await settled(driver);
    await driver.navigate().refresh();
    await until(
      driver,
      async () => (await (await find(driver, 'smallest-island')).getAttribute('value')) === '1.2',
      'it is still there',
    );
    await soon(async () =>
      (await findCss(driver, '[aria-label="Calm, percent"]')).getAttribute('aria-valuenow'),
    ).to.equal('100');
  });

  it('difference, heights and pins show and tell what the core works out', async () => {
    const { driver } = session;
    await open('Crater study');
    await bench.choose('difference');
    const legend = await find(driver, 'difference-legend');
    const error = await bench.settledError();
    await until(
      driver,
      async () => (await legend.getText()).includes(`mean ${error.toFixed(1)}`),
      'the legend has the mean',
    );
    await until(
      driver,
      async () =>
        (await readCanvas(driver, 'difference-canvas', [[0.5, 0.5]])).pixels[0]?.[3] === 255,
      'the differences are painted',
    );
    await soon(() => axeFaults(session)).to.deep.equal([]);
    await bench.choose('heights');
    const shades = await until(
      driver,
      async () => {
        const read = await readCanvas(driver, 'heights-canvas', [
          [0.3, 0.3],
          [0.6, 0.6],
        ]);
        return read.painted > 0 ? read : null;
      },
      'the heights are painted',
    );
    for (const [red, green, blue, alpha] of shades.pixels)
      expect([red, green, alpha]).to.deep.equal([green, blue, 255]);
    const stage = await find(driver, 'stage-area');
    await driver.actions().move({ origin: stage, x: -80, y: 30 }).click().perform();
    await stage.sendKeys('p');
    const pins = await find(driver, 'pins');
    await until(driver, async () => (await pins.getText()).split('\n').length >= 2, 'two pins');
    const told = await pins.getText();
    await (await findButton(driver, 'Dark low, light high')).click();
    await until(driver, async () => (await pins.getText()) !== told, 'pins follow changes');
    await soon(() => axeFaults(session)).to.deep.equal([]);
    await (await findButton(driver, 'Take pin 1 away')).click();
    await (await findButton(driver, 'Take pin 1 away')).click();
    await soon(() => driver.findElements(By.css('[data-testid=pins]'))).to.have.length(0);
  });

  it('splits and joins bands, and scales the stack, each as one step', async () => {
    const { driver } = session;
    await open('Crater study');
    const labels = async (): Promise<number> =>
      (await driver.findElements(By.css('[data-testid^=band-]'))).length;
    await soon(() => labels()).to.equal(4);
    const choose = async (band: string, item: string): Promise<void> => {
      await (await findButton(driver, `Band ${band}`)).click();
      await (await findButton(driver, item)).click();
    };
    await choose('B', 'Split in two');
    await until(driver, async () => (await labels()) === 5, 'there are five bands');
    await choose('C', 'Join with the band below');
    await until(driver, async () => (await labels()) === 4, 'and four again');
    const total = await find(driver, 'total-layers');
    await soon(() => total.getAttribute('value')).to.equal('23');
    await total.sendKeys(Key.chord(Key.CONTROL, 'a'), '46', Key.ENTER);
    await until(
      driver,
      async () => (await (await find(driver, 'edge-D')).getAttribute('aria-valuenow')) === '46',
      'the stack is twice as tall',
    );
    await soon(() => bench.edgeLayer('A')).to.equal(12);
    await soon(() => axeFaults(session)).to.deep.equal([]);
    await bench.undo();
    await until(
      driver,
      async () => (await (await find(driver, 'edge-D')).getAttribute('aria-valuenow')) === '23',
      'one step back',
    );
  });
});
