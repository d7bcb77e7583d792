import { DEMO_ASSETS } from '../../../demo/assets.ts';
import { demoFilaments } from '../../../demo/filaments.ts';
import { DEMO_VERSIONS, type DemoProject } from '../../../demo/projects.ts';
import { newProject } from '../../state/new-project.ts';
import type { ProjectDocument } from '../../state/project-document.ts';
import { loadArtwork } from './open-project.ts';
import type { ProjectSession } from './project-session.ts';
import { incoming } from './taken-in.ts';

/** A demo of a size of its own. */
function sized(document: ProjectDocument, { widthMm }: DemoProject): ProjectDocument {
  return widthMm === undefined ? document : { ...document, piece: { ...document.piece, widthMm } };
}

/** Begins with one of the demo pictures; with the demo's own stack and rule where `demo` is given. */
export async function takeDemo(
  session: ProjectSession,
  name: string,
  file: string,
  demo: DemoProject | null,
): Promise<void> {
  const url = DEMO_ASSETS[file]?.url;
  if (!url) return;
  try {
    const answer = await fetch(url);
    if (!answer.ok) throw new Error(`status ${answer.status}`);
    const bytes = new Uint8Array(await answer.arrayBuffer());
    await session.takeIn(name, async (options, { rack }) => {
      const loaded = await loadArtwork(bytes, options);
      const picture = { name: demo?.name ?? name, ...incoming(`${name}.png`, loaded.opened) };
      const document = demo
        ? // A demo comes with its own filaments, whatever the maker's rack holds.
          sized(
            newProject(picture, rack, demo.recipe, { kind: 'tone', ...demo.rule }, demoFilaments()),
            demo,
          )
        : newProject(picture, rack);
      const version = DEMO_VERSIONS[file];
      const isFresh = demo === null;
      if (!version) return { loaded, document, isFresh };
      const artwork = { ...document.artwork, edits: [...version.edits] };
      const edited = {
        name: version.name,
        createdAt: Date.now(),
        document: { ...document, artwork },
      };
      return { loaded, document, versions: [edited], isFresh };
    });
  } catch (error) {
    session.setTrouble(
      `${name}: the picture could not be loaded (${error instanceof Error ? error.message : String(error)}). Is the app still running?`,
    );
  }
}
