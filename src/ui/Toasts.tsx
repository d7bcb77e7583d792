import { useEffect, useState } from 'react';
import { useStore } from 'zustand';
import { markPlaced, toastPlace } from './toast.ts';

type Sonner = typeof import('sonner');

/** Where `toast` shows what it tells, from the first message on. */
export function Toasts() {
  const { wanted } = useStore(toastPlace);
  const [loaded, setLoaded] = useState<Sonner | null>(null);
  useEffect(() => {
    if (!wanted) return;
    import('sonner').then(setLoaded, () => {
      // It cannot be had now: the next message asks for it again, and brings those before it along.
      toastPlace.setState({ wanted: false });
    });
  }, [wanted]);
  // After the place itself has begun to listen: parts of a part begin first.
  useEffect(() => {
    if (loaded) markPlaced(loaded.toast);
  }, [loaded]);
  return loaded ? <loaded.Toaster position="bottom-center" /> : null;
}
