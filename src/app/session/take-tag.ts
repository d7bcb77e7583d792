import { demoFilaments } from '../../../demo/filaments.ts';
import type { DemoTag } from '../../../demo/tags.ts';
import type { Outline } from '#core/tags/outline-kinds.ts';
import { newTag, noPictureBytes, projectOfTag, TAG_GRID } from '../../state/new-tag.ts';
import type { ProjectDocument } from '../../state/project-document.ts';
import type { Filament } from '#core/stack/filament.ts';
import { loadArtwork } from './open-project.ts';
import type { ProjectSession } from './project-session.ts';
import { readyForLettering } from './ready-for.ts';

/** Begins a tag of a form. */
export function takeNewTag(session: ProjectSession, name: string, outline: Outline): Promise<void> {
  return take(session, name, (rack) => newTag(name, outline, rack));
}

/** Begins with one of the demo tags, in its own filaments whatever the rack holds. */
export function takeDemoTag(session: ProjectSession, demo: DemoTag): Promise<void> {
  return take(session, demo.name, (rack) =>
    projectOfTag(demo.name, demo.tag, TAG_GRID, [...rack, ...demoFilaments()]),
  );
}

async function take(
  session: ProjectSession,
  name: string,
  make: (rack: readonly Filament[]) => ProjectDocument,
): Promise<void> {
  await session.takeIn(name, async (options, { rack }) => {
    // The faces come first: levels follow from what lies on what.
    await readyForLettering();
    return { loaded: await loadArtwork(noPictureBytes(), options), document: make(rack) };
  });
}
