import { clamp } from '#core/base/numbers.ts';
import { Columns2, Wand2 } from 'lucide-react';
import { useCallback, useEffect, useState } from 'react';
import { MOST_FIND_LAYERS, MOST_SWAPS, type FindRequest } from '#core/find/request.ts';
import { MOST_LEAN } from '#core/stack/lean.ts';
import { placesOfCurve, placesOfTone } from '#core/heights/tone.ts';
import { totalLayers } from '#core/stack/stack.ts';
import { describeFindFault } from '../../platform/fault-words.ts';
import { useDocument, useProject, useView } from '../../state/project-context.ts';
import { takeSuggestion } from '../../state/edits/project-edits.ts';
import type { SuggestedStack } from '../../workers/find/jobs.ts';
import { Button } from '../../ui/Button.tsx';
import { Choice } from '../../ui/Choice.tsx';
import { Dialog } from '../../ui/Dialog.tsx';
import { CheckField, SelectField } from '../../ui/Fields.tsx';
import { NumberField } from '../../ui/NumberField.tsx';
import { Progress } from '../../ui/Progress.tsx';
import { RangeSlider } from '../../ui/RangeSlider.tsx';
import { CandidateList, type Wish } from './CandidateList.tsx';
import { recall, remember } from '../../platform/browser/remembered.ts';
import styles from './Find.module.css';
import { FoundStacks } from './FoundStacks.tsx';
import { ImportanceTools } from './ImportanceTools.tsx';
import type { FindProgress } from '../../state/find-session.ts';
import { useSearch } from './use-search.ts';

const FOUND_RULES = [
  { value: 'closest', text: 'Closest blend' },
  { value: 'tone', text: 'Tone' },
] as const;

/** Offered where heights are by zones, or by flat areas: what they are is said there. */
const ZONES_RULE = { value: 'zones', text: 'Zones' } as const;
const FLAT_RULE = { value: 'flat', text: 'Flat areas' } as const;

/**
 * How much is looked at. It is counted in work, which gives one answer on every machine; how long that takes is told while it
 * goes on, as it is measured.
 */
const EFFORTS = [
  { value: '1', text: 'quick' },
  { value: '3', text: 'usual' },
  { value: '10', text: 'thorough' },
] as const;

/** How much is looked at is a matter of the maker's patience: the last choice is the first of the next search. */
const EFFORT = 'find-effort';

/** Exponent of colour differences where small colours are cared for. */
const CARE = 2;

const ANY = '';

