import { useMemo } from 'react';
import { freeLevel } from '#core/tags/check-tag.ts';
import { isColoured } from '#core/tags/tag.ts';
import { patchElement, setElementFilament, setTagLevels } from '../../state/edits/tag-edits.ts';
import { useDocument, useProject } from '../../state/project-context.ts';
import { Button } from '../../ui/Button.tsx';
import { Choice } from '../../ui/Choice.tsx';
import { Note } from '../../ui/Note.tsx';
import { nameOfElement, swapWords } from './tag-words.ts';
import styles from './TagPanel.module.css';
import { filamentsOfTag } from '../../state/tag-plan.ts';
import { useLevelWords, usePlannedTag, useTag } from './use-tag.ts';

/** Of more elements than this no better filament is looked for: each is a search of its own. */
const MOST_HINTED = 24;

/** How levels come about, what they cost in swaps, and what would want a change inside a layer. */
export function Levels({ onSelect }: { readonly onSelect: (id: string) => void }) {
  const tag = useTag();
  const planned = usePlannedTag();
  const change = useDocument((state) => state.change);
  const filaments = useDocument((state) => state.document.stack.filaments);
  const words = useLevelWords();
  const hint = useCheaper();
  const swaps = planned.bands.length - 1;
  const capital = swapWords(swaps).replace(/^./, (sign) => sign.toUpperCase());
  return (
    <section className={styles.levels} aria-label="Levels">
      <Choice
        label="Levels"
        value={tag.levels}
        options={[
          { value: 'found', text: 'Fewest swaps' },
          { value: 'own', text: 'Own levels' },
        ]}
        onChange={(levels) => {
          change(setTagLevels(levels));
        }}
      />
      <p data-testid="swap-words">
        <strong>{capital}.</strong>{' '}
        {hint
          ? `With ${hint.element} in ${hint.filament} it is ${swapWords(hint.swaps)}.`
          : swaps === 0
            ? 'All of it is one filament.'
            : 'No other filament of the tag for one element makes it fewer.'}
      </p>
      {planned.clashes.map(({ layer, element, other }) => {
        const own = tag.elements[element];
        if (!own || !isColoured(own)) return null;
        const against = tag.elements[other];
        const otherId = against && isColoured(against) ? against.filamentId : tag.plate.filamentId;
        const free = freeLevel(tag, own);
        const filament = filaments[otherId];
        return (
          <div key={element} className={styles.clash} data-testid="clash">
            <Note tone="attention" role="alert">
              <button
                type="button"
                className={styles.link}
                onClick={() => {
                  onSelect(own.id);
                }}
              >
                {nameOfElement(own)}
              </button>{' '}
              at the level of {against ? nameOfElement(against) : 'the plate'} needs a change inside
              layer {layer}.
            </Note>
            <div className={styles.offers}>
              <Button
                onClick={() => {
                  change(patchElement(own.id, { level: free }));
                }}
              >
                {own.way === 'raised' ? 'Raise' : 'Sink'} it to {words(free)}
              </Button>
              {filament ? (
                <Button
                  onClick={() => {
                    change(setElementFilament([own.id], filament));
                  }}
                >
                  Make both {filament.name}
                </Button>
              ) : null}
            </div>
          </div>
        );
      })}
    </section>
  );
}

/** The one change of an element's filament, to another one of the tag, that saves most swaps. */
function useCheaper(): { element: string; filament: string; swaps: number } | null {
  const { documents } = useProject();
  const tag = useTag();
  const bands = useDocument((state) => state.document.stack.bands);
  return useMemo(() => {
    const { document } = documents.getState();
    if (!document.tag || tag.levels !== 'found' || tag.elements.length > MOST_HINTED) return null;
    const used = filamentsOfTag(tag);
    let best: { element: string; filament: string; swaps: number } | null = null;
    for (const element of tag.elements) {
      if (!isColoured(element)) continue;
      for (const id of used) {
        const filament = document.stack.filaments[id];
        if (id === element.filamentId || !filament) continue;
        const { stack } = setElementFilament([element.id], filament)(document);
        const swaps = stack.bands.length - 1;
        if (swaps < (best?.swaps ?? bands.length - 1))
          best = { element: nameOfElement(element), filament: filament.name, swaps };
      }
    }
    return best;
  }, [documents, tag, bands]);
}
