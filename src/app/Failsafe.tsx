import { RotateCcw } from 'lucide-react';
import type { ReactNode } from 'react';
import { ErrorBoundary, type FallbackProps } from 'react-error-boundary';
import { Button } from '../ui/Button.tsx';
import styles from './App.module.css';

/** Stands where a part of the screen failed. */
function Failed({ error }: FallbackProps) {
  return (
    <div className={styles.failed} role="alert" data-testid="failed">
      <p>
        This part of the screen failed ({error instanceof Error ? error.message : String(error)}).
        Your work is kept in this browser. Is the app still running? Then reload the page.
      </p>
      <Button
        look="main"
        icon={<RotateCcw size={16} aria-hidden />}
        onClick={() => {
          window.location.reload();
        }}
      >
        Reload the page
      </Button>
    </div>
  );
}

interface FailsafeProps {
  readonly children: ReactNode;
  /** Another one of these is tried anew. */
  readonly of?: string;
}

/** Keeps what fails in a part of the screen, its script that cannot be loaded included, from taking the rest away. */
export function Failsafe({ children, of }: FailsafeProps) {
  return (
    <ErrorBoundary FallbackComponent={Failed} resetKeys={[of]}>
      {children}
    </ErrorBoundary>
  );
}
