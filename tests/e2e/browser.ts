import {
  existsSync,
  mkdtempSync,
  readdirSync,
  readFileSync,
  rmSync,
  statSync,
  writeFileSync,
} from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import AxeBuilder from 'axe-core';
import { expect } from 'chai';
import { Builder, By, Key, logging, type WebDriver, type WebElement } from 'selenium-webdriver';
import { Options, ServiceBuilder, type Driver } from 'selenium-webdriver/chrome.js';
import { PLACES } from '../helpers/demo.ts';

process.env.SE_OFFLINE = 'true';

/** A browser on a freshly started app. */
export interface Session {
  readonly driver: WebDriver;
  readonly address: string;
  readonly downloads: string;
  /** Ends the browser at once, as a crash does; what it keeps stays for the next session with the same profile. */
  kill(): Promise<void>;
  /** Ends the server alone, as a maker does who closes its window. */
  stopServer(): void;
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
  // Only what needs WebGL is drawn by the software GPU: laying out pages through it costs a third of all time.
  '--disable-gpu-compositing',
  '--disable-gpu-rasterization',
  // No page is gone back to, and none needs a process that waits for it.
  '--disable-features=BackForwardCache,SpareRendererForSitePerProcess',
  '--no-first-run',
  '--disable-background-networking',
  '--disable-component-update',
  '--disable-sync',
  '--no-pings',
  // Nothing moves that has not to, and nothing sleeps: tests run side by side, and none is in front.
  '--force-prefers-reduced-motion',
  '--disable-background-timer-throttling',
  '--disable-backgrounding-occluded-windows',
  '--disable-renderer-backgrounding',
  '--host-resolver-rules=MAP * ~NOTFOUND, EXCLUDE localhost, EXCLUDE 127.0.0.1',
];

/**
 * The engine compiles and collects on the thread that runs: helpers of its own cost the processors an eighth more, and in a whole
 * run there is no idle one for them.
 */
const ONE_THREAD = '--js-flags=--single-threaded --min-semi-space-size=16';

interface SessionOptions {
  /** As browsers of makers are: for what measures. */
  readonly asMakers?: boolean;
  /** A script that runs in every page before its own. */
  readonly beforePage?: string;
  /** Keeps what the page asks the network for; see `LogType.PERFORMANCE`. It costs time, so only where it is read. */
  readonly networkLog?: boolean;
  /** Folder of the browser's profile; a new one that goes with the session by default. */
  readonly profile?: string;
  /** Port of the server; any free one by default. What a browser keeps belongs to it. */
  readonly port?: number;
}

/** Starts server and browser. */
export async function startSession({
  asMakers = false,
  beforePage,
  networkLog = false,
  profile,
  port = 0,
}: SessionOptions = {}): Promise<Session> {
  const { startServer } = await import('../../src/server/serve.ts');
  const { server, address } = await startServer({ port });
  const folder = mkdtempSync(join(tmpdir(), 'strata-e2e-'));
  const downloads = join(folder, 'downloads');
  const logs = new logging.Preferences();
  logs.setLevel(logging.Type.BROWSER, logging.Level.ALL);
  if (networkLog) logs.setLevel(logging.Type.PERFORMANCE, logging.Level.ALL);
  const options = new Options();
  options.setChromeBinaryPath('/usr/lib/chromium/chromium');
  options.addArguments(...FLAGS, `--user-data-dir=${profile ?? join(folder, 'profile')}`);
  if (!asMakers) options.addArguments(ONE_THREAD);
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
  await resizeTo(driver, 1280, 800);
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
    kill: async () => {
      killBrowser(profile ?? join(folder, 'profile'));
      await driver.quit().catch(() => undefined);
      server.closeAllConnections();
      await new Promise((resolve) => server.close(resolve));
      rmSync(folder, { recursive: true, force: true });
    },
    stopServer: () => {
      server.closeAllConnections();
      server.close();
    },
    close: async () => {
      await driver.quit();
      server.closeAllConnections();
      server.close();
      rmSync(folder, { recursive: true, force: true });
    },
  };
}

