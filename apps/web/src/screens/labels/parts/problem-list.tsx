import { labelGravity, type LabelProblem } from '@lantern/core/labels';
import { labelProblemSentence } from '../../../wording/labels';

/** What must be mended and what is worth a look, as sentences. */
export function ProblemList({ problems }: { readonly problems: readonly LabelProblem[] }) {
  if (problems.length === 0) return null;
  return (
    <ul className="my-1 text-[13px]">
      {problems.map((problem) => {
        const must = labelGravity(problem.code) === 'must';
        return (
          <li
            key={`${problem.code}${problem.path.join('.')}`}
            className={must ? 'bg-stop-soft px-2 py-0.5' : 'bg-sunk px-2 py-0.5'}
          >
            <b>{must ? 'Fix: ' : 'Check: '}</b>
            {labelProblemSentence(problem)}
          </li>
        );
      })}
    </ul>
  );
}

/** Problems of one field, for where it stands. */
export function problemsAt(
  problems: readonly LabelProblem[],
  ...path: readonly (string | number)[]
): LabelProblem[] {
  return problems.filter((problem) => path.every((step, index) => problem.path[index] === step));
}
