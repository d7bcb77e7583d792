import { X } from 'lucide-react';
import { useEffect, useState, type CSSProperties } from 'react';
import { useStore } from 'zustand';
import { Button } from './Button.tsx';
import { markPlaced, toastPlace } from './toast.ts';
import styles from './Toasts.module.css';

type Toaster = typeof import('./toaster.ts');

/** Our face and colours, in both themes. */
const LOOK = {
  fontFamily: 'var(--font)',
  '--normal-bg': 'var(--sheet)',
  '--normal-text': 'var(--ink)',
  '--normal-border': 'var(--line-strong)',
  '--border-radius': 'var(--radius)',
} as CSSProperties;

/** Above the ledger, whose figures are read while something is told. */
const ABOVE_LEDGER_PX = 62;

/** Where `toast` shows what it tells, from the first message on; told plainly where what shows it cannot be loaded. */
export function Toasts() {
  const { wanted, missing, waiting } = useStore(toastPlace);
  const [loaded, setLoaded] = useState<Toaster | null>(null);
  useEffect(() => {
    if (!wanted) return;
    import('./toaster.ts').then(setLoaded, () => {
      // The next message asks for it again, and brings those before it along.
      toastPlace.setState({ wanted: false, missing: true });
    });
  }, [wanted]);
  // After the place itself has begun to listen: parts of a part begin first.
  useEffect(() => {
    if (loaded) markPlaced(loaded.toast);
  }, [loaded]);
  if (loaded)
    return (
      <loaded.Toaster
        position="bottom-center"
        offset={{ bottom: ABOVE_LEDGER_PX }}
        mobileOffset={{ bottom: ABOVE_LEDGER_PX }}
        style={LOOK}
      />
    );
  if (!missing || waiting.length === 0) return null;
  return (
    <div className={styles.plain} role="alert" data-testid="plain-messages">
      <div>
        {waiting.map((text, i) => (
          <p key={i}>{text}</p>
        ))}
      </div>
      <Button
        look="quiet"
        icon={<X size={16} aria-hidden />}
        aria-label="Close"
        onClick={() => {
          toastPlace.setState({ waiting: [] });
        }}
      />
    </div>
  );
}
