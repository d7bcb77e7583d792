import { mkdtempSync, readdirSync, readFileSync, rmSync, statSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import AxeBuilder from 'axe-core';
import { Builder, By, Key, logging, type WebDriver, type WebElement } from 'selenium-webdriver';
import { Options, ServiceBuilder, type Driver } from 'selenium-webdriver/chrome.js';
import { PLACES } from '../helpers/demo.ts';

process.env.SE_OFFLINE = 'true';

/** A browser on a freshly started app. */
export interface Session {
  readonly driver: WebDriver;
  readonly address: string;
  readonly downloads: string;
  close(): Promise<void>;
}

const FLAGS = [
  '--headless=new',
  '--no-sandbox',
  '--window-size=1280,800',
  '--force-device-scale-factor=1',
  '--hide-scrollbars',
  '--use-angle=swiftshader',
  '--enable-unsafe-swiftshader',
  '--ignore-gpu-blocklist',
  '--no-first-run',
  '--disable-background-networking',
  '--disable-component-update',
  '--disable-sync',
  '--no-pings',
  '--host-resolver-rules=MAP * ~NOTFOUND, EXCLUDE localhost, EXCLUDE 127.0.0.1',
];

/** Starts server and browser. `beforePage` is a script that runs in every page before its own. */
export async function startSession(beforePage?: string): Promise<Session> {
  const { startServer } = await import('../../server.mjs');
  const { server, address } = await startServer({ port: 0 });
  const folder = mkdtempSync(join(tmpdir(), 'strata-e2e-'));
  const downloads = join(folder, 'downloads');
  const logs = new logging.Preferences();
  logs.setLevel(logging.Type.BROWSER, logging.Level.ALL);
  logs.setLevel(logging.Type.PERFORMANCE, logging.Level.ALL);
  const options = new Options();
  options.setChromeBinaryPath('/usr/lib/chromium/chromium');
  options.addArguments(...FLAGS, `--user-data-dir=${join(folder, 'profile')}`);
  options.setUserPreferences({
    'download.default_directory': downloads,
    'download.prompt_for_download': false,
  });
  options.setLoggingPrefs(logs);
  const driver = await new Builder()
    .forBrowser('chrome')
    .setChromeOptions(options)
    .setChromeService(new ServiceBuilder('/usr/bin/chromedriver'))
    .build();
  const chrome = driver as unknown as Driver;
  await chrome.sendDevToolsCommand('Emulation.setDeviceMetricsOverride', {
    width: 1280,
    height: 800,
    deviceScaleFactor: 1,
    mobile: false,
  });
  await chrome.sendDevToolsCommand('Browser.setDownloadBehavior', {
    behavior: 'allow',
    downloadPath: downloads,
  });
  if (beforePage)
    await chrome.sendDevToolsCommand('Page.addScriptToEvaluateOnNewDocument', {
      source: beforePage,
    });
  return {
    driver,
    address,
    downloads,
    close: async () => {
      await driver.quit();
      server.closeAllConnections();
      server.close();
      rmSync(folder, { recursive: true, force: true });
    },
  };
}

/** How long anything may take to appear, ms. Generous: the machine may be busy. */
const PATIENCE_MS = Number(process.env.E2E_PATIENCE_MS ?? 90_000);

/** The element with a test id, once it is there. */
export async function find(driver: WebDriver, testId: string): Promise<WebElement> {
  return findCss(driver, `[data-testid="${testId}"]`);
}

/** The element of a CSS selector, once it is there. */
export async function findCss(driver: WebDriver, css: string): Promise<WebElement> {
  return driver.wait(
    async () => (await driver.findElements(By.css(css)))[0] ?? null,
    PATIENCE_MS,
    `no ${css}`,
  ) as Promise<WebElement>;
}

/** A canvas with a test id, once something has been painted on it. */
export async function findPainted(driver: WebDriver, testId: string): Promise<WebElement> {
  return findCss(driver, `[data-testid="${testId}"][data-painted]`);
}

/** The button (or link) with this text or name, once it is there. */
export async function findButton(driver: WebDriver, name: string): Promise<WebElement> {
  const xpath = `//*[self::button or self::a or @role="menuitem"][normalize-space()="${name}" or @aria-label="${name}"]`;
  return driver.wait(
    async () => (await driver.findElements(By.xpath(xpath)))[0] ?? null,
    PATIENCE_MS,
    `no button ${name}`,
  ) as Promise<WebElement>;
}

/** Opens a menu by its name and takes an entry. */
export async function chooseFrom(driver: WebDriver, menu: string, entry: string): Promise<void> {
  await (await findButton(driver, menu)).click();
  await (await findButton(driver, entry)).click();
}

/** Types over what stands in a field, and leaves it. */
export async function typeOver(driver: WebDriver, testId: string, text: string): Promise<void> {
  const field = await find(driver, testId);
  await field.sendKeys(Key.chord(Key.CONTROL, 'a'), text === '' ? Key.DELETE : text, Key.TAB);
}

/** Takes an entry of a list that drops down. */
export async function pickOption(driver: WebDriver, testId: string, value: string): Promise<void> {
  await (await findCss(driver, `[data-testid=${testId}] option[value="${value}"]`)).click();
}

/** Waits until a question about the page is answered with something true. */
export async function until<Answer>(
  driver: WebDriver,
  question: () => Promise<Answer>,
  what: string,
): Promise<NonNullable<Answer>> {
  let answer: Answer | undefined;
  await driver.wait(
    async () => {
      try {
        answer = await question();
      } catch {
        return false;
      }
      return Boolean(answer);
    },
    PATIENCE_MS,
    `waited in vain until ${what}`,
  );
  return answer as NonNullable<Answer>;
}

/**
 * Points at an element until a question about the page is answered with something true. A hand moves on until something
 * happens; one that lies still where a list is drawn anew points at nothing.
 */
export async function pointUntil(
  driver: WebDriver,
  element: WebElement,
  question: () => Promise<boolean>,
  what: string,
): Promise<void> {
  let aside = 0;
  await until(
    driver,
    async () => {
      aside = 3 - aside;
      await driver.actions().move({ origin: element, x: aside }).perform();
      return question();
    },
    what,
  );
}

/** What the canvas of the print shows at places spread over it, once it has been painted. */
export async function readPrint(driver: WebDriver): Promise<string> {
  return until(
    driver,
    async () => {
      const { painted, pixels } = await readCanvas(driver, 'print-canvas', PLACES);
      return painted > 0 ? JSON.stringify(pixels) : '';
    },
    'the print is painted',
  );
}

/** Waits for a finished download whose name fits, and reads it. */
export async function readDownload(
  { driver, downloads }: Session,
  pattern: RegExp,
): Promise<{ name: string; bytes: Buffer }> {
  let lastSize = -1;
  const name = await until(
    driver,
    () => {
      const found = readdirSync(downloads).find(
        (file) => pattern.test(file) && !file.endsWith('.crdownload'),
      );
      if (!found) return Promise.resolve(null);
      const { size } = statSync(join(downloads, found));
      const settled = size > 0 && size === lastSize;
      lastSize = size;
      return Promise.resolve(settled ? found : null);
    },
    `a download named like ${String(pattern)}`,
  );
  const path = join(downloads, name);
  const bytes = readFileSync(path);
  rmSync(path);
  return { name, bytes };
}

/** Gives a file to the shelf. */
export async function upload({ driver }: Session, path: string): Promise<void> {
  await (await find(driver, 'file-input')).sendKeys(path);
}

/** The size and the packed pixels (RGBA) of a canvas at some places, as shares of its width and height. */
export async function readCanvas(
  driver: WebDriver,
  testId: string,
  places: readonly (readonly [number, number])[],
): Promise<{ width: number; height: number; painted: number; pixels: number[][] }> {
  return await driver.executeScript(
    `const canvas = document.querySelector('[data-testid="' + arguments[0] + '"]');
     const context = canvas.getContext('2d');
     return {
       width: canvas.width, height: canvas.height, painted: Number(canvas.dataset.painted || 0),
       pixels: arguments[1].map(([x, y]) => [...context.getImageData(Math.floor(x * canvas.width), Math.floor(y * canvas.height), 1, 1).data]),
     };`,
    testId,
    places,
  );
}

/** Saves a picture of the page. */
export async function takeScreenshot(driver: WebDriver, path: string): Promise<void> {
  writeFileSync(path, Buffer.from(await driver.takeScreenshot(), 'base64'));
}

/** Turns the mouse wheel over a place of the page. */
export async function turnWheel(
  driver: WebDriver,
  x: number,
  y: number,
  deltaY: number,
): Promise<void> {
  await (driver as unknown as Driver).sendDevToolsCommand('Input.dispatchMouseEvent', {
    type: 'mouseWheel',
    x,
    y,
    deltaX: 0,
    deltaY,
  });
}

/** Serious faults that axe finds on the page as it is. */
export async function axeFaults({ driver }: Session): Promise<string[]> {
  await driver.executeScript(AxeBuilder.source);
  return driver.executeAsyncScript(
    `const done = arguments[arguments.length - 1];
     axe.run(document, { resultTypes: ['violations'] }).then(({ violations }) =>
       done(violations.filter(({ impact }) => impact === 'serious' || impact === 'critical')
         .map(({ id, nodes }) => id + ' ' + nodes[0].html.slice(0, 200))));`,
  );
}
