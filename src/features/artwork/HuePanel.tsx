import { useRef, type KeyboardEvent } from 'react';
import { clamp } from '#core/base/numbers.ts';
import { formatHex } from '#core/colour/srgb.ts';
import type { ArtworkEdit } from '#core/edit/artwork-edit.ts';
import { HUE_BARS, smoothstep, softNeeded, wrap180, type HueStrip } from '#core/edit/hue.ts';
import { Dial } from '../../ui/Dial.tsx';
import { Note } from '../../ui/Note.tsx';
import { useGesture } from '../../ui/use-gesture.ts';
import styles from './ArtworkPanel.module.css';
import { useAnswer } from './use-artwork.ts';
import { useSettings } from './use-settings.ts';

type Hue = ArtworkEdit<'hue'>;

/** Distance between the chroma at which the range begins and the one at which it has its full weight. */
const CHROMA_EASE = 0.04;

/** Corners of the bracket: which side of the centre, and whether where it is full or where it ends. */
const CORNERS = [
  { part: 'from', side: -1, outer: true, text: 'Range begins' },
  { part: 'full-from', side: -1, outer: false, text: 'Full from' },
  { part: 'centre', side: 0, outer: false, text: 'Whole range' },
  { part: 'full-to', side: 1, outer: false, text: 'Full to' },
  { part: 'to', side: 1, outer: true, text: 'Range ends' },
] as const;
type Corner = (typeof CORNERS)[number];

const positive = (degrees: number): number => ((degrees % 360) + 360) % 360;

function degreesOf({ centre, half, soft }: Hue, { side, outer }: Corner): number {
  return positive(centre + side * (half + (outer ? soft : 0)));
}

/** The settings after one corner went to an angle. */
function withCorner({ centre, half, soft }: Hue, { side, outer }: Corner, degrees: number): object {
  if (side === 0) return { centre: Math.round(positive(degrees)) };
  const off = side * wrap180(degrees - centre);
  if (outer) return { soft: Math.round(clamp(off - half, 0, 90)) };
  const next = Math.round(clamp(off, 1, 150));
  // The outer end stays where it is as long as there is room.
  return { half: next, soft: Math.max(0, half + soft - next) };
}

/** A range of hues, on the picture's own hues unrolled: where it lies, and where it goes. */
export function HuePanel({ edit }: { readonly edit: Hue }) {
  const { set, drag } = useSettings(edit.id);
  const hues = useAnswer({ of: 'hues' }, edit.id)?.hues;
  const needed = softNeeded(edit.turn);
  return (
    <>
      <p className={styles.caption}>the picture&apos;s hues, unrolled</p>
      <div className={styles.strip}>
        <Bars strip={hues?.before} testId="hues-before" />
        <Bracket edit={edit} drag={drag} onChange={set} />
      </div>
      <p className={styles.caption}>where they go</p>
      <div className={styles.strip} data-after>
        <Bars strip={hues?.after} testId="hues-after" />
      </div>
      <Dial
        label="Turn"
        testId="edit-turn"
        value={edit.turn}
        unit="°"
        least={-180}
        greatest={180}
        step={1}
        decimals={0}
        {...drag}
        onChange={(turn, repeats) => {
          set({ turn }, repeats);
        }}
      />
      <Dial
        label="Chroma"
        value={edit.chroma}
        unit="x"
        least={0}
        greatest={3}
        step={0.05}
        {...drag}
        onChange={(chroma, repeats) => {
          set({ chroma }, repeats);
        }}
      />
      <Dial
        label="Lightness"
        value={edit.lightness}
        least={-1}
        greatest={1}
        step={0.02}
        {...drag}
        onChange={(lightness, repeats) => {
          set({ lightness }, repeats);
        }}
      />
      <Dial
        label="Least chroma"
        value={edit.leastChroma[0]}
        least={0}
        greatest={0.3}
        step={0.01}
        {...drag}
        onChange={(from, repeats) => {
          set({ leastChroma: [from, Math.round(1000 * (from + CHROMA_EASE)) / 1000] }, repeats);
        }}
      />
      {edit.soft < needed ? (
        <Note>The ends are made {Math.ceil(needed)}° soft: neighbouring hues would tear.</Note>
      ) : null}
    </>
  );
}

