import type { PatternDetail } from '@lantern/contracts';
import {
  MAX_WEIGHT,
  type PatternWeights,
  READY_PATTERNS,
  WEIGHT_NAMES,
  withWeights,
} from '@lantern/core/detection';
import { useMemo, useState } from 'react';
import { toast } from 'sonner';
import { useSaveWeights } from '../../data/patterns';
import { useMay } from '../../data/session';
import { useLantern } from '../../stores/lantern-store';
import { Button } from '../../ui/button';
import { Notice } from '../../ui/notice';
import { errorSentence } from '../../wording/errors';
import { WEIGHT_WORDS } from '../../wording/weights';
import { Specimens } from './specimens/specimens';
import { type Moved, whatMoves } from './moved';

type Ready = NonNullable<PatternDetail['ready']>;

/** Weights that say nothing about this pattern are left out: no check digits, no test values. */
function namesFor(ready: Ready): readonly (keyof PatternWeights)[] {
  return WEIGHT_NAMES.filter((name) => {
    if (name === 'grouping') return ready.shapes.some((shape) => shape.includes('_'));
    if (name === 'testValue') return ready.testValues.length > 0;
    if (name === 'usualCheck' || name === 'check' || name === 'structure') return ready.weights[name] !== 0;
    return true;
  });
}

/** Text typed into the fields, as numbers; undefined where one is none. */
function readFields(fields: Readonly<Record<string, string>>): Partial<PatternWeights> | undefined {
  const entries = Object.entries(fields).map(([name, text]): [string, number] => [
    name,
    Number(text.replace(',', '.').replace('−', '-')),
  ]);
  const wrong = entries.some(
    ([name, weight]) =>
      fields[name]?.trim() === '' || !Number.isFinite(weight) || Math.abs(weight) > MAX_WEIGHT,
  );
  return wrong ? undefined : Object.fromEntries(entries);
}

/** Every weight of a ready pattern, to be changed in the draft, with what a change moves. */
export function WeightsEditor({
  pattern,
  ready,
}: {
  readonly pattern: PatternDetail;
  readonly ready: Ready;
}) {
  const mayWrite = useMay('patterns.write');
  const save = useSaveWeights(pattern.id);
  const [fields, setFields] = useState<Readonly<Record<string, string>>>(() => textOf(ready.draftWeights));
  const lanternText = useLantern((state) => state.text);
  const weights = useMemo(() => readFields(fields), [fields]);
  const texts = useMemo(
    () => [
      ...ready.examples.passing,
      ...ready.examples.nearMisses,
      ...(lanternText.trim() ? [lanternText] : []),
    ],
    [ready, lanternText],
  );
  const moved = useMemo(() => whatMoves(pattern.id, weights ?? {}, texts), [pattern.id, weights, texts]);
  const shipped = READY_PATTERNS.find(({ id }) => id === pattern.id);
  const changed = JSON.stringify(fields) !== JSON.stringify(textOf(ready.draftWeights));
  const put = (name: string, text: string) => setFields((before) => ({ ...before, [name]: text }));
  const restore = (name: string) => setFields(({ [name]: _gone, ...rest }) => rest);
  const submit = () => {
    if (!weights) return;
    save
      .mutateAsync({ weights: weights as Record<string, number>, version: ready.version })
      .then((saved) => {
        setFields(textOf(saved.ready?.draftWeights ?? {}));
        toast.success('Saved as a draft. It takes effect when it is published.');
      })
      .catch(() => undefined);
  };
  const refusal = !mayWrite
    ? 'This account reads patterns and does not write them'
    : !weights
      ? `A weight must be from −${MAX_WEIGHT} to ${MAX_WEIGHT}`
      : changed
        ? undefined
        : 'No changes';
  return (
    <div>
      {save.isError && <Notice look="stop">{errorSentence(save.error)}</Notice>}
      <table className="w-full bg-sheet text-[13px]" aria-label="Weights">
        <tbody>
          {namesFor(ready).map((name) => (
            <tr key={name} className="border-b border-dotted border-rule">
              <td className="px-2 py-0.5">{WEIGHT_WORDS[name]}</td>
              <td className="w-28 px-1 text-right whitespace-nowrap text-ink-2">
                {fields[name] !== undefined && Number(fields[name]) !== ready.weights[name] && (
                  <button
                    type="button"
                    className="part"
                    onClick={() => restore(name)}
                    title="Restore the default weight"
                  >
                    ships {signed(ready.weights[name])}
                  </button>
                )}
              </td>
              <td className="w-20 py-0.5 pr-1">
                <input
                  aria-label={`Weight: ${WEIGHT_WORDS[name]}`}
                  className="field h-6 text-right font-mono"
                  inputMode="decimal"
                  readOnly={!mayWrite}
                  value={fields[name] ?? String(ready.weights[name])}
                  onChange={(event) => put(name, event.target.value)}
                />
              </td>
            </tr>
          ))}
        </tbody>
      </table>
      <div className="mt-1.5 flex items-start gap-3">
        <p className="flex-1 text-[12.5px] text-ink-2">
          Weights are log-odds. Their sum gives the certainty: 0 is 50 %, +3 is 95 %, −3 is 5 %. Findings
          below 20 are not reported.
          {ready.changedBy && ` Last changed by ${ready.changedBy}.`}
        </p>
        <Button look="main" onClick={submit} refusal={refusal}>
          {save.isPending ? 'Saving …' : 'Save weights'}
        </Button>
      </div>
      {weights && Object.keys(fields).length > 0 && <WhatMoves moved={moved} />}
      <div className="mt-4">
        <Specimens
          pattern={pattern.id}
          saved={shipped ? withWeights(shipped, ready.draftWeights) : null}
          written={shipped && weights ? withWeights(shipped, weights) : null}
        />
      </div>
    </div>
  );
}

function textOf(weights: Partial<PatternWeights>): Record<string, string> {
  return Object.fromEntries(Object.entries(weights).map(([name, weight]) => [name, String(weight)]));
}

const signed = (weight: number): string => `${weight >= 0 ? '+' : '−'}${Math.abs(weight)}`;
const certaintyWords = (certainty: number | null): string =>
  certainty === null ? 'not found' : String(certainty);

function WhatMoves({ moved }: { readonly moved: readonly Moved[] }) {
  const moving = moved.filter((each) => each.before !== each.after);
  return (
    <div className="mt-2" role="status" aria-label="What moves">
      <h2 className="mb-1">
        {moving.length === 0 ? 'No example changes' : `What moves: ${moving.length} of ${moved.length} texts`}
      </h2>
      <table className="w-full text-[12.5px]">
        <tbody>
          {moving.map((each) => (
            <tr key={each.text} className="border-b border-dotted border-rule">
              <td className="max-w-0 truncate py-0.5 pr-2 font-mono" title={each.text}>
                {each.text}
              </td>
              <td className="w-44 text-right whitespace-nowrap">
                {certaintyWords(each.before)} → <b>{certaintyWords(each.after)}</b>
              </td>
            </tr>
          ))}
        </tbody>
      </table>
    </div>
  );
}
