import { RotateCcw } from 'lucide-react';
import type { ReactNode } from 'react';
import { ErrorBoundary, type FallbackProps } from 'react-error-boundary';
import { Button } from './Button.tsx';
import { isMissingPart } from './missing-part.ts';
import styles from './Failsafe.module.css';

/**
 * Stands where a part of the screen failed; everything else goes on. A script that did not come is not asked for again by the
 * browser, so only loading the page anew helps, and only once the app runs: before that it would lose the bench for nothing.
 */
function Failed({ error, resetErrorBoundary }: FallbackProps) {
  const missing = error instanceof Error && isMissingPart(error.message);
  const reload = async (): Promise<void> => {
    const answers = await fetch(window.location.href, { method: 'HEAD', cache: 'no-store' }).then(
      ({ ok }) => ok,
      () => false,
    );
    if (answers) window.location.reload();
  };
  return (
    <div className={styles.failed} role="alert" data-testid="failed">
      {missing ? (
        <>
          <p>
            This part of the app could not be loaded: the app is not running any more, or was
            updated. Everything else goes on, and your work is kept. Start the app again, then load
            the page anew.
          </p>
          <Button
            look="main"
            icon={<RotateCcw size={16} aria-hidden />}
            onClick={() => void reload()}
          >
            Load the page anew, once the app runs
          </Button>
        </>
      ) : (
        <>
          <p>
            This part of the screen failed ({error instanceof Error ? error.message : String(error)}
            ). Everything else goes on, and your work is kept.
          </p>
          <Button
            look="main"
            icon={<RotateCcw size={16} aria-hidden />}
            onClick={resetErrorBoundary}
          >
            Try again
          </Button>
        </>
      )}
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
