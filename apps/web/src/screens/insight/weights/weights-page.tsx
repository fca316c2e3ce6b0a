import type { WeightsLearnedView } from '@lantern/contracts/insight';
import type { LearnedWeights, ReliabilityRow } from '@lantern/core/insight';
import { useState } from 'react';
import { Link, useParams } from 'react-router';
import { useLearnedWeights, useTakeWeights } from '../../../data/insight';
import { useMay } from '../../../data/session';
import { Button } from '../../../ui/button';
import { Empty, Notice } from '../../../ui/notice';
import { errorSentence } from '../../../wording/errors';
import { count, percent } from '../../../wording/insight';
import { WEIGHT_WORDS } from '../../../wording/weights';

/** Weights of a pattern as decisions would have them: what changes, and how well both come true. */
export function WeightsPage() {
  const { pattern = '' } = useParams();
  const weights = useLearnedWeights(pattern);
  return (
    <div className="h-full overflow-auto px-6 py-5">
      <p className="mb-1 text-[12.5px]">
        <Link className="part" to={`/patterns/${pattern}`}>
          {weights.data?.pattern.name ?? 'The pattern'}
        </Link>
      </p>
      <h1>What decisions say about the weights</h1>
      {weights.isFetching && (
        <p role="status" className="mt-3 text-ink-2">
          Reading the evidence of decided incidents. This takes some seconds …
        </p>
      )}
      {weights.error && !weights.isFetching && (
        <div className="mt-3 max-w-3xl">
          <Notice look="stop">{errorSentence(weights.error)}</Notice>
        </div>
      )}
      {weights.data && !weights.isFetching && <Learned view={weights.data} />}
    </div>
  );
}

function Learned({ view }: { readonly view: WeightsLearnedView }) {
  const { learned, read, decided, needed } = view;
  const take = useTakeWeights();
  const mayWrite = useMay('patterns.write');
  const [taken, setTaken] = useState(false);
  return (
    <>
      <p className="mt-2 max-w-4xl">
        {count(decided)} incidents with this pattern were decided in 90 days. {count(read)} of them could be
        read again: the journal keeps their texts.
      </p>
      {!learned ? (
        <Empty title="Too few decisions to learn from">
          {count(needed)} decided incidents are needed, some of them false positives and some real.
        </Empty>
      ) : (
        <>
          <Effect learned={learned} />
          {take.error && (
            <div className="mt-3 max-w-3xl">
              <Notice look="stop">{errorSentence(take.error)}</Notice>
            </div>
          )}
          <div className="mt-4 flex items-center gap-3">
            {taken ? (
              <Notice look="go">
                The draft has these weights.{' '}
                <Link className="part" to="/policies/replay">
                  Replay the drafts
                </Link>{' '}
                or{' '}
                <Link className="part" to="/publish">
                  review and publish
                </Link>
                .
              </Notice>
            ) : (
              <Button
                look="main"
                refusal={mayWrite ? undefined : 'A policy author can change the draft.'}
                onClick={() => take.mutate(view.computed, { onSuccess: () => setTaken(true) })}
              >
                Put these weights into the draft
              </Button>
            )}
          </div>
        </>
      )}
    </>
  );
}

const HEAD = 'py-1 text-left font-normal text-ink-2';
const NUMBER = 'text-right tabular-nums';
const score = (value: number | null): string => (value === null ? '–' : value.toFixed(3));

function Effect({ learned }: { readonly learned: LearnedWeights }) {
  const { sure, brier, heldOut, learnedFrom } = learned;
  return (
    <div className="mt-3 grid max-w-5xl grid-cols-2 gap-x-10 gap-y-5">
      <section aria-label="Weights">
        <h2>Weights, in log-odds</h2>
        <table className="mt-1 w-full text-[12.5px]">
          <thead>
            <tr className="border-b border-rule">
              <th className={HEAD}>Evidence</th>
              <th className={`${HEAD} text-right`}>Now</th>
              <th className={`${HEAD} text-right`}>Learned</th>
            </tr>
          </thead>
          <tbody>
            {learned.weights.map(({ name, now, learned: next }) => (
              <tr
                key={name}
                className={`border-b border-dotted border-rule ${next === now ? 'text-ink-2' : ''}`}
              >
                <td className="py-1">{WEIGHT_WORDS[name]}</td>
                <td className={NUMBER}>{now.toFixed(2)}</td>
                <td className={`${NUMBER} ${next === now ? '' : 'font-semibold'}`}>{next.toFixed(2)}</td>
              </tr>
            ))}
          </tbody>
        </table>
      </section>
      <section aria-label="Effect">
        <h2>What would change</h2>
        <p className="mt-1">
          Certain to 80 or more: {count(sure.wrong.learned)} of {count(sure.wrong.of)} false positives (now{' '}
          {count(sure.wrong.now)}), {count(sure.real.learned)} of {count(sure.real.of)} real cases (now{' '}
          {count(sure.real.now)}).
        </p>
        {sure.real.learned < sure.real.now && (
          <p className="mt-1 font-semibold text-stop">
            ▲ {count(sure.real.now - sure.real.learned)} real cases would no longer be certain to 80.
          </p>
        )}
        {sure.wrong.learned > sure.wrong.now && (
          <p className="mt-1 font-semibold text-stop">
            ▲ {count(sure.wrong.learned - sure.wrong.now)} more false positives would be certain to 80.
          </p>
        )}
        <h2 className="mt-4">How well the certainty comes true</h2>
        <p className="mt-1 text-[12.5px] text-ink-2">
          Learned from {count(learnedFrom)} decisions, tried on {count(heldOut)} that were held out. Brier
          score: 0 is best.
        </p>
        <p className="mt-1">
          Brier score now {score(brier.now)}, learned {score(brier.learned)}
        </p>
        <Reliability name="Now" rows={learned.reliability.now} />
        <Reliability name="Learned" rows={learned.reliability.learned} />
      </section>
    </div>
  );
}

function Reliability({ name, rows }: { readonly name: string; readonly rows: readonly ReliabilityRow[] }) {
  return (
    <table className="mt-2 w-full text-[12.5px]">
      <caption className="text-left text-ink-2">
        {name}: the certainty that was given, and how many cases were real
      </caption>
      <thead>
        <tr className="border-b border-rule">
          <th className={HEAD}>Certainty</th>
          <th className={`${HEAD} text-right`}>Cases</th>
          <th className={`${HEAD} text-right`}>Mean certainty</th>
          <th className={`${HEAD} text-right`}>Real</th>
        </tr>
      </thead>
      <tbody>
        {rows.map(({ from, to, cases, said, real }) => (
          <tr key={from} className="border-b border-dotted border-rule">
            <td className="py-1">
              {percent(from)} to {percent(to)}
            </td>
            <td className={NUMBER}>{count(cases)}</td>
            <td className={NUMBER}>{percent(said)}</td>
            <td className={NUMBER}>{percent(real)}</td>
          </tr>
        ))}
      </tbody>
    </table>
  );
}
