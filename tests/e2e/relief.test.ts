import { readFileSync } from 'node:fs';
import { expect } from 'chai';
import { unzipSync } from 'fflate';
import { decode as decodePng } from 'fast-png';
import { By } from 'selenium-webdriver';
import { readStl } from '#core/formats/mesh/read-stl.ts';
import { checkMesh } from '#core/relief/check-mesh.ts';
import { readProjectFile } from '../../src/state/project-file.ts';
import {
  axeFaults,
  find,
  findButton,
  dropFile,
  findCss,
  goes,
  readDownload,
  shareSession,
  until,
  type Session,
  settled,
  soon,
} from './browser.ts';
import { openDemo } from './fixtures.ts';
import { ReliefStop } from './pages/relief-stop.ts';
import { inSlice } from '../helpers/slices.ts';

/** What is found in a downloaded STL; crossings are looked for in smaller meshes, pair by pair. */
function looked(bytes: Uint8Array) {
  const read = readStl(bytes);
  if (!read.ok) throw new Error(read.fault.code);
  const { mesh } = read.value;
  const xs = [...mesh.positions].filter((_, i) => i % 3 === 0);
  return { ...checkMesh(mesh, { crossings: false }), xs };
}

describe('relief and files', function () {
  this.timeout(300_000);
  let session: Session;
  let relief: ReliefStop;

  before(async () => {
    session = await shareSession();
    relief = new ReliefStop(session);
  });
  beforeEach(() => openDemo(session, 'Comet cut-out', 'relief'));
  after(async () => {
    await session.close();
  });

  it('size counts what is printed, fits a bed or a frame, and says what does not fit', async () => {
    const { driver } = session;
    await relief.fill('sample-mm', '1');
    await settled(driver);
    const whole = await relief.size();
    await (await find(driver, 'trim')).click();
    await until(driver, async () => (await relief.size()) !== whole, 'margins do not count');
    await soon(async () => Number.parseFloat(await relief.size())).to.be.closeTo(150, 2);
    await relief.pick('fit-choice', 'small-hand');
    await soon(async () => (await find(driver, 'misfit')).getText()).to.contain('too wide');
    await (await findButton(driver, 'As large as fits')).click();
    await goes(driver, '[data-testid=misfit]');
    await until(
      driver,
      async () => Math.abs(Number.parseFloat(await relief.size()) - 119) < 3,
      'the size is that of the bed',
    );
    await relief.pick('fit-choice', 'frame');
    await relief.fill('opening-widthMm', '50');
    await relief.fill('opening-depthMm', '1');
    for (const told of ['too wide', 'too thick'])
      await soon(async () => (await find(driver, 'misfit')).getText()).to.contain(told);
    await relief.pick('fit-choice', 'nothing');
  });

  it('width and height can be taken apart and linked again', async () => {
    const { driver } = session;
    await (await find(driver, 'trim')).click();
    await (await findButton(driver, 'keeps the proportions')).click();
    await relief.fill('height-mm', '40');
    const high = async (): Promise<number> =>
      Number(/x ([\d.]+) mm/.exec(await relief.size())?.[1]);
    await until(driver, async () => Math.abs((await high()) - 40) < 1.5, 'it is 40 mm');
    await (await findButton(driver, 'width and height apart')).click();
    await until(driver, async () => Math.abs((await high()) - 40) > 5, 'it is linked');
  });

  it('border, plate, corners and a hole change the print, and reach the files', async () => {
    await openDemo(session, 'Comet cut-out', 'relief', {
      change: inSlice('piece', { trim: true, sampleMm: 1 }),
    });
    const { driver } = session;
    const printed = async (): Promise<number> =>
      Number(/Printed\s+([\d.]+) %/.exec(await relief.facts())?.[1] ?? 100);
    const before = await printed();
    await (await findCss(driver, '[data-testid=shape-section] summary')).click();
    await relief.pick('plate-choice', 'own');
    await until(driver, async () => (await printed()) > before, 'the plate is printed');
    const first = await findCss(driver, '[data-testid=border-choice] option:nth-child(2)');
    await first.click();
    const bordered = await until(
      driver,
      async () => {
        const share = await printed();
        return share > before + 5 ? share : 0;
      },
      'the border is printed',
    );
    await relief.fill('corner-mm', '10');
    await until(driver, async () => (await printed()) < bordered, 'the corners are cut');
    await (await findButton(driver, 'Add a hole')).click();
    await relief.fill('hole-0-diameterMm', '5');
    await soon(() => axeFaults(session)).to.deep.equal([]);
    const { bytes } = await relief.download('heights', 'heights', /heights\.png$/);
    const { width, height, data } = decodePng(bytes);
    const at = (x: number, y: number): number => data[y * width + x] ?? -1;
    expect(at(0, 0), 'corner').to.equal(0);
    expect(at(1, Math.floor(height / 2)), 'border').to.be.greaterThan(0);
    const placed = async (side: string): Promise<number> =>
      Number(await (await find(driver, `hole-0-${side}`)).getAttribute('value'));
    // It was put where there is material around it.
    const [x, y] = [Math.floor(await placed('xMm')), Math.floor(await placed('yMm'))];
    expect(at(x, y), 'hole').to.equal(0);
    expect([at(x - 4, y), at(x + 4, y), at(x, y - 4), at(x, y + 4)].every((n) => n > 0)).to.equal(
      true,
    );
    await soon(() => driver.findElements(By.css('[data-testid=hole-misses]'))).to.have.length(0);
    // In the corner that is cut off.
    await relief.fill('hole-0-diameterMm', '2');
    await relief.fill('hole-0-xMm', '0');
    await relief.fill('hole-0-yMm', '0');
    await find(driver, 'hole-misses');
    for (let step = 0; step < 3; step += 1) await relief.undo();
    await goes(driver, '[data-testid=hole-misses]');
  });

  it('a thicker base takes layers away, or says which heights can be divided', async () => {
    const { driver } = session;
    await (await findCss(driver, '[data-testid=base-section] summary')).click();
    await relief.fill('base-until', '0.72');
    await relief.fill('base-layer', '0.24');
    await (await findButton(driver, 'Print the base in these')).click();
    await soon(async () => (await find(driver, 'base-trouble')).getText()).to.contain(
      '0.64 or 0.88 mm can',
    );
    const layers = async (): Promise<number> =>
      Number(/Layers\s+(\d+)/.exec(await relief.facts())?.[1] ?? 0);
    const before = await layers();
    await relief.fill('base-until', '0.64');
    await (await findButton(driver, 'Print the base in these')).click();
    // 0.16 + 2 x 0.24 in place of 0.16 + 6 x 0.08.
    await until(driver, async () => (await layers()) === before - 4, 'four layers fewer');
    await relief.goTo('sheet');
    for (const told of ['0.24 mm layers up to 0.64 mm', 'by height'])
      await soon(async () => (await find(driver, 'swap-sheet')).getText()).to.contain(told);
    await relief.goTo('relief');
  });

  it('what is finer than a line is marked', async () => {
    const { driver } = session;
    await relief.fill('sample-mm', '0.2');
    await (await find(driver, 'show-fine')).click();
    await until(
      driver,
      async () =>
        (await (await find(driver, 'fine-share')).getText()).includes(' % is finer than one line'),
      'the share is told',
    );
    await find(driver, 'fine-canvas');
    await (await find(driver, 'show-fine')).click();
    await relief.fill('sample-mm', '0.5');
  });

  it('every format is downloaded and holds the relief; everything comes as one zip', async () => {
    await openDemo(session, 'Comet cut-out', 'relief', {
      change: inSlice('piece', {
        trim: true,
        shape: {
          border: null,
          plate: null,
          cornerMm: 0,
          holes: [{ xMm: 120, yMm: 70, diameterMm: 5 }],
        },
      }),
    });
    const { driver } = session;
    const { badEdges, degenerate, volumeMm3 } = looked(
      (await relief.download('stl', 'STL', /relief\.stl$/)).bytes,
    );
    expect([badEdges, degenerate]).to.deep.equal([0, 0]);
    expect(volumeMm3).to.be.greaterThan(100);
    await relief.pick('format', '3mf');
    const told = await until(
      driver,
      async () =>
        /^[\d,]+ triangles, about ([\d.]+) MB$/.exec(
          await (await find(driver, 'file-size')).getText(),
        )?.[1],
      'the size is told before the file is made',
    );
    const threeMf = await relief.download('3mf', '3MF', /relief\.3mf$/);
    expect(Number(told)).to.be.closeTo(threeMf.bytes.length / 1e6, threeMf.bytes.length / 3e6);
    expect(Object.keys(unzipSync(threeMf.bytes))).to.include('3D/3dmodel.model');
    const glb = await relief.download('glb', 'GLB', /\.glb$/);
    expect(new TextDecoder().decode(glb.bytes.subarray(0, 4))).to.equal('glTF');
    const svg = await relief.download('layers', 'layers', /layers\.svg$/);
    expect(svg.bytes.toString('utf8')).to.contain('id="layer-1"');
    await (await findButton(driver, 'Everything')).click();
    const { bytes, name } = await readDownload(session, /everything\.zip$/);
    const entries = unzipSync(bytes);
    expect(Object.keys(entries)).to.have.members([
      'relief.stl',
      'relief.3mf',
      'relief-text.stl',
      'relief-obj.zip',
      'relief.glb',
      'heights.png',
      'print.png',
      'layers.svg',
      'areas.svg',
      'swap-sheet.txt',
      'swaps.json',
      'comet-cut-out.strata',
    ]);
    const stamp = /Stamp\s+(\S+)/.exec(await relief.facts())?.[1] ?? 'none';
    expect(name).to.contain(stamp);
    const text = (entry: string): string => new TextDecoder().decode(entries[entry]);
    expect(text('swap-sheet.txt')).to.contain(stamp);
    expect(new TextDecoder().decode(entries['relief.stl']?.subarray(0, 80))).to.contain(stamp);
    const project = readProjectFile(entries['comet-cut-out.strata'] ?? new Uint8Array());
    expect(project.ok && project.value.document.piece.shape.holes).to.have.length(1);
  });

  it('smooth outlines are offered for flat areas, and give a sound file under a stamp of its own', async () => {
    const { driver } = session;
    await soon(() => driver.findElements(By.css('[data-testid=smooth-outlines]'))).to.have.length(
      0,
    );
    await relief.goTo('stack');
    await relief.choose('flat');
    await relief.goTo('relief');
    const box = await find(driver, 'smooth-outlines');
    const before = /Stamp\s+(\S+)/.exec(await relief.facts())?.[1];
    await box.click();
    await until(
      driver,
      async () => /Stamp\s+(\S+)/.exec(await relief.facts())?.[1] !== before,
      'the stamp is another',
    );
    const { bytes } = await relief.download('stl', 'STL', /relief\.stl$/);
    const { badEdges, degenerate, xs } = looked(bytes);
    expect([badEdges, degenerate]).to.deep.equal([0, 0]);
    // Corners of samples are cut: points lie half-way along their sides.
    const detail = Number(await (await find(driver, 'sample-mm')).getAttribute('value'));
    expect(xs.some((x) => Math.abs((((2 * x) / detail) % 2) - 1) < 1e-3)).to.equal(true);
    await relief.undo();
    await soon(async () => (await find(driver, 'smooth-outlines')).isSelected()).to.equal(false);
  });

  it('files dropped anywhere are taken: a rack is shown row by row, a picture begins a project', async () => {
    const { driver } = session;
    const picture = readFileSync(new URL('../../demo/thumbs/dome-badge.webp', import.meta.url));
    const address = await driver.getCurrentUrl();
    await dropFile(driver, 'dropped.webp', 'image/webp', picture);
    await until(driver, async () => (await driver.getCurrentUrl()) !== address, 'another project');
    await until(
      driver,
      async () => (await driver.getTitle()) === 'dropped - Zesty Strata',
      'it has the name of the file',
    );
    await dropFile(driver, 'broken.png', 'image/png', Uint8Array.of(1, 2, 3));
    await findCss(driver, '[data-sonner-toast][data-type=error]');
    await soon(() => driver.getTitle()).to.equal('dropped - Zesty Strata');
    await dropFile(
      driver,
      'mine.csv',
      'text/csv',
      readFileSync(new URL('../../demo/rack.csv', import.meta.url)),
    );
    await findCss(driver, '[role=dialog]');
    await soon(async () => new URL(await driver.getCurrentUrl()).pathname).to.equal('/rack');
  });
});