/** Makes the page as large as a screen, or as the screen of a phone. */
export async function resizeTo(
  driver: WebDriver,
  width: number,
  height: number,
  mobile = false,
): Promise<void> {
  await (driver as unknown as Driver).sendDevToolsCommand('Emulation.setDeviceMetricsOverride', {
    width,
    height,
    deviceScaleFactor: 1,
    mobile,
  });
}

/** The browser that the files of one run share. */
let shared: Session | null = null;

// At the root, so after the last file; programs that are no tests begin and end sessions of their own.
if (typeof after === 'function')
  after(async () => {
    await shared?.close();
  });

/**
 * Server and browser as new, for files that ask nothing special of them: one browser serves them all, since starting it, and
 * running every part of the app for the first time, takes longer than many a test. Closing leaves it to the next file.
 */
export async function shareSession(): Promise<Session> {
  if (shared !== null && !(await makeNew(shared))) {
    await shared.kill();
    shared = null;
  }
  shared ??= await startSession();
  const session = shared;
  return {
    ...session,
    // A page that is left open would go on working beside the tests of other browsers.
    close: () => session.driver.get(emptyPage(session)),
  };
}

/** A page of the same origin without the app. */
export const emptyPage = ({ address }: Session): string => `${address}/mark.svg`;

/** Takes a browser back to where it began. @returns whether that was possible: a test may have broken it */
async function makeNew(session: Session): Promise<boolean> {
  const { driver, downloads } = session;
  try {
    const [first, ...others] = await driver.getAllWindowHandles();
    for (const other of others) {
      await driver.switchTo().window(other);
      await driver.close();
    }
    if (first === undefined) return false;
    await driver.switchTo().window(first);
    await resizeTo(driver, 1280, 800);
    await driver.get(emptyPage(session));
    const fault: string | null = await driver.executeAsyncScript(
      `const done = arguments[0];
       localStorage.clear();
       sessionStorage.clear();
       const gone = indexedDB.deleteDatabase('zesty-strata');
       gone.onsuccess = () => done(null);
       gone.onerror = gone.onblocked = () => done('blocked');`,
    );
    for (const name of existsSync(downloads) ? readdirSync(downloads) : [])
      rmSync(join(downloads, name), { recursive: true });
    return fault === null;
  } catch {
    return false;
  }
}

/** Kills every process of the browser that has a profile (SIGKILL): none of them gets to write anything more. */
function killBrowser(profile: string): void {
  for (const entry of readdirSync('/proc')) {
    if (!/^\d+$/.test(entry)) continue;
    try {
      const line = readFileSync(`/proc/${entry}/cmdline`, 'utf8');
      if (line.includes('chromium') && line.includes(profile))
        process.kill(Number(entry), 'SIGKILL');
    } catch {
      // It has ended by itself.
    }
  }
}

/** How long anything may take to appear, ms. Generous: the machine may be busy. */
const PATIENCE_MS = Number(process.env.E2E_PATIENCE_MS ?? 90_000);

/** What the browser says when an element is drawn anew, or covered, while it is used: the next try finds the new one. */
const PASSING = [
  'StaleElementReferenceError',
  'ElementClickInterceptedError',
  'ElementNotInteractableError',
  'NoSuchElementError',
];

/** What is done with an element and may be tried again: it happens as a whole or not at all. */
const RETRIED = new Set([
  'click',
  'sendKeys',
  'clear',
  'getText',
  'getAttribute',
  'getDomAttribute',
  'getProperty',
  'getCssValue',
  'getRect',
  'isDisplayed',
  'isEnabled',
  'isSelected',
  'findElement',
  'findElements',
  'getId',
  'getTagName',
]);

/** How long one look of the page itself for an element lasts, ms: a page that goes away in the middle answers nothing. */
const LOOK_MS = 3000;

/**
 * Waits in the page until an element is there, without asking again and again: each question costs browser and driver more
 * than many a step of the app, and other tests run beside this one.
 */
const AWAIT_ELEMENT = `const [kind, selector, patienceMs, done] = arguments;
  const look = () => kind === 'css' ? document.querySelector(selector)
    : document.evaluate(selector, document, null, XPathResult.FIRST_ORDERED_NODE_TYPE, null).singleNodeValue;
  const at = look();
  if (at) { done(at); return; }
  const answer = (element) => { watch.disconnect(); clearTimeout(end); done(element); };
  const watch = new MutationObserver(() => { const found = look(); if (found) answer(found); });
  const end = setTimeout(() => answer(null), patienceMs);
  watch.observe(document, { subtree: true, childList: true, attributes: true, characterData: true });`;

