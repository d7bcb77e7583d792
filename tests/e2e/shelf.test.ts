import { mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { expect } from 'chai';
import { Key, logging } from 'selenium-webdriver';
import sharp from 'sharp';
import {
  bmpColour,
  EXPECTED_PICTURES,
  fixture,
  makeBmp,
  meanDifference,
  oddPictures,
} from '../helpers/pictures.ts';
import {
  axeFaults,
  find,
  findButton,
  findCss,
  findPainted,
  readCanvas,
  readDownload,
  startSession,
  until,
  upload,
  type Session,
  soon,
} from './browser.ts';
import { begin } from './fixtures.ts';
import { Bench } from './pages/bench.ts';
import { ShelfPage } from './pages/shelf-page.ts';

describe('shelf', function () {
  this.timeout(600_000);
  let session: Session;
  let bench: Bench;
  let shelf: ShelfPage;
  const folder = mkdtempSync(join(tmpdir(), 'strata-shelf-'));

  before(async () => {
    session = await startSession({ networkLog: true });
    bench = new Bench(session);
    shelf = new ShelfPage(session);
  });
  beforeEach(async () => {
    await begin(session);
    await session.driver.get(session.address);
  });
  after(async () => {
    await session.close();
    rmSync(folder, { recursive: true });
  });

  it('is isolated and allows no eval and no foreign script', async () => {
    const answer = await fetch(session.address);
    const policy = answer.headers.get('content-security-policy') ?? '';
    expect(policy).to.contain("default-src 'self'").and.to.contain("script-src 'self' 'sha256-");
    expect(policy).to.not.contain('unsafe-eval');
    expect(/script-src[^;]*unsafe-inline/.test(policy)).to.equal(false);
    for (const path of ['/', '/mark.svg', '/project/x/stack', '/nothing-here']) {
      const { headers } = await fetch(session.address + path);
      expect(headers.get('cross-origin-opener-policy'), path).to.equal('same-origin');
      expect(headers.get('cross-origin-embedder-policy'), path).to.equal('require-corp');
    }
    await session.driver.get(session.address);
    await find(session.driver, 'file-input');
    await soon(() => session.driver.executeScript('return window.crossOriginIsolated')).to.equal(
      true,
    );
    const evaluated = await session.driver.executeScript(
      `const script = document.createElement('script');
       script.textContent = 'window.foreign = true';
       document.head.append(script);
       return window.foreign === true;`,
    );
    expect(evaluated).to.equal(false);
    await session.driver.manage().logs().get(logging.Type.BROWSER);
  });

  it('refuses requests that are too large and paths that climb out', async () => {
    const large = await fetch(session.address, { method: 'POST', body: 'x'.repeat(1_100_000) });
    expect(large.status).to.equal(413);
    const climb = await fetch(`${session.address}/..%2f..%2fpackage.json`);
    await soon(() => climb.text()).to.not.contain('zesty-strata');
  });

  for (const [name, wanted] of Object.entries(EXPECTED_PICTURES)) {
    it(`takes ${name} in: upright, in the right colours, what is transparent cut away`, async () => {
      const { driver } = session;
      await driver.get(session.address);
      await upload(session, fixture(name));
      await bench.goTo('artwork');
      await bench.choose('artwork');
      await findPainted(driver, 'artwork-canvas');
      const { width, height } = await readCanvas(driver, 'artwork-canvas', []);
      expect([width, height]).to.deep.equal([wanted.width, wanted.height]);
      // Means of three by three pixels, as the probes were taken.
      const seen: number[][] = await driver.executeScript(
        `const canvas = document.querySelector('[data-testid=artwork-canvas]');
         const { data, width, height } = canvas.getContext('2d').getImageData(0, 0, canvas.width, canvas.height);
         return arguments[0].map(([px, py]) => {
           const sum = [0, 0, 0, 0]; let n = 0;
           for (let y = Math.max(0, py - 1); y <= Math.min(height - 1, py + 1); y += 1)
             for (let x = Math.max(0, px - 1); x <= Math.min(width - 1, px + 1); x += 1, n += 1)
               for (let k = 0; k < 4; k += 1) sum[k] += data[(y * width + x) * 4 + k];
           return sum.map((v) => v / n);
         });`,
        wanted.probes,
      );
      wanted.probes.forEach(([, , red = 0, green = 0, blue = 0, alpha = 255], i) => {
        // Where the picture is see-through, what colour it is there does not matter.
        if (alpha < 250) return;
        [red, green, blue].forEach((value, k) => {
          expect(seen[i]?.[k], `${name} probe ${i}`).to.be.closeTo(value, 7);
        });
      });
      if (wanted.opaqueShare < 1) {
        const { pixels } = await readCanvas(driver, 'artwork-canvas', [[0.01, 0.01]]);
        expect(pixels[0]?.[3]).to.equal(0);
      }
    });
  }

  it('takes a BMP in', async () => {
    const { driver } = session;
    await driver.get(session.address);
    const path = join(folder, 'chart.bmp');
    writeFileSync(path, makeBmp(64, 48));
    await upload(session, path);
    await bench.choose('artwork');
    await findPainted(driver, 'artwork-canvas');
    const { width, height, pixels } = await readCanvas(driver, 'artwork-canvas', [
      [0, 0],
      [0.5, 0.25],
      [0.99, 0.99],
    ]);
    expect([width, height]).to.deep.equal([64, 48]);
    const wanted = [
      [0, 0],
      [32, 12],
      [63, 47],
    ].map(([x = 0, y = 0]) => {
      const [green, red] = bmpColour(64, 48, x, y);
      return [red, green, 128, 255];
    });
    expect(pixels).to.deep.equal(wanted);
  });

  it('reads what decoders read differently just as the command line does', async () => {
    const { driver } = session;
    for (const { name, bytes, pixels } of await oddPictures()) {
      await driver.get(session.address);
      const path = join(folder, name);
      writeFileSync(path, bytes);
      await upload(session, path);
      await bench.choose('artwork');
      await findPainted(driver, 'artwork-canvas');
      const seen: number[] = await driver.executeScript(
        `const canvas = document.querySelector('[data-testid=artwork-canvas]');
         return [...canvas.getContext('2d').getImageData(0, 0, canvas.width, canvas.height).data];`,
      );
      // Where it is see-through, a canvas keeps colours less well.
      const opaque = (all: readonly number[]): number[] =>
        all.map((value, i) => ((pixels[4 * Math.floor(i / 4) + 3] as number) < 250 ? 0 : value));
      expect(meanDifference(opaque(seen), opaque(pixels)), name).to.be.at.most(0.5);
    }
  });

  it('says what is wrong with bad files, and changes nothing', async () => {
    const { driver } = session;
    await begin(session, { demo: 'Locker 7' });
    await driver.get(session.address);
    await until(driver, async () => (await shelf.names()).length > 0, 'the shelf is there');
    const before = await shelf.names();
    const cases = {
      'xs_zero_bytes.png': /empty \(0 bytes\)/,
      'xs_text.png': /not a picture that can be read/,
      'xs_truncated.jpg': /ends before the picture does/,
      'xs_bomb_header_50000.png': /50000 x 50000 pixels/,
    };
    for (const [name, message] of Object.entries(cases)) {
      await upload(session, fixture(name));
      await until(
        driver,
        async () => message.test(await (await find(driver, 'file-trouble')).getText()),
        `${name} is refused`,
      );
      await soon(async () => (await find(driver, 'file-trouble')).getText()).to.contain(name);
    }
    await soon(() => driver.getCurrentUrl()).to.equal(`${session.address}/`);
    await driver.navigate().refresh();
    await until(driver, async () => (await shelf.names()).length > 0, 'the shelf is there again');
    await soon(() => shelf.names()).to.deep.equal(before);
  });

  it('a picture of 48 megapixels is reduced, and the artwork stop says so', async () => {
    const { driver } = session;
    const path = join(folder, 'wide.png');
    await sharp({ create: { width: 8000, height: 6000, channels: 3, background: '#7a3010' } })
      .png()
      .toFile(path);
    await upload(session, path);
    await bench.goTo('artwork');
    await until(
      driver,
      async () => (await (await findCss(driver, '[role=note]')).getText()).includes('8000 x 6000'),
      'the reduction is told',
    );
    await driver.get(session.address);
  });

  it('renames, duplicates and deletes with undo', async () => {
    const { driver } = session;
    await begin(session, { demo: 'Locker 7' });
    await driver.get(session.address);
    await shelf.more('Locker 7', 'Rename');
    const input = await findCss(driver, 'input[aria-label="Name of the project"]');
    await until(
      driver,
      async () =>
        (await driver.switchTo().activeElement().getAttribute('aria-label')) ===
        'Name of the project',
      'the name can be typed',
    );
    await input.sendKeys(Key.chord(Key.CONTROL, 'a'), 'Locker door', Key.ENTER);
    await until(driver, async () => (await shelf.names()).includes('Locker door'), 'it is renamed');
    await shelf.more('Locker door', 'Duplicate');
    await until(
      driver,
      async () => (await shelf.names()).includes('Locker door copy'),
      'it is duplicated',
    );
    const count = (await shelf.names()).length;
    await shelf.more('Locker door', 'Delete');
    await until(
      driver,
      async () => !(await shelf.names()).includes('Locker door'),
      'it is deleted',
    );
    await bench.undo();
    await until(driver, async () => (await shelf.names()).length === count, 'it is back');
    await shelf.openProject('Locker door copy');
    await find(driver, 'print-canvas');
  });

  it('a piece with a cut-away outline says how much of it is printed', async () => {
    const { driver } = session;
    await driver.get(session.address);
    await shelf.beginWith('Comet cut-out');
    await bench.goTo('relief');
    await until(
      driver,
      async () => /Printed\s+\d+\.\d %/.test(await (await find(driver, 'relief-facts')).getText()),
      'the printed share is known',
    );
    await until(
      driver,
      async () => {
        const { pixels } = await readCanvas(driver, 'print-canvas', [
          [0.02, 0.95],
          [0.8, 0.7],
        ]);
        return pixels[0]?.[3] === 0 && pixels[1]?.[3] === 255;
      },
      'the head of the comet is printed and the corner is not',
    );
  });

  it('a project that is not here is told, with a way back', async () => {
    const { driver } = session;
    await driver.get(`${session.address}/project/nowhere/stack`);
    await soon(async () => (await findCss(driver, '[role=alert]')).getText()).to.contain(
      'not in this browser',
    );
    await (await findButton(driver, 'To the shelf')).click();
    await find(driver, 'file-input');
  });

  it('axe finds no serious fault on shelf, workbench, picker and sheet', async () => {
    const { driver } = session;
    await begin(session, { demo: 'Locker 7' });
    await driver.get(session.address);
    await findButton(driver, 'Open Locker 7');
    await soon(() => axeFaults(session)).to.deep.equal([]);
    await shelf.beginWith('Dome at dusk');
    await find(driver, 'print-canvas');
    await until(driver, async () => /\d/.test(await bench.ledger('error')), 'all is computed');
    await soon(() => axeFaults(session)).to.deep.equal([]);
    await (await findButton(driver, 'Add filament on top')).click();
    await find(driver, 'filament-list');
    await soon(() => axeFaults(session)).to.deep.equal([]);
    await driver.actions().sendKeys(Key.ESCAPE).perform();
    for (const stop of ['artwork', 'relief', 'sheet']) {
      await (await find(driver, `stop-${stop}`)).click();
      if (stop === 'sheet') await find(driver, 'swap-sheet');
      await soon(() => axeFaults(session), stop).to.deep.equal([]);
    }
  });

  it('asked nobody but its own server for anything, and logged no error', async () => {
    const { driver, address } = session;
    const entries = await driver.manage().logs().get(logging.Type.PERFORMANCE);
    const urls = entries.flatMap(({ message }) => {
      const { method, params } = (
        JSON.parse(message) as {
          message: {
            method: string;
            params: { documentURL?: string; type?: string; request?: { url: string } };
          };
        }
      ).message;
      if (method !== 'Network.requestWillBeSent' || !params.request) return [];
      // The browser has pages of its own (the one of a new tab), which ask for theirs; only what the app's pages ask for counts,
      // and where they go.
      const ours = params.documentURL?.startsWith(address) === true;
      const leaves = params.type === 'Document' && /^https?:/.test(params.request.url);
      return ours || leaves ? [params.request.url] : [];
    });
    expect(urls.length).to.be.greaterThan(20);
    const foreign = urls.filter(
      (url) => !url.startsWith(address) && !/^(blob|data|about):/.test(url),
    );
    expect(foreign).to.deep.equal([]);
    const errors = (await driver.manage().logs().get(logging.Type.BROWSER)).filter(
      ({ level }) => level.value >= logging.Level.SEVERE.value,
    );
    expect(errors.map(({ message }) => message)).to.deep.equal([]);
  });
});

describe('storage that fails', function () {
  this.timeout(600_000);
  const cases = {
    refused: "indexedDB.open = () => { throw new DOMException('refused', 'SecurityError'); };",
    full: "IDBObjectStore.prototype.put = () => { throw new DOMException('full', 'QuotaExceededError'); };",
  };
  for (const [name, script] of Object.entries(cases)) {
    it(`${name}: is told, work goes on in memory, and the downloaded project opens again`, async () => {
      const session = await startSession({ beforePage: script });
      const { driver } = session;
      const bench = new Bench(session);
      const shelf = new ShelfPage(session);
      const folder = mkdtempSync(join(tmpdir(), 'strata-storage-'));
      try {
        await driver.get(session.address);
        await shelf.beginWith('Crater study');
        await find(driver, 'storage-trouble');
        await bench.nudge('B', Key.ARROW_UP);
        await soon(() => bench.edgeLayer('B')).to.equal(12);
        await soon(async () => (await find(driver, 'save-state')).getText()).to.equal('not stored');
        await (await findButton(driver, 'Download project')).click();
        const { bytes } = await readDownload(session, /\.strata$/);
        // To the shelf and back without losing what is only in memory.
        await (await findButton(driver, 'Zesty Strata')).click();
        await shelf.openProject('Crater study');
        await soon(() => bench.edgeLayer('B')).to.equal(12);
        await (await findButton(driver, 'Zesty Strata')).click();
        const path = join(folder, 'crater.strata');
        writeFileSync(path, bytes);
        await upload(session, path);
        await soon(() => bench.edgeLayer('B')).to.equal(12);
      } finally {
        await session.close();
        rmSync(folder, { recursive: true });
      }
    });
  }
});
