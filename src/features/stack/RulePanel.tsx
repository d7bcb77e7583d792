import { GREATEST_ISLAND_MM } from '../../state/slices/heights.ts';
import { Sprout } from 'lucide-react';
import { lazy, type ComponentType } from 'react';
import { HEIGHT_RULES, type HeightRuleKind } from '#core/heights/height-rules.ts';
import { useDocument } from '../../state/project-context.ts';
import { joinsWhen } from '../../state/document-store.ts';
import {
  chooseHeightRule,
  keepDetails,
  setCalm,
  setSmallestIsland,
} from '../../state/edits/height-edits.ts';
import { Button } from '../../ui/Button.tsx';
import { Choice } from '../../ui/Choice.tsx';
import { NumberField } from '../../ui/NumberField.tsx';
import { RangeSlider } from '../../ui/RangeSlider.tsx';
import { Late } from '../../ui/Late.tsx';
import { ClosestPanel } from './ClosestPanel.tsx';
import { FlatPanel } from './FlatPanel.tsx';
import styles from './StackPanel.module.css';
import { TonePanel } from './TonePanel.tsx';

const ZonesPanel = lazy(async () => ({
  default: (await import('./zones/ZonesPanel.tsx')).ZonesPanel,
}));

/** What the rules are called, and where each is set. */
const RULE_PANELS: Readonly<
  Record<HeightRuleKind, { readonly text: string; readonly Panel: ComponentType }>
> = {
  tone: { text: 'Tone', Panel: TonePanel },
  closest: { text: 'Closest blend', Panel: ClosestPanel },
  zones: { text: 'Zones', Panel: ZonesPanel },
  flat: { text: 'Flat areas', Panel: FlatPanel },
};

/** The rules by name, in the order in which they are offered. */
export const RULES = HEIGHT_RULES.map((value) => ({ value, text: RULE_PANELS[value].text }));

/** How heights follow the picture: the rule, its settings, and what calms all rules. */
export function RulePanel() {
  const heightRule = useDocument((state) => state.document.heights.rule);
  const change = useDocument((state) => state.change);
  const { Panel } = RULE_PANELS[heightRule];
  return (
    <div className={styles.tone}>
      <div className={styles.toneHead}>
        <h2 className={styles.heading}>Heights</h2>
        <Choice
          label="Height rule"
          value={heightRule}
          options={RULES}
          onChange={(next) => {
            change(chooseHeightRule(next));
          }}
        />
      </div>
      <Late of={heightRule}>
        <Panel />
      </Late>
      <CalmRow />
    </div>
  );
}

/** How strongly neighbours are pulled together, and the smallest island that is printed. */
function CalmRow() {
  const calm = useDocument((state) => state.document.heights.calm);
  const smallestMm = useDocument((state) => state.document.heights.smallestMm);
  const details = useDocument((state) => state.document.heights.details);
  const { change, beginGesture, endGesture, cancelGesture } = useDocument((state) => state);
  return (
    <div className={styles.calm}>
      <span className={styles.calmName}>Calm</span>
      <RangeSlider
        labels={['Calm, percent']}
        values={[Math.round(calm * 100)]}
        least={0}
        greatest={100}
        step={5}
        onBegin={beginGesture}
        onEnd={endGesture}
        onCancel={cancelGesture}
        onChange={([value = 0], repeats) => {
          change(setCalm(value / 100), joinsWhen(repeats));
        }}
      />
      <span className={`${styles.calmValue} figures`}>{Math.round(calm * 100)} %</span>
      <NumberField
        label="Islands from"
        unit="mm"
        value={smallestMm}
        least={0}
        greatest={GREATEST_ISLAND_MM}
        step={0.1}
        testId="smallest-island"
        onChange={(value, repeats) => {
          change(setSmallestIsland(value), joinsWhen(repeats));
        }}
      />
      <Button
        icon={<Sprout size={15} aria-hidden />}
        aria-label="Grow small details"
        title="Details smaller than that grow to it where that costs less than to level them: eyes stay, specks go"
        aria-pressed={details}
        onClick={() => {
          change(keepDetails(!details));
        }}
      />
    </div>
  );
}
