import { mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { expect } from 'chai';
import { decode as decodePng, encode as encodePng } from 'fast-png';
import { By, Key } from 'selenium-webdriver';
import type { Driver } from 'selenium-webdriver/chrome.js';
import { rampOfStack } from '#core/stack/stack-ramp.ts';
import { USUAL_GRID } from '#core/stack/layer-grid.ts';
import type { Stack } from '#core/stack/stack.ts';
import { demoFilaments, expectDemo, pixelsAt, PLACES, type ExpectedDemo } from '../helpers/demo.ts';
import {
  axeFaults,
  chooseFrom,
  find,
  findButton,
  findCss,
  pointUntil,
  readCanvas,
  readDownload,
  resizeTo,
  readPrint,
  shareSession,
  until,
  upload,
  type Session,
  settled,
  soon,
} from './browser.ts';
import { openDemo } from './fixtures.ts';
import { Bench } from './pages/bench.ts';

describe('working on a project', function () {
  this.timeout(600_000);
  let session: Session;
  let bench: Bench;
  let demo: ExpectedDemo;
  const folder = mkdtempSync(join(tmpdir(), 'strata-working-'));

  before(async () => {
    session = await shareSession();
    bench = new Bench(session);
    demo = await expectDemo('dome-at-dusk', 375, 250);
  });
  after(async () => {
    await session.close();
    rmSync(folder, { recursive: true, force: true });
  });

  const begin = (name: string): Promise<string> => openDemo(session, name);
  const resize = (width: number, height: number): Promise<void> =>
    resizeTo(session.driver, width, height);

  it('the solid shows the predicted colours, stretches, turns, shows its edges, and goes back', async () => {
    const { driver } = session;
    await begin('Dome at dusk');
    await bench.press('7');
    const canvas = await find(driver, 'solid-canvas');
    await until(
      driver,
      async () => Number(await canvas.getAttribute('data-triangles')) > 10_000,
      'the solid is drawn',
    );
    // Controls over the canvas, and rings of focus, are not what is looked at.
    await driver.executeScript(
      `const style = document.createElement('style');
       style.textContent = '[data-testid=solid-controls] { opacity: 0 } canvas { outline: none !important }';
       document.head.append(style);`,
    );
    /** The canvas once the solid is drawn. */
    const look = async (): Promise<string> => {
      await settled(driver);
      return canvas.takeScreenshot();
    };
    const begun = await look();
    /** Heights of a stack whose very colour is to be seen. */
    const heightsSeen = (shot: string, stack: Stack): number => {
      const { data, channels } = decodePng(Buffer.from(shot, 'base64'));
      const colours = new Map<number, number>();
      for (let i = 0; i < data.length; i += channels) {
        const colour = ((data[i] ?? 0) << 16) | ((data[i + 1] ?? 0) << 8) | (data[i + 2] ?? 0);
        colours.set(colour, (colours.get(colour) ?? 0) + 1);
      }
      return rampOfStack(stack, demoFilaments())
        .slice(1)
        .filter(({ colour: [r, g, b] }) => (colours.get((r << 16) | (g << 8) | b) ?? 0) > 20)
        .length;
    };
    expect(heightsSeen(begun, { grid: USUAL_GRID, bands: demo.bands })).to.be.at.least(24);
    await soon(() => axeFaults(session)).to.deep.equal([]);
    await (
      await findCss(driver, '[role=slider][aria-label="Z stretch"]')
    ).sendKeys(Key.ARROW_RIGHT);
    await soon(async () =>
      (await find(driver, 'solid-controls')).getAttribute('textContent'),
    ).to.contain('4 x');
    await soon(() => look()).not.to.equal(begun);
    await (await findCss(driver, '[role=slider][aria-label="Z stretch"]')).sendKeys(Key.ARROW_LEFT);
    await soon(() => look()).to.equal(begun);
    await (await findCss(driver, '[data-testid=solid-controls] input[type=checkbox]')).click();
    await soon(() => look()).not.to.equal(begun);
    await (await findCss(driver, '[data-testid=solid-controls] input[type=checkbox]')).click();
    await canvas.sendKeys(Key.ARROW_LEFT, Key.ARROW_UP, '+');
    await soon(() => look()).not.to.equal(begun);
    await driver
      .actions()
      .move({ origin: canvas })
      .press()
      .move({ origin: canvas, x: 60, y: 30, duration: 100 })
      .release()
      .perform();
    await (await findButton(driver, 'Reset view')).click();
    await soon(() => look(), 'the camera is back').to.equal(begun);
    // With a base of four layers of 0.24 mm in place of twelve of 0.08 mm.
    await bench.goTo('relief');
    await bench.thickenBase('1.12', '0.24');
    await bench.ledgerSays('height', /22 layers/);
    const thick = { ...USUAL_GRID, baseLayerMm: 0.24, baseLayers: 5 };
    const layers = [2, 1, 2, 5, 6, 6];
    const bands = demo.bands.map((band, i) => ({ ...band, layers: layers[i] ?? 0 }));
    await soon(async () => heightsSeen(await look(), { grid: thick, bands })).to.be.at.least(18);
    await bench.undo();
    await bench.goTo('stack');
    await bench.press('1');
    await find(driver, 'print-canvas');
  });

  it('the artwork shows while a key or the button is held', async () => {
    const { driver } = session;
    await soon(() => bench.count('artwork-canvas')).to.equal(0);
    await driver.actions().keyDown('b').perform();
    await find(driver, 'artwork-canvas');
    await driver.actions().keyUp('b').perform();
    await until(
      driver,
      async () => (await bench.count('artwork-canvas')) === 0,
      'the print is back',
    );
    const button = await findButton(driver, 'Artwork while held');
    await driver.actions().move({ origin: button }).press().perform();
    await find(driver, 'artwork-canvas');
    await driver.actions().release().perform();
    await until(
      driver,
      async () => (await bench.count('artwork-canvas')) === 0,
      'the print is back',
    );
  });

  it('true size: the screen is measured once with a card, also for the next visit', async () => {
    const { driver } = session;
    await bench.press('t');
    const card = await find(driver, 'card');
    const slider = await findCss(driver, '[role=slider][aria-label="Width of the card"]');
    for (let i = 0; i < 20; i += 1) await slider.sendKeys(Key.ARROW_RIGHT);
    const { width, height } = await card.getRect();
    expect(width / height).to.be.closeTo(85.6 / 53.98, 0.02);
    expect(width).to.be.closeTo((85.6 * 96) / 25.4 + 20, 1.5);
    await soon(() => axeFaults(session)).to.deep.equal([]);
    await (await findButton(driver, 'Show true size')).click();
    const shown = async (): Promise<number> =>
      (await (await find(driver, 'print-canvas')).getRect()).width;
    const wanted = (150 * width) / 85.6;
    await until(driver, async () => Math.abs((await shown()) - wanted) < 1.5, 'it is shown so');
    await bench.press('f');
    await until(driver, async () => Math.abs((await shown()) - wanted) > 20, 'it fits again');
    await settled(session.driver);
    await driver.navigate().refresh();
    await find(driver, 'print-canvas');
    await settled(driver);
    await bench.press('t');
    await until(driver, async () => Math.abs((await shown()) - wanted) < 1.5, 'it is known');
    await bench.press('f');
  });

  it('a locked band is slid, and a held total makes bands trade', async () => {
    const { driver } = session;
    const edges = async (): Promise<number[]> =>
      Promise.all(
        ['A', 'B', 'C', 'D', 'E', 'F'].map(async (letter) =>
          Number(await bench.attribute(`edge-${letter}`, 'aria-valuenow')),
        ),
      );
    await begin('Dome at dusk');
    await soon(() => edges()).to.deep.equal([3, 8, 12, 18, 24, 30]);
    await chooseFrom(driver, 'Band C', 'Lock layers and filament');
    await bench.nudge('B', Key.ARROW_UP);
    await until(
      driver,
      async () => String(await edges()) === '3,9,13,18,24,30',
      'C keeps its layers and moves',
    );
    await soon(async () => (await find(driver, 'band-C')).getAttribute('textContent')).to.contain(
      'Damson',
    );
    await (await findButton(driver, 'Hold the total height')).click();
    await soon(() => bench.attribute('edge-F', 'aria-disabled')).to.equal('true');
    await bench.nudge('F', Key.ARROW_UP);
    await chooseFrom(driver, 'Band E', 'Remove band');
    await bench.ledgerSays('height', /30 layers/);
    await soon(() => bench.edgeLayer('D')).to.equal(24);
    await soon(() => axeFaults(session)).to.deep.equal([]);
    await bench.withCtrl('z');
    await until(driver, async () => (await bench.count('edge-F')) === 1, 'E is back');
    await bench.withCtrl('z');
    await bench.press('h');
    await until(
      driver,
      async () => (await bench.attribute('edge-F', 'aria-disabled')) === 'true',
      'H holds again',
    );
    await bench.press('h');
  });

  it('others of the same colour are offered, and shown while they are pointed at', async () => {
    const { driver } = session;
    await begin('Veil nebula');
    const before = await readPrint(driver);
    await (await findButton(driver, 'Lagoon thin')).click();
    const same = await find(driver, 'same-colour');
    await soon(() => same.getText()).to.match(
      /Same colour as Lagoon thin[\s\S]*Lagoon[\s\S]*x as see-through/,
    );
    // The list opens beneath the pointer that pressed the band: that points at nothing yet.
    await soon(() => readPrint(driver), 'nothing is tried out').to.equal(before);
    await pointUntil(
      driver,
      await same.findElement(By.css('[data-filament]')),
      async () => (await readPrint(driver)) !== before,
      'it is tried out on the stage',
    );
    await (await findButton(driver, 'Close')).click();
    await until(driver, async () => (await readPrint(driver)) === before, 'and taken back');
  });

  it('named versions are kept with a picture, compared on the wipe, gone back to and undone', async () => {
    const { driver } = session;
    await begin('Dome at dusk');
    await bench.press('v');
    await find(driver, 'versions');
    await bench.press('Before the reversal', Key.ENTER);
    await find(driver, 'version');
    await soon(() => axeFaults(session)).to.deep.equal([]);
    await bench.press(Key.ESCAPE);
    await (await findButton(driver, 'Dark low, light high')).click();
    const reversed = { ...demo.rule, reversed: true };
    const shows = (pixels: number[][], what: string, canvas = 'print-canvas'): Promise<boolean> =>
      until(
        driver,
        async () =>
          JSON.stringify((await readCanvas(driver, canvas, PLACES)).pixels) ===
          JSON.stringify(pixels),
        what,
      );
    await shows(pixelsAt(demo.print(demo.bands, reversed), PLACES), 'the relief is reversed');
    await settled(session.driver);
    await driver.navigate().refresh();
    await find(driver, 'print-canvas');
    await chooseFrom(driver, 'Project Dome at dusk', 'Versions');
    await until(
      driver,
      async () =>
        (await driver.executeScript(
          'return document.querySelector("[data-testid=version] img").naturalWidth',
        )) === 375,
      'its picture is there',
    );
    await (await findButton(driver, 'Compare Before the reversal on the wipe')).click();
    await shows(
      pixelsAt(demo.print(demo.bands), PLACES),
      'the version is on the left',
      'version-canvas',
    );
    await shows(pixelsAt(demo.print(demo.bands, reversed), PLACES), 'the print is on the right');
    const sides = await find(driver, 'wipe-sides');
    await soon(() => axeFaults(session)).to.deep.equal([]);
    await (await sides.findElement(By.css('option[value=artwork]'))).click();
    await find(driver, 'artwork-canvas');
    await bench.choose('print');
    await bench.press('v');
    await (await findButton(driver, 'Go back to Before the reversal')).click();
    await shows(pixelsAt(demo.print(demo.bands), PLACES), 'it is as it was');
    await bench.withCtrl('z');
    await shows(pixelsAt(demo.print(demo.bands, reversed), PLACES), 'going back was one step');
    await bench.press('v');
    await (await findButton(driver, 'Rename Before the reversal')).click();
    await bench.withCtrl('a');
    await bench.press('Light side up', Key.ENTER);
    await findButton(driver, 'Go back to Light side up');
    await bench.press(Key.ESCAPE);
    await chooseFrom(driver, 'Project Dome at dusk', 'Download the project file');
    const { bytes } = await readDownload(session, /\.strata$/);
    const path = join(folder, 'packed.strata');
    writeFileSync(path, bytes);
    await driver.get(session.address);
    await upload(session, path);
    await find(driver, 'print-canvas');
    await bench.press('v');
    await until(
      driver,
      async () =>
        (await driver.executeScript(
          'return document.querySelector("[data-testid=version] img")?.naturalWidth ?? 0',
        )) === 375,
      'a version of a file gets its picture',
    );
    await (await findButton(driver, 'Delete Light side up')).click();
    await until(driver, async () => (await bench.count('version')) === 0, 'it is gone');
    await bench.press(Key.ESCAPE);
  });

  it('what was done can be undone and redone after a reload', async () => {
    const { driver } = session;
    await begin('Dome at dusk');
    const edge = (): Promise<string> => bench.attribute('edge-B', 'aria-valuenow');
    await bench.nudge('B', Key.ARROW_UP, Key.ARROW_UP);
    await soon(() => edge()).to.equal('10');
    await bench.withCtrl('z');
    await settled(session.driver);
    await driver.navigate().refresh();
    await find(driver, 'print-canvas');
    await soon(() => edge()).to.equal('9');
    await bench.withCtrl('z');
    await soon(() => edge()).to.equal('8');
    await bench.withCtrl('z', true);
    await bench.withCtrl('z', true);
    await soon(() => edge()).to.equal('10');
  });

  it('commands are found by name, and keys are told', async () => {
    const { driver } = session;
    await bench.openCommands();
    await bench.press('lamp');
    await soon(() => axeFaults(session)).to.deep.equal([]);
    await bench.press(Key.ENTER);
    await find(driver, 'lamp-canvas');
    await bench.press('?');
    await soon(async () => (await find(driver, 'shortcuts')).getText()).to.match(
      /Versions[\s\S]*five layers up/,
    );
    await soon(() => axeFaults(session)).to.deep.equal([]);
    await bench.press(Key.ESCAPE, '1');
    await bench.command('look dark');
    const theme = (): Promise<unknown> =>
      driver.executeScript('return getComputedStyle(document.body).backgroundColor');
    await until(driver, async () => (await theme()) === 'rgb(23, 25, 28)', 'it is dark');
    await soon(() => axeFaults(session)).to.deep.equal([]);
    await driver.navigate().refresh();
    await find(driver, 'print-canvas');
    await soon(() => theme()).to.equal('rgb(23, 25, 28)');
    await bench.command('as the system');
    await until(driver, async () => (await theme()) === 'rgb(247, 247, 245)', 'it is light');
    await bench.press('.');
    await find(driver, 'width-mm');
    await bench.press(',');
    await find(driver, 'section');
  });

  it('the whole way by keyboard: from the shelf to a moved edge', async () => {
    const { driver } = session;
    await driver.get(session.address);
    await findButton(driver, 'Begin with Crater study');
    const focused = (): Promise<string> =>
      driver.executeScript(
        `const one = document.activeElement;
         return one.getAttribute('aria-label') || one.dataset.testid || one.textContent;`,
      );
    const tabTo = async (wanted: RegExp): Promise<void> => {
      for (let i = 0; i < 80; i += 1) {
        if (wanted.test(await focused())) return;
        await bench.press(Key.TAB);
      }
      expect.fail(`never came to ${String(wanted)}`);
    };
    await tabTo(/^Begin with Crater study$/);
    await bench.press(Key.ENTER);
    await find(driver, 'print-canvas');
    await tabTo(/^Picture, print view/);
    await bench.press('p');
    await find(driver, 'pins');
    await tabTo(/^Upper edge of band B/);
    const before = await bench.edgeLayer('B');
    await bench.press(Key.ARROW_UP);
    await soon(() => bench.edgeLayer('B')).to.equal(before + 1);
    await tabTo(/^Band B$/);
    await bench.press(Key.ENTER);
    await findButton(driver, 'Split in two');
    await bench.press(Key.ESCAPE);
  });

  it('what was put by while the page was left is one step; what was saved already is none', async () => {
    const { driver } = session;
    await begin('Crater study');
    await settled(session.driver);
    /** Puts the saved document by as if the page had just been left, under a name if one is given. */
    const putBy = (name: string | null): Promise<unknown> =>
      driver.executeAsyncScript(
        `const [name, done] = arguments;
         const id = location.pathname.split('/')[2];
         indexedDB.open('zesty-strata').onsuccess = ({ target: { result } }) => {
           result.transaction('projects').objectStore('projects').get(id).onsuccess = (event) => {
             const { document } = event.target.result;
             localStorage.setItem('zesty-strata-unsaved/' + id, JSON.stringify({
               changedAt: Date.now() + 60_000, document: { ...document, name: name ?? document.name } }));
             result.close();
             done();
           };
         };`,
        name,
      );
    const canUndo = async (): Promise<boolean> => (await findButton(driver, 'Undo')).isEnabled();
    await putBy(null);
    await driver.navigate().refresh();
    await find(driver, 'section');
    await soon(() => canUndo(), 'saved already').to.equal(false);
    // The first print is saved too, and what was put by is forgotten with it.
    await settled(session.driver);
    await settled(session.driver);
    await putBy('Crater, later');
    await driver.navigate().refresh();
    await find(driver, 'section');
    await soon(() => canUndo(), 'not saved').to.equal(true);
    await soon(() => driver.getTitle()).to.contain('Crater, later');
    await bench.undo();
    await until(
      driver,
      async () => (await driver.getTitle()).startsWith('Crater study'),
      'the step is undone',
    );
  });

  it('a part that cannot be loaded is said, and takes neither the rest of the screen nor the work away', async () => {
    const { driver } = session;
    const devTools = driver as unknown as Driver;
    await begin('Crater study');
    await settled(session.driver);
    await devTools.sendDevToolsCommand('Network.enable', {});
    await devTools.sendDevToolsCommand('Network.setBlockedURLs', { urls: ['*SheetPage*'] });
    await driver.navigate().refresh();
    await bench.goTo('sheet');
    await soon(async () => (await find(driver, 'failed')).getText()).to.contain(
      'your work is kept',
    );
    await soon(() => axeFaults(session)).to.deep.equal([]);
    await bench.goTo('stack');
    await find(driver, 'section');
    await soon(() => bench.count('failed')).to.equal(0);
    await devTools.sendDevToolsCommand('Network.setBlockedURLs', { urls: [] });
    await bench.goTo('sheet');
    await (await findButton(driver, 'Load the page anew, once the app runs')).click();
    await soon(async () => (await find(driver, 'swap-sheet')).getText()).to.contain('Crater study');
  });

  it('what cannot be said or saved since the app is gone is said plainly, above the ledger, and can be put away', async () => {
    const { driver } = session;
    const devTools = driver as unknown as Driver;
    await begin('Crater study');
    await settled(session.driver);
    await devTools.sendDevToolsCommand('Network.enable', {});
    await devTools.sendDevToolsCommand('Network.setBlockedURLs', {
      urls: ['*/toaster.*', '*/project-file.*'],
    });
    await driver.navigate().refresh();
    await settled(session.driver);
    await chooseFrom(driver, 'Project Crater study', 'Download the project file');
    const plain = await find(driver, 'plain-messages');
    await soon(() => plain.getText()).to.contain('The project file was not made');
    const [message, ledger] = await Promise.all(
      [plain, await findCss(driver, 'footer[aria-label=Ledger]')].map((one) => one.getRect()),
    );
    expect((message?.y ?? 0) + (message?.height ?? 0)).to.be.at.most(ledger?.y ?? 0);
    await soon(() => axeFaults(session)).to.deep.equal([]);
    await (await findCss(driver, '[data-testid=plain-messages] button')).click();
    await soon(() => bench.count('plain-messages')).to.equal(0);
    await devTools.sendDevToolsCommand('Network.setBlockedURLs', { urls: [] });
    await driver.navigate().refresh();
    await settled(session.driver);
    await chooseFrom(driver, 'Project Crater study', 'Download the project file');
    expect((await readDownload(session, /\.strata$/)).bytes.length).to.be.above(1000);
  });

  it('two tabs on one project: the second goes on as a copy, and takes over what the first left', async () => {
    const { driver } = session;
    await begin('Dome at dusk');
    await settled(session.driver);
    const address = await driver.getCurrentUrl();
    const first = await driver.getWindowHandle();
    await driver.switchTo().newWindow('tab');
    await driver.get(address);
    await find(driver, 'other-tab');
    await soon(async () => (await find(driver, 'save-state')).getText()).to.equal(
      'in another tab too',
    );
    await bench.nudge('B', Key.ARROW_UP);
    await until(
      driver,
      async () =>
        (await driver.getCurrentUrl()) !== address && (await bench.count('other-tab')) === 0,
      'it has become a copy',
    );
    await soon(() => driver.getTitle()).to.equal('Dome at dusk copy - Zesty Strata');
    await settled(session.driver);
    await soon(() => bench.edgeLayer('B')).to.equal(9);
    await driver.get(address);
    await find(driver, 'other-tab');
    await soon(() => bench.edgeLayer('B'), 'the first is as it was').to.equal(8);
    const second = await driver.getWindowHandle();
    await driver.switchTo().window(first);
    // Left before it is saved: nothing may be lost all the same.
    await bench.nudge('B', Key.ARROW_DOWN);
    await driver.get(session.address);
    await driver.switchTo().window(second);
    await until(
      driver,
      async () =>
        (await bench.count('other-tab')) === 0 &&
        (await bench.attribute('edge-B', 'aria-valuenow')) === '7',
      'what the first tab left is here',
    );
    await driver.close();
    await driver.switchTo().window(first);
  });

  it('fits 1280 x 800 and 1024 x 700 without scrolling, and a phone in one column', async () => {
    const { driver } = session;
    await begin('Dome at dusk');
    const overflow = (): Promise<number[]> =>
      driver.executeScript(
        `const page = document.documentElement;
         return [page.scrollWidth - innerWidth, page.scrollHeight - innerHeight];`,
      );
    for (const [width, height] of [
      [1280, 800],
      [1024, 700],
    ] as const) {
      await resize(width, height);
      await until(
        driver,
        async () => String(await overflow()) === '0,0',
        `nothing scrolls at ${width} x ${height}`,
      );
      const menu = await (await findButton(driver, 'Band C')).getRect();
      expect(menu.x + menu.width).to.be.at.most(width);
    }
    await resize(390, 844);
    await until(
      driver,
      async () => {
        const [across = 1, down = 0] = await overflow();
        return across === 0 && down > 300;
      },
      'it is one column, and the page scrolls',
    );
    const stage = await (await find(driver, 'stage-area')).getRect();
    const section = await (await find(driver, 'section')).getRect();
    expect(section.y).to.be.at.least(stage.y + stage.height);
    await soon(() => axeFaults(session)).to.deep.equal([]);
    await resize(1280, 800);
  });

  describe('odd pictures and stacks', () => {
    const picture = (
      name: string,
      width: number,
      height: number,
      pixel: (x: number, y: number) => readonly [number, number, number, number],
    ): string => {
      const data = new Uint8Array(width * height * 4);
      for (let i = 0; i < width * height; i += 1)
        data.set(pixel(i % width, Math.floor(i / width)), 4 * i);
      const path = join(folder, `${name}.png`);
      writeFileSync(path, encodePng({ width, height, data, channels: 4, depth: 8 }));
      return path;
    };
    const take = async (path: string): Promise<void> => {
      await session.driver.get(session.address);
      await upload(session, path);
      await find(session.driver, 'print-canvas');
    };
    const notices = async (): Promise<string> => {
      await (await find(session.driver, 'notices')).click();
      const text = await (await findCss(session.driver, '[role=dialog]')).getText();
      await bench.press(Key.ESCAPE);
      return text;
    };
    /** Every rule and view of what is open; ends with the print. */
    const tryAll = async (): Promise<void> => {
      const { driver } = session;
      for (const rule of ['closest', 'flat', 'tone']) {
        await (await find(driver, `choice-${rule}`)).click();
        await settled(driver);
      }
      const views = ['artwork', 'wipe', 'difference', 'heights', 'lamp', 'solid', 'print'];
      for (const [i, view] of views.entries()) {
        await bench.press(String(((i + 1) % views.length) + 1));
        await findCss(driver, `[data-testid=choice-${view}][data-state=on]`);
      }
      await find(driver, 'print-canvas');
      await soon(() => driver.findElements(By.css('[data-sonner-toast]'))).to.have.length(0);
    };

    it('a fully transparent picture is refused at once', async () => {
      const { driver } = session;
      await driver.get(session.address);
      await upload(
        session,
        picture('nothing', 30, 20, () => [9, 9, 9, 0]),
      );
      await until(
        driver,
        async () => (await (await find(driver, 'file-trouble')).getText()).includes('transparent'),
        'the reason is told',
      );
      await soon(async () => new URL(await driver.getCurrentUrl()).pathname).to.equal('/');
    });

    it('one pixel, and one colour', async () => {
      await take(picture('pixel', 1, 1, () => [200, 80, 40, 255]));
      await soon(() => notices()).to.contain('only 1 height');
      await tryAll();
      await take(picture('plain', 40, 30, () => [90, 120, 60, 255]));
      await soon(() => notices()).to.contain('only 1 height');
      await tryAll();
    });

    it('1 x 5000 pixels', async () => {
      await take(picture('strip', 1, 5000, (_, y) => [y / 20, y / 20, y / 20, 255]));
      await tryAll();
      await soon(() => bench.ledger('size')).to.contain('1 x 5000 mm');
    });

    it('a stack of one band, and one of 120 layers', async () => {
      const { driver } = session;
      await begin('Crater study');
      for (const band of ['D', 'C', 'B']) await chooseFrom(driver, `Band ${band}`, 'Remove band');
      await until(driver, async () => (await bench.count('edge-B')) === 0, 'one band is left');
      await until(
        driver,
        async () => (await bench.ledger('swaps')).startsWith('0'),
        'there is no swap',
      );
      await tryAll();
      const layers = await find(driver, 'total-layers');
      await layers.sendKeys(Key.chord(Key.CONTROL, 'a'), '120', Key.ENTER);
      await bench.ledgerSays('height', /120 layers/);
      await soon(() => notices()).to.match(/nothing: it has covered before/);
      await tryAll();
      await soon(() => axeFaults(session)).to.deep.equal([]);
    });
  });
});
