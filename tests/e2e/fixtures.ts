import { readFileSync } from 'node:fs';
import { DEMO_PICTURES, DEMO_PROJECTS } from '../../demo/projects.ts';
import { decodePicture } from '../../src/platform/node/decode-picture.ts';
import { demoFilaments } from '../helpers/demo.ts';
import type { Filament } from '#core/stack/filament.ts';
import type { ProjectDocument } from '../../src/state/project-document.ts';
import { newProject } from '../../src/state/new-project.ts';
import type { Stop } from '../../src/state/view-store.ts';
import { artworkHandlers } from '../../src/workers/artwork/handlers.ts';
import { emptyPage, find, settled, type Session } from './browser.ts';
import { inSlice } from '../helpers/slices.ts';

/** A demo picture as a project of its own, worked out here. */
interface DemoFixture {
  readonly document: ProjectDocument;
  readonly base64: string;
}

const made = new Map<string, Promise<DemoFixture>>();

async function makeDemo(name: string): Promise<DemoFixture> {
  const demo = DEMO_PROJECTS.find((one) => one.name === name);
  const file = demo?.file ?? DEMO_PICTURES.find((one) => one.name === name)?.file;
  if (file === undefined) throw new Error(`no demo ${name}`);
  const bytes = new Uint8Array(
    readFileSync(new URL(`../../demo/art/${file}.png`, import.meta.url)),
  );
  const { open } = artworkHandlers(async (content) => {
    const decoded = await decodePicture(content);
    return decoded.ok ? { ok: true, value: { kind: 'png', raster: decoded.value } } : decoded;
  });
  const opened = await open(
    { bytes },
    () => undefined,
    () => undefined,
  );
  if (!opened.ok) throw new Error(opened.fault.code);
  const { digest, width, height, box, histogram, kind } = opened.value;
  const document = newProject(
    {
      name,
      artwork: { fileName: `${name}.png`, kind, digest, width, height, box },
      histogram,
    },
    Object.values(demoFilaments()),
    demo?.recipe,
    demo ? { kind: 'tone', ...demo.rule } : undefined,
  );
  return { document, base64: Buffer.from(bytes).toString('base64') };
}

/** Those of two demo projects and a few more: a search among these takes half the time of one among all. */
const FEW = 'soot midnight damson beet orchid rust coral straw sand lagoon-thin dusk chalk';

/** A beginning for a test that looks for stacks: few filaments, and not for long. */
export const QUICK_SEARCH = {
  rack: FEW.split(' ').flatMap((id) => demoFilaments()[id] ?? []),
  findEffort: '1',
} as const;

/** What a test begins with. */
export interface Beginning {
  /** A demo picture that is a project already; without it there is none. */
  readonly demo?: string;
  /** Changes the project before it is put there. */
  readonly change?: (document: ProjectDocument) => ProjectDocument;
  /** The maker's rack; the shipped one by default. */
  readonly rack?: readonly Filament[];
  /** How much a search looks at; as the shipped app by default. */
  readonly findEffort?: '1' | '3' | '10';
}

/**
 * Empties everything that the browser keeps for the app, and puts a beginning there. The app is not running meanwhile.
 * @returns the id of the project; an empty text where there is none
 */
export async function begin(
  session: Session,
  { demo, change = (document) => document, rack, findEffort }: Beginning = {},
): Promise<string> {
  const { driver } = session;
  await driver.get(emptyPage(session));
  let project: object | null = null;
  let base64 = '';
  const id = demo === undefined ? '' : crypto.randomUUID().slice(0, 13);
  if (demo !== undefined) {
    const kept = made.get(demo) ?? makeDemo(demo);
    made.set(demo, kept);
    const fixture = await kept;
    const now = Date.now();
    const document = change(fixture.document);
    project = { id, document, createdAt: now, changedAt: now, thumbnail: null, deletedAt: null };
    base64 = fixture.base64;
  }
  const fault: string | null = await driver.executeAsyncScript(
    `const [project, base64, rack, findEffort, done] = arguments;
     localStorage.clear();
     if (findEffort) localStorage.setItem('zesty-strata-find-effort', findEffort);
     sessionStorage.clear();
     const opening = indexedDB.open('zesty-strata', 1);
     opening.onupgradeneeded = () => {
       const db = opening.result;
       db.createObjectStore('projects', { keyPath: 'id' });
       db.createObjectStore('artworks', { keyPath: 'digest' });
       db.createObjectStore('settings', { keyPath: 'key' });
     };
     opening.onerror = () => done('open: ' + opening.error);
     opening.onsuccess = () => {
       const db = opening.result;
       const names = ['projects', 'artworks', 'settings'];
       const change = db.transaction(names, 'readwrite');
       for (const name of names) change.objectStore(name).clear();
       if (project) {
         change.objectStore('projects').put(project);
         const bytes = Uint8Array.from(atob(base64), (sign) => sign.charCodeAt(0));
         change.objectStore('artworks').put({ digest: project.document.artwork.file.digest, bytes });
       }
       if (rack) change.objectStore('settings').put({ key: 'rack', value: rack });
       change.oncomplete = () => { db.close(); done(null); };
       change.onabort = () => done('write: ' + change.error);
     };`,
    project,
    base64,
    rack ? { filaments: rack, tuning: 1 } : null,
    findEffort ?? null,
  );
  if (fault !== null) throw new Error(fault);
  return id;
}

/** Samples of what is asked without regard to them, mm: four times as fast as those of the demo projects. */
const COARSE_MM = 0.4;

/**
 * Begins with a demo picture as a project in coarse samples, opens it at a stop, and waits until it is worked out. For what
 * does not depend on the samples, which is nearly everything.
 */
export function openDemo(
  session: Session,
  demo: string,
  stop: Stop = 'stack',
  { change = (document) => document, ...beginning }: Omit<Beginning, 'demo'> = {},
): Promise<string> {
  const coarse = (document: ProjectDocument): ProjectDocument =>
    change(inSlice('piece', { sampleMm: COARSE_MM })(document));
  return openWhole(session, demo, stop, { ...beginning, change: coarse });
}

/** The same with the samples that the demo project has. */
export async function openWhole(
  session: Session,
  demo: string,
  stop: Stop = 'stack',
  beginning: Omit<Beginning, 'demo'> = {},
): Promise<string> {
  const id = await begin(session, { demo, ...beginning });
  await session.driver.get(`${session.address}/project/${id}/${stop}`);
  await (await find(session.driver, `stop-${stop}`)).getText();
  await settled(session.driver);
  return id;
}
