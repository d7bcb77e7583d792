import { useMemo, type ReactNode } from 'react';
import { freeLevel } from '#core/tags/check-tag.ts';
import { isColoured } from '#core/tags/tag.ts';
import { FLUSH_PRINTS, flushSwaps, type FlushPrint } from '#core/stack/flush.ts';
import type { WayFault } from '#core/tags/plan-tag.ts';
import type { Edit } from '../../state/edits/edit.ts';
import {
  patchElement,
  setElementFilament,
  setFlush,
  setPlateLayers,
  setTagLevels,
  setWays,
} from '../../state/edits/tag-edits.ts';
import type { KeptElement, TagSlice } from '../../state/project-document.ts';
import { useDocument, useProject } from '../../state/project-context.ts';
import { Button } from '../../ui/Button.tsx';
import { Choice } from '../../ui/Choice.tsx';
import { Note } from '../../ui/Note.tsx';
import { nameOfElement, swapWords, WAY_FAULTS } from './tag-words.ts';
import styles from './TagPanel.module.css';
import { filamentsOfTag, plannedTagOf } from '../../state/tag-plan.ts';
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
  const { swaps } = planned;
  const inlays = planned.face?.inlays.filaments.length ?? 0;
  const standing = planned.wayFaults.filter(({ why }) => why === 'stands-out').length;
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
      {inlays > 0 ? (
        <Choice
          label="Flush face"
          value={tag.flush.print}
          options={FLUSH_PRINTS.map((print) => ({
            value: print,
            text: `${PRINT_WORDS[print]} (${flushSwaps({ ...tag.flush, print }, inlays)})`,
          }))}
          onChange={(print) => {
            change(setFlush({ print }));
          }}
        />
      ) : null}
      <p data-testid="swap-words">
        <strong>{capital}.</strong>{' '}
        {hint
          ? `With ${hint.element} in ${hint.filament} it is ${swapWords(hint.swaps)}.`
          : swaps === 0
            ? 'All of it is one filament.'
            : 'No other filament of the tag for one element makes it fewer.'}
      </p>
      {planned.wayFaults.map(({ element, why }) => {
        const own = tag.elements[element];
        if (!own || !isColoured(own)) return null;
        return (
          <ClashCard
            key={element}
            element={own}
            onSelect={onSelect}
            offers={waysOut(tag, own, why, standing > 1)}
          >
            {WAY_FAULTS[why]}.
          </ClashCard>
        );
      })}
      {planned.clashes.map(({ layer, element, other }) => {
        const own = tag.elements[element];
        if (!own || !isColoured(own)) return null;
        const against = tag.elements[other];
        const otherId = against && isColoured(against) ? against.filamentId : tag.plate.filamentId;
        const free = freeLevel(tag, own);
        const filament = filaments[otherId];
        return (
          <ClashCard
            key={element}
            element={own}
            onSelect={onSelect}
            offers={[
              {
                text: `${own.way === 'raised' ? 'Raise' : 'Sink'} it to ${words(free)}`,
                edit: patchElement(own.id, { level: free }),
              },
              ...(filament
                ? [
                    {
                      text: `Make both ${filament.name}`,
                      edit: setElementFilament([own.id], filament),
                    },
                  ]
                : []),
            ]}
          >
            at the level of {against ? nameOfElement(against) : 'the plate'} needs a change inside
            layer {layer}.
          </ClashCard>
        );
      })}
    </section>
  );
}

/** A way out of what cannot be printed. */
interface Offer {
  readonly text: string;
  readonly edit: Edit;
}

/** Why an element cannot be printed as it lies, and what would do. */
function ClashCard({
  element,
  offers,
  onSelect,
  children,
}: {
  readonly element: KeptElement;
  readonly offers: readonly Offer[];
  readonly onSelect: (id: string) => void;
  readonly children: ReactNode;
}) {
  const change = useDocument((state) => state.change);
  return (
    <div className={styles.clash} data-testid="clash">
      <Note tone="attention" role="alert">
        <button
          type="button"
          className={styles.link}
          onClick={() => {
            onSelect(element.id);
          }}
        >
          {nameOfElement(element)}
        </button>{' '}
        {children}
      </Note>
      <div className={styles.offers}>
        {offers.map(({ text, edit }) => (
          <Button
            key={text}
            onClick={() => {
              change(edit);
            }}
          >
            {text}
          </Button>
        ))}
      </div>
    </div>
  );
}

const PRINT_WORDS: Readonly<Record<FlushPrint, string>> = {
  first: 'Inlays first',
  within: 'Within layers',
};

/** What would make an element printable that is not as it lies. */
function waysOut(
  tag: TagSlice,
  own: Extract<KeptElement, { readonly filamentId: string }>,
  why: WayFault['why'],
  othersStandOut: boolean,
): readonly Offer[] {
  switch (why) {
    case 'stands-out':
      return [
        { text: 'Make it flush', edit: patchElement(own.id, { way: 'flush' }) },
        ...(othersStandOut
          ? [{ text: 'Make all of this face flush', edit: setWays(own.side, 'flush') }]
          : []),
        tag.back === 'one'
          ? { text: 'Put it on the back', edit: patchElement(own.id, { side: 'back' }) }
          : { text: 'Raise all of this face', edit: setWays(own.side, 'raised') },
      ];
    case 'on-top':
      return [
        { text: 'Raise it', edit: patchElement(own.id, { way: 'raised' }) },
        { text: 'Put it on the front', edit: patchElement(own.id, { side: 'front' }) },
      ];
    case 'no-cover':
      return [
        { text: 'Raise it', edit: patchElement(own.id, { way: 'raised' }) },
        { text: 'One layer of plate more', edit: setPlateLayers(tag.plate.layers + 1) },
      ];
    case 'thin-plate':
      return [
        { text: 'A thicker plate', edit: setPlateLayers(tag.flush.layers + 1) },
        ...(tag.plate.layers > 1
          ? [{ text: 'Thinner inlays', edit: setFlush({ layers: tag.plate.layers - 1 }) }]
          : []),
      ];
  }
}

/** The one change of an element's filament, to another one of the tag, that saves most swaps. */
function useCheaper(): { element: string; filament: string; swaps: number } | null {
  const { documents } = useProject();
  const tag = useTag();
  const { swaps: now } = usePlannedTag();
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
        const tried = plannedTagOf(setElementFilament([element.id], filament)(document));
        if (!tried) continue;
        const { swaps } = tried;
        if (swaps < (best?.swaps ?? now))
          best = { element: nameOfElement(element), filament: filament.name, swaps };
      }
    }
    return best;
  }, [documents, tag, now]);
}
