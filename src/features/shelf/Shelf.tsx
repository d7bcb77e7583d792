import type { ReactNode } from 'react';
import { ErrorBoundary } from 'react-error-boundary';
import {
  isUnreadable,
  type ShelfEntry,
  type ShelvedProject,
  type UnreadableProject,
} from '../../state/library.ts';
import { ProjectCard } from './ProjectCard.tsx';
import { UnreadableCard } from './UnreadableCard.tsx';
import styles from './Shelf.module.css';

/** A card of the demo world. */
export interface DemoCard {
  readonly name: string;
  readonly about: string;
  readonly thumb: string;
  readonly onOpen: () => void;
}

interface ShelfProps {
  readonly newProject: ReactNode;
  /** Null while they are being read. */
  readonly projects: readonly ShelfEntry[] | null;
  readonly demos: readonly DemoCard[];
  readonly pictures: readonly DemoCard[];
  readonly onOpen: (project: ShelvedProject) => void;
  readonly onRename: (project: ShelvedProject, name: string) => void;
  readonly onDuplicate: (project: ShelvedProject) => void;
  readonly onDelete: (project: ShelfEntry) => void;
  /** Hands over what is stored of a project that cannot be read. */
  readonly onDownload: (project: Omit<UnreadableProject, 'unreadable'>) => void;
}

function DemoCards({
  cards,
  small,
}: {
  readonly cards: readonly DemoCard[];
  readonly small?: boolean;
}) {
  return (
    <ul className={small ? styles.smallCards : styles.cards}>
      {cards.map(({ name, about, thumb, onOpen }) => (
        <li key={name} className={styles.card} data-testid="demo-card" data-name={name}>
          <button
            type="button"
            className={styles.open}
            onClick={onOpen}
            aria-label={`Begin with ${name}`}
          >
            <img className={styles.thumb} src={thumb} alt="" />
          </button>
          <div className={styles.caption}>
            <strong className={styles.name}>{name}</strong>
            <span className={styles.facts}>{about}</span>
          </div>
        </li>
      ))}
    </ul>
  );
}

/** The maker's projects, and ways to begin one. */
export function Shelf({
  newProject,
  projects,
  demos,
  pictures,
  onOpen,
  onRename,
  onDuplicate,
  onDelete,
  onDownload,
}: ShelfProps) {
  return (
    <main className={styles.shelf}>
      <h1 className="visually-hidden">Shelf</h1>
      {newProject}
      {projects && projects.length > 0 ? (
        <section aria-labelledby="own-projects">
          <h2 id="own-projects">Your projects</h2>
          <ul className={styles.cards}>
            {projects.map((project) =>
              isUnreadable(project) ? (
                <UnreadableCard
                  key={project.id}
                  name={project.name}
                  onDownload={() => {
                    onDownload(project);
                  }}
                  onDelete={() => {
                    onDelete(project);
                  }}
                />
              ) : (
                <ErrorBoundary
                  key={project.id}
                  resetKeys={[project]}
                  fallback={
                    <UnreadableCard
                      name={project.document.name}
                      onDownload={() => {
                        onDownload({ ...project, name: project.document.name });
                      }}
                      onDelete={() => {
                        onDelete(project);
                      }}
                    />
                  }
                >
                  <ProjectCard
                    project={project}
                    onOpen={() => {
                      onOpen(project);
                    }}
                    onRename={(name) => {
                      onRename(project, name);
                    }}
                    onDuplicate={() => {
                      onDuplicate(project);
                    }}
                    onDelete={() => {
                      onDelete(project);
                    }}
                  />
                </ErrorBoundary>
              ),
            )}
          </ul>
        </section>
      ) : null}
      <section aria-labelledby="demo-projects">
        <h2 id="demo-projects">From the Hollow Hill Observatory&apos;s gift table</h2>
        <DemoCards cards={demos} />
      </section>
      <section aria-labelledby="demo-pictures">
        <h2 id="demo-pictures">Pictures to try</h2>
        <DemoCards cards={pictures} small />
      </section>
    </main>
  );
}
