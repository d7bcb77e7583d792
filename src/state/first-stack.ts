import { firstRequest, flatColoursOf } from '#core/find/first-look.ts';
import { placesOfTone } from '#core/heights/tone.ts';
import { coarsenSamples } from '#core/relief/sampling.ts';
import { meanSpreadMm, type Filament } from '#core/stack/filament.ts';
import { startFindWorker } from '../workers/start-worker.ts';
import { samplesOf } from './document-facts.ts';
import { takeFirst } from './edits/project-edits.ts';
import { withSuggestion } from './suggestion.ts';
import { FIRST_LEAN } from './new-project.ts';
import type { OpenProject } from './project-context.ts';
import { recipeOf } from './recipe.ts';

/** Samples that a first stack is looked for with: its colours decide, not its detail. */
const LOOKED_AT = 60_000;

/**
 * Looks for a first stack for the picture of a project, in place of the greys that it begins with: one step of history. Where the
 * maker has touched the stack or its heights in the meantime nothing is done.
 * @param filaments to choose from
 * @returns whether the stack was taken
 */
export async function beginWell(
  { documents, worker, rack }: Pick<OpenProject, 'documents' | 'worker' | 'rack'>,
  filaments: readonly Filament[] = rack.filter(({ onHand }) => onHand),
): Promise<boolean> {
  const { document } = documents.getState();
  const { stack, heights } = document;
  if (filaments.length < 2) return false;
  const finder = startFindWorker();
  try {
    const samples = {
      ...coarsenSamples(samplesOf(document), LOOKED_AT),
      recipe: recipeOf(document),
    };
    const cells = await worker.run('colours', {
      samples,
      importance: [],
      selections: [],
      spread: { spreadMm: meanSpreadMm(filaments), sampleMm: samples.sampleMm },
    });
    if (cells.count.length < 2) return false;
    const flat = flatColoursOf(cells);
    const lean = { price: FIRST_LEAN, places: placesOfTone(heights.tone) };
    const request = firstRequest(
      cells,
      filaments,
      { grid: stack.grid, leastLayers: heights.leastLayers },
      lean,
      flat,
    );
    const found = await finder.run('find', request);
    const best = found.ok ? found.value.curve.at(-1) : undefined;
    if (!best) return false;
    const after = withSuggestion(document, best, rack);
    const colours =
      flat === undefined
        ? []
        : (
            await worker.run('flatColours', {
              samples,
              count: flat,
              stack: { grid: stack.grid, bands: after.stack.bands },
              filaments: after.stack.filaments,
            })
          ).colours;
    const now = documents.getState();
    const untouched = now.document.stack === stack && now.document.heights === heights;
    // A drag that is under way is a touch as well.
    if (!untouched || now.gestureFrom !== null) return false;
    now.change(takeFirst(best, rack, colours));
    return true;
  } catch {
    // The project was closed, or the worker says what is wrong by the live print: the greys stay.
    return false;
  } finally {
    finder.close();
  }
}
