import { Key } from 'selenium-webdriver';
import { find, findCss, middleOf, mouse, settled, startSession, type Session } from './browser.ts';
import { openDemo } from './fixtures.ts';

/** Nothing that was done longer ago than this may be lost, ms. */
export const MAY_BE_LOST_MS = 2000;

/** What was done without any rest until the browser was killed, and what was there afterwards. */
export interface KillOutcome {
  readonly work: string;
  /** Steps that were done and are older than {@link MAY_BE_LOST_MS} at the kill. */
  readonly safe: number;
  /** Steps that the next visit found. */
  readonly kept: number;
  readonly done: number;
}

/** A way to work without rest: makes one step, and tells how many steps can be seen in the project. */
interface Work {
  readonly name: string;
  readonly begin?: (session: Session) => Promise<void>;
  readonly step: (session: Session, n: number) => Promise<void>;
  readonly everyMs: number;
}

/** Steps are counted in layers of the highest band: every step makes the stack one layer taller. */
const TOP_EDGE = 'edge-F';

const layersOf = async (session: Session): Promise<number> =>
  Number(await (await find(session.driver, TOP_EDGE)).getAttribute('aria-valuenow'));

/** Where the drag that never ends began. */
let grabbed = { x: 0, y: 0 };

const WORKS: readonly Work[] = [
  {
    name: 'a key every 300 ms',
    everyMs: 300,
    step: async ({ driver }) => (await find(driver, TOP_EDGE)).sendKeys(Key.ARROW_UP),
  },
  {
    name: 'a key as fast as it goes',
    everyMs: 40,
    step: async ({ driver }) => (await find(driver, TOP_EDGE)).sendKeys(Key.ARROW_UP),
  },
  {
    name: 'a slider held before keys are pressed',
    everyMs: 250,
    begin: async ({ driver }) => {
      // A press that moves nothing, let go again: what follows must be saved all the same.
      const thumb = await findCss(driver, '[aria-label="Calm, percent"]');
      await driver.actions().move({ origin: thumb }).press().release().perform();
    },
    step: async ({ driver }) => (await find(driver, TOP_EDGE)).sendKeys(Key.ARROW_UP),
  },
  {
    name: 'a drag that never ends',
    everyMs: 150,
    begin: async ({ driver }) => {
      const { x, y } = await middleOf(await find(driver, TOP_EDGE));
      grabbed = { x, y };
      await mouse(driver, 'mousePressed', x, y);
    },
    step: async ({ driver }, n) => mouse(driver, 'mouseMoved', grabbed.x, grabbed.y - 7 * (n + 1)),
  },
];

/**
 * Works on a project without rest and kills the browser after some time; looks what is there then.
 * @param profile a folder of its own, kept over the kill
 */
export async function workAndKill(
  profile: string,
  port: number,
  which: number,
  afterMs: number,
): Promise<KillOutcome> {
  const work = WORKS[which % WORKS.length] as Work;
  const session = await startSession({ profile, port });
  const id = await openDemo(session, 'Dome at dusk');
  const first = await layersOf(session);
  await work.begin?.(session);
  const seen: { readonly at: number; readonly layers: number }[] = [];
  const end = Date.now() + afterMs;
  for (let n = 0; Date.now() < end; n += 1) {
    const began = Date.now();
    await work.step(session, n);
    // What is on the screen now was done before now.
    seen.push({ at: Date.now(), layers: await layersOf(session) });
    await new Promise((resolve) =>
      setTimeout(resolve, Math.max(0, work.everyMs - (Date.now() - began))),
    );
  }
  const killedAt = Date.now();
  await session.kill();
  const next = await startSession({ profile, port });
  try {
    await next.driver.get(`${next.address}/project/${id}/stack`);
    await settled(next.driver);
    const kept = await layersOf(next);
    const safe = seen.filter(({ at }) => killedAt - at > MAY_BE_LOST_MS).at(-1)?.layers ?? first;
    return {
      work: work.name,
      safe: safe - first,
      kept: kept - first,
      done: (seen.at(-1)?.layers ?? first) - first,
    };
  } finally {
    await next.close();
  }
}
