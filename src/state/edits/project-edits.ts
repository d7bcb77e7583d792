import type { FlatColour } from '#core/heights/flat.ts';
import type { Filament } from '#core/stack/filament.ts';
import type { SuggestedStack } from '../../workers/find/jobs.ts';
import { withSuggestion } from '../suggestion.ts';
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

/** How strongly a first stack's heights are calmed: single samples should not stand out of it. */
const FIRST_CALM = 0.3;

/**
 * Takes the first stack that was looked for, calmed.
 * @param flat colours of flat art with their heights; none for all other pictures
 */
export function takeFirst(
  stack: SuggestedStack,
  rack: readonly Filament[],
  flat: readonly FlatColour[],
): Edit {
  return edit('first stack', (document) => {
    const found = withSuggestion(document, stack, rack);
    const { heights } = found;
    const rule = flat.length > 0 ? 'flat' : heights.rule;
    return {
      ...found,
      heights: {
        ...heights,
        rule,
        calm: FIRST_CALM,
        flat: { colours: flat.length > 0 ? flat.map((one) => ({ ...one })) : heights.flat.colours },
        found: heights.found && { ...heights.found, rule, first: true },
      },
    };
  });
}
