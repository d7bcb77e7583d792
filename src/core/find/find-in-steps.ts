import { succeed, type Result } from '../base/result.ts';
import { findStack, type FindAnswer } from './find-stack.ts';
import { mergeCurves } from './merge-curves.ts';
import { otherStacks } from './other-stacks.ts';
import type { FindFault, FindRequest } from './request.ts';
import { stepsOf } from './turns.ts';

/** Looks for stacks with all efforts up to the one that is asked for (see `stepsOf`), and gives the best of all of them. */
export function findInSteps(request: FindRequest): Result<FindAnswer, FindFault> {
  const answers: FindAnswer[] = [];
  for (const seconds of stepsOf(request.seconds)) {
    const found = findStack({ ...request, seconds });
    if (!found.ok) return found;
    answers.push(found.value);
  }
  const curve = mergeCurves(answers.map((answer) => answer.curve));
  const others = answers.flatMap((answer) => [...answer.others, ...answer.curve.slice(-1)]);
  return succeed({
    curve,
    others: otherStacks(curve.at(-1), others),
    looked: answers.reduce((sum, { looked }) => sum + looked, 0),
  });
}
