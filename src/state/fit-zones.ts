import type { WorkerClient } from '../workers/client.ts';
import type { ArtworkJobs } from '../workers/artwork/jobs.ts';
import type { ZoneMembers } from '../workers/find/jobs.ts';
import { heightRequest, shownSamplesOf } from './document-facts.ts';
import type { ProjectDocument } from './project-document.ts';

/**
 * The colours that the zones of a document have when they are fitted to its stack; see `fitZones`.
 * @param reorder whether zones may change places; otherwise their order stays
 * @returns lowest zone first
 */
export async function fittedMembers(
  document: ProjectDocument,
  reorder: boolean,
  worker: Pick<WorkerClient<ArtworkJobs>, 'run'>,
  signal?: AbortSignal,
): Promise<ZoneMembers[]> {
  const { list } = document.heights.zones;
  const fitted = await worker.run(
    'fitZones',
    { request: heightRequest(document, shownSamplesOf(document)), reorder },
    signal ? { signal } : {},
  );
  return fitted.zones.flatMap(({ colours }, place) => {
    const id = list[fitted.order[place] ?? -1]?.id;
    return id === undefined ? [] : [{ id, colours }];
  });
}
