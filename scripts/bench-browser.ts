/**
 * The part of `npm run bench` that needs a browser: what blocks the page while an edge is dragged over a megapixel, and how
 * much script is loaded before the picture shows. Wants a build. Writes docs/bench/browser.md.
 */
import { readFileSync, writeFileSync } from 'node:fs';
import { cpus } from 'node:os';
import { gzipSync } from 'node:zlib';
import { Key } from 'selenium-webdriver';
import {
  chooseFrom,
  find,
  findButton,
  findCss,
  settled,
  startSession,
  typeOver,
  until,
} from '../tests/e2e/browser.ts';

const MOVES = 40;

const session = await startSession({
  asMakers: true,
  beforePage: `window.longTasks = [];
   new PerformanceObserver((list) => {
     for (const { duration } of list.getEntries()) window.longTasks.push(duration);
   }).observe({ type: 'longtask' });
   window.scripts = [];
   new PerformanceObserver((list) => {
     for (const { scripts } of list.getEntries())
       window.scripts.push(scripts.reduce((sum, { duration }) => sum + duration, 0));
   }).observe({ type: 'long-animation-frame' });`,
});
const { driver, address } = session;
const rows: string[] = [];
const known = (): Promise<unknown> =>
  until(
    driver,
    async () => /\d+\.\d/.exec(await (await find(driver, 'ledger-error')).getText()),
    'the colour error is known',
  );

/**
 * Drags a handle up and down (or to both sides) and tells the tasks of more than 50 ms (the browser reports no shorter ones), and how long the
 * app's scripts ran in each frame that took longer than that.
 */
async function drag(
  place: string,
  across = false,
): Promise<{ tasks: number[]; scripts: number[] }> {
  const handle = await findCss(driver, place.startsWith('[') ? place : `[data-testid="${place}"]`);
  const { x, y, width, height } = await handle.getRect();
  // Places of the page, since the handle moves away.
  const [left, top] = [Math.round(x + width / 2), Math.round(y + height / 2)];
  await driver.executeScript('window.longTasks.length = 0; window.scripts.length = 0');
  const actions = driver.actions({ async: true }).move({ x: left, y: top }).press();
  for (let i = 1; i <= MOVES; i += 1) {
    const by = Math.round(30 * Math.sin(i / 4));
    actions.move({ x: left + (across ? by : 0), y: top + (across ? 0 : by), duration: 40 });
  }
  await actions.release().perform();
  return driver.executeScript('return { tasks: window.longTasks, scripts: window.scripts }');
}

/** Drags the bracket of a range of hues, with a turn, over a picture of one megapixel; undone afterwards. */
async function dragHue(): Promise<Awaited<ReturnType<typeof drag>>> {
  await (await find(driver, 'stop-artwork')).click();
  await chooseFrom(driver, 'Add an edit', 'Range of hues');
  await typeOver(driver, 'edit-turn', '60');
  await settled(driver);
  const told = await drag('hue-centre', true);
  await settled(driver);
  await chooseFrom(driver, 'More for Range of hues', 'Remove');
  await settled(driver);
  return told;
}

