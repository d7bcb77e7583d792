import {
  lazy,
  useEffect,
  useRef,
  useState,
  type ComponentType,
  type KeyboardEvent,
  type PointerEvent,
} from 'react';
import {
  useDocument,
  useLive,
  useProject,
  useVersions,
  useView,
} from '../../state/project-context.ts';
import { Button } from '../../ui/Button.tsx';
import { Late } from '../../ui/Late.tsx';
import { useGesture } from '../../ui/use-gesture.ts';
import { MOST_PINS, type Spot } from '../../state/view-store.ts';
import { useBrush } from './use-brush.ts';
import { ArtworkCanvas, FineCanvas, SampleCanvas } from './pictures.tsx';
import { PinMarks, Pins } from './Pins.tsx';
import { Readout } from './Readout.tsx';
import { SolidControls } from './SolidControls.tsx';
import styles from './Stage.module.css';
import { StageTools, viewsOf, ZOOM_STEP } from './StageTools.tsx';
import { frameOf, spotAt, zoomAt, type Placement } from './view-geometry.ts';
import { StageLine } from './StageLine.tsx';
import { nameOfSide, SideCanvas, WipeSides } from './WipeSides.tsx';

/** Drawing in 3D is loaded when it is first looked at. */
const SolidView = lazy(async () => ({ default: (await import('./SolidView.tsx')).SolidView }));

/** What most visits never show is loaded with its first use. */
const BrushOverlay = lazy(async () => ({
  default: (await import('./BrushOverlay.tsx')).BrushOverlay,
}));
const DifferenceLegend = lazy(async () => ({
  default: (await import('./DifferenceLegend.tsx')).DifferenceLegend,
}));
const LampControls = lazy(async () => ({
  default: (await import('./LampControls.tsx')).LampControls,
}));
const SideStrip = lazy(async () => ({ default: (await import('./SideStrip.tsx')).SideStrip }));
const MeasureScreen = lazy(async () => ({
  default: (await import('./MeasureScreen.tsx')).MeasureScreen,
}));

const PAN_STEP_PX = 40;
/** Room for what a stop has at the foot of the picture, px. */
const FOOT_PX = 40;
/** A pointer that moves less than this between press and release has clicked, px. */
const CLICK_PX = 4;

/** What a stop lays over the picture. */
export interface OverPicture {
  /** The piece on the screen, px. */
  readonly width: number;
  readonly height: number;
}

interface StageProps {
  /** Lies over the picture, and may take the pointer. */
  readonly over?: ComponentType<OverPicture> | undefined;
  /** What lies over the picture draws the print itself, sharper than samples can be. */
  readonly paints?: boolean | undefined;
  /** Stands at the foot of the picture. */
  readonly foot?: ComponentType | undefined;
}