function Bars({
  strip,
  testId,
}: {
  readonly strip: HueStrip | undefined;
  readonly testId: string;
}) {
  return (
    <svg
      className={styles.bars}
      viewBox={`0 0 ${HUE_BARS} 1`}
      preserveAspectRatio="none"
      role="img"
      aria-label="How much of the picture has each hue"
      data-testid={testId}
      data-bars={strip?.bars.map((one) => one.toFixed(3)).join(' ')}
    >
      {strip?.bars.map((height, i) => (
        <rect
          key={i}
          x={i + 0.06}
          y={1 - Math.sqrt(height)}
          width={0.88}
          height={Math.sqrt(height)}
          fill={formatHex(strip.colours[i] ?? [128, 128, 128])}
        />
      ))}
    </svg>
  );
}

interface BracketProps {
  readonly edit: Hue;
  readonly drag: ReturnType<typeof useSettings>['drag'];
  readonly onChange: (settings: object, repeats?: boolean) => void;
}

/** The bracket over the strip: four corners and the whole, each dragged or moved by keys; its ends join. */
function Bracket({ edit, drag, onChange }: BracketProps) {
  const box = useRef<HTMLDivElement>(null);
  const start = useRef(0);
  const angleOf = (clientX: number): number => {
    const { left, width } = box.current?.getBoundingClientRect() ?? new DOMRect();
    return (360 * (clientX - left)) / Math.max(1, width);
  };
  const gesture = useGesture<Corner>({
    onBegin: (event, corner) => {
      event.currentTarget.focus();
      start.current = angleOf(event.clientX) - degreesOf(edit, corner);
      drag.onBegin();
      return true;
    },
    onMove: (event, corner) => {
      onChange(withCorner(edit, corner, angleOf(event.clientX) - start.current));
    },
    onEnd: drag.onEnd,
    onCancel: drag.onCancel,
  });
  const onKeyDown = (corner: Corner) => (event: KeyboardEvent) => {
    const way = { ArrowLeft: -1, ArrowDown: -1, ArrowRight: 1, ArrowUp: 1 }[event.key];
    if (way === undefined) return;
    const step = way * (event.shiftKey ? 10 : 1);
    onChange(withCorner(edit, corner, degreesOf(edit, corner) + step), event.repeat);
    event.preventDefault();
    event.stopPropagation();
  };
  const points = Array.from({ length: 181 }, (_, i) => {
    const off = Math.abs(wrap180(2 * i - edit.centre));
    const weight = 1 - smoothstep(edit.half, edit.half + Math.max(0.01, edit.soft), off);
    return `${2 * i},${(1 - weight).toFixed(3)}`;
  }).join(' ');
  return (
    <div ref={box} className={styles.bracket} role="group" aria-label="Range of hues">
      <svg viewBox="0 0 360 1" preserveAspectRatio="none" aria-hidden>
        <polyline points={points} />
      </svg>
      {CORNERS.map((corner) => {
        const degrees = degreesOf(edit, corner);
        return (
          <button
            key={corner.part}
            type="button"
            role="slider"
            className={styles.corner}
            data-outer={corner.outer}
            data-centre={corner.side === 0}
            style={{ left: `${(100 * degrees) / 360}%` }}
            aria-label={corner.text}
            aria-valuemin={0}
            aria-valuemax={360}
            aria-valuenow={Math.round(degrees)}
            aria-valuetext={`${Math.round(degrees)} degrees`}
            data-testid={`hue-${corner.part}`}
            {...gesture.on(corner)}
            onKeyDown={onKeyDown(corner)}
          />
        );
      })}
    </div>
  );
}
