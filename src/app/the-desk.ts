import { GcodeDesk } from '../state/gcode-desk.ts';
import { startGcodeWorker } from '../workers/start-worker.ts';

let desk: GcodeDesk | null = null;

/** One desk for the whole visit: the file on it stays while other places are entered. Its worker is begun when it is first asked for. */
export function theDesk(): GcodeDesk {
  desk ??= new GcodeDesk(startGcodeWorker);
  return desk;
}

/** The file that lies on the desk, where there is one. */
export function deskFile(): File | null {
  return desk?.store.getState().file ?? null;
}
