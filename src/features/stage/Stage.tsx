import { Maximize, ZoomIn, ZoomOut } from 'lucide-react';
import { useEffect, useRef, useState, type KeyboardEvent, type PointerEvent } from 'react';
import { useProject, useLive, useView } from '../../state/project-context.ts';
import { MOST_PINS, SURROUNDS, type Spot, type StageView } from '../../state/view-store.ts';
import { Button } from '../../ui/Button.tsx';
import { Choice } from '../../ui/Choice.tsx';
import { DifferenceLegend } from './DifferenceLegend.tsx';
import { LampControls } from './LampControls.tsx';
import { ArtworkCanvas, SampleCanvas } from './pictures.tsx';
import { PinMarks, Pins } from './Pins.tsx';
import { Readout } from './Readout.tsx';
import styles from './Stage.module.css';
import { frameOf, spotAt, zoomAt, type Placement } from './view-geometry.ts';
import { WipeLine } from './WipeLine.tsx';

const VIEWS: readonly { value: StageView; text: string }[] = [
  { value: 'print', text: 'Print' },
  { value: 'artwork', text: 'Artwork' },
  { value: 'wipe', text: 'Wipe' },
  { value: 'difference', text: 'Difference' },
  { value: 'heights', text: 'Heights' },
  { value: 'lamp', text: 'Lamp' },
];

const ZOOM_STEP = 1.25;
const PAN_STEP_PX = 40;
/** A pointer that moves less than this between press and release has clicked, px. */
const CLICK_PX = 4;

