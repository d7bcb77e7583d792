import { Wand } from 'lucide-react';
import { useMemo, useRef, type KeyboardEvent } from 'react';
import { clamp } from '#core/base/numbers.ts';
import type { ArtworkEdit } from '#core/edit/artwork-edit.ts';
import { lumaOf } from '#core/colour/luma.ts';
import { curveThrough } from '#core/edit/light.ts';
import { useLive } from '../../state/project-context.ts';
import { Button } from '../../ui/Button.tsx';
import { Dial } from '../../ui/Dial.tsx';
import { Row } from '../../ui/Row.tsx';
import { useGesture } from '../../ui/use-gesture.ts';
import styles from './ArtworkPanel.module.css';
import { useAnswer } from './use-artwork.ts';
import { useSettings } from './use-settings.ts';

type Curve = ArtworkEdit<'tone'>['curve'];
const BARS = 64;
const MOST_POINTS = 10;
const STRAIGHT: Curve = [
  [0, 0],
  [1, 1],
];

const round = (value: number): number => Math.round(1000 * value) / 1000;

/** Brightness, contrast, and a curve over the picture's brightness. */
export function LightPanel({ edit }: { readonly edit: ArtworkEdit<'tone'> }) {
  const { set, drag } = useSettings(edit.id);
  const levels = useAnswer({ of: 'levels' }, edit.id)?.levels;
  return (
    <>
      <Dial
        label="Brightness"
        testId="edit-brightness"
        value={Math.round(100 * edit.brightness)}
        least={-100}
        greatest={100}
        step={1}
        {...drag}
        onChange={(value, repeats) => {
          set({ brightness: value / 100 }, repeats);
        }}
      />
      <Dial
        label="Contrast"
        value={Math.round(100 * edit.contrast)}
        least={-100}
        greatest={100}
        step={1}
        {...drag}
        onChange={(value, repeats) => {
          set({ contrast: value / 100 }, repeats);
        }}
      />
      <CodeCurve
        curve={edit.curve.length >= 2 ? edit.curve : STRAIGHT}
        drag={drag}
        onChange={(curve, repeats) => {
          set({ curve }, repeats);
        }}
      />
      <Row>
        <Button
          icon={<Wand size={15} aria-hidden />}
          disabled={!levels}
          title={
            levels === null
              ? 'The picture reaches from black to white already'
              : 'From the darkest to the lightest of the picture'
          }
          onClick={() => {
            if (levels) set({ curve: levels });
          }}
        >
          Automatic levels
        </Button>
        <Button
          disabled={edit.curve.length === 0}
          onClick={() => {
            set({ curve: [] });
          }}
        >
          Straight
        </Button>
      </Row>
    </>
  );
}

interface CodeCurveProps {
  readonly curve: Curve;
  readonly drag: ReturnType<typeof useSettings>['drag'];
  readonly onChange: (curve: Curve, repeats: boolean) => void;
}

/** A smooth curve over sRGB codes, with the picture's luma behind it. */
function CodeCurve({ curve, drag, onChange }: CodeCurveProps) {
  const box = useRef<HTMLDivElement>(null);
  const stage = useLive((state) => state.edited.stage);
  const bars = useMemo(() => {
    const counts = new Float64Array(BARS);
    for (let at = 0; at < stage.data.length; at += 16) {
      if ((stage.data[at + 3] as number) < 128) continue;
      const bar = Math.floor((lumaOf(stage.data, at) * BARS) / 256);
      counts[bar] = (counts[bar] as number) + 1;
    }
    const most = Math.sqrt(Math.max(1, ...counts));
    return Array.from(counts, (count) => Math.sqrt(count) / most);
  }, [stage]);
  const through = curveThrough(curve);
  const line = Array.from({ length: 65 }, (_, i) => {
    const x = i / 64;
    return `${100 * x},${100 - 100 * clamp(through(x), 0, 1)}`;
  }).join(' ');

  const moved = (index: number, x: number, y: number): Curve => {
    const low = index === 0 ? 0 : (curve[index - 1]?.[0] ?? 0) + 0.01;
    const high = index === curve.length - 1 ? 1 : (curve[index + 1]?.[0] ?? 1) - 0.01;
    return curve.map((point, i) =>
      i === index ? ([round(clamp(x, low, high)), round(clamp(y, 0, 1))] as const) : point,
    );
  };
  const placeOf = (clientX: number, clientY: number): readonly [number, number] => {
    const { left, top, width, height } = box.current?.getBoundingClientRect() ?? new DOMRect();
    return [(clientX - left) / width, 1 - (clientY - top) / height];
  };
  const gesture = useGesture<number>({
    onBegin: (event) => {
      event.currentTarget.focus();
      drag.onBegin();
      return true;
    },
    onMove: (event, index) => {
      onChange(moved(index, ...placeOf(event.clientX, event.clientY)), false);
    },
    onEnd: drag.onEnd,
    onCancel: drag.onCancel,
  });
  const onKeyDown = (index: number) => (event: KeyboardEvent) => {
    const point = curve[index];
    if (!point) return;
    const step = event.shiftKey ? 0.05 : 0.01;
    const by: Readonly<Record<string, readonly [number, number]>> = {
      ArrowLeft: [-step, 0],
      ArrowRight: [step, 0],
      ArrowUp: [0, step],
      ArrowDown: [0, -step],
    };
    const way = by[event.key];
    if (way) onChange(moved(index, point[0] + way[0], point[1] + way[1]), event.repeat);
    else if (event.key === 'Delete' && curve.length > 2) {
      gesture.finish();
      onChange(
        curve.filter((_, i) => i !== index),
        false,
      );
    } else return;
    event.preventDefault();
    event.stopPropagation();
  };
  return (
    <div
      ref={box}
      className={styles.curve}
      role="group"
      aria-label="Curve: code before to the right, after upward. Double-click adds a point."
      data-testid="code-curve"
      onDoubleClick={(event) => {
        if (curve.length >= MOST_POINTS) return;
        const [x, y] = placeOf(event.clientX, event.clientY);
        const at = curve.findIndex(([px]) => px > x);
        if (at <= 0) return;
        onChange(
          [...curve.slice(0, at), [round(x), round(clamp(y, 0, 1))] as const, ...curve.slice(at)],
          false,
        );
      }}
    >
      <svg viewBox="0 0 100 100" preserveAspectRatio="none" aria-hidden>
        {bars.map((height, i) => (
          <rect
            key={i}
            x={(100 * i) / BARS}
            y={100 - 100 * height}
            width={100 / BARS + 0.2}
            height={100 * height}
          />
        ))}
        <polyline points={line} />
      </svg>
      {curve.map(([x, y], i) => (
        <button
          key={i}
          type="button"
          role="slider"
          className={styles.curvePoint}
          style={{ left: `${100 * x}%`, top: `${100 - 100 * y}%` }}
          aria-label={`Point ${i + 1} of ${curve.length}`}
          aria-valuemin={0}
          aria-valuemax={255}
          aria-valuenow={Math.round(255 * y)}
          aria-valuetext={`code ${Math.round(255 * x)} becomes ${Math.round(255 * y)}`}
          data-testid={`code-point-${i}`}
          {...gesture.on(i)}
          onKeyDown={onKeyDown(i)}
        />
      ))}
    </div>
  );
}
