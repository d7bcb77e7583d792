import type { Filament } from '#core/stack/filament.ts';
import type { SuggestedStack } from '../../workers/find/jobs.ts';
import { withSuggestion } from '../find-session.ts';
import { LONGEST_NAME } from '../project-document.ts';
import { documentOfVersion, type NamedVersion } from '../versions.ts';
import { alter, edit, type Edit } from './edit.ts';

/** Another name for the project; an empty one changes nothing. */
export function renameProject(name: string): Edit {
  return alter('name', (draft) => {
    const tidy = name.trim().slice(0, LONGEST_NAME);
    if (tidy !== '') draft.name = tidy;
  });
}

/** Goes back to a named version, under the project's present name. */
export function goBackTo(version: NamedVersion): Edit {
  return edit('version', (document) => documentOfVersion(version, document));
}

/** Takes a stack over that was found, with heights that follow as they did in the search. */
export function takeSuggestion(stack: SuggestedStack, rack: readonly Filament[]): Edit {
  return edit('found stack', (document) => withSuggestion(document, stack, rack));
}