try {
  await driver.get(address);
  await (await findButton(driver, 'Begin with Dome at dusk')).click();
  await known();
  const scripts = await driver.executeScript<string[]>(
    `return performance.getEntriesByType('resource').map(({ name }) => new URL(name).pathname)
       .filter((path) => path.endsWith('.js'))`,
  );
  const gzipped = [...new Set(scripts)].map((path) => ({
    path,
    bytes: gzipSync(readFileSync(new URL(`../dist/client${path}`, import.meta.url))).length,
  }));
  const ofHue = await dragHue();
  await (await find(driver, 'stop-relief')).click();
  const width = await find(driver, 'width-mm');
  await width.sendKeys(Key.chord(Key.CONTROL, 'a'), '245', Key.ENTER);
  await until(
    driver,
    async () => (await (await find(driver, 'ledger-size')).getText()).startsWith('245'),
    'the relief is larger',
  );
  await (await find(driver, 'stop-stack')).click();
  await known();
  const longest = (times: readonly number[]): string =>
    times.length > 0 ? Math.max(...times).toFixed(0) : 'none';
  rows.push(
    '| what | tasks above 50 ms | longest, ms | longest run of scripts in a slow frame, ms |',
    '|---|---|---|---|',
    `| a range of hues dragged on the Artwork stop, ${MOVES} moves, 1 MP | ${ofHue.tasks.length} | ${longest(ofHue.tasks)} | ${longest(ofHue.scripts)} |`,
  );
  for (const rule of ['tone', 'closest']) {
    await (await find(driver, `choice-${rule}`)).click();
    await driver.sleep(6000);
    for (const edge of ['edge-C', 'edge-F']) {
      const { tasks, scripts } = await drag(edge);
      const what = edge === 'edge-F' ? 'the top edge' : 'an inner edge';
      rows.push(
        `| ${rule}: ${what} dragged, ${MOVES} moves, 1 MP | ${tasks.length} | ${longest(tasks)} | ${longest(scripts)} |`,
      );
      await driver.sleep(4000);
    }
  }
  const lean = await drag('[aria-label="Lean from colour to relief"]', true);
  rows.push(
    `| closest: the slider from colour to relief dragged, ${MOVES} moves, 1 MP | ${lean.tasks.length} | ${longest(lean.tasks)} | ${longest(lean.scripts)} |`,
  );
  await settled(driver);
  await (await find(driver, 'choice-zones')).click();
  await findCss(driver, '[data-testid=zone-upper]');
  await settled(driver);
  const span = await drag('zone-upper');
  rows.push(
    `| zones: the span of a zone dragged, ${MOVES} moves, 1 MP | ${span.tasks.length} | ${longest(span.tasks)} | ${longest(span.scripts)} |`,
  );
  await (await find(driver, 'choice-closest')).click();
  await settled(driver);
  // What undo goes back to was worked out before: it is found under its key.
  const undoes: string[] = [];
  for (const [what, change] of [
    [
      'a boundary',
      () => findCss(driver, '[data-testid=edge-C]').then((edge) => edge.sendKeys(Key.ARROW_UP)),
    ],
    ['a height rule', async () => (await find(driver, 'choice-tone')).click()],
  ] as const) {
    await change();
    await settled(driver);
    const { frames, ms } = await driver.executeAsyncScript<{ frames: number; ms: number }>(
      `const done = arguments[arguments.length - 1];
       const canvas = document.querySelector('[data-testid=print-canvas]');
       const before = canvas.dataset.painted;
       const begun = performance.now();
       let frames = 0;
       document.body.dispatchEvent(
         new KeyboardEvent('keydown', { key: 'z', ctrlKey: true, bubbles: true, cancelable: true }));
       const look = () => {
         frames += 1;
         if (canvas.dataset.painted !== before || frames > 600)
           return done({ frames, ms: performance.now() - begun });
         requestAnimationFrame(look);
       };
       requestAnimationFrame(look);`,
    );
    undoes.push(`${what} in ${frames} frame${frames === 1 ? '' : 's'} (${ms.toFixed(0)} ms)`);
    await settled(driver);
  }
  // While a large export is made, edges go on moving and the print follows.
  await (await find(driver, 'choice-tone')).click();
  await (await find(driver, 'stop-relief')).click();
  const size = async (field: string, text: string): Promise<void> => {
    await (await find(driver, field)).sendKeys(Key.chord(Key.CONTROL, 'a'), text, Key.ENTER);
  };
  await size('sample-mm', '0.2');
  await size('width-mm', '300');
  await (await findButton(driver, 'keeps the proportions')).click();
  await size('height-mm', '300');
  await settled(driver);
  await (await findCss(driver, '[data-testid=format] option[value="3mf"]')).click();
  await (await findButton(driver, 'Download 3MF')).click();
  await (await find(driver, 'stop-stack')).click();
  await find(driver, 'edge-C');
  const answers = await driver.executeAsyncScript<number[]>(
    `const done = arguments[arguments.length - 1];
     const edge = document.querySelector('[data-testid=edge-C]');
     const canvas = document.querySelector('[data-testid=print-canvas]');
     const times = [];
     const next = (n) => {
       if (n === 40) return done(times);
       const before = canvas.dataset.painted;
       const begun = performance.now();
       const key = n % 2 === 0 ? 'ArrowUp' : 'ArrowDown';
       edge.dispatchEvent(new KeyboardEvent('keydown', { key, bubbles: true, cancelable: true }));
       const look = () => {
         if (canvas.dataset.painted === before) return requestAnimationFrame(look);
         times.push(performance.now() - begun);
         setTimeout(() => next(n + 1), 60);
       };
       requestAnimationFrame(look);
     };
     next(0);`,
  );
  answers.sort((a, b) => a - b);
  const total = gzipped.reduce((sum, { bytes }) => sum + bytes, 0);
  const report = `# Bench in the browser

Made by \`npm run bench\`: Chromium without a graphics card, a relief of one megapixel.
Machine: ${cpus()[0]?.model ?? 'unknown processor'}, ${cpus().length} cores.

${rows.join('\n')}

Frames are drawn by software here, and a frame waits for the one before. The last column is the longest time that the
app's own scripts ran within one slow frame, over all tasks in it: pointer, stack, section, figures and canvas.

Undo at 1 MP showed ${undoes.join(', and ')} (limit: two frames).

While a 3MF of 1500 x 1500 samples was made, the print followed a moved edge within ${(answers.at(-1) ?? 0).toFixed(0)} ms at most, ${(answers[20] ?? 0).toFixed(0)} ms in the
median of ${answers.length} (limit 100 ms).

Script loaded before the picture of a project shows: ${(total / 1024).toFixed(0)} kB gzipped in ${gzipped.length} files (limit 320 kB).
`;
  writeFileSync(new URL('../docs/bench/browser.md', import.meta.url), report);
  process.stdout.write(report);
  for (const { path, bytes } of gzipped.sort((a, b) => b.bytes - a.bytes).slice(0, 8))
    process.stderr.write(`${(bytes / 1024).toFixed(0)} kB ${path}\n`);
} finally {
  await session.close();
}
