import { readFileSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { expect } from 'chai';
import { decode as decodePng } from 'fast-png';
import { By, Key, type WebElement } from 'selenium-webdriver';
import { FIRST_SETTINGS, NO_EDITS } from '#core/edit/artwork-edit.ts';
import { EditDesk } from '#core/edit/edit-desk.ts';
import { decodePicture } from '../../src/platform/node/decode-picture.ts';
import { fixture } from '../helpers/pictures.ts';
import {
  axeFaults,
  chooseFrom,
  find,
  findButton,
  findCss,
  findPainted,
  goes,
  middleOf,
  readCanvas,
  readDownload,
  readPrint,
  settled,
  shareSession,
  typeOver,
  until,
  upload,
  type Session,
  soon,
} from './browser.ts';
import { begin, openDemo, QUICK_SEARCH } from './fixtures.ts';
import { FindPanel } from './pages/find-panel.ts';

/** Places of *Dome at dusk*, as shares: glowing sky beside the dome, the blue of the night, the moon. */
const GLOW = [0.9, 0.57] as const;
const NIGHT = [0.1, 0.1] as const;
const MOON = [0.755, 0.24] as const;

describe('the artwork stop', function () {
  this.timeout(300_000);
  let session: Session;

  before(async () => {
    session = await shareSession();
  });
  after(async () => {
    await session.close();
  });

  async function open(name: string, beginning?: typeof QUICK_SEARCH): Promise<string> {
    const id = await openDemo(session, name, 'artwork', beginning);
    await (await find(session.driver, 'choice-artwork')).click();
    await findPainted(session.driver, 'artwork-canvas');
    return id;
  }
  async function colours(): Promise<number[][]> {
    const places = [GLOW, NIGHT, MOON];
    return (await readCanvas(session.driver, 'artwork-canvas', places)).pixels;
  }
  /** Waits until the artwork is another one than before, and at rest. */
  async function changed(before: readonly number[][]): Promise<number[][]> {
    await until(
      session.driver,
      async () => JSON.stringify(await colours()) !== JSON.stringify(before),
      'the artwork changes',
    );
    await settled(session.driver);
    return colours();
  }
  async function size(): Promise<string> {
    const canvas = await find(session.driver, 'artwork-canvas');
    return `${await canvas.getAttribute('width')} x ${await canvas.getAttribute('height')}`;
  }
  const add = (name: string): Promise<void> => chooseFrom(session.driver, 'Add an edit', name);
  async function drag(
    testId: string,
    ...ways: readonly (readonly [x: number, y: number])[]
  ): Promise<void> {
    // Places of the page: what is dragged moves away from under them.
    const middle = await middleOf(await find(session.driver, testId));
    const at = ([x, y]: readonly [number, number]): { x: number; y: number } => ({
      x: Math.round(middle.x + x),
      y: Math.round(middle.y + y),
    });
    const [first = [0, 0] as const, ...rest] = ways;
    let actions = session.driver.actions().move(at(first)).press();
    for (const way of rest) actions = actions.move({ ...at(way), duration: 40 });
    await actions.release().perform();
  }
  async function press(testId: string, ...keys: string[]): Promise<void> {
    await (await find(session.driver, testId)).sendKeys(...keys);
  }

  it('a range of hues: its bracket is dragged and moved by keys, only its hues turn, all is there after a reload', async () => {
    const { driver } = session;
    await open('Dome at dusk');
    const first = await colours();
    await add('Range of hues');
    await until(
      driver,
      async () =>
        ((await (await find(driver, 'hues-before')).getAttribute('data-bars')) ?? '').length > 70,
      'the hues are unrolled',
    );
    const centre = async (): Promise<number> =>
      Number(await (await find(driver, 'hue-centre')).getAttribute('aria-valuenow'));
    const before = await centre();
    await drag('hue-centre', [0, 0], [12, 0], [24, 0]);
    await soon(() => centre()).to.be.within(before + 15, before + 33);
    await press('hue-centre', ...Array<string>(4).fill(Key.ARROW_RIGHT));
    await press('hue-to', Key.chord(Key.SHIFT, Key.ARROW_RIGHT));
    await soon(
      async () =>
        Number(await (await find(driver, 'hue-to')).getAttribute('aria-valuenow')) -
        (await centre()),
    ).to.equal(20 + 25);
    await typeOver(driver, 'edit-turn', '60');
    const turned = await changed(first);
    expect(turned[0], 'the glow').to.not.deep.equal(first[0]);
    expect(turned[1], 'the night').to.deep.equal(first[1]);
    await (await find(driver, 'show-touched')).click();
    await findPainted(driver, 'touched-canvas');
    const veil = (await readCanvas(driver, 'touched-canvas', [GLOW, NIGHT])).pixels;
    expect(veil[0]?.[3] ?? 255).to.be.below(veil[1]?.[3] ?? 0);
    await soon(() => axeFaults(session, true)).to.deep.equal([]);
    // The print follows, and everything is there after a reload.
    await driver.navigate().refresh();
    await settled(driver);
    await (await find(driver, 'choice-artwork')).click();
    await findPainted(driver, 'artwork-canvas');
    await until(
      driver,
      async () => JSON.stringify(await colours()) === JSON.stringify(turned),
      'the edits are there',
    );
    // Off and on again, and undone to the picture as it came.
    await (await findCss(driver, '[data-testid=edit] input[type=checkbox]')).click();
    await soon(() => changed(turned)).to.deep.equal(first);
    await (await findCss(driver, '[data-testid=edit] input[type=checkbox]')).click();
    await soon(() => changed(first)).to.deep.equal(turned);
  });

  it('selections by pointer and by keys limit an edit, and are named and kept', async () => {
    const { driver } = session;
    await open('Dome at dusk');
    const first = await colours();
    const share = async (): Promise<number> =>
      Number(await (await find(driver, 'selection-lines')).getAttribute('data-share'));
    // A lasso around the moon.
    await (await find(driver, 'tool-lasso')).click();
    const { width, height } = await (await find(driver, 'tool-surface')).getRect();
    const at = (x: number, y: number): readonly [number, number] => [
      Math.round((x - 0.5) * width),
      Math.round((y - 0.5) * height),
    ];
    await drag('tool-surface', at(0.66, 0.12), at(0.85, 0.12), at(0.85, 0.36), at(0.66, 0.36));
    await soon(() => until(driver, share, 'the moon is selected')).to.be.closeTo(
      0.19 * 0.24,
      0.006,
    );
    const before = await share();
    // By keys, from where the pointer was last: a corner is set here and there, C closes it.
    await (await find(driver, 'selection-way')).click();
    const surface = await find(driver, 'tool-surface');
    await surface.sendKeys(
      ...Array<string>(4).fill(Key.ARROW_RIGHT),
      ...Array<string>(6).fill(Key.ARROW_UP),
      Key.ENTER,
    );
    await surface.sendKeys(...Array<string>(10).fill(Key.ARROW_RIGHT), Key.ENTER);
    await surface.sendKeys(...Array<string>(6).fill(Key.ARROW_DOWN), Key.ENTER, 'c');
    await until(driver, async () => (await share()) < before, 'some is taken');
    await surface.sendKeys(Key.ESCAPE);
    await goes(driver, '[data-testid=tool-surface]');
    await typeOver(driver, 'selection-grow', '6');
    await typeOver(driver, 'selection-feather', '2');
    await chooseFrom(driver, 'More for the selection', 'Rename');
    const field = await findCss(driver, '[role=dialog] input');
    await field.sendKeys(Key.chord(Key.CONTROL, 'a'), 'Moon', Key.ENTER);
    await add('Greyscale');
    const grey = await changed(first);
    expect(new Set(grey[0]?.slice(0, 3)).size).to.equal(1);
    const option = await findCss(driver, '[data-testid=only-in] option:nth-child(2)');
    await soon(() => option.getText()).to.equal('Moon');
    await option.click();
    const limited = await changed(grey);
    expect(limited[0]).to.deep.equal(first[0]);
    expect(new Set(limited[2]?.slice(0, 3)).size).to.equal(1);
    await soon(() => axeFaults(session, true)).to.deep.equal([]);
    await driver.navigate().refresh();
    await settled(driver);
    await soon(async () =>
      (await findCss(driver, '[data-testid=selection-in-hand] option:nth-child(2)')).getText(),
    ).to.equal('Moon');
  });

  it('by similarity, box and brush; inverted; the next step takes away', async () => {
    const { driver } = session;
    await open('Dome badge');
    const share = async (): Promise<number> =>
      Number(await (await find(driver, 'selection-lines')).getAttribute('data-share'));
    await (await find(driver, 'tool-similar')).click();
    const { width, height } = await (await find(driver, 'tool-surface')).getRect();
    await drag('tool-surface', [0, -Math.round(0.3 * height)]);
    const blue = await until(driver, share, 'the blue is selected');
    expect(blue).to.be.within(0.15, 0.5);
    await (await find(driver, 'selection-way')).click();
    await (await find(driver, 'tool-box')).click();
    await drag(
      'tool-surface',
      [-Math.round(width / 2) + 2, -Math.round(height / 2) + 2],
      [0, Math.round(height / 2) - 2],
    );
    const half = await until(
      driver,
      async () => ((await share()) < 0.7 * blue ? share() : 0),
      'a half is taken away',
    );
    await (await find(driver, 'selection-way')).click();
    await (await find(driver, 'tool-brush')).click();
    await drag('tool-surface', [-80, 0], [-60, 20], [-30, 20]);
    await until(driver, async () => (await share()) > half + 0.002, 'a stroke is added');
    await (await findButton(driver, 'inverted')).click();
    await until(driver, async () => (await share()) > 0.6, 'it is turned inside out');
  });

  it('a crop by its handles, by keys and by numbers; its size in mm and samples; undone', async () => {
    const { driver } = session;
    await open('Dome at dusk');
    const before = await size();
    await add('Crop');
    await find(driver, 'crop-frame');
    await drag('crop-handle--1--1', [0, 0], [60, 40], [140, 90]);
    const left = Number(await (await find(driver, 'crop-left')).getAttribute('value'));
    expect(left).to.be.within(120, 280);
    await press('crop-whole', Key.chord(Key.SHIFT, Key.ARROW_LEFT));
    await until(
      driver,
      async () =>
        Number(await (await find(driver, 'crop-left')).getAttribute('value')) === left - 10,
      'a key moves it',
    );
    await (await findCss(driver, '[data-testid=proportions] option[value="1 : 1"]')).click();
    const width = await (await find(driver, 'crop-width')).getAttribute('value');
    await soon(async () => (await find(driver, 'crop-height')).getAttribute('value')).to.equal(
      width,
    );
    await typeOver(driver, 'crop-width', '400');
    await typeOver(driver, 'crop-height', '400');
    await soon(async () => (await find(driver, 'crop-facts')).getText()).to.match(
      /150 x 150\.0 mm, 375 x 375/,
    );
    await (await findButton(driver, 'Done')).click();
    await until(driver, async () => (await size()) === '400 x 400', 'the picture is cropped');
    await settled(driver);
    await soon(async () => (await find(driver, 'ledger-size')).getText()).to.contain(
      '150 x 150 mm',
    );
    await soon(async () => (await find(driver, 'advice')).getText()).to.contain(
      'this part has 400',
    );
    for (let i = 0; i < 6; i += 1)
      await driver.actions().keyDown(Key.CONTROL).sendKeys('z').keyUp(Key.CONTROL).perform();
    await until(driver, async () => (await size()) === before, 'all of it is back');
  });

  it('turned, mirrored, lit and sharpened; moved in the list; O shows the original', async () => {
    const { driver } = session;
    await open('Dome at dusk');
    const first = await colours();
    await add('Turn');
    await until(driver, async () => (await size()).startsWith('800 x'), 'it stands upright');
    await soon(() => axeFaults(session, true)).to.deep.equal([]);
    await chooseFrom(driver, 'More for Turn', 'Remove');
    await until(driver, async () => (await size()).startsWith('1200 x'), 'it lies again');
    await settled(driver);
    await add('Light and contrast');
    await typeOver(driver, 'edit-brightness', '40');
    const lit = await changed(first);
    expect(lit[1]?.[2] ?? 0).to.be.above(first[1]?.[2] ?? 255);
    await press('code-point-1', Key.ARROW_DOWN, Key.ARROW_DOWN);
    await changed(lit);
    await soon(() => axeFaults(session, true)).to.deep.equal([]);
    const both = await colours();
    await driver.actions().keyDown('o').perform();
    await until(
      driver,
      async () => JSON.stringify(await colours()) === JSON.stringify(first),
      'the original',
    );
    await driver.actions().keyUp('o').perform();
    await until(
      driver,
      async () => JSON.stringify(await colours()) === JSON.stringify(both),
      'as edited',
    );
    await add('Denoise');
    await add('Sharpen');
    const names = async (): Promise<string[]> =>
      Promise.all(
        (await driver.findElements(By.css('[data-testid=edit]'))).map(
          (row) => row.getAttribute('data-kind') as Promise<string>,
        ),
      );
    await soon(() => names()).to.deep.equal(['tone', 'denoise', 'sharpen']);
    await chooseFrom(driver, 'More for Sharpen', 'Earlier');
    await soon(() => names()).to.deep.equal(['tone', 'sharpen', 'denoise']);
    await chooseFrom(driver, 'More for Light and contrast', 'Duplicate');
    await soon(() => names()).to.deep.equal(['tone', 'tone', 'sharpen', 'denoise']);
    await (await find(driver, 'greys')).click();
    await until(
      driver,
      async () => new Set((await colours())[0]?.slice(0, 3)).size === 1,
      'greys of the brightness',
    );
  });

  it('a cut-out: proposed, stroked by pointer and by keys, begun anew, limited to a selection', async () => {
    const { driver } = session;
    await open('Dome at dusk');
    await (await findButton(driver, 'Cut out the subject')).click();
    const away = async (): Promise<number> =>
      (await readCanvas(driver, 'artwork-canvas', GRID)).pixels.filter(([, , , a]) => a === 0)
        .length;
    await findCss(driver, '[data-testid=cutout-strokes][data-proposed=true]');
    await settled(driver);
    const first = await until(driver, away, 'something is cut away');
    await findPainted(driver, 'cut-away');
    await (await find(driver, 'tool-keep')).click();
    const surface = await find(driver, 'tool-surface');
    const lines = async (): Promise<number> =>
      Number(await (await find(driver, 'cutout-marks')).getAttribute('data-lines'));
    const { width, height } = await surface.getRect();
    await drag(
      'tool-surface',
      [-Math.round(0.2 * width), -Math.round(0.3 * height)],
      [Math.round(0.2 * width), -Math.round(0.3 * height)],
    );
    await until(driver, async () => (await lines()) === 1, 'a stroke is there');
    await until(driver, async () => (await away()) < first, 'the sky comes back');
    await (await find(driver, 'tool-drop')).click();
    await (await find(driver, 'tool-surface')).sendKeys(Key.ARROW_UP, Key.ENTER);
    await until(driver, async () => (await lines()) === 2, 'a dab by key');
    await soon(() => axeFaults(session, true)).to.deep.equal([]);
    await settled(driver);
    await (await findButton(driver, 'Begin anew')).click();
    await until(driver, async () => (await away()) === first, 'as it was proposed');
    await (await findCss(driver, '[data-testid=edit] input[type=checkbox]')).click();
    await until(driver, async () => (await away()) === 0, 'the full picture is back');
  });

  it('the box of a cut-out is taken by a handle and by keys, drawn anew from within itself, and undone', async () => {
    const { driver } = session;
    await open('Dome at dusk');
    await (await findButton(driver, 'Cut out the subject')).click();
    await findCss(driver, '[data-testid=cutout-strokes][data-proposed=true]');
    await (await find(driver, 'choice-cut')).click();
    await (await find(driver, 'tool-subject')).click();
    const box = async (): Promise<number[]> =>
      ((await (await find(driver, 'cutout-marks')).getAttribute('data-box')) ?? '')
        .split(' ')
        .map(Number);
    const proposed = await box();
    // A handle sets the box on whole pixels.
    const [left = 0, top = 0, width = 0, height = 0] = proposed.map(Math.round);
    await drag('subject-handle-1-1', [0, 0], [-30, -20], [-60, -40]);
    const [l, t, w = 0, h = 0] = await box();
    expect([l, t]).to.deep.equal([left, top]);
    // 60 and 40 pixels of the page in pixels of the picture.
    expect((width - w) / (height - h)).to.be.closeTo(1.5, 0.05);
    await press('subject-whole', Key.ARROW_RIGHT, Key.chord(Key.SHIFT, Key.ARROW_DOWN));
    await soon(() => box()).to.deep.equal([left + 1, top + 10, w, h]);
    await soon(() => axeFaults(session, true)).to.deep.equal([]);
    await drag('tool-surface', [-30, -30], [20, 10], [60, 50]);
    const drawn = await box();
    expect((drawn[2] ?? 0) / (drawn[3] ?? 1)).to.be.closeTo(90 / 80, 0.05);
    for (let i = 0; i < 4; i += 1)
      await driver.actions().keyDown(Key.CONTROL).sendKeys('z').keyUp(Key.CONTROL).perform();
    await until(
      driver,
      async () => (await box()).join() === proposed.join(),
      'the first box is back',
    );
    await settled(driver);
  });

  it('names and keys of the box follow what is seen where the picture was turned and straightened', async () => {
    const { driver } = session;
    await open('Dome at dusk');
    await add('Turn');
    // A quarter to the right, and a little more to straighten it.
    await typeOver(driver, 'turn-angle', '96');
    await (await findButton(driver, 'Cut out the subject')).click();
    await findCss(driver, '[data-testid=cutout-strokes][data-proposed=true]');
    await (await find(driver, 'choice-cut')).click();
    await (await find(driver, 'tool-subject')).click();
    // Nothing on the stage moves any more while it is measured.
    await find(driver, 'subject-handle-1-0');
    await settled(driver);
    const middle = (id: string): Promise<{ x: number; y: number }> =>
      find(driver, id).then(middleOf);
    const corners = await Promise.all(
      ['-1--1', '1--1', '1-1', '-1-1'].map((id) => middle(`subject-handle-${id}`)),
    );
    const [x, y] = (['x', 'y'] as const).map((axis) =>
      corners.reduce((sum, corner) => sum + corner[axis] / 4, 0),
    ) as [number, number];
    const sides = [
      ['1-0', 'Right side', 1, 0],
      ['0-1', 'Lower side', 0, 1],
      ['-1-0', 'Left side', -1, 0],
      ['0--1', 'Upper side', 0, -1],
    ] as const;
    for (const [id, name, dx, dy] of sides) {
      const handle = await find(driver, `subject-handle-${id}`);
      await soon(() => handle.getAttribute('aria-label')).to.equal(`${name} of the subject`);
      const at = await middleOf(handle);
      const along = (at.x - x) * dx + (at.y - y) * dy;
      const across = Math.abs((at.x - x) * dy) + Math.abs((at.y - y) * dx);
      expect(along, name).to.be.above(20);
      // Tangent of six degrees.
      expect(across / along, name).to.be.closeTo(0.105, 0.03);
    }
    // The box for keys is as wide as its corners reach, no wider.
    const width: number = await driver.executeScript(
      'return arguments[0].getBoundingClientRect().width',
      await find(driver, 'subject-whole'),
    );
    const across = corners.map((corner) => corner.x);
    expect(width).to.be.closeTo(Math.max(...across) - Math.min(...across), 3);
    const box = async (): Promise<number[]> =>
      ((await (await find(driver, 'cutout-marks')).getAttribute('data-box')) ?? '')
        .split(' ')
        .map((text) => Math.round(Number(text)));
    const [left = 0, top = 0, w = 0, h = 0] = await box();
    // Right on the stage is up in the picture as it was, down is right.
    await press('subject-handle-1-0', Key.chord(Key.SHIFT, Key.ARROW_LEFT));
    await soon(() => box()).to.deep.equal([left, top + 10, w, h - 10]);
    await press('subject-handle-0-1', Key.ARROW_UP);
    await soon(() => box()).to.deep.equal([left, top + 10, w - 1, h - 10]);
    await press('subject-whole', Key.ARROW_RIGHT);
    await soon(() => box()).to.deep.equal([left, top + 9, w - 1, h - 10]);
    await settled(driver);
  });

  it('flat colours: as many as there are, each can become another, and samples have no other', async () => {
    const { driver } = session;
    await open('Dome badge');
    await (await findButton(driver, 'Clean flat colours')).click();
    await find(driver, 'palette');
    const rows = async (): Promise<number> =>
      (await driver.findElements(By.css('[data-testid=palette] li'))).length;
    await until(driver, async () => (await rows()) === 4, 'four colours');
    const seen = async (): Promise<string[]> => {
      const { pixels } = await readCanvas(driver, 'artwork-canvas', GRID);
      return [
        ...new Set(pixels.filter(([, , , a]) => a !== 0).map((one) => one.slice(0, 3).join())),
      ];
    };
    await until(driver, async () => (await seen()).length === 4, 'no colour between them');
    await settled(driver);
    await soon(() => axeFaults(session, true)).to.deep.equal([]);
    await (await findButton(driver, 'Colour 2 becomes the one above it')).click();
    await until(driver, async () => (await seen()).length === 3, 'two are one');
    await typeOver(driver, 'colour-count', '3');
    await until(driver, async () => (await rows()) === 3, 'three colours');
    // The flat-areas rule takes these areas as they are.
    await (await find(driver, 'stop-stack')).click();
    await driver.actions().sendKeys('').perform();
    await settled(driver);
  });

  it('the artwork as edited is downloaded pixel for pixel as the core makes it', async () => {
    const { driver } = session;
    await open('Dome badge');
    await add('Mirror');
    await until(driver, async () => (await find(driver, 'edits')).getText(), 'it is there');
    await settled(driver);
    await (await findCss(driver, 'details summary')).click();
    await (await findButton(driver, 'Download artwork as edited')).click();
    const { bytes, name } = await readDownload(session, /edited\.png$/);
    expect(name).to.equal('Dome badge, edited.png');
    const png = decodePng(bytes);
    const art = readFileSync(new URL('../../demo/art/dome-badge.png', import.meta.url));
    const decoded = await decodePicture(art);
    if (!decoded.ok) throw new Error('no art');
    const mirror = {
      id: 'm',
      kind: 'mirror' as const,
      on: true,
      mask: null,
      ...FIRST_SETTINGS.mirror,
    };
    const { raster } = new EditDesk(decoded.value).edited(
      { ...NO_EDITS, key: 'm', edits: [mirror] },
      false,
    );
    expect([png.width, png.height]).to.deep.equal([raster.width, raster.height]);
    // Half-covered pixels are rounded by the browser's canvas; the others are what they are.
    let [opaque, wrong] = [0, 0];
    for (let at = 0; at < raster.data.length; at += 4) {
      if (raster.data[at + 3] !== 255) continue;
      opaque += 1;
      for (let c = 0; c < 4; c += 1) if (png.data[at + c] !== raster.data[at + c]) wrong += 1;
    }
    expect(opaque).to.be.above(100_000);
    expect(wrong).to.equal(0);
  });

  it('edits go to another project, and another picture takes the place of this one', async () => {
    const { driver } = session;
    await open('Dome at dusk');
    const first = await colours();
    await add('Greyscale');
    const grey = await changed(first);
    await (await findCss(driver, 'details summary')).click();
    await (await findButton(driver, 'Copy all edits')).click();
    await chooseFrom(driver, 'More for Greyscale', 'Remove');
    await changed(grey);
    await (await findButton(driver, 'Put copied edits here')).click();
    await soon(() => changed(first)).to.deep.equal(grey);
    const here = await driver.getCurrentUrl();
    await (await find(driver, 'replace-picture')).sendKeys(fixture('s24_cat.webp'));
    await until(
      driver,
      async () => (await driver.getCurrentUrl()) !== here,
      'a project with it is open',
    );
    await (await find(driver, 'stop-artwork')).click();
    await settled(driver);
    await soon(async () => (await find(driver, 'edits')).getText()).to.contain('Greyscale');
    await (await find(driver, 'choice-artwork')).click();
    await until(driver, async () => (await size()) === '451 x 300', 'it is the other picture');
  });

  it('a plain sky goes by itself; hair, paint back and rub out; the truth is the art without it', async () => {
    const { driver } = session;
    await open('Comet in the sky');
    await (await findButton(driver, 'Cut out the subject')).click();
    await findCss(driver, '[data-testid=cutout-strokes][data-proposed=true]');
    const truth = await decodePicture(
      readFileSync(new URL('../../demo/art/comet-cut-out.png', import.meta.url)),
    );
    if (!truth.ok) throw new Error('no art');
    const { width, height, data } = truth.value;
    const alphaAt = ([x, y]: readonly [number, number]): number =>
      data[4 * (Math.floor(y * height) * width + Math.floor(x * width)) + 3] ?? 0;
    const alphas = async (): Promise<number[]> =>
      (await readCanvas(driver, 'artwork-canvas', GRID)).pixels.map(([, , , a = 0]) => a);
    const right = (seen: readonly number[]): number =>
      seen.filter((a, i) => a > 127 === alphaAt(GRID[i] ?? [0, 0]) > 127).length / seen.length;
    await until(driver, async () => right(await alphas()) >= 0.99, 'the sky is gone, no more');
    // What is cut away is not printed either.
    await settled(driver);
    const bytes = async (): Promise<string> => JSON.stringify(await alphas());
    const before = await bytes();
    const surface = (): Promise<WebElement> => find(driver, 'tool-surface');
    await (await find(driver, 'tool-add')).click();
    const rect = await (await surface()).getRect();
    const at = (x: number, y: number): readonly [number, number] => [
      Math.round((x - 0.5) * rect.width),
      Math.round((y - 0.5) * rect.height),
    ];
    await drag('tool-surface', at(0.2, 0.875), at(0.3, 0.875), at(0.4, 0.875));
    await until(driver, async () => (await bytes()) !== before, 'some sky is painted back');
    await settled(driver);
    const painted = await alphas();
    expect(right(painted)).to.be.below(right(JSON.parse(before) as number[]));
    await (await find(driver, 'tool-take')).click();
    await drag('tool-surface', at(0.2, 0.875), at(0.3, 0.875), at(0.4, 0.875));
    await until(driver, async () => (await bytes()) === before, 'and rubbed out again');
    // A hairy edge is worked out anew where the brush went, and stays near the truth.
    await (await findButton(driver, 'Hair')).click();
    await drag('tool-surface', at(0.1, 0.12), at(0.14, 0.3), at(0.12, 0.42));
    const strokes = await find(driver, 'cutout-strokes');
    await until(driver, async () => (await strokes.getText()) === '3 strokes', 'it is there');
    await settled(driver);
    await soon(async () => right(await alphas())).to.be.at.least(0.98);
  });

  it('what is empty is trimmed, and undone', async () => {
    const { driver } = session;
    await open('Comet cut-out');
    await add('Crop');
    await (await findButton(driver, 'Trim what is empty')).click();
    await (await findButton(driver, 'Done')).click();
    await until(driver, async () => (await size()) !== '1000 x 640', 'it is trimmed');
    // The drawing's own rows and columns with something on them.
    const art = await decodePicture(
      readFileSync(new URL('../../demo/art/comet-cut-out.png', import.meta.url)),
    );
    if (!art.ok) throw new Error('no art');
    const { width, data } = art.value;
    const columns = new Set<number>();
    const rows = new Set<number>();
    for (let i = 0; i < data.length / 4; i += 1)
      if ((data[4 * i + 3] ?? 0) > 0) {
        columns.add(i % width);
        rows.add(Math.floor(i / width));
      }
    const [w = 0, h = 0] = (await size()).split(' x ').map(Number);
    expect(w).to.be.closeTo(Math.max(...columns) - Math.min(...columns) + 1, 4);
    expect(h).to.be.closeTo(Math.max(...rows) - Math.min(...rows) + 1, 4);
  });

  it('the print follows while an edit is dragged, not only when the hand rests', async () => {
    const { driver } = session;
    await open('Dome at dusk');
    await add('Range of hues');
    await typeOver(driver, 'edit-turn', '60');
    await settled(driver);
    await (await find(driver, 'choice-print')).click();
    await findPainted(driver, 'print-canvas');
    const before = await readPrint(driver);
    const { x, y } = await middleOf(await find(driver, 'hue-centre'));
    const [px, py] = [Math.round(x), Math.round(y)];
    await driver
      .actions()
      .move({ x: px, y: py })
      .press()
      .move({ x: px + 30, y: py })
      .perform();
    try {
      await until(driver, async () => (await readPrint(driver)) !== before, 'the print follows');
    } finally {
      await driver.actions().release().perform();
    }
  });

  it('a picture is pasted', async () => {
    const { driver, address } = session;
    await begin(session);
    await driver.get(address);
    await find(driver, 'file-input');
    await driver.executeScript(
      `const bytes = Uint8Array.from(atob(arguments[0]), (one) => one.charCodeAt(0));
       const clipboardData = new DataTransfer();
       clipboardData.items.add(new File([bytes], 'From the clipboard.png', { type: 'image/png' }));
       document.body.dispatchEvent(new ClipboardEvent('paste', { clipboardData, bubbles: true }));`,
      readFileSync(fixture('s29_hexagon_palette.png')).toString('base64'),
    );
    await find(driver, 'stop-artwork');
    await settled(driver);
    await soon(() => driver.getTitle()).to.contain('From the clipboard');
    // So few pixels print soft: that is among the notices, wherever one is.
    await (await find(driver, 'stop-relief')).click();
    await (await find(driver, 'notices')).click();
    await soon(async () => (await findCss(driver, '[role=dialog]')).getText()).to.match(
      /has \d+ of the \d+ px .* prints soft/,
    );
  });

  it('a selection matters more in a search, or as usual again', async () => {
    const { driver } = session;
    await open('Veil nebula', QUICK_SEARCH);
    await (await find(driver, 'tool-box')).click();
    await drag('tool-surface', [-120, -60], [60, 80]);
    await until(
      driver,
      async () => Number(await (await find(driver, 'selection-lines')).getAttribute('data-lines')),
      'it is selected',
    );
    await (await find(driver, 'stop-stack')).click();
    await driver.actions().sendKeys(Key.ESCAPE, 's').perform();
    const panel = new FindPanel(session);
    await panel.ended();
    const plain = await panel.said();
    await chooseFrom(driver, 'Importance of a selection', 'Selection 1 matters more');
    await findCss(driver, '[data-testid=importance][data-strokes="1"] mask path[fill-rule]');
    await soon(() => axeFaults(session)).to.deep.equal([]);
    await (await findButton(driver, 'Look again')).click();
    await panel.ended();
    await soon(() => panel.said()).to.not.equal(plain);
    await chooseFrom(driver, 'Importance of a selection', 'Selection 1 counts as usual');
    await (await findButton(driver, 'Look again')).click();
    await panel.ended();
    await soon(() => panel.said()).to.equal(plain);
  });

  it('a drawing is drawn finer where its part is small; edits, undo and a reload go along', async () => {
    const { driver, address } = session;
    await begin(session);
    await driver.get(address);
    const drawing = join(session.downloads.replace(/downloads$/, ''), 'crest.svg');
    // Halves of the part that is cut out, with an edge between them at its middle.
    writeFileSync(
      drawing,
      `<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 240 160">
       <rect width="240" height="160" fill="#1d2229"/><rect x="20" y="10" width="20" height="30" fill="#c8102e"/></svg>`,
    );
    await upload(session, drawing);
    await settled(driver);
    await (await find(driver, 'stop-artwork')).click();
    await (await find(driver, 'choice-artwork')).click();
    const advice = async (): Promise<string> => (await find(driver, 'advice')).getText();
    await soon(() => advice()).to.match(/has 2400\. It prints crisp/);
    await add('Crop');
    for (const [side, px] of [
      ['width', 400],
      ['height', 300],
      ['left', 0],
      ['top', 100],
    ] as const)
      await typeOver(driver, `crop-${side}`, String(px));
    await (await findButton(driver, 'Done')).click();
    await until(driver, async () => (await size()) === '400 x 300', 'it is cropped');
    await soon(() => advice()).to.match(
      /wants 750 px a line; this part has 400\..*can be drawn finer/s,
    );
    await settled(driver);
    await (await findButton(driver, 'Draw it finer: 4500 px')).click();
    await until(driver, async () => (await advice()).includes('has 750. It prints crisp'), 'it is');
    await settled(driver);
    const top = async (): Promise<string | null> =>
      (await find(driver, 'crop-top')).getAttribute('value');
    await soon(() => top()).to.equal('188');
    const HALVES = [
      [0.49, 0.5],
      [0.51, 0.5],
    ] as const;
    await until(
      driver,
      async () => (await readCanvas(driver, 'artwork-canvas', HALVES)).pixels[1]?.[0] === 0xc8,
      'its own colours, sharp',
    );
    await driver.navigate().refresh();
    await until(
      driver,
      async () => (await advice()).includes('has 750. It prints crisp'),
      'as it was',
    );
    await settled(driver);
    for (let i = 0; i < 5; i += 1)
      await driver.actions().keyDown(Key.CONTROL).sendKeys('z').keyUp(Key.CONTROL).perform();
    await until(
      driver,
      async () => (await advice()).includes('has 4500. It prints crisp'),
      'uncropped',
    );
    await settled(driver);
  });

  it('TIFF and SVG are taken in; a drawing that does harm does none', async () => {
    const { driver, address } = session;
    await begin(session);
    await driver.get(address);
    const folder = session.downloads.replace(/downloads$/, '');
    const drawing = join(folder, 'hostile.svg');
    writeFileSync(
      drawing,
      `<svg xmlns="http://www.w3.org/2000/svg" xmlns:xlink="http://www.w3.org/1999/xlink" viewBox="0 0 120 80" onload="window.harmed=1">
       <script>window.harmed=1;fetch('/harm')</script><image href="http://127.0.0.1:9/a.png" width="50" height="50"/>
       <rect x="10" y="10" width="60" height="40" fill="#c8102e"/></svg>`,
    );
    await upload(session, drawing);
    await settled(driver);
    await soon(() => driver.executeScript('return window.harmed ?? null')).to.equal(null);
    await (await find(driver, 'stop-artwork')).click();
    await (await find(driver, 'choice-artwork')).click();
    await findPainted(driver, 'artwork-canvas');
    const places = [
      [0.3, 0.3],
      [0.9, 0.9],
    ] as const;
    await soon(
      async () => (await readCanvas(driver, 'artwork-canvas', places)).pixels,
    ).to.deep.equal([
      [0xc8, 0x10, 0x2e, 255],
      [0, 0, 0, 0],
    ]);
    for (const [what, text, told] of [
      ['foreign', '<foreignObject width="9" height="9"/>', /foreign objects/],
      ['endless', '<g id="a"><use href="#a"/></g>', /multiply/],
      ['sizeless', '', /proportions/],
    ] as const) {
      await driver.get(address);
      const file = join(folder, `${what}.svg`);
      const box = what === 'sizeless' ? '' : 'viewBox="0 0 9 9"';
      writeFileSync(file, `<svg xmlns="http://www.w3.org/2000/svg" ${box}>${text}</svg>`);
      await upload(session, file);
      await until(
        driver,
        async () => told.test(await (await findCss(driver, 'body')).getText()),
        `${what} is refused in words`,
      );
    }
    await driver.get(address);
    await upload(session, fixture('s28_coffee.tif'));
    await settled(driver);
    await soon(() => driver.getTitle()).to.contain('s28_coffee');
  });
});

/** Places spread over a picture. */
const GRID: readonly (readonly [number, number])[] = Array.from({ length: 400 }, (_, i) => [
  ((i % 20) + 0.5) / 20,
  (Math.floor(i / 20) + 0.5) / 20,
]);
