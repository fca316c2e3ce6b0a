import type { PatternDetail } from '@lantern/contracts';
import { deskPath } from '@lantern/core/incidents';
import { Link, useParams } from 'react-router';
import { usePattern } from '../../data/patterns';
import { useLantern } from '../../stores/lantern-store';
import { Button } from '../../ui/button';
import { Loading, Notice } from '../../ui/notice';
import { countryName } from '../../wording/countries';
import { errorSentence } from '../../wording/errors';
import { KIND_WORDS } from '../../wording/terms';
import { DocumentsEditor } from './documents/documents-page';
import { ExpressionEditor } from './expression/expression-page';
import { RecordsEditor } from './records/records-page';
import { WeightsEditor } from './weights-editor';
import { WordListEditor } from './word-list-page';

/** A pattern from top to bottom: what it is, how it is recognised with every weight, what it is not, its use. */
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
  if (pattern.data.records) return <RecordsEditor key={id} pattern={pattern.data} />;
  if (pattern.data.documents) return <DocumentsEditor key={id} pattern={pattern.data} />;
  if (pattern.data.own?.expression) return <ExpressionEditor key={id} pattern={pattern.data} />;
  return pattern.data.own ? (
    <WordListEditor key={id} pattern={pattern.data} />
  ) : (
    <ReadyPage key={id} pattern={pattern.data} />
  );
}

type Ready = NonNullable<PatternDetail['ready']>;

function ReadyPage({ pattern }: { readonly pattern: PatternDetail }) {
  const { ready } = pattern;
  if (!ready) return null;
  const places =
    pattern.countries.length > 12
      ? `${pattern.countries.length} countries`
      : pattern.countries.map(countryName).join(', ');
  return (
    <div className="h-full overflow-auto px-7 py-4">
      <p className="mb-1 text-[12.5px]">
        <Link className="part" to="/patterns">
          Patterns
        </Link>
      </p>
      <h1>{pattern.name}</h1>
      <p className="max-w-3xl">{pattern.about}</p>
      <p className="mb-3 max-w-3xl text-[12.5px] text-ink-2">
        {KIND_WORDS[pattern.kind]} · {places || 'everywhere'}
        {pattern.otherNames.length > 0 && ` · also ${pattern.otherNames.join(', ')}`} ·{' '}
        <Link className="part" to={`/insight/weights/${pattern.id}`}>
          What decisions say about its weights
        </Link>
      </p>
      <div className="grid max-w-6xl grid-cols-[3fr_2fr] gap-8">
        <section aria-label="How it is recognised">
          <h2 className="mb-1">How it is recognised</h2>
          <p className="mb-2 text-[13px]">{recognitionSentence(pattern, ready)}</p>
          <WeightsEditor pattern={pattern} ready={ready} />
          <Words title="Its own names" words={ready.namingWords} />
          <Words title="Words from its subject" words={ready.supportingWords} />
          <h2 className="mt-4 mb-1">What is excluded</h2>
          <Words title="Words that count against it" words={ready.counterWords} />
          {ready.testValues.length > 0 && (
            <Words title="Published test values (lower certainty)" words={ready.testValues} mono />
          )}
        </section>
        <section aria-label="Examples and use">
          <h2 className="mb-1.5">Examples to try</h2>
          <Examples title="found" examples={ready.examples.passing} />
          <Examples title="near misses" examples={ready.examples.nearMisses} />
          <h2 className="mt-4 mb-1">Where it is used</h2>
          <p>
            {pattern.usedBy.length > 0 ? `Used by ${pattern.usedBy.join(', ')}.` : 'No rule uses it yet.'}
          </p>
          {pattern.decided > 0 && (
            <p className="text-[13px]">
              <Link
                className="part"
                to={deskPath(`status eq "decided" and pattern eq ${JSON.stringify(pattern.id)}`)}
              >
                {pattern.decided} decided {pattern.decided === 1 ? 'incident' : 'incidents'}
              </Link>{' '}
              incidents, {pattern.falsePositives} false positives.
            </p>
          )}
          <h2 className="mt-4 mb-1">Source</h2>
          <p>{pattern.source}</p>
        </section>
      </div>
    </div>
  );
}

/** Shapes shown; account numbers of all countries have more than anybody reads. */
const SHOWN_SHAPES = 8;

function recognitionSentence(pattern: PatternDetail, ready: Ready): string {
  const shapes = ready.shapes.slice(0, SHOWN_SHAPES).join('   ');
  const more = ready.shapes.length > SHOWN_SHAPES ? ` and ${ready.shapes.length - SHOWN_SHAPES} more` : '';
  const written = shapes
    ? `Written ${shapes}${more} (9 a digit, A a capital, X either, _ a separator or none). `
    : '';
  const checked = pattern.check
    ? `Checked by ${pattern.check}; ${shareWords(ready.accidentalShare)} random values of this format pass.`
    : 'It has no check digits. Only the text around it can confirm it.';
  return written + checked;
}

function shareWords(share: number): string {
  if (share >= 0.99) return 'all';
  if (share > 0.02) return `${Math.round(share * 100)} in a hundred`;
  return `one in ${Math.round(1 / share).toLocaleString('en')}`;
}

function Words({
  title,
  words,
  mono = false,
}: {
  readonly title: string;
  readonly words: readonly string[];
  readonly mono?: boolean;
}) {
  if (words.length === 0) return null;
  return (
    <details className="mt-2 text-[13px]" open={words.length <= 24}>
      <summary className="cursor-pointer">
        {title}, {words.length}
      </summary>
      <p className={mono ? 'font-mono text-[12px] break-all' : ''}>
        {words.map((word) => word.replace(/^=/, '')).join(', ')}
      </p>
    </details>
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
