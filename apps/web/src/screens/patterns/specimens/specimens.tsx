import type { SpecimenView } from '@lantern/contracts';
import { isKept, type Pattern, specimenFigures, type SpecimenOutcome } from '@lantern/core/detection';
import { type ReactNode, useMemo } from 'react';
import { toast } from 'sonner';
import {
  useJudgedSpecimens,
  useRemoveSpecimen,
  useSaveSpecimen,
  useSpecimens,
} from '../../../data/specimens';
import { useMay } from '../../../data/session';
import { useLantern } from '../../../stores/lantern-store';
import { Button } from '../../../ui/button';
import { Notice } from '../../../ui/notice';
import { errorSentence } from '../../../wording/errors';
import { figureWords, outcomeWords } from './words';
import { OverJournal } from './over-journal';
import { KeepSpecimen } from './keep-specimen';
import type { JudgedText } from './judge-worker';
import { useJudged } from './use-judged';

interface Props {
  readonly pattern: string;
  /** As it stands in the draft, and as it is being written; null while it cannot be run. */
  readonly saved: Pattern | null;
  readonly written: Pattern | null;
}

/** Specimens of a pattern, held to it while it is being written, and the step that keeps another one. */
export function Specimens({ pattern, saved, written }: Props) {
  const specimens = useSpecimens(pattern);
  const lanternText = useLantern((state) => state.text);
  const kept = useMemo(() => specimens.data ?? [], [specimens.data]);
  const texts = useMemo(
    () => [
      ...kept.map((specimen) => ({ text: specimen.text, expected: expectedOf(specimen, pattern) })),
      { text: lanternText, expected: { pattern, values: [] } },
    ],
    [kept, lanternText, pattern],
  );
  const judged = useJudged(pattern, saved, written, texts);
  const results = judged.status === 'judged' && judged.judged.length === texts.length ? judged.judged : [];
  return (
    <SpecimenList
      pattern={pattern}
      kept={kept}
      error={specimens.error}
      tooSlow={judged.status === 'too-slow'}
      results={results}
      beside={<OverJournal pattern={pattern} written={written} />}
    />
  );
}

/** The same for patterns whose knowledge stays on the server: judged there, with the drafts as they are saved. */
export function SpecimensOnServer({ pattern }: { readonly pattern: string }) {
  const specimens = useSpecimens(pattern);
  const judged = useJudgedSpecimens(pattern);
  const kept = specimens.data ?? [];
  const results =
    (judged.data ?? []).length < kept.length
      ? []
      : kept.map(({ id }): JudgedText => {
          const { found = 0, missed = [], extra = [] } = judged.data?.find((each) => each.id === id) ?? {};
          return { before: null, now: { found, missed, extra }, values: [] };
        });
  return (
    <SpecimenList
      pattern={pattern}
      kept={kept}
      error={specimens.error ?? judged.error}
      tooSlow={false}
      results={results}
      beside={null}
    />
  );
}

interface ListProps {
  readonly pattern: string;
  readonly kept: readonly SpecimenView[];
  readonly error: unknown;
  readonly tooSlow: boolean;
  /** Of the kept ones in their order; what is judged beyond them is the text of the Lantern. */
  readonly results: readonly JudgedText[];
  readonly beside: ReactNode;
}

function SpecimenList({ pattern, kept, error, tooSlow, results, beside }: ListProps) {
  const lanternText = useLantern((state) => state.text);
  return (
    <section aria-label="Specimens">
      <h2 className="mb-1">Specimens</h2>
      {error !== null && <Notice look="stop">{errorSentence(error)}</Notice>}
      {tooSlow && (
        <Notice look="stop">
          Checking the specimens took too long and was stopped. Your text is still here. Make the expression
          or the specimens shorter.
        </Notice>
      )}
      {kept.length > 0 && <Figures results={results.slice(0, kept.length)} />}
      {beside}
      {kept.length === 0 && (
        <p className="mb-2 text-[13px] text-ink-2">
          No specimens yet. A specimen is a text with the values that this pattern should find, or none. Every
          change is checked against the specimens, and publishing warns before it breaks one.
        </p>
      )}
      <ul>
        {kept.map((specimen, index) => (
          <SpecimenRow key={specimen.id} specimen={specimen} pattern={pattern} judged={results[index]} />
        ))}
      </ul>
      <KeepSpecimen
        pattern={pattern}
        text={lanternText}
        values={results.length > kept.length ? (results.at(-1)?.values ?? []) : []}
      />
    </section>
  );
}

function expectedOf(specimen: SpecimenView, pattern: string) {
  return specimen.expected.find((each) => each.pattern === pattern) ?? { pattern, values: [] };
}

function Figures({ results }: { readonly results: readonly JudgedText[] }) {
  const now = specimenFigures(results.map((result) => result.now));
  const before = results.flatMap(({ before }): SpecimenOutcome[] => (before ? [before] : []));
  const changed = results.filter(({ before, now }) => before && isKept(before) !== isKept(now)).length;
  return (
    <p className="mb-1.5 bg-sunk px-2 py-1 text-[13px]" role="status" aria-label="Figures over the specimens">
      {figureWords(now, before.length === results.length ? specimenFigures(before) : null, changed)}
    </p>
  );
}

function SpecimenRow({
  specimen,
  pattern,
  judged,
}: {
  readonly specimen: SpecimenView;
  readonly pattern: string;
  readonly judged: JudgedText | undefined;
}) {
  const remove = useRemoveSpecimen();
  const save = useSaveSpecimen();
  const mayWrite = useMay('patterns.write');
  const send = useLantern((state) => state.send);
  const good = judged && isKept(judged.now);
  const takeAsIs = () => {
    const others = specimen.expected.filter((each) => each.pattern !== pattern);
    const expected = [...others, { pattern, values: judged?.values ?? [] }];
    save.mutate(
      { id: specimen.id, name: specimen.name, text: specimen.text, expected },
      { onSuccess: () => toast.success('The specimen now expects what was found') },
    );
  };
  return (
    <li
      className={`border-b border-dotted border-rule py-1 text-[13px] ${good === false ? 'bg-stop-soft' : ''}`}
    >
      <div className="flex items-baseline gap-2">
        <button
          type="button"
          className="part min-w-0 flex-1 truncate text-left"
          onClick={() => send(specimen.text)}
          title="Show it in the Lantern"
        >
          {specimen.name}
        </button>
        {mayWrite && good === false && (
          <Button look="quiet" onClick={takeAsIs}>
            Accept as expected
          </Button>
        )}
        {mayWrite && (
          <Button
            look="quiet"
            onClick={() => remove.mutate(specimen.id)}
            aria-label={`Remove the specimen ${specimen.name}`}
          >
            Remove
          </Button>
        )}
      </div>
      <p className="text-[12.5px] text-ink-2">
        {judged ? outcomeWords(judged.now, expectedOf(specimen, pattern).values.length) : 'checking …'}
        {judged?.before && isKept(judged.before) !== isKept(judged.now) && (
          <b> {isKept(judged.now) ? 'Fixed by this change.' : 'Broken by this change.'}</b>
        )}
      </p>
    </li>
  );
}
