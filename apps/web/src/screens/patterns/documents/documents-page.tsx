import type { DocumentsDetail, DocumentsJob, PatternDetail, SampleSide } from '@lantern/contracts';
import { useQueryClient } from '@tanstack/react-query';
import { useCallback, useEffect, useState } from 'react';
import { useNavigate } from 'react-router';
import { toast } from 'sonner';
import { useDocumentsJob, useLearnDocuments } from '../../../data/documents';
import { useMay } from '../../../data/session';
import { Button } from '../../../ui/button';
import { TextField } from '../../../ui/field';
import { Notice } from '../../../ui/notice';
import { LEARNT_WORDS, progressWords, refusedWords } from '../../../wording/documents';
import { errorSentence } from '../../../wording/errors';
import { SpecimensOnServer } from '../specimens/specimens';
import { PatternHead } from '../pattern-head';
import { CategoryFigures } from './category-figures';
import { type Learning, refusalOf, shareOf, withFiles } from './learning';
import { SampleFiles, SampleTable } from './samples';
import { KEYS } from '../../../data/keys';

export function NewDocumentsPage() {
  return <DocumentsEditor pattern={null} />;
}

/** Own documents: what they were learnt from, how well, and learning them or learning them again. */
export function DocumentsEditor({ pattern }: { readonly pattern: PatternDetail | null }) {
  const known = pattern?.documents ?? null;
  return (
    <div className="h-full overflow-auto px-7 py-4">
      <div className="max-w-5xl">
        <PatternHead pattern={pattern} untitled="Learnt from samples" what="pattern" />
      </div>
      <div className="flex max-w-5xl flex-col gap-4">
        {pattern && known && (
          <p className="text-[12.5px] text-ink-2">
            {LEARNT_WORDS[known.learns].about} Learnt by {known.updatedBy}, version {known.version}. Used by{' '}
            {pattern.usedBy.join(', ') || 'no rule yet'}.
          </p>
        )}
        {known?.report && <CategoryFigures report={known.report} />}
        <LearnForm pattern={pattern} known={known} />
        {pattern && <SpecimensOnServer pattern={pattern.id} />}
      </div>
    </div>
  );
}

interface FormProps {
  readonly pattern: PatternDetail | null;
  readonly known: DocumentsDetail | null;
}

const NO_FILES: Readonly<Record<SampleSide, readonly File[]>> = { like: [], unlike: [] };

