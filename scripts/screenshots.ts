/** Makes the pictures in docs/screenshots from the demo data: `npm run screenshots` after a build. */
import { mkdirSync, mkdtempSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { By, Key } from 'selenium-webdriver';
import type { Driver } from 'selenium-webdriver/chrome.js';
import { bandEnds } from '../src/core/stack/stack.ts';
import { expectDemo } from '../tests/helpers/demo.ts';
import { slice } from '../tests/helpers/gcode.ts';
import {
  chooseFrom,
  find,
  findButton,
  findCss,
  pickOption,
  settled,
  startSession,
  takeScreenshot,
  typeOver,
  until,
} from '../tests/e2e/browser.ts';

const target = process.argv[2] ?? new URL('../docs/screenshots', import.meta.url).pathname;
mkdirSync(target, { recursive: true });
/** The demo project sliced with lines of 0.4 mm, one swap a layer early and one missing. */
async function slicedDemo(): Promise<string> {
  const demo = await expectDemo('dome-at-dusk', 750, 500);
  const fine = demo.heights(demo.bands);
  const data = new Uint8Array(375 * 250).map(
    (_, i) => fine.data[2 * Math.floor(i / 375) * fine.width + 2 * (i % 375)] ?? 0,
  );
  const ends = bandEnds(demo.bands);
  const starts = ends.slice(0, -1).map((end) => end + 1);
  const before = Object.fromEntries(
    starts.slice(0, -1).map((layer, n) => [n === 0 ? layer - 1 : layer, ['M600']]),
  );
  const path = join(mkdtempSync(join(tmpdir(), 'strata-shots-')), 'dome-at-dusk.gcode');
  writeFileSync(
    path,
    slice({ width: 375, height: 250, data }, ends.at(-1) ?? 0, { before, loopMm: 5 }),
  );
  return path;
}

const session = await startSession();
const { driver, address } = session;
const shoot = (name: string): Promise<void> => takeScreenshot(driver, `${target}/${name}.png`);
const resize = async (width: number, height: number): Promise<void> => {
  await (driver as unknown as Driver).sendDevToolsCommand('Emulation.setDeviceMetricsOverride', {
    width,
    height,
    deviceScaleFactor: 1,
    mobile: false,
  });
};
try {
  await driver.get(address);
  await (await findButton(driver, 'Begin with Dome at dusk')).click();
  await until(
    driver,
    async () => /\d/.exec(await (await find(driver, 'ledger-error')).getText()),
    'the colour error is known',
  );
  await driver.sleep(800);
  await (await find(driver, 'choice-wipe')).click();
  const stage = await find(driver, 'stage-area');
  await driver.actions().move({ origin: stage, x: 120, y: -60 }).perform();
  await driver.sleep(300);
  await shoot('stack');
  await (await find(driver, 'choice-side')).click();
  await (await find(driver, 'choice-zones')).click();
  await findCss(driver, '[data-testid=zone-upper]');
  await (await findButton(driver, 'Mark zones on the picture')).click();
  await driver.sleep(1500);
  await shoot('zones');
  await (await findButton(driver, 'Undo')).click();
  await (await find(driver, 'choice-print')).click();
  await (await find(driver, 'stop-artwork')).click();
  await (await find(driver, 'choice-artwork')).click();
  await chooseFrom(driver, 'Add an edit', 'Light and contrast');
  await chooseFrom(driver, 'Add an edit', 'Range of hues');
  await typeOver(driver, 'edit-turn', '26');
  await (await find(driver, 'tool-lasso')).click();
  const surface = await find(driver, 'tool-surface');
  const outline = [
    [-150, 148],
    [-150, 30],
    [-105, -28],
    [-50, -30],
    [20, 20],
    [26, 148],
  ] as const;
  let lasso = driver.actions().move({ origin: surface, x: -150, y: 148 }).press();
  for (const [x, y] of outline) lasso = lasso.move({ origin: surface, x, y, duration: 60 });
  await lasso.release().perform();
  await settled(driver);
  // What hues there are is told after the picture is worked out.
  await findCss(driver, '[data-testid=hues-after] rect');
  await driver.sleep(500);
  await shoot('artwork');
  await (await find(driver, 'stop-relief')).click();
  await (await find(driver, 'choice-print')).click();
  await driver.sleep(300);
  await until(
    driver,
    async () => (await (await find(driver, 'file-size')).getText()).endsWith('MB'),
    'the size of the file is known',
  );
  await shoot('relief');
  await (await find(driver, 'stop-sheet')).click();
  await findCss(driver, '[data-testid=sheet-picture][data-drawn]');
  await driver.sleep(300);
  await shoot('swap-sheet');
  await (await findButton(driver, 'G-code')).click();
  await find(driver, 'own-gcode');
  const layers = await find(driver, 'layer-list');
  for (let n = 0; n < 13; n += 1) await layers.sendKeys(Key.ARROW_DOWN);
  await driver.sleep(2000);
  await shoot('own-gcode');
  await (await find(driver, 'stop-rehearse')).click();
  await pickOption(driver, 'fault', 'runs-through');
  await (await find(driver, 'choice-600')).click();
  await (await findButton(driver, 'Start the rehearsal')).click();
  for (const stop of [2, 3]) {
    await until(
      driver,
      async () => (await (await find(driver, 'printer-says')).getText()).startsWith(`stop ${stop}`),
      `stop ${stop}`,
    );
    if (stop === 2) await (await findButton(driver, 'Loaded, resume')).click();
  }
  await driver.sleep(800);
  await shoot('rehearse');
  await (await find(driver, 'stop-sheet')).click();
  await findCss(driver, '[data-testid=sheet-picture][data-drawn]');
  await (await findButton(driver, 'At the printer')).click();
  await (await findButton(driver, 'I started now')).click();
  await resize(390, 844);
  await driver.sleep(1500);
  await shoot('at-printer');
  await resize(1280, 800);
  await (await findButton(driver, 'Sheet')).click();
  await (await find(driver, 'stop-stack')).click();
  await (await find(driver, 'choice-print')).click();
  await driver.actions().sendKeys('v').perform();
  await find(driver, 'versions');
  await driver.actions().sendKeys('Before the warm sky', Key.ENTER).perform();
  await find(driver, 'version');
  await driver.sleep(600);
  await shoot('versions');
  await driver.actions().sendKeys(Key.ESCAPE).perform();
  await resize(390, 844);
  await driver.sleep(800);
  await shoot('phone');
  await resize(1280, 800);
  await driver.get(address);
  await (await findButton(driver, 'Begin with Veil nebula')).click();
  await find(driver, 'print-canvas');
  await (await find(driver, 'choice-closest')).click();
  await driver.sleep(1500);
  await (await findButton(driver, 'Find a stack')).click();
  await until(
    driver,
    async () => (await (await find(driver, 'find-state')).getText()).startsWith('best:'),
    'stacks are found',
  );
  await (await findButton(driver, 'Compare with the present stack on the wipe')).click();
  await driver.sleep(3000);
  await shoot('find');
  await driver.get(`${address}/printers`);
  await find(driver, 'printer-card-medium-hand');
  await driver.sleep(500);
  await shoot('printers');
  await driver.get(`${address}/rack`);
  await findCss(driver, '[data-filament="rust"]');
  await driver.sleep(400);
  await shoot('rack');
  await (await findButton(driver, 'Open Coral')).click();
  await findCss(driver, '[data-drawn]');
  await driver.sleep(400);
  await shoot('filament');
  await driver.get(`${address}/rack/wedge/rust`);
  await find(driver, 'wedge-drawing');
  await driver.sleep(300);
  await (await findCss(driver, '[aria-label="Step"] [data-testid=choice-photo]')).click();
  await (await findButton(driver, 'Try a simulated photo')).click();
  await find(driver, 'fit-value');
  await (await find(driver, 'corner-0')).sendKeys('');
  await driver.sleep(400);
  await shoot('wedge-photo');
  await driver.get(address);
  await until(
    driver,
    async () => (await driver.findElements(By.css('[data-testid="project-card"] img'))).length,
    'the thumbnail is there',
  );
  await driver.sleep(400);
  await shoot('shelf');
  await (await findButton(driver, 'Begin with Eyepiece box lid')).click();
  await find(driver, 'elements');
  await driver.sleep(800);
  await shoot('tag');
  await driver.get(address);
  await (await findButton(driver, 'Begin with Observatory name tags')).click();
  await (await find(driver, 'stop-series')).click();
  await find(driver, 'names');
  await driver.sleep(2500);
  await shoot('series');
  await driver.get(address);
  await (await findButton(driver, 'Begin with Dome at dusk')).click();
  await find(driver, 'print-canvas');
  await (await find(driver, 'stop-sheet')).click();
  await (await findButton(driver, 'Sliced file')).click();
  await (await find(driver, 'gcode-file')).sendKeys(await slicedDemo());
  await (await findCss(driver, '[data-code=swap-missing] button')).click();
  await (await find(driver, 'choice-below')).click();
  await driver.sleep(1500);
  await shoot('gcode');
} finally {
  await session.close();
}
