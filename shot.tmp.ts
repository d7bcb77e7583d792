import { find, findButton, findCss, startSession, takeScreenshot, until } from './tests/e2e/browser.ts';
const session = await startSession();
const { driver, address } = session;
const shoot = (n: string) => takeScreenshot(driver, `/tmp/shots/${n}.png`);
const sleep = (ms: number) => new Promise((r) => setTimeout(r, ms));
const row = async (name: string) => { for (const e of await driver.findElements({ css: '[data-testid="element-row"] button[aria-expanded]' })) if ((await e.getText()).includes(name)) { await e.click(); return; } };
try {
  await driver.get(address); await sleep(1500);
  await (await findButton(driver, 'Begin with Locker 7 tag')).click();
  await sleep(3500);
  await row('LOCKER'); await sleep(1000); await shoot('a-locker');
  await (await find(driver, 'stop-relief')).click(); await sleep(2500); await shoot('b-relief');
  await (await find(driver, 'choice-solid')).click(); await sleep(2500); await shoot('c-solid');
  await (await find(driver, 'stop-sheet')).click(); await sleep(3000); await shoot('d-sheet');
  await driver.get(address); await sleep(1500);
  await (await findButton(driver, 'Begin with Dome key tag')).click();
  await sleep(3500); await shoot('e-key');
  await row('Outline'); await sleep(800); await shoot('f-plate');
  await row('HOLLOW'); await sleep(300); await (await find(driver, 'element-filament')).click(); await sleep(1500); await shoot('g-choose');
} catch (e) { console.log(e); await shoot('error'); } finally { process.exit(0); }