type Kind = 'css' | 'xpath';

/** The first element that fits, once there is one. */
function whenThere(
  driver: WebDriver,
  kind: Kind,
  selector: string,
  what: string,
): Promise<WebElement> {
  return until(
    driver,
    () => driver.executeAsyncScript<WebElement | null>(AWAIT_ELEMENT, kind, selector, LOOK_MS),
    `there is ${what}`,
  );
}

/**
 * An element that is never held over a redraw: each use but the first finds it again, and every one tries again where it was
 * drawn anew or covered meanwhile.
 */
async function lasting(
  driver: WebDriver,
  kind: Kind,
  selector: string,
  what: string,
): Promise<WebElement> {
  const locate = (): Promise<WebElement> => whenThere(driver, kind, selector, what);
  const first = await locate();
  let used = false;
  return new Proxy(first, {
    get: (_, key) => {
      const value: unknown = Reflect.get(first, key);
      if (typeof value !== 'function') return value;
      if (!RETRIED.has(String(key))) return value.bind(first) as unknown;
      return async (...args: unknown[]): Promise<unknown> => {
        const end = Date.now() + PATIENCE_MS;
        for (;;)
          try {
            const element = used ? await locate() : first;
            used = true;
            return await (Reflect.get(element, key) as (...all: unknown[]) => unknown).apply(
              element,
              args,
            );
          } catch (error) {
            if (!(error instanceof Error && PASSING.includes(error.name)) || Date.now() > end)
              throw error;
            await driver.sleep(60);
          }
      };
    },
  });
}

/** The element with a test id, once it is there. */
export async function find(driver: WebDriver, testId: string): Promise<WebElement> {
  return findCss(driver, `[data-testid="${testId}"]`);
}

/** The element of a CSS selector, once it is there. */
export async function findCss(driver: WebDriver, css: string): Promise<WebElement> {
  return lasting(driver, 'css', css, css);
}

/** Waits until nothing on the page fits a CSS selector any more. */
export async function goes(driver: WebDriver, css: string): Promise<void> {
  await until(
    driver,
    async () => (await driver.findElements(By.css(css))).length === 0,
    `${css} goes`,
  );
}

/** A canvas with a test id, once something has been painted on it. */
export async function findPainted(driver: WebDriver, testId: string): Promise<WebElement> {
  return findCss(driver, `[data-testid="${testId}"][data-painted]`);
}

/** The button (or link) with this text or name, once it is there. */
export async function findButton(driver: WebDriver, name: string): Promise<WebElement> {
  const xpath = `//*[self::button or self::a or @role="menuitem"][normalize-space()="${name}" or @aria-label="${name}"]`;
  return lasting(driver, 'xpath', xpath, `button ${name}`);
}

