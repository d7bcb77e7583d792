import { Maximize } from 'lucide-react';
import { useEffect, useMemo, useRef, useState } from 'react';
import type { GcodeReport } from '#core/gcode/report.ts';
import type { GcodeDesk } from '../../state/gcode-desk.ts';
import { Button } from '../../ui/Button.tsx';
import { Choice } from '../../ui/Choice.tsx';
import { RangeSlider } from '../../ui/RangeSlider.tsx';
import { useGesture } from '../../ui/use-gesture.ts';
import { drawLayer, inFrames, type DeskFrame } from './draw-layer.ts';
import type { DeskBand, LayerNote } from './desk-words.ts';
import { useLayerLines, useTextAround } from './use-layer-lines.ts';
import styles from './GcodeDesk.module.css';

interface LayerViewProps {
  readonly desk: GcodeDesk;
  readonly report: GcodeReport;
  readonly layer: number;
  /** The line that is looked at; null: the one that the slider stands at. */
  readonly line: number | null;
  readonly bands: readonly DeskBand[];
  readonly bandOf: readonly number[] | null;
  readonly notes: ReadonlyMap<number, readonly LayerNote[]>;
  readonly onLayer: (layer: number) => void;
}

type Reach = 'one' | 'below';

/** Lines of text before and after the one that is looked at. */
const AROUND = 3;
const MARGIN_PX = 28;
const ZOOM_STEP = 1.2;
const MOST_ZOOM = 60;

