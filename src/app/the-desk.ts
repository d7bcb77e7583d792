import { GcodeDesk } from '../state/gcode-desk.ts';
import { startGcodeWorker } from '../workers/start-worker.ts';
import { askDeskFile } from './desk-file.ts';

let desk: GcodeDesk | null = null;

/** One desk for the whole visit: the file on it stays while other places are entered. Its worker is begun when it is first asked for. */
export function theDesk(): GcodeDesk {
  if (desk) return desk;
  const made = new GcodeDesk(startGcodeWorker);
  askDeskFile(() => made.store.getState().file);
  desk = made;
  return made;
}