/** Waits until the bench is at rest: all that follows from the document is worked out, painted and saved. */
export async function settled(driver: WebDriver): Promise<void> {
  await findCss(driver, '[data-settled="true"]');
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

/** Keeps a picture of what was there when a wait ended in vain. */
async function keepScreenshot(driver: WebDriver, what: string): Promise<string | null> {
  try {
    const path = join(tmpdir(), `strata-${what.replace(/[^a-z0-9]+/gi, '-').slice(0, 60)}.png`);
    await takeScreenshot(driver, path);
    return path;
  } catch {
    return null;
  }
}

/** Waits until a question about the page is answered with something true. */
export async function until<Answer>(
  driver: WebDriver,
  question: () => Promise<Answer>,
  what: string,
): Promise<NonNullable<Answer>> {
  const end = Date.now() + PATIENCE_MS;
  let last: unknown;
  let restMs = 25;
  for (;;) {
    try {
      const answer = await question();
      if (answer) return answer;
      last = undefined;
    } catch (error) {
      last = error;
    }
    if (Date.now() > end) break;
    await driver.sleep(restMs);
    // What has not come soon comes late: who asks less often leaves the processors to it.
    restMs = Math.min(120, restMs * 1.25);
  }
  const shot = await keepScreenshot(driver, what);
  throw new Error(
    `waited in vain until ${what}${last instanceof Error ? `; last: ${last.message}` : ''}${shot ? `; see ${shot}` : ''}`,
    { cause: last },
  );
}

type Word = 'to' | 'be' | 'not' | 'have' | 'deep' | 'at';
type Claim =
  | 'above'
  | 'below'
  | 'closeTo'
  | 'contain'
  | 'equal'
  | 'greaterThan'
  | 'include'
  | 'least'
  | 'length'
  | 'lessThan'
  | 'match'
  | 'members'
  | 'most'
  | 'within';

/** What is claimed of a value, in the words of Chai; it ends with one claim. */
type Soon = { readonly [W in Word]: Soon } & {
  readonly [C in Claim]: (...args: readonly unknown[]) => Promise<void>;
};

/**
 * Claims something of what the page shows as soon as it holds: `await soon(() => text('x')).to.contain('y')`. What follows from a
 * step is on the page some time after the step itself, and on a busy machine later than the next question.
 * @throws what Chai says of the last answer, where it does not hold in time
 */
export function soon(question: () => unknown, what?: string): Soon {
  const end = Date.now() + PATIENCE_MS;
  const holds = async (words: readonly string[], args: readonly unknown[]): Promise<void> => {
    for (let restMs = 25; ; restMs = Math.min(120, restMs * 1.25))
      try {
        let claim: unknown = expect(await question(), what);
        for (const word of words.slice(0, -1)) claim = (claim as Record<string, unknown>)[word];
        (claim as Record<Claim, (...all: readonly unknown[]) => unknown>)[words.at(-1) as Claim](
          ...args,
        );
        return;
      } catch (error) {
        if (Date.now() > end) throw error;
        await new Promise((resolve) => setTimeout(resolve, restMs));
      }
  };
  const after = (words: readonly string[]): Soon =>
    new Proxy((() => undefined) as unknown as Soon, {
      get: (_, word) => (word === 'then' ? undefined : after([...words, String(word)])),
      apply: (_, __, args: unknown[]) => holds(words, args),
    });
  return after([]);
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

/** Drops a file on the page, as a hand does that drags it there. */
export async function dropFile(
  driver: WebDriver,
  name: string,
  type: string,
  bytes: Uint8Array,
): Promise<void> {
  await driver.executeScript(
    `const [name, type, base64] = arguments;
     const bytes = Uint8Array.from(atob(base64), (sign) => sign.charCodeAt(0));
     const data = new DataTransfer();
     data.items.add(new File([bytes], name, { type }));
     for (const kind of ['dragover', 'drop'])
       document.querySelector('main').dispatchEvent(
         new DragEvent(kind, { bubbles: true, cancelable: true, dataTransfer: data }));`,
    name,
    type,
    Buffer.from(bytes).toString('base64'),
  );
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

/** Moves or presses the mouse at a place of the page; unlike the driver's actions it is not let go of in between. */
export async function mouse(
  driver: WebDriver,
  type: 'mousePressed' | 'mouseMoved' | 'mouseReleased',
  x: number,
  y: number,
): Promise<void> {
  await (driver as unknown as Driver).sendDevToolsCommand('Input.dispatchMouseEvent', {
    type,
    x,
    y,
    button: 'left',
    buttons: type === 'mouseReleased' ? 0 : 1,
    clickCount: type === 'mouseMoved' ? 0 : 1,
  });
}

/** The middle of an element on the page. */
export async function middleOf(element: WebElement): Promise<{ x: number; y: number }> {
  const { x, y, width, height } = await element.getRect();
  return { x: x + width / 2, y: y + height / 2 };
}

/** Faults that axe finds on the page as it is: the serious ones, or those of any kind. */
export async function axeFaults({ driver }: Session, anyKind = false): Promise<string[]> {
  await driver.executeScript(AxeBuilder.source);
  return driver.executeAsyncScript(
    `const [anyKind, done] = arguments;
     axe.run(document, { resultTypes: ['violations'] }).then(({ violations }) =>
       done(violations.filter(({ impact }) => anyKind || impact === 'serious' || impact === 'critical')
         .map(({ id, nodes }) => id + ' ' + nodes[0].html.slice(0, 200))));`,
    anyKind,
  );
}
