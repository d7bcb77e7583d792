import type { TagProblem } from '#core/tags/check-tag.ts';
import styles from './TagOverlay.module.css';

interface ProblemMarksProps {
  readonly problems: readonly TagProblem[];
  readonly place: (
    at: NonNullable<TagProblem['at']>,
    problem: TagProblem,
  ) => {
    readonly left: number;
    readonly top: number;
  };
  readonly words: (problem: TagProblem) => string;
}

/** Marks at one place would hide each other. */
const MOST_MARKS = 12;

/** What cannot be printed, said where it is. */
export function ProblemMarks({ problems, place, words }: ProblemMarksProps) {
  return problems
    .filter(({ at }) => at !== null)
    .slice(0, MOST_MARKS)
    .map((problem, i) => {
      const { at } = problem;
      return at ? (
        <div
          key={`${problem.code}${problem.element}${i}`}
          className={styles.problem}
          style={place(at, problem)}
          data-testid="problem-mark"
        >
          <span>{words(problem)}</span>
        </div>
      ) : null;
    });
}
