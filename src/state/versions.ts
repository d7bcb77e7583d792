import { z } from 'zod';
import { createStore, type StoreApi } from 'zustand/vanilla';
import type { StoredVersion } from '../platform/browser/storage.ts';
import type { ProjectDocument } from './project-document.ts';

/** A state of a project that the maker named. */
export type NamedVersion = StoredVersion<ProjectDocument>;

/** A moment in ms since 1970 that a calendar has (ECMA-262, 21.4.1.1: time values reach 8.64e15). */
export const dateSchema = z.number().min(0).max(8.64e15);

/** Most versions of one project. */
export const MOST_VERSIONS = 100;

/** The named states of one open project, oldest first. They are apart from the document: undo never takes one away. */
export type VersionStore = StoreApi<{ readonly versions: readonly NamedVersion[] }>;

export function createVersionStore(versions: readonly NamedVersion[]): VersionStore {
  return createStore(() => ({ versions }));
}

/** Keeps a state under a name. Returns false when there are already {@link MOST_VERSIONS}. */
export function keepVersion(store: VersionStore, version: NamedVersion): boolean {
  const { versions } = store.getState();
  if (versions.length >= MOST_VERSIONS) return false;
  store.setState({ versions: [...versions, version] });
  return true;
}

/** Changes or removes (null) one version. */
export function changeVersion(
  store: VersionStore,
  id: string,
  change: (version: NamedVersion) => NamedVersion | null,
): void {
  store.setState(({ versions }) => ({
    versions: versions.flatMap((version) =>
      version.id === id ? (change(version) ?? []) : [version],
    ),
  }));
}

/** The document that results from going back to a version: what it was, under the project's present name. */
export function documentOfVersion(
  { document }: NamedVersion,
  present: ProjectDocument,
): ProjectDocument {
  return { ...document, name: present.name };
}