/** One large picture, and the ways to look at it. */
export function Stage({ over: Over, paints = false, foot: Foot }: StageProps) {
  const { views } = useProject();
  const chosen = useView((state) => state.view);
  const artworkHeld = useView((state) => state.artworkHeld || state.originalHeld);
  const tag = useDocument((state) => state.document.tag);
  // A view that a project has no more, since its face lies on the bed, is that of the print.
  const own = tag && !viewsOf({ tag }).some(({ value }) => value === chosen) ? 'print' : chosen;
  const view = artworkHeld ? 'artwork' : own;
  const sides = useView((state) => state.sides);
  const versions = useVersions();
  const surround = useView((state) => state.surround);
  const zoom = useView((state) => state.zoom);
  const panX = useView((state) => state.panX);
  const panY = useView((state) => state.panY);
  const wipe = useView((state) => state.wipe);
  const shown = useLive((state) => state.shown);
  const [size, setSize] = useState({ width: 800, height: 600 });
  const area = useRef<HTMLDivElement>(null);
  const brushing = useBrush();
  const sideAt = useView((state) => state.sideAt);
  const measuring = useView((state) => state.measuringScreen);
  const drag = useRef({ x: 0, y: 0, moved: 0 });

  const placement: Placement = {
    stageWidth: size.width,
    stageHeight: size.height,
    widthMm: shown.widthMm,
    heightMm: shown.heightMm,
    zoom,
    panX,
    panY,
    footPx: Foot ? FOOT_PX : 0,
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

  const point = (event: PointerEvent<HTMLElement>): void => {
    const box = event.currentTarget.getBoundingClientRect();
    const spot = spotAt(frame, event.clientX - box.left, event.clientY - box.top);
    views.setState({ pointer: spot });
  };
  // The brush paints, or the picture is dragged.
  const gesture = useGesture({
    onBegin: (event) => {
      point(event);
      drag.current = { x: event.clientX, y: event.clientY, moved: 0 };
      brushing.begin(views.getState().pointer);
      return true;
    },
    onMove: (event) => {
      if (brushing.brush) {
        brushing.goOn(views.getState().pointer);
        return;
      }
      const from = drag.current;
      const { zoom: z, panX: px, panY: py } = views.getState();
      const [dx, dy] = [event.clientX - from.x, event.clientY - from.y];
      views.setState({ zoom: z ?? frame.scale, panX: px + dx, panY: py + dy });
      const moved = from.moved + Math.abs(dx) + Math.abs(dy);
      drag.current = { x: event.clientX, y: event.clientY, moved };
    },
    onEnd: (_, released) => {
      // A press that did not drag the picture pins what lies under it.
      const { pointer } = views.getState();
      if (brushing.brush) brushing.end();
      else if (released && drag.current.moved < CLICK_PX && pointer) pin(pointer);
    },
    onCancel: brushing.drop,
  });
  const handlers = gesture.on();

  const onKeyDown = (event: KeyboardEvent<HTMLDivElement>): void => {
    if (brushing.onKey(event.key)) {
      event.preventDefault();
      return;
    }
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
      <StageTools percent={percent} onZoom={zoomMiddle} onFit={fit} />
      <div
        ref={area}
        className={styles.area}
        id="stage"
        role="application"
        aria-label={`Picture, ${view} view. Arrow keys move it, plus and minus zoom, 0 fits it, P pins a spot.`}
        tabIndex={0}
        data-testid="stage-area"
        {...handlers}
        onPointerMove={(event) => {
          point(event);
          handlers.onPointerMove(event);
        }}
        onPointerLeave={() => {
          views.setState({ pointer: null });
        }}
        onKeyDown={onKeyDown}
      >
        <div className={styles.picture} style={place} data-pixels={frame.width > shown.columns * 2}>
          {view === 'wipe' ? (
            <>
              <SideCanvas side={sides[0]} />
              <div className={styles.layer} style={{ clipPath: `inset(0 0 0 ${wipe * 100}%)` }}>
                <SideCanvas side={sides[1]} />
              </div>
            </>
          ) : null}
          {view === 'artwork' ? <ArtworkCanvas /> : null}
          {view === 'artwork' ||
          view === 'wipe' ||
          view === 'solid' ||
          (paints && view === 'print') ? null : (
            <SampleCanvas painting={view === 'side' ? 'print' : view} />
          )}
          <FineCanvas />
          <PinMarks />
          {Over && view !== 'solid' ? (
            <Late>
              <Over width={frame.width} height={frame.height} />
            </Late>
          ) : null}
          {brushing.brush ? (
            <Late>
              <BrushOverlay
                brush={brushing.brush}
                width={frame.width}
                height={frame.height}
                growing={brushing.growing}
              />
            </Late>
          ) : null}
          {view === 'wipe' ? (
            <>
              <span className={styles.tag} data-side="left">
                {nameOfSide(sides[0], versions)}
              </span>
              <span className={styles.tag} data-side="right">
                {nameOfSide(sides[1], versions)}
              </span>
            </>
          ) : null}
        </div>
        {view === 'wipe' ? (
          <StageLine
            way="across"
            at={wipe}
            onMove={(next) => {
              views.setState({ wipe: next });
            }}
            label="Wipe between artwork and print"
            testId="wipe-line"
            frame={frame}
            length={size.height}
          />
        ) : null}
        {view === 'side' ? (
          <>
            <StageLine
              way="down"
              at={sideAt}
              onMove={(next) => {
                views.setState({ sideAt: next });
              }}
              label="Cut through the relief"
              testId="side-line"
              frame={frame}
              length={size.width}
            />
            <Late>
              <SideStrip frame={frame} />
            </Late>
          </>
        ) : null}
      </div>
      {view === 'solid' ? (
        <Late fallback={<SolidLoading />}>
          <SolidView />
        </Late>
      ) : null}
      {view === 'solid' ? <SolidControls /> : null}
      {view === 'wipe' ? <WipeSides /> : null}
      {view === 'lamp' ? (
        <Late>
          <LampControls />
        </Late>
      ) : null}
      {view === 'difference' ? (
        <Late>
          <DifferenceLegend />
        </Late>
      ) : null}
      {view === 'solid' ? null : <Pins />}
      {view === 'solid' ? null : <Readout />}
      <EditsUnderWay />
      {Foot && view !== 'solid' ? (
        <Late>
          <Foot />
        </Late>
      ) : null}
      {measuring ? (
        <Late>
          <MeasureScreen />
        </Late>
      ) : null}
    </section>
  );
}

/** Edits that take a while say how far they are, and can be taken back before they are made. */
function EditsUnderWay() {
  const editing = useLive((state) => state.editing);
  const undo = useDocument((state) => state.undo);
  const canUndo = useDocument((state) => state.past.length > 0);
  if (editing === null) return null;
  const percent = Math.round(100 * editing);
  return (
    <div className={styles.editing}>
      <p role="status" data-testid="editing">
        Working the edits out: {percent} %
      </p>
      {canUndo ? (
        <Button look="quiet" onClick={undo}>
          Take the change back
        </Button>
      ) : null}
    </div>
  );
}

function SolidLoading() {
  const { views } = useProject();
  useEffect(() => {
    views.setState({ drawing: true });
    return () => {
      views.setState({ drawing: false });
    };
  }, [views]);
  return <p className={styles.solidTrouble}>Loading the 3D view</p>;
}
