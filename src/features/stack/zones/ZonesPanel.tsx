import { Grid2x2, Layers, Plus, SquareDashed } from 'lucide-react';
import { useEffect, useState } from 'react';
import { Cancelled } from '#core/base/checkpoint.ts';
import { MOST_LEAN } from '#core/stack/lean.ts';
import { LEAST_ZONES, MOST_ZONES, USUAL_SHARED, USUAL_ZONES } from '#core/zones/zone.ts';
import { shownRequestOf } from '../../../state/document-facts.ts';
import { joinsWhen } from '../../../state/document-store.ts';
import {
  addZone,
  moveZone,
  setSharedLayers,
  setSoftBorders,
  setZoneLean,
  setZoneMembers,
  setZones,
} from '../../../state/edits/zone-edits.ts';
import { fittedMembers } from '../../../state/fit-zones.ts';
import { useDocument, useLive, useProject, useView } from '../../../state/project-context.ts';
import { GREATEST_SOFT_MM } from '../../../state/slices/heights.ts';
import { Button } from '../../../ui/Button.tsx';
import { SelectField } from '../../../ui/Fields.tsx';
import { Menu } from '../../../ui/Menu.tsx';
import { NumberField } from '../../../ui/NumberField.tsx';
import { Sortable } from '../../../ui/Sortable.tsx';
import { LeanRow } from '../LeanRow.tsx';
import { ZoneOrderField } from './ZoneOrderField.tsx';
import { ZoneRow } from './ZoneRow.tsx';
import styles from './Zones.module.css';

const MARKS = [
  { price: 0, text: 'colour alone' },
  { price: 6, text: 'mostly colour' },
  { price: 15, text: 'both' },
  { price: MOST_LEAN, text: 'walls: nothing leaves its zone' },
];

