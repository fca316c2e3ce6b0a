import type { PatternDetail } from '@lantern/contracts';
import { Link, useParams } from 'react-router';
import { usePattern } from '../../data/patterns';
import { useLantern } from '../../stores/lantern-store';
import { Button } from '../../ui/button';
import { Loading, Notice } from '../../ui/notice';
import { errorSentence } from '../../wording/errors';
import { weightWords } from '../../wording/evidence';
import { WordListEditor } from './word-list-page';

/** A pattern from top to bottom: what it is, how it is recognised with every weight, where it is used, examples. */
export function PatternPage() {
  const { id = '' } = useParams();
  const pattern = usePattern(id);
  if (pattern.isPending) return <Loading what="the pattern" />;
  if (pattern.isError) {
    return (
      <div className="p-7">
        <Notice look="stop">{errorSentence(pattern.error)}</Notice>
      </div>
    );
  }
  return pattern.data.own ? (
    <WordListEditor key={id} pattern={pattern.data} />
  ) : (
    <ReadyPage pattern={pattern.data} />
  );
}

const WEIGHTS = [
  ['shape', 'something of this shape, before anything else is known'],
  ['structure', 'issuer range, country structure or field layout fits'],
  ['check', 'check digits hold'],
  ['grouping', 'written in its usual groups'],
  ['supportingWord', 'a supporting word right beside it, less with distance up to 60 characters'],
  ['heading', 'the heading of its column names it'],
  ['counterWord', 'a counter word right beside it'],
  ['testValue', 'a published test value'],
] as const;

function ReadyPage({ pattern }: { readonly pattern: PatternDetail }) {
  const { ready } = pattern;
  if (!ready) return null;
  return (
    <div className="h-full overflow-auto px-7 py-4">
      <p className="mb-1 text-[12.5px]">
        <Link className="part" to="/patterns">
          Patterns
        </Link>
      </p>
      <h1>{pattern.name}</h1>
      <p className="mb-4 max-w-2xl">{pattern.about}</p>
      <div className="grid max-w-5xl grid-cols-[3fr_2fr] gap-8">
        <section aria-label="How it is recognised">
          <h2 className="mb-1.5">How it is recognised</h2>
          <table className="w-full bg-sheet text-[13px]">
            <tbody>
              {WEIGHTS.map(([key, words]) => (
                <tr key={key} className="border-b border-dotted border-rule">
                  <td className="px-2 py-1">
                    {key === 'check'
                      ? `${words} (${ready.checkName}; ${(ready.accidentalShare * 100).toPrecision(2)} % pass by accident)`
                      : words}
                  </td>
                  <td className="px-2 text-right font-mono">{weightWords(ready.weights[key])}</td>
                </tr>
              ))}
            </tbody>
          </table>
          <p className="mt-1.5 max-w-xl text-[12.5px] text-ink-2">
            Weights are log-odds. Their sum is the certainty: 0 is even odds, +3 is 95 in a hundred, −3 is 5.
          </p>
          <h2 className="mt-4 mb-1">Words that support it</h2>
          <p className="text-[13px]">{ready.supportingWords.join(', ')}</p>
          <h2 className="mt-3 mb-1">Words that speak against it</h2>
          <p className="text-[13px]">{ready.counterWords.join(', ')}</p>
        </section>
        <section aria-label="Examples and use">
          <h2 className="mb-1.5">Examples, to be tried at once</h2>
          <Examples title="found" examples={ready.examples.passing} />
          <Examples title="near misses" examples={ready.examples.nearMisses} />
          <h2 className="mt-4 mb-1">Looked for by</h2>
          <p>{pattern.usedBy.join(', ') || 'No rule yet.'}</p>
          <h2 className="mt-4 mb-1">Source</h2>
          <p>{pattern.source}</p>
          {pattern.countries.length > 0 && (
            <p className="mt-2 text-[12.5px] text-ink-2">
              {pattern.countries.length} countries: {pattern.countries.join(' ')}
            </p>
          )}
        </section>
      </div>
    </div>
  );
}

function Examples({ title, examples }: { readonly title: string; readonly examples: readonly string[] }) {
  const send = useLantern((state) => state.send);
  return (
    <div className="mb-2">
      <p className="text-[12.5px] text-ink-2">{title}</p>
      <ul>
        {examples.map((example) => (
          <li
            key={example}
            className="flex items-start justify-between gap-2 border-b border-dotted border-rule py-1"
          >
            <code className="font-mono text-[12px] break-all whitespace-pre-wrap">{example}</code>
            <Button look="quiet" onClick={() => send(example)} aria-label={`Try ${example} in the Lantern`}>
              Try
            </Button>
          </li>
        ))}
      </ul>
    </div>
  );
}
