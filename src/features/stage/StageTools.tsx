import {
  Check,
  Contrast,
  Eye,
  LampDesk,
  Lightbulb,
  Maximize,
  Ruler,
  ScanLine,
  SunMoon,
  ZoomIn,
  ZoomOut,
} from 'lucide-react';
import { roomOf } from '../../state/room-light.ts';
import { liesOnFace } from '#core/tags/tag.ts';
import { useDocument, useProject, useView } from '../../state/project-context.ts';
import type { ProjectDocument } from '../../state/project-document.ts';
import { showTrueSize, SURROUNDS, type StageView } from '../../state/view-store.ts';
import { Button } from '../../ui/Button.tsx';
import { Choice } from '../../ui/Choice.tsx';
import { Menu } from '../../ui/Menu.tsx';
import { useGesture } from '../../ui/use-gesture.ts';
import { LIGHT_NAMES, LIGHT_OPTIONS } from './light-words.ts';
import styles from './Stage.module.css';

/** The views, in the order of their keys. */
const VIEWS: readonly { value: StageView; text: string }[] = [
  { value: 'print', text: 'Print' },
  { value: 'artwork', text: 'Artwork' },
  { value: 'wipe', text: 'Wipe' },
  { value: 'difference', text: 'Difference' },
  { value: 'heights', text: 'Heights' },
  { value: 'lamp', text: 'Lamp' },
  { value: 'solid', text: 'Solid' },
  { value: 'side', text: 'Side' },
];

/** Views that speak of a picture: a tag has none. */
const OF_A_PICTURE: readonly StageView[] = ['artwork', 'wipe', 'difference'];

/** Views that speak of heights: a face that lies on the bed is level. */
const OF_HEIGHTS: readonly StageView[] = ['heights', 'side'];

/** The views of a project. */
export function viewsOf({ tag }: Pick<ProjectDocument, 'tag'>): typeof VIEWS {
  if (!tag) return VIEWS;
  const level = liesOnFace(tag) || liesOnFace(tag, 'back');
  return VIEWS.filter(
    ({ value }) => !OF_A_PICTURE.includes(value) && !(level && OF_HEIGHTS.includes(value)),
  );
}

export const ZOOM_STEP = 1.25;

interface StageToolsProps {
  /** Present zoom; 100 is one sample to one pixel. */
  readonly percent: number;
  /** Zooms around the middle by a factor. */
  readonly onZoom: (factor: number) => void;
  readonly onFit: () => void;
}

/** Views, surround and sizes, along the top of the stage. */
export function StageTools({ percent, onZoom, onFit }: StageToolsProps) {
  const { views } = useProject();
  const tag = useDocument((state) => state.document.tag);
  const view = useView((state) => state.view);
  const surround = useView((state) => state.surround);
  const greys = useView((state) => state.greys);
  const room = useView((state) => roomOf(state.light));
  const flat = view !== 'solid';
  const holding = useGesture({
    onBegin: () => {
      views.setState({ artworkHeld: true });
      return true;
    },
    onEnd: () => {
      views.setState({ artworkHeld: false });
    },
  });
  return (
    <div className={styles.tools}>
      <Choice
        label="View"
        value={view}
        options={viewsOf({ tag })}
        onChange={(next) => {
          views.setState({ view: next });
        }}
      />
      <span className={styles.spacer} />
      {view === 'artwork' ? (
        <Button
          aria-pressed={greys}
          icon={<SunMoon size={15} aria-hidden />}
          aria-label="Greys"
          title="The artwork in greys of its brightness"
          data-testid="greys"
          onClick={() => {
            views.setState({ greys: !greys });
          }}
        />
      ) : null}
      {tag ? null : (
        <Button
          icon={<Eye size={16} aria-hidden />}
          aria-label="Artwork while held"
          title="Artwork while held (B)"
          {...holding.on()}
        />
      )}
      {view === 'artwork' || view === 'heights' ? null : (
        <span className={styles.sizes}>
          <Menu
            label={`Room light: ${LIGHT_NAMES[room]}`}
            trigger={
              room === 'd65' ? (
                <Lightbulb size={15} aria-hidden />
              ) : (
                <LampDesk size={15} aria-hidden />
              )
            }
            items={() =>
              LIGHT_OPTIONS.map(({ value, text }) => ({
                text,
                icon:
                  value === room ? (
                    <Check size={15} aria-hidden />
                  ) : (
                    <span className={styles.noIcon} />
                  ),
                onSelect: () => {
                  views.setState(({ light }) => ({ light: { ...light, roomKind: value } }));
                },
              }))
            }
          />
        </span>
      )}
      <Button
        icon={<Contrast size={15} aria-hidden />}
        aria-label={`Surround: ${surround}`}
        title={`Grey around the picture: ${surround}`}
        onClick={() => {
          const next = SURROUNDS[(SURROUNDS.indexOf(surround) + 1) % SURROUNDS.length];
          if (next) views.setState({ surround: next });
        }}
      />
      {flat ? (
        <>
          <Button
            icon={<ZoomOut size={16} aria-hidden />}
            aria-label="Zoom out"
            onClick={() => {
              onZoom(1 / ZOOM_STEP);
            }}
          />
          <Button
            className="figures"
            title="One sample to one pixel"
            data-testid="zoom-percent"
            onClick={() => {
              onZoom(100 / percent);
            }}
          >
            {percent} %
          </Button>
          <Button
            icon={<ZoomIn size={16} aria-hidden />}
            aria-label="Zoom in"
            onClick={() => {
              onZoom(ZOOM_STEP);
            }}
          />
          <Button
            icon={<Maximize size={15} aria-hidden />}
            aria-label="Fit"
            title="Fit"
            onClick={onFit}
          />
          <span className={styles.sizes}>
            <Menu
              label="True size"
              trigger={<Ruler size={16} aria-hidden />}
              items={() => [
                {
                  text: 'True size on this screen',
                  icon: <Ruler size={15} aria-hidden />,
                  onSelect: () => {
                    showTrueSize(views);
                  },
                },
                {
                  text: 'Measure this screen',
                  icon: <ScanLine size={15} aria-hidden />,
                  onSelect: () => {
                    views.setState({ measuringScreen: true });
                  },
                },
              ]}
            />
          </span>
        </>
      ) : null}
    </div>
  );
}
