import {
  ArrowDown,
  ArrowDownUp,
  ArrowUp,
  Brush,
  Ellipsis,
  Eraser,
  MoveVertical,
  Scissors,
  Spline,
  SquareDashed,
  Trash2,
} from 'lucide-react';
import { STRAIGHT_CURVE } from '#core/heights/tone.ts';
import type { ZoneFacts } from '#core/heights/zones.ts';
import { shownRequestOf } from '../../../state/document-facts.ts';
import { joinsWhen, SAME_FIELD } from '../../../state/document-store.ts';
import {
  clearZonePaint,
  giveSelectionToZone,
  moveZone,
  removeZone,
  renameZone,
  reverseZone,
  setZoneCurve,
  setZoneSpan,
  splitZoneInto,
} from '../../../state/edits/zone-edits.ts';
import { useDocument, useLive, useProject, useView } from '../../../state/project-context.ts';
import type { HeightsSlice } from '../../../state/project-document.ts';
import { FIRST_RADIUS } from '../../../state/view-store.ts';
import { BrushSize } from '../../../ui/BrushSize.tsx';
import { Button } from '../../../ui/Button.tsx';
import { Menu, type MenuItem } from '../../../ui/Menu.tsx';
import { useSortableRow } from '../../../ui/Sortable.tsx';
import { Swatch } from '../../../ui/Swatch.tsx';
import { CurveEditor } from '../CurveEditor.tsx';
import { useBars } from '../use-bars.ts';
import { markOf, standingOf } from './zone-marks.ts';
import styles from './Zones.module.css';

type KeptZone = HeightsSlice['zones']['list'][number];

interface ZoneRowProps {
  readonly zone: KeptZone;
  /** Place in the order, 0 lowest. */
  readonly place: number;
  readonly count: number;
  /** Undefined until they are worked out. */
  readonly facts: ZoneFacts | undefined;
  readonly open: boolean;
  readonly onOpen: () => void;
  /** Runs work whose failure is told beside the list. */
  readonly attempt: (what: string, work: () => Promise<void>) => Promise<void>;
}

/** One zone: dragged to another place, opened for its settings. */
export function ZoneRow({ zone, place, count, facts, open, onOpen, attempt }: ZoneRowProps) {
  const { worker, documents } = useProject();
  const selections = useDocument((state) => state.document.artwork.selections);
  const painted = useDocument((state) =>
    state.document.artwork.masks.zones.some((one) => one.zone === zone.id),
  );
  const change = useDocument((state) => state.change);
  const { numeral, dash } = markOf(place);
  const name = zone.name === '' ? `zone ${numeral}` : zone.name;
  const { ref, style, isDragging, grip } = useSortableRow(zone.id, 'zone', name, styles.grip);
  const split = (): Promise<void> =>
    attempt('The zone could not be parted', async () => {
      const { document } = documents.getState();
      const { list } = document.heights.zones;
      const { zones } = await worker.run('proposeZones', {
        samples: shownRequestOf(document),
        count: 2,
        split: { zone, others: list.filter(({ id }) => id !== zone.id) },
      });
      change(splitZoneInto(zone.id, zones));
    });
  const item = (
    text: string,
    Icon: typeof Trash2,
    edit: Parameters<typeof change>[0],
  ): MenuItem => ({
    text,
    icon: <Icon size={15} aria-hidden />,
    onSelect: () => {
      change(edit);
    },
  });
  const items = (): MenuItem[] => [
    ...(place < count - 1
      ? [item('Further to the front', ArrowUp, moveZone(zone.id, place + 1))]
      : []),
    ...(place > 0 ? [item('Further back', ArrowDown, moveZone(zone.id, place - 1))] : []),
    ...(zone.span
      ? [item('Let the colours find its span', MoveVertical, setZoneSpan(zone.id, null))]
      : []),
    {
      text: 'Part in two by colour',
      icon: <Scissors size={15} aria-hidden />,
      onSelect: () => void split(),
    },
    ...selections.map(({ id, name: own }) =>
      item(`Give it the selection ${own}`, SquareDashed, giveSelectionToZone(zone.id, id)),
    ),
    ...(painted
      ? [item('Take back what was painted or given', Eraser, clearZonePaint(zone.id))]
      : []),
    ...(count > 1 ? [item('Remove', Trash2, removeZone(zone.id))] : []),
  ];
  return (
    <li
      ref={ref}
      className={styles.zone}
      style={style}
      data-open={open}
      data-dragging={isDragging}
      data-testid="zone"
      data-name={zone.name}
      data-span={facts?.span?.join('-') ?? ''}
    >
      <div className={styles.head}>
        {grip}
        <span className={styles.numeral}>{numeral}</span>
        <svg className={styles.dash} width="22" height="8" aria-hidden>
          <line className={styles.span} x1="0" x2="22" y1="4" y2="4" strokeDasharray={dash} />
        </svg>
        <button type="button" className={styles.name} aria-expanded={open} onClick={onOpen}>
          {facts?.colour ? <Swatch colour={facts.colour} widthPx={14} heightPx={14} /> : null}
          <span>{name}</span>
        </button>
        <span className={`${styles.share} figures`} data-testid="zone-share">
          {facts ? `${Math.round(100 * facts.share)} %` : '...'}
        </span>
        <span className={styles.standing}>
          {facts?.span === null ? 'empty' : standingOf(place, count)}
        </span>
        <Menu
          label={`More for ${name}`}
          trigger={<Ellipsis size={16} aria-hidden />}
          items={items}
        />
      </div>
      {open ? <ZoneBody zone={zone} facts={facts} /> : null}
    </li>
  );
}