/** Looks for the best order and heights from the filaments at hand; what is found is shown on the stage as it comes. */
export function FindPanel({ onClose }: { readonly onClose: () => void }) {
  const { rack, live, documents, views } = useProject();
  const change = useDocument((state) => state.change);
  const present = documents.getState().document;
  const zoned = present.heights.rule === 'zones' && present.heights.zones.list.length > 0;
  const [mostSwaps, setMostSwaps] = useState(clamp(present.stack.bands.length - 1, 1, MOST_SWAPS));
  const [mostLayers, setMostLayers] = useState(
    Math.min(MOST_FIND_LAYERS, totalLayers(present.stack.bands)),
  );
  const [leastPerBand, setLeastPerBand] = useState(1);
  const areas = present.heights.rule === 'flat' && present.heights.flat.colours.length > 0;
  const [rule, setRule] = useState<FindRequest['rule'] | 'flat'>(
    present.heights.rule === 'tone' ? 'tone' : zoned ? 'zones' : areas ? 'flat' : 'closest',
  );
  const [lean, setLean] = useState(
    zoned ? present.heights.zones.lean : present.heights.closest.lean,
  );
  const [anyOrder, setAnyOrder] = useState(present.heights.zones.order === 'found');
  const [fit, setFit] = useState(anyOrder);
  const [care, setCare] = useState(false);
  const [sturdy, setSturdy] = useState(false);
  const [effort, setEffort] = useState(
    () =>
      recall(
        EFFORT,
        EFFORTS.map(({ value }) => value),
      ) ?? '3',
  );
  const [wishes, setWishes] = useState<ReadonlyMap<string, Wish>>(new Map());
  const [bottom, setBottom] = useState(ANY);
  const [top, setTop] = useState(ANY);

  const wishOf = (id: string, onHand: boolean): Wish =>
    wishes.get(id) ?? (onHand ? 'may' : 'never');
  const candidates = rack.filter(({ id, onHand }) => wishOf(id, onHand) !== 'never');
  const { progress, began, show, begin, halt, end } = useSearch((improve) => {
    const {
      stack: { bands },
      heights: { leastLayers, tone, zones, flat },
    } = documents.getState().document;
    const used = new Set(bands.map(({ filamentId }) => filamentId));
    const allowed = improve
      ? rack.filter((one) => candidates.includes(one) || used.has(one.id))
      : candidates;
    const roomFor = (wanted: number, needed: number): number =>
      improve ? Math.max(wanted, needed) : wanted;
    return {
      filaments: allowed,
      // Flat colours are few cells, and each goes to what is nearest to it.
      rule: rule === 'flat' ? 'closest' : rule,
      ...(rule === 'flat' ? { flat: flat.colours } : {}),
      mostSwaps: roomFor(mostSwaps, bands.length - 1),
      mostLayers: roomFor(mostLayers, totalLayers(bands)),
      leastLayers: Math.min(leastLayers, mostLayers),
      leastPerBand: improve
        ? Math.min(leastPerBand, ...bands.map(({ layers }) => layers))
        : leastPerBand,
      // What is improved is what is there; wishes are for stacks that begin anew.
      must: improve
        ? []
        : candidates.filter(({ id, onHand }) => wishOf(id, onHand) === 'must').map(({ id }) => id),
      bottom: improve || bottom === ANY ? null : bottom,
      top: improve || top === ANY ? null : top,
      start: improve ? bands : null,
      rare: 0,
      care: care ? CARE : 1,
      ...(rule === 'closest' && lean > 0
        ? { lean: { price: lean, places: placesOfTone(tone) } }
        : {}),
      ...(rule === 'zones'
        ? {
            zones: {
              zones: zones.list.map(({ id, reversed, curve }) => ({
                id,
                reversed,
                ...(curve ? { places: placesOfCurve(curve) } : {}),
              })),
              shared: zones.shared,
              price: lean < MOST_LEAN ? lean : null,
              anyOrder,
            },
          }
        : {}),
      sturdy,
      seconds: Number(effort),
      fit,
      extra: rack.filter((one) => !allowed.includes(one) && wishes.get(one.id) !== 'never'),
    };
  });
  const comparing = useView(({ sides }) => sides[0] === 'present');
  const endCompare = useCallback((): void => {
    if (views.getState().sides[0] === 'present')
      views.setState({ view: 'print', sides: ['artwork', 'print'] });
  }, [views]);
  // It begins as the panel opens, and nothing of it is left when it closes.
  useEffect(() => {
    void begin();
    return () => {
      end();
      endCompare();
      views.setState({ brush: null });
    };
    // eslint-disable-next-line react-hooks/exhaustive-deps
  }, []);

  const apply = (stack: SuggestedStack): void => {
    live.preview(null);
    change(takeSuggestion(stack, rack));
    onClose();
  };
  const ends = [
    { value: ANY, text: 'any' },
    ...candidates.map(({ id, name }) => ({ value: id, text: name })),
  ];

  return (
    <Dialog
      open
      onOpenChange={(open) => {
        if (!open) onClose();
      }}
      title="Find a stack"
      place="side"
      besides
      onEscape={() => {
        // First the brush is put down.
        const inHand = views.getState().brush !== null;
        views.setState({ brush: null });
        return inHand;
      }}
    >
      <div className={styles.panel}>
        <div className={styles.row}>
          <NumberField
            label="Swaps at most"
            value={mostSwaps}
            least={0}
            greatest={MOST_SWAPS}
            step={1}
            decimals={0}
            testId="find-swaps"
            onChange={setMostSwaps}
          />
          <NumberField
            label="Layers at most"
            value={mostLayers}
            least={1}
            greatest={MOST_FIND_LAYERS}
            step={1}
            decimals={0}
            testId="find-layers"
            onChange={setMostLayers}
          />
        </div>
        <div className={styles.row}>
          <Choice
            label="Heights follow"
            value={rule}
            options={[
              ...FOUND_RULES,
              ...(zoned ? [ZONES_RULE] : []),
              ...(areas ? [FLAT_RULE] : []),
            ]}
            onChange={setRule}
          />
          <SelectField
            compact
            label="How much to look"
            value={effort}
            options={EFFORTS}
            onChange={(chosen) => {
              setEffort(chosen);
              remember(EFFORT, chosen);
            }}
          />
        </div>
        {rule === 'tone' || rule === 'flat' ? null : (
          <div className={styles.row}>
            <span>Lean</span>
            <RangeSlider
              labels={[
                `Lean of the search, from colour to ${rule === 'zones' ? 'zones' : 'relief'}`,
              ]}
              values={[lean]}
              least={0}
              greatest={MOST_LEAN}
              step={1}
              onChange={([value = 0]) => {
                setLean(value);
              }}
            />
            <span className="figures" data-testid="find-lean">
              {lean === 0
                ? 'colour alone'
                : rule === 'closest'
                  ? `${lean} to relief`
                  : lean < MOST_LEAN
                    ? `${lean} to zones`
                    : 'walls'}
            </span>
          </div>
        )}
        {rule === 'zones' ? (
          <>
            <CheckField
              label="Zones may change places"
              checked={anyOrder}
              onChange={setAnyOrder}
              testId="find-any-order"
            />
            <CheckField
              label="Colours may move between zones"
              checked={fit}
              onChange={setFit}
              testId="find-fit"
            />
            {present.heights.zones.list.some(({ span }) => span !== null) ? (
              <small>Spans that were set by hand are found anew.</small>
            ) : null}
          </>
        ) : null}
        <ImportanceTools />
        <details className={styles.more}>
          <summary>
            Filaments and weights ({candidates.length} of {rack.length})
          </summary>
          <div className={styles.row}>
            <SelectField
              label="Lowest filament"
              value={bottom}
              options={ends}
              onChange={setBottom}
            />
            <SelectField label="Highest filament" value={top} options={ends} onChange={setTop} />
          </div>
          <div className={styles.row}>
            <CheckField label="Care for small colours" checked={care} onChange={setCare} />
            <NumberField
              label="Layers a band"
              value={leastPerBand}
              least={1}
              greatest={20}
              step={1}
              decimals={0}
              testId="find-least-per-band"
              onChange={setLeastPerBand}
            />
          </div>
          <CheckField
            label="Quantise for printing: prefer stacks that bear transmissions 10 % off"
            checked={sturdy}
            onChange={setSturdy}
          />
          <CandidateList
            rack={rack}
            wishOf={wishOf}
            onWish={(id, wish) => {
              setWishes((before) => new Map(before).set(id, wish));
            }}
          />
        </details>
        <div className={styles.row}>
          <Button
            look={progress.curve.length > 0 ? 'plain' : 'main'}
            icon={<Wand2 size={15} aria-hidden />}
            disabled={progress.running}
            onClick={() => {
              void begin();
            }}
          >
            Look again
          </Button>
          <Button
            disabled={progress.running}
            title="Goes on from the present stack; locked bands stay"
            onClick={() => {
              void begin(true);
            }}
          >
            Improve this one
          </Button>
          <Button
            icon={<Columns2 size={15} aria-hidden />}
            aria-label="Compare with the present stack on the wipe"
            title="Compare with the present stack on the wipe"
            aria-pressed={comparing}
            onClick={() => {
              if (comparing) endCompare();
              else views.setState({ view: 'wipe', sides: ['present', 'print'] });
            }}
          />
          <p className={styles.state} role="status" data-testid="find-state">
            {tellState(progress)}
          </p>
        </div>
        {progress.running ? (
          <Progress
            label={`Looking${tellLeft(progress.fraction, (performance.now() - began.current) / 1000)}`}
            fraction={progress.fraction}
            onCancel={halt}
            cancelText={progress.best ? 'Stop, take the best so far' : 'Stop'}
          />
        ) : null}
        {progress.fault ? <p role="alert">{describeFindFault(progress.fault)}</p> : null}
        <FoundStacks
          progress={progress}
          rack={rack}
          onShow={(stack) => {
            show(stack ?? progress.best);
          }}
          onApply={apply}
        />
      </div>
    </Dialog>
  );
}

/** Share of a search after which its pace says how long the rest takes. */
const TELLING_SHARE = 0.08;

/** How long a search still takes at the pace that it had here so far; nothing while that cannot be told. */
function tellLeft(fraction: number, elapsedS: number): string {
  if (fraction < TELLING_SHARE) return '';
  const leftS = Math.ceil((elapsedS * (1 - fraction)) / fraction);
  return leftS > 0 ? `, about ${leftS} s left` : '';
}

function tellState({ running, best, curve, fraction }: FindProgress): string {
  if (best)
    return `${running ? 'best so far' : 'best'}: colour error ${best.meanDeltaE.toFixed(2)}`;
  if (running) return 'looking';
  return curve.length === 0 && fraction > 0 ? 'stopped' : '';
}
