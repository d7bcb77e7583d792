import { brightnessOf, type Filament } from '#core/stack/filament.ts';
import { SelectField } from '../../ui/Fields.tsx';
import { Swatch } from '../../ui/Swatch.tsx';
import styles from './Find.module.css';

/** What a search may do with a filament. */
export type Wish = 'may' | 'must' | 'never';

const WISHES = [
  { value: 'may', text: 'may be used' },
  { value: 'must', text: 'must be used' },
  { value: 'never', text: 'is left out' },
] as const;

interface CandidateListProps {
  readonly rack: readonly Filament[];
  readonly wishOf: (id: string, onHand: boolean) => Wish;
  readonly onWish: (id: string, wish: Wish) => void;
}

/** The rack from dark to light, with what a search may do with each filament. */
export function CandidateList({ rack, wishOf, onWish }: CandidateListProps) {
  const sorted = [...rack].sort((a, b) => brightnessOf(a) - brightnessOf(b));
  return (
    <ul className={styles.candidates} data-testid="find-candidates">
      {sorted.map(({ id, name, colour, onHand }) => (
        <li key={id}>
          <Swatch colour={colour} widthPx={16} />
          <span className={styles.candidate}>
            {name}
            {onHand ? '' : ', not on hand'}
          </span>
          <SelectField
            compact
            label={`What to do with ${name}`}
            value={wishOf(id, onHand)}
            options={WISHES}
            onChange={(wish) => {
              onWish(id, wish);
            }}
          />
        </li>
      ))}
    </ul>
  );
}
