import { useSyncExternalStore } from 'react';
import { STOPS, type Stop } from '../state/view-store.ts';

/** Where in the app one is. */
export type Route =
  | { readonly place: 'shelf' }
  | { readonly place: 'printers' }
  /** Any sliced file, compared with the sheet of a project where one is named. */
  | {
      readonly place: 'gcode';
      readonly projectId: string | null;
      /** Which of its pieces, where they are in layers of several heights; see `useBatch`. */
      readonly batch: number;
    }
  | { readonly place: 'rack'; readonly wedgeOf: string | null }
  | { readonly place: 'project'; readonly id: string; readonly stop: Stop };

const MOVED = 'strata-moved';

/** Reads a path; anything unknown is the shelf. */
export function routeOf(pathname: string): Route {
  const [, place, id, stop] = pathname.split('/');
  if (place === 'rack')
    return { place, wedgeOf: id === 'wedge' && stop ? decodedOrAsIs(stop) : null };
  if (place === 'printers') return { place };
  if (place === 'gcode')
    return {
      place,
      projectId: id ? decodedOrAsIs(id) : null,
      batch: /^\d{1,2}$/.test(stop ?? '') ? Number(stop) : 0,
    };
  if (place !== 'project' || !id) return { place: 'shelf' };
  return { place: 'project', id, stop: STOPS.find((known) => known === stop) ?? 'stack' };
}

/** A part of a path read; one with a bad escape names nothing, and is left as it is. */
function decodedOrAsIs(part: string): string {
  try {
    return decodeURIComponent(part);
  } catch {
    return part;
  }
}

/** The path of a stop. */
export function pathOf(id: string, stop: Stop): string {
  return `/project/${id}/${stop}`;
}

export const SHELF_PATH = '/';
export const RACK_PATH = '/rack';
export const PRINTERS_PATH = '/printers';
export const GCODE_PATH = '/gcode';

/**
 * The path of the desk, with the sheet of a project.
 * @param batch which of its pieces, where they are in layers of several heights
 */
export function gcodePath(projectId: string | null, batch = 0): string {
  if (projectId === null) return GCODE_PATH;
  return `${GCODE_PATH}/${encodeURIComponent(projectId)}${batch > 0 ? `/${batch}` : ''}`;
}

/** The path of the step wedge of a filament. */
export function wedgePath(filamentId: string): string {
  return `${RACK_PATH}/wedge/${encodeURIComponent(filamentId)}`;
}

/** Goes somewhere without loading the page anew: what is only in memory must survive. */
export function goTo(path: string, replace = false): void {
  if (path === window.location.pathname) return;
  if (replace) window.history.replaceState(null, '', path);
  else window.history.pushState(null, '', path);
  window.dispatchEvent(new Event(MOVED));
}

/** The present path, followed as it changes. */
export function usePath(): string {
  return useSyncExternalStore(
    (listen) => {
      window.addEventListener('popstate', listen);
      window.addEventListener(MOVED, listen);
      return () => {
        window.removeEventListener('popstate', listen);
        window.removeEventListener(MOVED, listen);
      };
    },
    () => window.location.pathname,
  );
}
