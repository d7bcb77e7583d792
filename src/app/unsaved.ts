import { bytesToHex, hexToBytes } from '@noble/hashes/utils.js';
import { z } from 'zod';
import { dataNamedBy, dataOf, keepData } from '../state/kept-data.ts';
import { migrateDocument } from '../state/migrate-document.ts';
import type { PutBy } from '../state/patient-storage.ts';
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

const SETTINGS_KEY = 'zesty-strata-unsaved-settings';
const settingsSchema = z.array(z.tuple([z.string(), z.unknown()]));

/** Where rack, printers and other small things are put by that are being written while the page goes. */
export const SETTINGS_PUT_BY: PutBy = {
  put: (settings) => {
    try {
      localStorage.setItem(SETTINGS_KEY, JSON.stringify(settings));
    } catch {
      // Full or blocked: the write to the database has to do.
    }
  },
  take: () => {
    try {
      return settingsSchema.parse(JSON.parse(localStorage.getItem(SETTINGS_KEY) ?? '[]'));
    } catch {
      return [];
    }
  },
  forget: () => {
    try {
      localStorage.removeItem(SETTINGS_KEY);
    } catch {
      // Then nothing was put by either.
    }
  },
};