/** One layer, or all up to it, with where in it the nozzle is, and the text at that place. */
export function LayerView({
  desk,
  report,
  layer,
  line,
  bands,
  bandOf,
  notes,
  onLayer,
}: LayerViewProps) {
  const [reach, setReach] = useState<Reach>('one');
  const [travels, setTravels] = useState(false);
  const [until, setUntil] = useState<number | null>(null);
  const [view, setView] = useState({ zoom: 1, x: 0, y: 0 });
  const [size, setSize] = useState({ width: 600, height: 400 });
  const canvas = useRef<HTMLCanvasElement>(null);
  const lines = useLayerLines(desk, report, reach === 'one' ? layer : 1, layer);
  const own = report.layers[layer - 1];
  const begin = lines ? lines.layer.indexOf(layer) : -1;
  const count = lines?.laid.length ?? 0;
  useEffect(() => {
    setUntil(null);
  }, [layer, report]);
  // A line that is asked for moves the nozzle there.
  useEffect(() => {
    if (line === null || !lines) return;
    const at = lines.line.findLastIndex((one) => one <= line);
    // A line before the first way of the layer is where the layer begins.
    setUntil(Math.max(at + 1, Math.max(0, lines.layer.indexOf(layer))));
  }, [line, lines, layer]);
  const nozzle = Math.min(count, until ?? count);
  const lineNow = line ?? lines?.line[nozzle - 1] ?? own?.laidLine ?? 1;
  const text = useTextAround(desk, report, lineNow, AROUND);

  const box = useMemo(() => {
    const side = (n: number, pick: (a: number, b: number) => number): number =>
      report.layers.reduce(
        (most, one) => pick(most, one.box[n] ?? 0),
        report.layers[0]?.box[n] ?? 0,
      );
    return [side(0, Math.min), side(1, Math.min), side(2, Math.max), side(3, Math.max)] as const;
  }, [report]);
  const frame: DeskFrame = useMemo(() => {
    const wide = Math.max(1, box[2] - box[0]);
    const deep = Math.max(1, box[3] - box[1]);
    const fitted = Math.min(
      (size.width - 2 * MARGIN_PX) / wide,
      (size.height - 2 * MARGIN_PX) / deep,
    );
    const scale = Math.max(0.01, fitted) * view.zoom;
    return {
      scale,
      left: size.width / 2 - (scale * (box[0] + box[2])) / 2 + view.x,
      top: size.height / 2 + (scale * (box[1] + box[3])) / 2 + view.y,
    };
  }, [box, size, view]);

  useEffect(() => {
    const element = canvas.current?.parentElement;
    if (!element) return undefined;
    const observer = new ResizeObserver(([entry]) => {
      if (entry) setSize({ width: entry.contentRect.width, height: entry.contentRect.height });
    });
    observer.observe(element);
    return () => {
      observer.disconnect();
    };
  }, []);

  const pauses = useMemo(
    () =>
      report.layers
        .filter((one) => (reach === 'one' ? one.layer === layer : one.layer <= layer))
        .filter((one) => (notes.get(one.layer) ?? []).some(({ wrong }) => !wrong))
        .map(({ place }) => ({ x: place.state[0] ?? 0, y: place.state[1] ?? 0 })),
    [report, layer, reach, notes],
  );
  useEffect(() => {
    const context = canvas.current?.getContext('2d');
    if (!context || !lines || !canvas.current) return undefined;
    const ratio = window.devicePixelRatio || 1;
    canvas.current.width = Math.round(size.width * ratio);
    canvas.current.height = Math.round(size.height * ratio);
    context.setTransform(ratio, 0, 0, ratio, 0, 0);
    const style = getComputedStyle(canvas.current);
    const ink = style.getPropertyValue('--on-yuzu').trim();
    const { dataset } = canvas.current;
    delete dataset.drawn;
    const strokes = drawLayer(context, frame, size, {
      lines,
      until: nozzle,
      layer,
      travels,
      lineMm: 0.42,
      colourOf: (one) => bands[bandOf?.[one - 1] ?? -1]?.colour ?? '#5c6167',
      ink,
      paper: '#ffffff',
      accent: style.getPropertyValue('--yuzu').trim(),
      pauses,
    });
    return inFrames(strokes, () => {
      dataset.drawn = `${layer}:${nozzle}`;
    });
  }, [lines, frame, size, nozzle, layer, travels, bands, bandOf, pauses]);

  const from = useRef({ x: 0, y: 0 });
  const pan = useGesture({
    onBegin: (event) => {
      from.current = { x: event.clientX - view.x, y: event.clientY - view.y };
      return true;
    },
    onMove: (event) => {
      const { x, y } = from.current;
      setView((before) => ({ ...before, x: event.clientX - x, y: event.clientY - y }));
    },
    onEnd: () => undefined,
  });
  const zoom = (factor: number): void => {
    setView(({ zoom: before, x, y }) => {
      const next = Math.min(MOST_ZOOM, Math.max(1, before * factor));
      const by = next / before;
      return next === 1 ? { zoom: 1, x: 0, y: 0 } : { zoom: next, x: x * by, y: y * by };
    });
  };
  const most = report.layers.length;
  return (
    <section className={styles.middle} aria-label="Layer">
      <div className={styles.head}>
        <Choice
          label="What is shown"
          value={reach}
          options={[
            { value: 'one', text: 'This layer' },
            { value: 'below', text: 'All up to it' },
          ]}
          onChange={setReach}
        />
        <p className="figures" data-testid="layer-now">
          layer {layer} of {most}, {own?.topMm.toFixed(2)} mm
        </p>
        <Button
          aria-pressed={travels}
          onClick={() => {
            setTravels(!travels);
          }}
        >
          Travels
        </Button>
        <Button
          icon={<Maximize size={15} aria-hidden />}
          aria-label="Fit the piece"
          title="Fit the piece"
          onClick={() => {
            setView({ zoom: 1, x: 0, y: 0 });
          }}
        />
      </div>
      <div
        className={styles.plate}
        role="application"
        tabIndex={0}
        aria-label={`Layer ${layer}: drag to move, plus and minus to zoom, page keys for other layers`}
        data-testid="plate"
        {...pan.on()}
        onWheel={(event) => {
          zoom(event.deltaY < 0 ? ZOOM_STEP : 1 / ZOOM_STEP);
        }}
        onKeyDown={(event) => {
          if (event.key === '+') zoom(ZOOM_STEP);
          else if (event.key === '-') zoom(1 / ZOOM_STEP);
          else if (event.key === 'PageUp') onLayer(Math.min(most, layer + 1));
          else if (event.key === 'PageDown') onLayer(Math.max(1, layer - 1));
          else return;
          event.preventDefault();
        }}
      >
        <canvas ref={canvas} data-testid="plate-canvas" />
        {lines?.cut ? (
          <p className={styles.cut}>More lines than can be drawn: the last ones are left out.</p>
        ) : null}
      </div>
      <div className={styles.scrub}>
        <span>Nozzle</span>
        <RangeSlider
          labels={['Place in the layer']}
          values={[Math.max(0, nozzle - Math.max(0, begin))]}
          least={0}
          greatest={Math.max(1, count - Math.max(0, begin))}
          step={1}
          onChange={([value = 0]) => {
            setUntil(Math.max(0, begin) + value);
            if (line !== null) onLayer(layer);
          }}
        />
        <span className="figures" data-testid="nozzle-line">
          line {lineNow.toLocaleString('en')}
        </span>
      </div>
      <ol className={styles.text} aria-label="Lines of the file" data-testid="text-around">
        {text.map((one) => (
          <li key={one.line} data-here={one.line === lineNow}>
            <span className={styles.number}>{one.line.toLocaleString('en')}</span>
            <code>{one.text}</code>
          </li>
        ))}
      </ol>
    </section>
  );
}
