import { useEffect, useState } from 'react';
import type { Library } from '../state/library.ts';
import { createRackStore, type RackStore } from '../state/rack-store.ts';

const CHANNEL = 'strata-rack';

/**
 * The rack, once it is read. It is saved at every change, and other tabs are told, so that none of them goes on with an
 * older one and writes it over the newer.
 */
export function useRack(library: Library): RackStore | null {
  const [rack, setRack] = useState<RackStore | null>(null);
  useEffect(() => {
    let gone = false;
    const channel = new BroadcastChannel(CHANNEL);
    void library.getRack().then((first) => {
      if (gone) return;
      const store = createRackStore(first, (changed) => {
        void library.putRack(changed).then(() => {
          if (!gone) channel.postMessage('changed');
        });
      });
      channel.onmessage = () => {
        void library.getRack().then((theirs) => {
          store.getState().adopt(theirs);
        });
      };
      setRack(store);
    });
    return () => {
      gone = true;
      channel.close();
    };
  }, [library]);
  return rack;
}
