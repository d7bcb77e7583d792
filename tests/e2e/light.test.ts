import { expect } from 'chai';
import { By, Key } from 'selenium-webdriver';
import { colourBeforeLamp, rampInRoom, USUAL_LIGHT } from '#core/heights/lamp.ts';
import { paintSeen } from '#core/heights/spread-print.ts';
import { USUAL_GRID } from '#core/stack/layer-grid.ts';
import { rampOfStack } from '#core/stack/stack-ramp.ts';
import type { ProjectDocument } from '../../src/state/project-document.ts';
import { demoFilaments, expectDemo } from '../helpers/demo.ts';
import {
  axeFaults,
  chooseFrom,
  find,
  findButton,
  findCss,
  goes,
  pickOption,
  readCanvas,
  settled,
  shareSession,
  soon,
  typeOver,
  until,
  type Session,
} from './browser.ts';
import { openDemo } from './fixtures.ts';
import { Bench } from './pages/bench.ts';

const PLACES = [
  [0.3, 0.3],
  [0.5, 0.62],
  [0.7, 0.45],
  [0.86, 0.8],
  [0.12, 0.55],
] as const;

const SPREAD_MM = 0.8;

/** A document whose filaments all let light go sideways. */
function spread(document: ProjectDocument): ProjectDocument {
  const filaments = Object.fromEntries(
    Object.entries(document.stack.filaments).map(([id, filament]) => [
      id,
      { ...filament, spreadMm: SPREAD_MM },
    ]),
  );
  return { ...document, stack: { ...document.stack, filaments } };
}

describe('light on the print, and in it', function () {
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

  const pixelsOf = async (canvas: string): Promise<string[]> =>
    (await readCanvas(session.driver, canvas, PLACES)).pixels.map((pixel) =>
      pixel.slice(0, 3).join(),
    );

  const demoRamp = async () => {
    const { width, height } = await readCanvas(session.driver, 'print-canvas', PLACES);
    const demo = await expectDemo('veil-nebula', width, height);
    const ramp = rampOfStack({ grid: USUAL_GRID, bands: demo.bands }, demoFilaments());
    return { demo, ramp, width, height };
  };

  it('the room may have another light, and the lamp too: print, reading and difference follow', async () => {
    const { driver } = session;
    await openDemo(session, 'Veil nebula');
    const { ramp } = await demoRamp();
    const daylight = await pixelsOf('print-canvas');
    await chooseFrom(driver, 'Room light: Daylight, 6500 K', 'Warm bulb, 2856 K');
    const warm = new Set(rampInRoom(ramp, 'a').map(({ colour }) => colour.join()));
    await soon(async () => (await pixelsOf('print-canvas')).every((one) => warm.has(one))).to.equal(
      true,
    );
    expect(await pixelsOf('print-canvas')).to.not.deep.equal(daylight);

    await bench.choose('difference');
    const legend = await find(driver, 'difference-legend');
    const meanOf = async (): Promise<string> =>
      /mean ([\d.]+)/.exec(await legend.getText())?.[1] ?? '';
    const inWarm = await until(driver, meanOf, 'the difference under a bulb is there');
    await chooseFrom(driver, 'Room light: Warm bulb, 2856 K', 'Daylight, 6500 K');
    await soon(async () => {
      const now = await meanOf();
      return now !== '' && now !== inWarm;
    }).to.equal(true);

    await bench.choose('lamp');
    await pickOption(driver, 'lamp-kind', 'led');
    await pickOption(driver, 'room-kind', 'a');
    const light = { ...USUAL_LIGHT, lampKind: 'led', roomKind: 'a' } as const;
    const allowed = new Set(ramp.map((step) => colourBeforeLamp(step, light).join()));
    await soon(async () =>
      (await pixelsOf('lamp-canvas')).every((one) => allowed.has(one)),
    ).to.equal(true);
    await soon(() => axeFaults(session)).to.deep.equal([]);
  });

  it('light that goes sideways softens print and lamp at rest, and counts in the difference', async () => {
    const { driver } = session;
    await openDemo(session, 'Veil nebula');
    const straight = await bench.settledError();
    await openDemo(session, 'Veil nebula', 'stack', { change: spread });
    const isSoft = async (name: string): Promise<string | null> =>
      (await find(driver, `${name}-canvas`)).getAttribute('data-spread');
    await soon(() => isSoft('print')).to.equal('true');
    const { demo, ramp: sharp, width, height } = await demoRamp();
    const ramp = sharp.map((step) => ({ ...step, spreadMm: SPREAD_MM }));
    const heights = demo.heights(demo.bands);
    const { data } = paintSeen(heights, ramp, 150 / width);
    const { pixels } = await readCanvas(driver, 'print-canvas', PLACES);
    PLACES.forEach(([px, py], i) => {
      const at = 4 * (Math.floor(py * height) * width + Math.floor(px * width));
      expect(pixels[i], `at ${px} ${py}`).to.deep.equal([...data.subarray(at, at + 4)]);
    });
    expect(await bench.settledError()).to.not.equal(straight);
    await bench.choose('lamp');
    await soon(() => isSoft('lamp')).to.equal('true');
    // It is soft again once the lamp was made brighter.
    const [lamp] = await driver.findElements(By.css('[data-testid=lamp-controls] [role=slider]'));
    await lamp?.sendKeys(Key.END);
    await soon(() => isSoft('lamp')).to.equal('true');
  });

  it('one spread for the whole rack is told beside the tuning, and offered to the project', async () => {
    const { driver } = session;
    const id = await openDemo(session, 'Veil nebula');
    await driver.get(`${session.address}/rack`);
    await (await find(driver, 'tuning-button')).click();
    await typeOver(driver, 'rack-spread', '0.6');
    await (await findButton(driver, 'Use these values')).click();
    await goes(driver, '[data-testid=rack-spread]');
    await driver.get(`${session.address}/project/${id}/stack`);
    await settled(driver);
    await (await findCss(driver, '[data-testid=rack-news] button')).click();
    await soon(async () =>
      (await find(driver, 'print-canvas')).getAttribute('data-spread'),
    ).to.equal('true');
    await bench.undo();
    await soon(async () =>
      (await find(driver, 'print-canvas')).getAttribute('data-spread'),
    ).to.equal('false');
  });
});
