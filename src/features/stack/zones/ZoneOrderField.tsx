import { useEffect, useState } from 'react';
import { Cancelled } from '#core/base/checkpoint.ts';
import type { ZoneOrder, ZoneOrdering } from '#core/heights/zone-orders.ts';
import { orderZones } from '../../../state/edits/zone-edits.ts';
import { useDocument, useLive, useProject } from '../../../state/project-context.ts';
import { SelectField } from '../../../ui/Fields.tsx';

const NAMES: Readonly<Record<ZoneOrder | 'hand', string>> = {
  found: 'best order',
  dark: 'dark behind',
  background: 'background behind',
  hand: 'as they stand',
};

/** Less than this nobody sees, CIEDE2000. */
const NOTHING = 0.05;

/**
 * How the zones stand now. What the document says is how their order came about; once another stack is there that way may give
 * another order, and the field may not claim what is no longer true.
 */
function wayTheyStand(
  cameAbout: ZoneOrder | 'hand',
  orders: readonly ZoneOrdering[],
): ZoneOrder | 'hand' {
  const stands = ({ order }: ZoneOrdering): boolean => order.every((zone, place) => zone === place);
  const fitting = orders.filter(stands).map(({ by }) => by);
  if (orders.length === 0 || fitting.includes(cameAbout)) return cameAbout;
  return fitting[0] ?? 'hand';
}

/** How zones are ordered, with what each way costs. Prices are asked for when the print rests. */
export function ZoneOrderField() {
  const { worker } = useProject();
  const { list, order } = useDocument((state) => state.document.heights.zones);
  const change = useDocument((state) => state.change);
  const request = useLive((state) => state.request);
  const resting = useLive((state) => !state.pending);
  const [orders, setOrders] = useState<readonly ZoneOrdering[]>([]);
  useEffect(() => {
    // Those of another state speak of other zones, by their places.
    setOrders([]);
    if (!resting || request?.rule.kind !== 'zones') return undefined;
    const abort = new AbortController();
    worker
      .run('zoneOrders', request, abort)
      .then((answer) => {
        if (!abort.signal.aborted) setOrders(answer.orders);
      })
      .catch((error: unknown) => {
        // Cancelled, newer ones are on the way; all else the live print says.
        if (!(error instanceof Cancelled)) setOrders([]);
      });
    return () => {
      abort.abort();
    };
  }, [worker, request, resting]);
  const least = orders.find(({ by }) => by === 'found')?.meanDeltaE;
  const priceOf = (by: ZoneOrder | 'hand'): string => {
    const own = orders.find((one) => one.by === by)?.meanDeltaE;
    if (own === undefined || least === undefined) return '';
    const more = own - least;
    return more > NOTHING ? `, ${own.toFixed(1)} (+${more.toFixed(1)})` : `, ${own.toFixed(1)}`;
  };
  const offered: readonly (ZoneOrder | 'hand')[] = ['found', 'dark', 'background', 'hand'];
  return (
    <SelectField
      compact
      label="Order of zones, with its colour error"
      value={wayTheyStand(order, orders)}
      options={offered.map((by) => ({ value: by, text: `${NAMES[by]}${priceOf(by)}` }))}
      testId="zone-order"
      onChange={(by) => {
        const way = orders.find((one) => one.by === by);
        if (by === 'hand' || !way) return;
        change(
          orderZones(
            way.order.flatMap((zone) => list[zone]?.id ?? []),
            by,
          ),
        );
      }}
    />
  );
}
