import type { TagProblem } from '#core/tags/check-tag.ts';
import styles from './TagOverlay.module.css';

interface ProblemMarksProps {
  /** Of the piece on the screen, px: words of a mark in its right half stand to the left of it. */
  readonly width: number;
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
export function ProblemMarks({ width, problems, place, words }: ProblemMarksProps) {
  return problems
    .filter(({ at }) => at !== null)
    .slice(0, MOST_MARKS)
    .map((problem, i) => {
      const { at } = problem;
      if (!at) return null;
      const where = place(at, problem);
      return (
        <div
          key={`${problem.code}${problem.element}${i}`}
          className={styles.problem}
          style={where}
          data-words={where.left > width / 2 ? 'left' : 'right'}
          data-testid="problem-mark"
        >
          <span>{words(problem)}</span>
        </div>
      );
    });
}
