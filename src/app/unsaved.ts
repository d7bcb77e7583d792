import { bytesToHex, hexToBytes } from '@noble/hashes/utils.js';
import { z } from 'zod';
import { dataNamedBy, dataOf, keepData } from '../state/kept-data.ts';
import { migrateDocument } from '../state/migrate-document.ts';
import type { StoredBytes } from '../platform/browser/storage.ts';
import type { PutBy, Unwritten } from '../state/patient-storage.ts';
import type { ProjectDocument } from '../state/project-document.ts';

/**
 * The last change of a project that was left before it could be saved. The database writes too late for a page that is
 * being closed; this store writes at once.
 */
const keyOf = (projectId: string): string => `zesty-strata-unsaved/${projectId}`;

const unsavedSchema = z.object({
  changedAt: z.number(),
  document: z.unknown(),
  data: z.array(z.string()).optional(),
});

/** Puts a document by while the page goes away. */
export function putByUnsaved(projectId: string, document: ProjectDocument): void {
  try {
    // What was painted last may not be in the database either.
    const data = dataNamedBy([document]).flatMap((digest) => {
      const bytes = dataOf(digest);
      return bytes ? [bytesToHex(bytes)] : [];
    });
    localStorage.setItem(
      keyOf(projectId),
      JSON.stringify({ changedAt: Date.now(), document, data }),
    );
  } catch {
    // Full or blocked: the write to the database, which goes on beside this one, has to do.
  }
}

/** Forgets what was put by, once it is saved. */
export function forgetUnsaved(projectId: string): void {
  try {
    localStorage.removeItem(keyOf(projectId));
  } catch {
    // Then nothing was put by either.
  }
}

/** What was put by of a project after it was last saved; undefined when there is nothing newer. */
export function takeUnsaved(
  projectId: string,
  savedAt: number,
): { readonly changedAt: number; readonly document: ProjectDocument } | undefined {
  try {
    const text = localStorage.getItem(keyOf(projectId));
    if (text === null) return undefined;
    const { changedAt, document, data = [] } = unsavedSchema.parse(JSON.parse(text));
    for (const one of data) keepData(hexToBytes(one).slice());
    const migrated = changedAt > savedAt ? migrateDocument(document) : undefined;
    return migrated && { changedAt, document: migrated };
  } catch {
    return undefined;
  }
}

/**
 * Calls back when another tab puts by a change of a project: it may arrive after that tab has let go.
 * @returns ends the watch
 */
export function onPutByElsewhere(projectId: string, heard: () => void): () => void {
  const listen = (event: StorageEvent): void => {
    if (event.key === keyOf(projectId) && event.newValue !== null) heard();
  };
  window.addEventListener('storage', listen);
  return () => {
    window.removeEventListener('storage', listen);
  };
}

const UNWRITTEN_KEY = 'zesty-strata-unwritten';

const bytesSchema = z
  .object({ digest: z.string(), hex: z.string() })
  .transform(({ digest, hex }) => ({ digest, bytes: hexToBytes(hex).slice() }));

/** What was put by of a project: pictures of it are made again, so they are left out. */
const unwrittenSchema = z.object({
  settings: z.array(z.tuple([z.string(), z.unknown()])),
  projects: z.array(
    z.object({
      project: z.looseObject({
        id: z.string(),
        document: z.unknown(),
        createdAt: z.number(),
        changedAt: z.number(),
        deletedAt: z.number().nullable(),
      }),
      artwork: bytesSchema.optional(),
      beside: z.array(bytesSchema),
      history: z.unknown(),
    }),
  ),
});

const hexOf = ({ digest, bytes }: StoredBytes) => ({ digest, hex: bytesToHex(bytes) });

/** Texts for what is unwritten, the fullest first: where the picture or the steps to undo find no room, the work itself does. */
function* textsOf({ settings, projects }: Unwritten): Generator<string> {
  for (const [withPicture, withHistory] of [
    [true, true],
    [false, true],
    [false, false],
  ])
    yield JSON.stringify({
      settings,
      projects: projects.map(({ project, artwork, beside, history }) => ({
        project: {
          ...project,
          thumbnail: null,
          versions: project.versions?.map((version) => ({ ...version, thumbnail: null })),
        },
        ...(withPicture && artwork ? { artwork: hexOf(artwork) } : {}),
        beside: beside.map(hexOf),
        ...(withHistory ? { history } : {}),
      })),
    });
}

/** Where projects, rack, printers and other small things are put by that storage has not taken while the page goes. */
export const UNWRITTEN_PUT_BY: PutBy = {
  put: (unwritten) => {
    for (const text of textsOf(unwritten))
      try {
        localStorage.setItem(UNWRITTEN_KEY, text);
        return;
      } catch {
        // Full, and the next one is smaller; or blocked, and the write to the database has to do.
      }
  },
  take: () => {
    try {
      const { settings, projects } = unwrittenSchema.parse(
        JSON.parse(localStorage.getItem(UNWRITTEN_KEY) ?? '{"settings":[],"projects":[]}'),
      );
      return {
        settings,
        projects: projects.map((one) => ({ ...one, project: { ...one.project, thumbnail: null } })),
      };
    } catch {
      return { settings: [], projects: [] };
    }
  },
  forget: () => {
    try {
      localStorage.removeItem(UNWRITTEN_KEY);
    } catch {
      // Then nothing was put by either.
    }
  },
};
