import { toast } from 'sonner';

/** Says that a worker failed. */
export function tellTrouble(error: Error): void {
  toast.error(
    `Something went wrong while computing: ${error.message}. Your work is kept; reload the page.`,
  );
}
