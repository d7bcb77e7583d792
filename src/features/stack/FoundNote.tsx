import type { HeightRuleKind } from '#core/heights/height-rules.ts';
import type { HeightsSlice } from '../../state/project-document.ts';
import { keyOfBands } from '../../state/suggestion.ts';
import { useDocument, useLive } from '../../state/project-context.ts';
import { Button } from '../../ui/Button.tsx';
import { Note } from '../../ui/Note.tsx';
import { RULES } from './RulePanel.tsx';
import styles from './StackPanel.module.css';

/** Less than this nobody sees, CIEDE2000. */
const NOTHING = 0.1;

/** What heights lean by under their rule. */
function leanOf({ rule, closest, zones }: HeightsSlice): number {
  return rule === 'closest' ? closest.lean : rule === 'zones' ? zones.lean : 0;
}

function nameOf(rule: HeightRuleKind, lean: number): string {
  const name = RULES.find(({ value }) => value === rule)?.text.toLowerCase() ?? rule;
  return lean > 0 ? `${name} with a lean of ${lean}` : name;
}

/** Where heights follow another rule than the one that the stack was found for: what that costs, and a new search. */
export function FoundNote({ onFind }: { readonly onFind: () => void }) {
  const found = useDocument((state) => state.document.heights.found);
  const rule = useDocument((state) => state.document.heights.rule);
  const lean = useDocument(({ document: { heights } }) => leanOf(heights));
  const bands = useDocument((state) => state.document.stack.bands);
  const error = useLive((state) => state.difference?.mean);
  if (found?.bands !== keyOfBands(bands)) return null;
  const same = rule === found.rule && lean === found.lean;
  if (same && found.first === true) return <FirstNote rule={rule} onFind={onFind} />;
  if (same || rule === 'flat') return null;
  const more = error === undefined ? null : error - found.meanDeltaE;
  const costs =
    more === null
      ? '. '
      : Math.abs(more) < NOTHING
        ? ', and has about that like this. '
        : `; like this it is ${(error ?? 0).toFixed(1)} (${more < 0 ? '' : '+'}${more.toFixed(1)}). `;
  return (
    <div className={styles.found} data-testid="found-for">
      <Note tone="attention">
        This stack was found for {nameOf(found.rule, found.lean)}, with a colour error of{' '}
        {found.meanDeltaE.toFixed(1)}
        {costs}
        Every rule wants a stack of its own.
      </Note>
      <Button onClick={onFind}>Find again</Button>
    </div>
  );
}

/** What was done when the picture came, and what to try next. */
function FirstNote({
  rule,
  onFind,
}: {
  readonly rule: HeightRuleKind;
  readonly onFind: () => void;
}) {
  const filaments = useDocument(
    (state) => new Set(state.document.stack.bands.map(({ filamentId }) => filamentId)).size,
  );
  const what =
    rule === 'flat'
      ? `${filaments} of your filaments for the flat colours of this picture, each at a height of its own.`
      : `${filaments} of your filaments, found for this picture, between colour and relief.`;
  const next =
    rule === 'flat'
      ? 'Next: change or exchange the colours above, or look longer.'
      : 'Next: move the slider from colour to relief, or look for more swaps.';
  return (
    <div className={styles.found} data-testid="first-stack">
      <Note>
        A first stack: {what} {next}
      </Note>
      <Button onClick={onFind}>Look further</Button>
    </div>
  );
}