/** The settings of one zone. */
function ZoneBody({ zone, facts }: Pick<ZoneRowProps, 'zone' | 'facts'>) {
  const { views } = useProject();
  const { change, beginGesture, endGesture, cancelGesture } = useDocument((state) => state);
  const brush = useView((state) => state.brush);
  const histogram = useLive((state) => state.edited.histogram);
  const bars = useBars(histogram);
  const painting = brush !== null && 'zone' in brush.says && brush.says.zone === zone.id;
  return (
    <div className={styles.body}>
      {facts?.span === null ? (
        <p>Nothing of the picture is in this zone, so it takes no layers.</p>
      ) : null}
      <div className={styles.row}>
        <input
          className={styles.nameField}
          aria-label="Name of the zone"
          value={zone.name}
          onChange={(event) => {
            change(renameZone(zone.id, event.target.value), SAME_FIELD);
          }}
        />
        <Button
          icon={<Brush size={15} aria-hidden />}
          aria-pressed={painting}
          title="Paint what belongs to this zone, or move the brush with the arrow keys and press Space"
          onClick={() => {
            views.setState({
              zonesMarked: true,
              brush: painting
                ? null
                : { says: { zone: zone.id }, radius: brush?.radius ?? FIRST_RADIUS },
            });
          }}
        >
          Paint
        </Button>
      </div>
      {painting ? (
        <BrushSize
          radius={brush.radius}
          onChange={(radius) => {
            views.setState({ brush: { ...brush, radius } });
          }}
        />
      ) : null}
      <div className={styles.row}>
        <Button
          look="quiet"
          icon={<ArrowDownUp size={15} aria-hidden />}
          aria-pressed={zone.reversed}
          onClick={() => {
            change(reverseZone(zone.id, !zone.reversed));
          }}
        >
          {zone.reversed ? 'Light low, dark high' : 'Dark low, light high'}
        </Button>
        <Button
          look="quiet"
          icon={<Spline size={15} aria-hidden />}
          aria-pressed={zone.curve !== null}
          title="A curve over its span in place of the nearest colours"
          onClick={() => {
            change(setZoneCurve(zone.id, zone.curve ? null : STRAIGHT_CURVE));
          }}
        >
          Own curve
        </Button>
      </div>
      {zone.curve ? (
        <CurveEditor
          curve={zone.curve}
          bars={bars}
          onBegin={beginGesture}
          onEnd={endGesture}
          onCancel={cancelGesture}
          onChange={(curve, repeats) => {
            change(setZoneCurve(zone.id, curve), joinsWhen(repeats));
          }}
        />
      ) : null}
    </div>
  );
}