/** One large picture, and the ways to look at it. */
export function Stage() {
  const { views } = useProject();
  const view = useView((state) => state.view);
  const surround = useView((state) => state.surround);
  const zoom = useView((state) => state.zoom);
  const panX = useView((state) => state.panX);
  const panY = useView((state) => state.panY);
  const wipe = useView((state) => state.wipe);
  const shown = useLive((state) => state.shown);
  const [size, setSize] = useState({ width: 800, height: 600 });
  const area = useRef<HTMLDivElement>(null);
  const drag = useRef<{ x: number; y: number; moved: number } | null>(null);

  const placement: Placement = {
    stageWidth: size.width,
    stageHeight: size.height,
    widthMm: shown.widthMm,
    heightMm: shown.heightMm,
    zoom,
    panX,
    panY,
  };
  const frame = frameOf(placement);
  const latest = useRef(placement);
  latest.current = placement;

  useEffect(() => {
    const element = area.current;
    if (!element) return;
    const observer = new ResizeObserver(([entry]) => {
      if (entry) setSize({ width: entry.contentRect.width, height: entry.contentRect.height });
    });
    observer.observe(element);
    // React listens to wheels passively, which would let the page zoom along.
    const onWheel = (event: WheelEvent): void => {
      event.preventDefault();
      const box = element.getBoundingClientRect();
      const factor = Math.exp(-event.deltaY * (event.ctrlKey ? 0.01 : 0.0018));
      views.setState(
        zoomAt(latest.current, factor, event.clientX - box.left, event.clientY - box.top),
      );
    };
    element.addEventListener('wheel', onWheel, { passive: false });
    return () => {
      observer.disconnect();
      element.removeEventListener('wheel', onWheel);
    };
  }, [views]);

  const pin = (spot: Spot): void => {
    const { pins } = views.getState();
    views.setState({ pins: [...pins, spot].slice(-MOST_PINS) });
  };
  const zoomMiddle = (factor: number): void => {
    views.setState(zoomAt(latest.current, factor, size.width / 2, size.height / 2));
  };
  const fit = (): void => {
    views.setState({ zoom: null, panX: 0, panY: 0 });
  };
  // 100 %: one sample of the relief is one pixel of the screen.
  const percent = Math.round((frame.scale * shown.widthMm * 100) / shown.columns);

  const onPointerMove = (event: PointerEvent<HTMLDivElement>): void => {
    const box = event.currentTarget.getBoundingClientRect();
    const from = drag.current;
    if (from) {
      const { zoom: z, panX: px, panY: py } = views.getState();
      views.setState({
        zoom: z ?? frame.scale,
        panX: px + event.clientX - from.x,
        panY: py + event.clientY - from.y,
      });
      const moved =
        from.moved + Math.abs(event.clientX - from.x) + Math.abs(event.clientY - from.y);
      drag.current = { x: event.clientX, y: event.clientY, moved };
    }
    views.setState({ pointer: spotAt(frame, event.clientX - box.left, event.clientY - box.top) });
  };

  const onKeyDown = (event: KeyboardEvent<HTMLDivElement>): void => {
    const pans: Readonly<Record<string, readonly [number, number]>> = {
      ArrowLeft: [PAN_STEP_PX, 0],
      ArrowRight: [-PAN_STEP_PX, 0],
      ArrowUp: [0, PAN_STEP_PX],
      ArrowDown: [0, -PAN_STEP_PX],
    };
    const pan = pans[event.key];
    if (pan)
      views.setState({ zoom: zoom ?? frame.scale, panX: panX + pan[0], panY: panY + pan[1] });
    else if (event.key === '+' || event.key === '=') zoomMiddle(ZOOM_STEP);
    else if (event.key === '-') zoomMiddle(1 / ZOOM_STEP);
    else if (event.key === '0') fit();
    else if (event.key === 'p') pin(views.getState().pointer ?? { x: 0.5, y: 0.5 });
    else return;
    event.preventDefault();
  };

  const place = { left: frame.left, top: frame.top, width: frame.width, height: frame.height };
  return (
    <section className={styles.stage} data-surround={surround} aria-label="Stage">
      <div className={styles.tools}>
        <Choice
          label="View"
          value={view}
          options={VIEWS}
          onChange={(next) => {
            views.setState({ view: next });
          }}
        />
        <span className={styles.spacer} />
        <Button
          onClick={() => {
            const next = SURROUNDS[(SURROUNDS.indexOf(surround) + 1) % SURROUNDS.length];
            if (next) views.setState({ surround: next });
          }}
        >
          Surround: {surround}
        </Button>
        <Button
          icon={<ZoomOut size={16} aria-hidden />}
          aria-label="Zoom out"
          onClick={() => {
            zoomMiddle(1 / ZOOM_STEP);
          }}
        />
        <Button
          className="figures"
          title="One sample to one pixel"
          data-testid="zoom-percent"
          onClick={() => {
            zoomMiddle(100 / percent);
          }}
        >
          {percent} %
        </Button>
        <Button
          icon={<ZoomIn size={16} aria-hidden />}
          aria-label="Zoom in"
          onClick={() => {
            zoomMiddle(ZOOM_STEP);
          }}
        />
        <Button icon={<Maximize size={15} aria-hidden />} onClick={fit}>
          Fit
        </Button>
      </div>
      <div
        ref={area}
        className={styles.area}
        role="application"
        aria-label={`Picture, ${view} view. Arrow keys move it, plus and minus zoom, 0 fits it, P pins a spot.`}
        tabIndex={0}
        data-testid="stage-area"
        onPointerDown={(event) => {
          if (event.button !== 0) return;
          event.currentTarget.setPointerCapture(event.pointerId);
          drag.current = { x: event.clientX, y: event.clientY, moved: 0 };
        }}
        onPointerMove={onPointerMove}
        onPointerUp={(event) => {
          // A press that did not drag the picture pins what lies under it.
          const { pointer } = views.getState();
          if (drag.current && drag.current.moved < CLICK_PX && event.button === 0 && pointer)
            pin(pointer);
          drag.current = null;
        }}
        onPointerCancel={() => {
          drag.current = null;
        }}
        onPointerLeave={() => {
          views.setState({ pointer: null });
        }}
        onKeyDown={onKeyDown}
      >
        <div className={styles.picture} style={place} data-pixels={frame.width > shown.columns * 2}>
          {view === 'artwork' || view === 'wipe' ? <ArtworkCanvas /> : null}
          {view === 'artwork' ? null : (
            <div
              className={styles.layer}
              style={view === 'wipe' ? { clipPath: `inset(0 0 0 ${wipe * 100}%)` } : {}}
            >
              <SampleCanvas painting={view === 'wipe' ? 'print' : view} />
            </div>
          )}
          <PinMarks />
          {view === 'wipe' ? (
            <>
              <span className={styles.tag} data-side="left">
                Artwork
              </span>
              <span className={styles.tag} data-side="right">
                Print
              </span>
            </>
          ) : null}
        </div>
        {view === 'wipe' ? <WipeLine frame={frame} stageHeight={size.height} /> : null}
      </div>
      {view === 'lamp' ? <LampControls /> : null}
      {view === 'difference' ? <DifferenceLegend /> : null}
      <Pins />
      <Readout />
    </section>
  );
}
