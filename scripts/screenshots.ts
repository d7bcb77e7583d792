/** Makes the pictures in docs/screenshots from the demo data: `npm run screenshots` after a build. */
import { By } from 'selenium-webdriver';
import {
  find,
  findButton,
  findCss,
  startSession,
  takeScreenshot,
  until,
} from '../tests/e2e/browser.ts';

const target = process.argv[2] ?? new URL('../docs/screenshots', import.meta.url).pathname;
const session = await startSession();
const { driver, address } = session;
const shoot = (name: string): Promise<void> => takeScreenshot(driver, `${target}/${name}.png`);
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
  await (await findButton(driver, 'Add filament on top')).click();
  await driver.sleep(400);
  await shoot('filament-picker');
  await (await findButton(driver, 'Close')).click();
  await (await find(driver, 'stop-artwork')).click();
  await (await find(driver, 'choice-artwork')).click();
  await driver.sleep(300);
  await shoot('artwork');
  await (await find(driver, 'stop-relief')).click();
  await (await find(driver, 'choice-print')).click();
  await driver.sleep(300);
  await shoot('relief');
  await (await find(driver, 'stop-sheet')).click();
  await find(driver, 'swap-sheet');
  await driver.sleep(300);
  await shoot('swap-sheet');
  await (await find(driver, 'stop-stack')).click();
  await (await find(driver, 'choice-lamp')).click();
  await driver.sleep(600);
  await shoot('lamp');
  await (await find(driver, 'choice-closest')).click();
  await (await find(driver, 'choice-difference')).click();
  await driver.sleep(2500);
  await driver
    .actions()
    .move({ origin: await find(driver, 'stage-area'), x: -60, y: 110 })
    .click()
    .perform();
  await driver
    .actions()
    .move({ origin: await find(driver, 'stage-area'), x: 215, y: -90 })
    .click()
    .perform();
  await driver.sleep(300);
  await shoot('difference');
  await driver.get(address);
  await (await findButton(driver, 'Begin with Dome badge')).click();
  await (await find(driver, 'choice-flat')).click();
  await driver.sleep(2500);
  await shoot('flat');
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
  await shoot('wedge-print');
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
} finally {
  await session.close();
}
