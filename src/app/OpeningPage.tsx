import { Button } from '../ui/Button.tsx';
import styles from './App.module.css';
import { Brand } from './Brand.tsx';
import { goTo } from './route.ts';
import type { SessionState } from './session/project-session.ts';

/** Stands where a project will be: how far its opening is, or why there is none. */
export function OpeningPage({
  busy,
  trouble,
  onLeave,
}: Pick<SessionState, 'busy' | 'trouble'> & { readonly onLeave: () => void }) {
  return (
    <div className={styles.app}>
      <header className={styles.bar}>
        <Brand />
      </header>
      <main className={styles.waiting}>
        {trouble ? (
          <>
            <p role="alert">{trouble}</p>
            <Button
              look="main"
              onClick={() => {
                onLeave();
                goTo('/');
              }}
            >
              To the shelf
            </Button>
          </>
        ) : (
          <p role="status">
            Opening the project{busy ? `, ${Math.round(busy.fraction * 100)} %` : ''}
          </p>
        )}
      </main>
    </div>
  );
}
