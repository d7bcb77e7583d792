import { WorkerDied } from '../workers/client.ts';
import { toast } from '../ui/toast.ts';

/** Says that a worker failed, and what became of it. */
export function tellTrouble(error: Error): void {
  if (error instanceof WorkerDied && !error.final)
    toast.warning(
      `The part that computes stopped (${error.message}). It was begun anew; your work is kept.`,
    );
  else
    toast.error(
      `Something went wrong while computing: ${error.message}. Your work is kept; reload the page.`,
    );
}
