import { mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { expect } from 'chai';
import { strFromU8, unzipSync } from 'fflate';
import { Button, By, Key } from 'selenium-webdriver';
import sharp from 'sharp';
import {
  axeFaults,
  emptyPage,
  find,
  findButton,
  findCss,
  goes,
  middleOf,
  mouse,
  readDownload,
  resizeTo,
  settled,
  startSession,
  until,
  upload,
  type Session,
  soon,
} from './browser.ts';
import { begin, openDemo } from './fixtures.ts';
import { Bench } from './pages/bench.ts';
import { RackPage } from './pages/rack-page.ts';
import { ShelfPage } from './pages/shelf-page.ts';
import { workAndKill } from './kills.ts';
import { inSlice } from '../helpers/slices.ts';
import type { ProjectDocument } from '../../src/state/project-document.ts';

describe('nothing is lost, and nothing silently wrong', function () {
  this.timeout(600_000);
  let session: Session;
  let bench: Bench;
  let shelf: ShelfPage;
  let rack: RackPage;
  const folder = mkdtempSync(join(tmpdir(), 'strata-safety-'));

  before(async () => {
    session = await startSession({
      // Storage can be made to fail, as a full disk does.
      beforePage: `const put = IDBObjectStore.prototype.put;
        IDBObjectStore.prototype.put = function (...args) {
          if (window.storageFails) throw new DOMException('full', 'QuotaExceededError');
          return put.apply(this, args);
        };`,
    });
    bench = new Bench(session);
    shelf = new ShelfPage(session);
    rack = new RackPage(session);
  });
  after(async () => {
    await session.close();
    rmSync(folder, { recursive: true, force: true });
  });

  const undoIsOn = async (): Promise<boolean> =>
    (await findButton(session.driver, 'Undo')).isEnabled();

  it('a press on a slider that moves nothing ends: undo, saving and later steps go on', async () => {
    const { driver } = session;
    await openDemo(session, 'Dome at dusk');
    const { x, y } = await middleOf(await findCss(driver, '[aria-label="Midpoint, L*"]'));
    await mouse(driver, 'mousePressed', x, y);
    await mouse(driver, 'mouseReleased', x, y);
    const edge = await find(driver, 'edge-B');
    await edge.sendKeys(Key.ARROW_UP);
    await edge.sendKeys(Key.ARROW_UP);
    await soon(() => bench.edgeLayer('B')).to.equal(10);
    await soon(() => undoIsOn()).to.equal(true);
    await settled(driver);
    await bench.undo();
    await soon(() => bench.edgeLayer('B'), 'one step is one press').to.equal(9);
    await settled(driver);
    await driver.navigate().refresh();
    await settled(driver);
    await soon(() => bench.edgeLayer('B')).to.equal(9);
  });

  it('a drag whose point is deleted ends, and the other button drags nothing', async () => {
    const { driver } = session;
    await openDemo(session, 'Dome at dusk');
    await (await findButton(driver, 'Curve')).click();
    const last = await find(driver, 'curve-point-4');
    const { x, y } = await middleOf(last);
    await mouse(driver, 'mousePressed', x, y);
    await mouse(driver, 'mouseMoved', x - 5, y + 12);
    await bench.press(Key.DELETE);
    await until(
      driver,
      async () => (await driver.findElements(By.css('[data-testid^=curve-point]'))).length === 4,
      'the point is gone',
    );
    await mouse(driver, 'mouseMoved', x - 20, y + 40);
    await mouse(driver, 'mouseReleased', x - 20, y + 40);
    // The drag, and the removal.
    await bench.undo();
    await find(driver, 'curve-point-4');
    await bench.undo();
    await settled(driver);
    const edge = await find(driver, 'edge-C');
    const before = await bench.edgeLayer('C');
    await driver
      .actions()
      .move({ origin: edge })
      .press(Button.RIGHT)
      .move({ origin: edge, y: 60 })
      .release(Button.RIGHT)
      .perform();
    await soon(() => bench.edgeLayer('C')).to.equal(before);
  });

  it('a held key is one step of history', async () => {
    const { driver } = session;
    await openDemo(session, 'Dome at dusk');
    const edge = await find(driver, 'edge-B');
    const before = await bench.edgeLayer('B');
    await edge.sendKeys(Key.ARROW_UP);
    for (let i = 0; i < 2; i += 1)
      await driver.executeScript(
        `arguments[0].dispatchEvent(
           new KeyboardEvent('keydown', { key: 'ArrowUp', bubbles: true, cancelable: true, repeat: true }));`,
        edge,
      );
    await soon(() => bench.edgeLayer('B')).to.equal(before + 3);
    await bench.undo();
    await soon(() => bench.edgeLayer('B')).to.equal(before);
  });

  it('an edge above a thicker base follows the pointer from the first pixel on', async () => {
    const { driver } = session;
    await openDemo(session, 'Dome at dusk', 'stack', {
      change: inSlice('stack', {
        grid: { firstLayerMm: 0.16, layerMm: 0.08, baseLayerMm: 0.24, baseLayers: 3 },
      }),
    });
    for (const letter of ['B', 'C', 'D', 'E']) {
      const before = await bench.edgeLayer(letter);
      const { x, y } = await middleOf(await find(driver, `edge-${letter}`));
      await mouse(driver, 'mousePressed', x, y);
      await mouse(driver, 'mouseMoved', x, y - 1);
      await soon(
        async () => Math.abs((await bench.edgeLayer(letter)) - before),
        letter,
      ).to.be.at.most(1);
      await mouse(driver, 'mouseMoved', x, y);
      await mouse(driver, 'mouseReleased', x, y);
      await soon(() => bench.edgeLayer(letter), letter).to.equal(before);
    }
  });

  it('three seconds of a full disk in the middle of work lose nothing after them, and the banner goes', async () => {
    const { driver } = session;
    await openDemo(session, 'Dome at dusk');
    const edge = await find(driver, 'edge-F');
    await edge.sendKeys(Key.ARROW_UP);
    await settled(driver);
    await driver.executeScript('window.storageFails = true');
    const end = Date.now() + 3000;
    while (Date.now() < end) await edge.sendKeys(Key.ARROW_UP);
    await find(driver, 'storage-trouble');
    await driver.executeScript('window.storageFails = false');
    await goes(driver, '[data-testid=storage-trouble]');
    await edge.sendKeys(Key.ARROW_UP, Key.ARROW_UP);
    const layers = await bench.edgeLayer('F');
    await settled(driver);
    await driver.navigate().refresh();
    await settled(driver);
    await soon(() => bench.edgeLayer('F')).to.equal(layers);
    // A reload while the fault goes on: what waited in memory was put by.
    await driver.executeScript('window.storageFails = true');
    await (await find(driver, 'edge-F')).sendKeys(Key.ARROW_UP, Key.ARROW_UP);
    await find(driver, 'storage-trouble');
    await settled(driver);
    const later = await bench.edgeLayer('F');
    expect(later).to.be.greaterThan(layers);
    await driver.navigate().refresh();
    await settled(driver);
    await soon(() => bench.edgeLayer('F')).to.equal(later);
  });

  it('a project that was begun while storage failed has its picture afterwards', async () => {
    const { driver } = session;
    await begin(session);
    await driver.get(session.address);
    await find(driver, 'file-input');
    await driver.executeScript('window.storageFails = true');
    await shelf.beginWith('Locker 7');
    await find(driver, 'storage-trouble');
    await driver.executeScript('window.storageFails = false');
    await goes(driver, '[data-testid=storage-trouble]');
    await settled(driver);
    await driver.navigate().refresh();
    await settled(driver);
    await find(driver, 'print-canvas');
  });

  for (const which of [0, 2, 3])
    it(`the browser is killed in the middle of work, ${which + 1}: what is older than two seconds is there`, async () => {
      const profile = mkdtempSync(join(tmpdir(), 'strata-kill-'));
      try {
        const { work, safe, kept, done } = await workAndKill(profile, 4460 + which, which, 4500);
        expect(done, `${work}: something was done`).to.be.greaterThan(3);
        expect(kept, work).to.be.at.least(safe);
      } finally {
        rmSync(profile, { recursive: true, force: true });
      }
    });

  it('a stroke that is held and a figure that is half typed outlive a kill', async () => {
    const profile = mkdtempSync(join(tmpdir(), 'strata-kill-'));
    try {
      const killed = await startSession({ profile, port: 4470 });
      const id = await openDemo(killed, 'Dome at dusk');
      const bench = new Bench(killed);
      await bench.choose('zones');
      await findCss(killed.driver, '[data-testid=zone] [aria-expanded]');
      await settled(killed.driver);
      await (await findCss(killed.driver, '[data-testid=zone] [aria-expanded]')).click();
      await (await findButton(killed.driver, 'Paint')).click();
      const { x, y } = await middleOf(await find(killed.driver, 'stage-area'));
      await mouse(killed.driver, 'mousePressed', x - 200, y - 100);
      for (let n = 1; n <= 44; n += 1) {
        await mouse(killed.driver, 'mouseMoved', x - 200 + 8 * n, y - 100);
        await new Promise((resolve) => setTimeout(resolve, 100));
      }
      await killed.kill();
      const strokes = `const [id, done] = arguments;
        const opening = indexedDB.open('zesty-strata', 1);
        opening.onsuccess = () => {
          const asking = opening.result.transaction('projects').objectStore('projects').get(id);
          asking.onsuccess = () => { done(asking.result.document); opening.result.close(); };
        };`;
      const next = await startSession({ profile, port: 4470 });
      try {
        await next.driver.get(emptyPage(next));
        const kept = await next.driver.executeAsyncScript<ProjectDocument>(strokes, id);
        expect(kept.artwork.masks.zones, 'the stroke').to.have.length(1);
        await next.driver.get(`${next.address}/project/${id}/relief`);
        const width = await find(next.driver, 'width-mm');
        await settled(next.driver);
        await width.click();
        await width.sendKeys(Key.chord(Key.CONTROL, 'a'), '77');
        await new Promise((resolve) => setTimeout(resolve, 2500));
        await next.kill();
        const last = await startSession({ profile, port: 4470 });
        try {
          await last.driver.get(emptyPage(last));
          const typed = await last.driver.executeAsyncScript<ProjectDocument>(strokes, id);
          expect(typed.piece.widthMm).to.equal(77);
        } finally {
          await last.close();
        }
      } finally {
        await next.close().catch(() => undefined);
      }
    } finally {
      rmSync(profile, { recursive: true, force: true });
    }
  });

  it('what was never opened opens although the server is gone, once the app had time to fetch it', async () => {
    const own = await startSession();
    try {
      const { driver } = own;
      await openDemo(own, 'Dome at dusk');
      await until(
        driver,
        async () =>
          driver.executeScript<boolean>(
            `const parts = performance.getEntriesByType('resource').map(({ name }) => name);
             return parts.some((name) => name.endsWith('/parts.json')) &&
               parts.filter((name) => /\\/_astro\\/.*\\.(js|css|woff2?)$/.test(name)).length > 120;`,
          ),
        'all parts are fetched',
      );
      await new Promise((resolve) => setTimeout(resolve, 1500));
      own.stopServer();
      const failed = (): Promise<number> =>
        driver.findElements(By.css('[data-testid=failed]')).then(({ length }) => length);
      const bench = new Bench(own);
      await bench.choose('zones');
      await findCss(driver, '[data-testid=zone]');
      await bench.choose('solid');
      await find(driver, 'solid-canvas');
      for (const [stop, seen] of [
        ['artwork', 'stage-area'],
        ['relief', 'relief-facts'],
        ['sheet', 'swap-sheet'],
      ] as const) {
        await (await find(driver, `stop-${stop}`)).click();
        await find(driver, seen);
        await settled(driver);
        expect(await failed(), stop).to.equal(0);
      }
    } finally {
      await own.close();
    }
  });

  it('opening one project, going back and opening another ends in the last one', async () => {
    const { driver } = session;
    await begin(session, { demo: 'Crater study' });
    const large = join(folder, 'large.png');
    await sharp({ create: { width: 6000, height: 5000, channels: 3, background: '#7a3010' } })
      .png()
      .toFile(large);
    await driver.get(session.address);
    await upload(session, large);
    await shelf.openProject('Crater study');
    await until(
      driver,
      async () => (await driver.getTitle()).startsWith('Crater study'),
      'the last wish is open',
    );
    await settled(driver);
    await driver.navigate().back();
    await find(driver, 'file-input');
    await driver.navigate().forward();
    await driver.navigate().back();
    await shelf.openProject('Crater study');
    await settled(driver);
    await soon(() => driver.getTitle()).to.match(/^Crater study/);
  });

  it('edits made while a copy is being split off are in the copy; the shelf changes what is stored, not what it listed', async () => {
    const { driver } = session;
    const id = await openDemo(session, 'Crater study');
    const first = await driver.getWindowHandle();
    await driver.switchTo().newWindow('tab');
    await driver.get(`${session.address}/project/${id}/stack`);
    await find(driver, 'other-tab');
    const before = await bench.edgeLayer('D');
    const edge = await find(driver, 'edge-D');
    // As fast as keys go: the copy is being written meanwhile.
    for (let i = 0; i < 12; i += 1) await edge.sendKeys(Key.ARROW_UP);
    await until(
      driver,
      async () => !(await driver.getCurrentUrl()).includes(id),
      'the copy has an address of its own',
    );
    await soon(() => bench.edgeLayer('D')).to.equal(before + 12);
    await settled(driver);
    await driver.navigate().refresh();
    await settled(driver);
    await soon(() => bench.edgeLayer('D')).to.equal(before + 12);
    // This tab lists the shelf; the other one goes on working; this one renames.
    await driver.get(session.address);
    await findButton(driver, 'Crater study: more');
    const second = await driver.getWindowHandle();
    await driver.switchTo().window(first);
    await bench.nudge('D', Key.ARROW_UP);
    await settled(driver);
    await (await findCss(driver, 'a[href="/"]')).click();
    await find(driver, 'file-input');
    await driver.switchTo().window(second);
    await shelf.more('Crater study', 'Rename');
    await bench.hasFocus('Name of the project', 'it can be named');
    await shelf.typeName('Moon');
    await shelf.openProject('Moon');
    await settled(driver);
    await soon(() => bench.edgeLayer('D')).to.equal(before + 1);
    await driver.close();
    await driver.switchTo().window(first);
  });

  it('a project that cannot be read stays on the shelf, says so, and can be taken elsewhere', async () => {
    const { driver } = session;
    const id = await begin(session, {
      demo: 'Locker 7',
      change: (document) => ({ ...document, name: 'From later', schema: 99 as never }),
    });
    await driver.get(session.address);
    await soon(async () => (await find(driver, 'unreadable-card')).getText()).to.contain(
      'cannot be read',
    );
    await soon(() => axeFaults(session, true)).to.deep.equal([]);
    await (await findButton(driver, 'Download')).click();
    const { bytes } = await readDownload(session, /from-later\.strata$/);
    const entries = unzipSync(bytes);
    expect(Object.keys(entries)).to.have.members(['project.json', 'artwork.png']);
    expect(strFromU8(entries['project.json'] ?? new Uint8Array())).to.contain('"schema": 99');
    await driver.get(`${session.address}/project/${id}/stack`);
    await soon(async () => (await findCss(driver, '[role=alert]')).getText()).to.match(
      /^This project cannot be opened\. What is stored of it is damaged/,
    );
  });

  it('with an empty rack a picture begins with plain filaments, and a demo with its own', async () => {
    const { driver } = session;
    await begin(session, { rack: [] });
    await driver.get(session.address);
    await shelf.beginWith('Veil nebula');
    await settled(driver);
    await soon(async () => (await find(driver, 'section')).getText()).to.contain('Lagoon');
    const path = join(folder, 'grey.png');
    await sharp({ create: { width: 60, height: 40, channels: 3, background: '#808080' } })
      .png()
      .toFile(path);
    await driver.get(session.address);
    await upload(session, path);
    await settled(driver);
    await soon(async () => (await find(driver, 'section')).getText()).to.contain('plain white');
  });

  it('a picture dropped on the rack begins a project; a WebP lies upright', async () => {
    const { driver } = session;
    await begin(session);
    await rack.open();
    const bytes = await sharp({
      create: { width: 90, height: 40, channels: 3, background: '#c08030' },
    })
      .webp({ lossless: true })
      .withMetadata({ orientation: 6 })
      .toBuffer();
    await driver.executeScript(
      `const bytes = Uint8Array.from(atob(arguments[0]), (sign) => sign.charCodeAt(0));
       const files = new DataTransfer();
       files.items.add(new File([bytes], 'turned.webp', { type: 'image/webp' }));
       document.querySelector('main').dispatchEvent(
         new DragEvent('drop', { bubbles: true, cancelable: true, dataTransfer: files }));`,
      bytes.toString('base64'),
    );
    await bench.goTo('artwork');
    await until(
      driver,
      async () => (await (await findCss(driver, 'aside')).getText()).includes('40 x 90 px'),
      'it stands upright',
    );
  });

  it('a project file that says another size of its picture is opened with the real one', async () => {
    const { driver } = session;
    await openDemo(session, 'Locker 7', 'stack', {
      change: (document) => ({
        ...document,
        artwork: {
          ...document.artwork,
          file: { ...document.artwork.file, width: 9999, height: 3 },
        },
      }),
    });
    await bench.goTo('artwork');
    await soon(async () => (await findCss(driver, 'aside')).getText()).to.not.contain('9999');
    const damaged = join(folder, 'damaged.strata');
    writeFileSync(damaged, Buffer.from('PK\u0003\u0004 and no more'));
    await driver.get(session.address);
    await upload(session, damaged);
    await soon(async () => (await find(driver, 'file-trouble')).getText()).to.contain(
      'not a project',
    );
  });

  it('flat areas reduce by themselves without taking redo away', async () => {
    const { driver } = session;
    await openDemo(session, 'Dome badge');
    await bench.choose('flat');
    await find(driver, 'flat-colours');
    await findCss(driver, '[data-testid=flat-colours] li');
    await settled(driver);
    await bench.choose('closest');
    await settled(driver);
    await bench.undo();
    await settled(driver);
    await soon(async () => (await findButton(driver, 'Redo')).isEnabled()).to.equal(true);
    await bench.undo();
    await settled(driver);
    await bench.redo();
    await settled(driver);
    await bench.redo();
    await soon(async () =>
      (await find(driver, 'choice-closest')).getAttribute('data-state'),
    ).to.equal('on');
  });

  it('the focus goes where the keyboard goes on, and comes back', async () => {
    const { driver } = session;
    await openDemo(session, 'Dome at dusk');
    await soon(() => bench.focused()).to.not.equal('body');
    await bench.press('e');
    await soon(() => bench.focused()).to.match(/^Upper edge of band A/);
    for (const key of ['v', '?']) {
      await bench.press(key);
      await findCss(driver, '[role=dialog]');
      await bench.press(Key.ESCAPE);
      await bench.hasFocus(/^Upper edge of band A/, `back after ${key}`);
    }
    await bench.openCommands();
    await bench.press(Key.ESCAPE);
    await bench.hasFocus(/^Upper edge of band A/, 'back after commands');
    // A list of keys that closes takes the focus from nothing that was opened meanwhile.
    await bench.press('?');
    await find(driver, 'shortcuts');
    await driver.executeScript(
      `const press = (key, ctrlKey) => document.activeElement.dispatchEvent(
         new KeyboardEvent('keydown', { key, ctrlKey, bubbles: true, cancelable: true }));
       press('Escape', false);
       document.activeElement.blur();
       press('k', true);`,
    );
    await find(driver, 'palette-input');
    await goes(driver, '[data-testid=shortcuts]');
    // The focus comes back one task after a dialog has gone.
    await driver.executeAsyncScript('setTimeout(arguments[0], 100)');
    await soon(() => bench.focused()).to.equal('palette-input');
    await bench.press('keys', Key.ESCAPE);
    await goes(driver, '[data-testid=palette-input]');
    await bench.goTo('relief');
    await (await findButton(driver, 'Download STL')).click();
    await readDownload(session, /\.stl$/);
    await bench.hasFocus('Download STL', 'back after a download');
    await bench.goTo('sheet');
    const sheet = await findCss(driver, '#sheet');
    await find(driver, 'swap-sheet');
    await driver.executeScript('arguments[0].focus()', sheet);
    await bench.press(Key.PAGE_DOWN);
    await until(
      driver,
      async () =>
        Number(await driver.executeScript('return document.querySelector("#sheet").scrollTop')) >
        50,
      'the paper scrolls by keys',
    );
    // Before everything else stand ways past everything else, seen while one of them has the focus.
    await bench.goTo('stack');
    await find(driver, 'section');
    const skip = await findCss(driver, 'nav[aria-label="Skip to"] button:nth-child(3)');
    await soon(async () => (await skip.getRect()).width).to.be.greaterThan(0);
    await driver.executeScript('arguments[0].focus()', skip);
    await soon(async () => (await skip.getRect()).y).to.be.at.least(0);
    await bench.press(Key.ENTER);
    await soon(() => bench.focused()).to.match(/^Upper edge of band A/);
  });

  it('axe finds no fault of any kind in a band menu, while finding, and in the keys on a phone', async () => {
    const { driver } = session;
    await openDemo(session, 'Veil nebula');
    await soon(() => axeFaults(session, true), 'bench').to.deep.equal([]);
    await (await findButton(driver, 'Band B')).click();
    await findCss(driver, '[role=menu]');
    await soon(() => axeFaults(session, true), 'menu').to.deep.equal([]);
    await bench.press(Key.ESCAPE);
    await (await findButton(driver, 'Find a stack')).click();
    await find(driver, 'find-state');
    await soon(() => axeFaults(session, true), 'find').to.deep.equal([]);
    await (await findButton(driver, 'Close')).click();
    try {
      await resizeTo(driver, 390, 844);
      await bench.press('?');
      await find(driver, 'shortcuts');
      await soon(() => axeFaults(session, true), 'keys').to.deep.equal([]);
      await bench.press(Key.ESCAPE);
      // Whatever gets the focus lies clear of the ledger.
      for (let i = 0; i < 60; i += 1) {
        await bench.press(Key.TAB);
        const covered: string | null = await driver.executeScript(
          `const one = document.activeElement;
           const ledger = document.querySelector('footer').getBoundingClientRect();
           if (one === document.body || one.closest('footer')) return null;
           const box = one.getBoundingClientRect();
           return box.height > 0 && box.bottom > ledger.top + 1 && box.height < 400 ? one.outerHTML.slice(0, 120) : null;`,
        );
        expect(covered).to.equal(null);
      }
    } finally {
      await resizeTo(driver, 1280, 800);
    }
  });
});