/** The height rule *Zones*: parts of the picture, each at its place in the stack. */
export function ZonesPanel() {
  const { worker, documents, views } = useProject();
  const { list, lean, shared, softMm } = useDocument((state) => state.document.heights.zones);
  const selections = useDocument((state) => state.document.artwork.selections);
  const { change, complete } = useDocument((state) => state);
  const facts = useLive((state) => state.zones);
  const ready = useLive((state) => state.heights !== null);
  const marked = useView((state) => state.zonesMarked);
  const [open, setOpen] = useState<string | null>(null);
  const [trouble, setTrouble] = useState<string | null>(null);
  const [fitting, setFitting] = useState(false);
  const attempt = async (what: string, work: () => Promise<void>): Promise<void> => {
    setTrouble(null);
    try {
      await work();
    } catch (error) {
      if (!(error instanceof Cancelled))
        setTrouble(
          `${what} (${error instanceof Error ? error.message : String(error)}). Try again.`,
        );
    }
  };
  const part = (count: number, byItself = false): Promise<void> =>
    attempt('The picture could not be parted', async () => {
      const samples = shownRequestOf(documents.getState().document);
      const { zones } = await worker.run('proposeZones', { samples, count });
      if (!byItself) {
        change(setZones(zones));
        return;
      }
      // Meanwhile the maker may have gone to a state that has its zones, or to another rule.
      const { heights } = documents.getState().document;
      if (heights.rule === 'zones' && heights.zones.list.length === 0) complete(setZones(zones));
    });
  const fit = (): Promise<void> =>
    attempt('The zones could not be fitted', async () => {
      const { document } = documents.getState();
      const { order } = document.heights.zones;
      change(setZoneMembers(await fittedMembers(document, order === 'found', worker)));
    });

  // The rule means nothing before the picture is parted, so the first visit does that.
  useEffect(() => {
    if (ready && list.length === 0) void part(USUAL_ZONES, true);
    // eslint-disable-next-line react-hooks/exhaustive-deps
  }, [ready, list.length]);
  // A brush belongs to this panel: nothing of it is left when another rule or stop is chosen.
  useEffect(
    () => () => {
      const { brush } = views.getState();
      if (brush && 'zone' in brush.says) views.setState({ brush: null });
    },
    [views],
  );

  const fromTop = list.map((zone, place) => ({ zone, place })).reverse();
  const full = list.length >= MOST_ZONES;
  return (
    <>
      <LeanRow lean={lean} make={setZoneLean} to="zones" marks={MARKS} />
      {trouble ? <p role="alert">{trouble}</p> : null}
      <Sortable
        ids={fromTop.map(({ zone }) => zone.id)}
        onMove={(id, over) => {
          change(
            moveZone(
              id,
              list.findIndex((one) => one.id === over),
            ),
          );
        }}
      >
        <ol className={styles.list} aria-label="Zones, the foremost first" data-testid="zones">
          {fromTop.map(({ zone, place }) => (
            <ZoneRow
              key={zone.id}
              zone={zone}
              place={place}
              count={list.length}
              facts={facts?.[place]}
              open={open === zone.id}
              onOpen={() => {
                setOpen(open === zone.id ? null : zone.id);
              }}
              attempt={attempt}
            />
          ))}
        </ol>
      </Sortable>
      <div className={styles.tools}>
        <Menu
          label="One zone more"
          framed
          trigger={
            <>
              <Plus size={15} aria-hidden /> Zone
            </>
          }
          items={() =>
            full
              ? [
                  {
                    text: `${MOST_ZONES} zones are all there may be`,
                    icon: null,
                    onSelect: () => undefined,
                  },
                ]
              : [
                  {
                    text: 'To be painted',
                    icon: <Plus size={15} aria-hidden />,
                    onSelect: () => {
                      change(addZone('painted'));
                    },
                  },
                  ...selections.map(({ id, name }) => ({
                    text: `Selection ${name}`,
                    icon: <SquareDashed size={15} aria-hidden />,
                    onSelect: () => {
                      change(addZone(name, id));
                    },
                  })),
                ]
          }
        />
        <Button
          icon={<Layers size={15} aria-hidden />}
          title="Colours go to the zone that serves them best in this stack"
          disabled={fitting}
          onClick={() => {
            setFitting(true);
            void fit().finally(() => {
              setFitting(false);
            });
          }}
        >
          Fit to the stack
        </Button>
        <Button
          icon={<Grid2x2 size={15} aria-hidden />}
          aria-label="Mark zones on the picture"
          title="Mark zones on the picture"
          aria-pressed={marked}
          onClick={() => {
            views.setState({ zonesMarked: !marked });
          }}
        />
      </div>
      <div className={styles.order}>
        <span>Order</span>
        <ZoneOrderField />
      </div>
      <details className={styles.more}>
        <summary>Parting and borders</summary>
        <NumberField
          label="Parted by colour into"
          value={list.length}
          least={LEAST_ZONES}
          greatest={MOST_ZONES}
          step={1}
          decimals={0}
          beginsWork
          testId="zone-count"
          onChange={(count) => void part(Math.round(count))}
        />
        <SelectField
          label="Neighbours share"
          value={shared === null ? FREE : String(shared)}
          options={sharedOptions(shared)}
          testId="zones-shared"
          onChange={(chosen) => {
            change(setSharedLayers(chosen === FREE ? null : Number(chosen)));
          }}
        />
        <NumberField
          label="Soft borders"
          unit="mm"
          value={softMm}
          least={0}
          greatest={GREATEST_SOFT_MM}
          step={0.2}
          testId="zones-soft"
          onChange={(value, repeats) => {
            change(setSoftBorders(value), joinsWhen(repeats));
          }}
        />
      </details>
    </>
  );
}

const FREE = 'free';

/** Numbers of shared layers that are offered, with the present one. */
function sharedOptions(
  present: number | null,
): readonly { readonly value: string; readonly text: string }[] {
  const offered = new Set([0, 1, 2, USUAL_SHARED, 5, 8, ...(present === null ? [] : [present])]);
  return [
    ...[...offered]
      .sort((one, other) => one - other)
      .map((layers) => ({
        value: String(layers),
        text:
          layers === 0
            ? 'no layers: they stand apart'
            : `${layers} ${layers === 1 ? 'layer' : 'layers'}`,
      })),
    { value: FREE, text: 'as many as they like' },
  ];
}