function LearnForm({ pattern, known }: FormProps) {
  const mayWrite = useMay('patterns.write');
  const [about, setAbout] = useState(pattern?.about ?? '');
  const [learning, setLearning] = useState<Learning>({
    name: pattern?.name ?? '',
    learns: known?.learns ?? 'likeness',
    share: String(Math.round((known?.leastShare ?? 0.3) * 100)),
    files: NO_FILES,
    dropped: new Set(),
  });
  // What is learnt again stands on the version that this began with, or on theirs once its refusal was read.
  const [version, setVersion] = useState(known?.version ?? 0);
  const put = (change: Partial<Learning>) => setLearning((before) => ({ ...before, ...change }));
  const begin = useLearnDocuments(pattern?.id);
  const job = useDocumentsJob(begin.data?.id ?? null);
  const arrived = useCallback(() => {
    setLearning((before) => ({ ...before, files: NO_FILES, dropped: new Set() }));
    setVersion((before) => before + 1);
  }, []);
  useArrival(job.data, arrived);
  const samples = known?.samples ?? [];
  const { learns, files } = learning;
  const running = begin.isPending || job.data?.status === 'running';
  const refusal = running ? 'Learning is under way' : refusalOf(learning, samples);
  const submit = () =>
    begin.mutate(
      {
        name: learning.name,
        about,
        learns,
        leastShare: shareOf(learning.share) ?? 1,
        version,
        drop: [...learning.dropped],
        files,
      },
      { onError: () => setVersion(known?.version ?? 0) },
    );
  const take = (side: SampleSide, more: readonly File[]) =>
    put({ files: { ...files, [side]: withFiles(files[side], more) } });
  const leave = (side: SampleSide, file: File) =>
    put({ files: { ...files, [side]: files[side].filter((each) => each !== file) } });
  return (
    <section aria-label="Samples" className="flex flex-col gap-3 border border-rule bg-sheet p-4">
      {!known && <Choice learns={learns} choose={(next) => put({ learns: next })} />}
      <div className="grid grid-cols-[2fr_3fr_1fr] gap-3">
        <TextField
          label="Name"
          value={learning.name}
          maxLength={120}
          onChange={(event) => put({ name: event.target.value })}
        />
        <TextField
          label="What should be recognised?"
          value={about}
          maxLength={4000}
          onChange={(event) => setAbout(event.target.value)}
        />
        {learns === 'likeness' && (
          <TextField
            label="Share of a sample, %"
            inputMode="numeric"
            value={learning.share}
            onChange={(event) => put({ share: event.target.value })}
          />
        )}
      </div>
      <SampleTable
        samples={samples}
        learns={learns}
        dropped={learning.dropped}
        put={(dropped) => put({ dropped })}
      />
      {mayWrite && (
        <div className="grid grid-cols-2 gap-3">
          {(['like', 'unlike'] as const).map((side) => (
            <SampleFiles
              key={side}
              words={LEARNT_WORDS[learns][side]}
              files={files[side]}
              take={(more) => take(side, more)}
              leave={(file) => leave(side, file)}
            />
          ))}
        </div>
      )}
      {mayWrite && (
        <div className="flex items-center justify-end gap-3">
          <span role="status" className="text-[12.5px] text-ink-2">
            {job.data?.status === 'running' ? progressWords(job.data) : refusal}
          </span>
          <Button look="main" onClick={submit} reasonIsShown refusal={refusal}>
            {known ? 'Learn again' : 'Learn'}
          </Button>
        </div>
      )}
      {begin.isError && <Notice look="stop">{errorSentence(begin.error)}</Notice>}
      {job.data?.status === 'failed' && (
        <Notice look="stop">{[job.data.sentence, ...job.data.refused.map(refusedWords)].join(' ')}</Notice>
      )}
    </section>
  );
}

/** Goes to what was learnt once it is there, and says which files were left out. */
function useArrival(job: DocumentsJob | undefined, arrived: () => void): void {
  const navigate = useNavigate();
  const queries = useQueryClient();
  const pattern = job?.status === 'done' ? job.pattern : null;
  const left = job?.refused.map(refusedWords).join(' ') ?? '';
  useEffect(() => {
    if (!pattern) return;
    toast.success(
      'Learning finished. A new pattern takes effect when it is published; a new version takes effect at once.',
    );
    if (left) toast.warning(left, { duration: 20_000 });
    arrived();
    void queries.invalidateQueries({ queryKey: [KEYS.patterns] });
    void navigate(`/patterns/${pattern}`, { replace: true });
  }, [pattern, left, arrived, navigate, queries]);
}

interface ChoiceProps {
  readonly learns: Learning['learns'];
  readonly choose: (learns: Learning['learns']) => void;
}

function Choice({ learns, choose }: ChoiceProps) {
  return (
    <fieldset className="grid grid-cols-2 gap-3">
      <legend className="mb-1 text-[12.5px] font-semibold text-ink-2">What to find</legend>
      {(['likeness', 'category'] as const).map((each) => (
        <label key={each} className="flex items-start gap-2">
          <input
            type="radio"
            name="learns"
            className="mt-1"
            checked={learns === each}
            onChange={() => choose(each)}
          />
          <span>
            {LEARNT_WORDS[each].choice}
            <span className="block text-[12.5px] text-ink-2">{LEARNT_WORDS[each].about}</span>
          </span>
        </label>
      ))}
    </fieldset>
  );
}
