import type { BrokenSpecimen, DraftChange } from '@lantern/contracts';
import type { Policy } from '@lantern/core';
import { useState } from 'react';
import { Link } from 'react-router';
import { toast } from 'sonner';
import { usePatternNames } from '../../data/patterns';
import { useDraft, usePublish, useRevisions } from '../../data/policies';
import { useMay } from '../../data/session';
import { Button } from '../../ui/button';
import { TextArea, TextField } from '../../ui/field';
import { Loading, Notice } from '../../ui/notice';
import { errorSentence } from '../../wording/errors';
import { problemSentence } from '../../wording/problems';
import { type Names, ruleSentence } from '../../wording/sentence';
import { STATE_WORDS } from '../../wording/terms';
import { exactTime } from '../../wording/times';

/** What the drafts change, sentence by sentence, and the step that puts them in force. */
export function PublishPage() {
  const draft = useDraft();
  const revisions = useRevisions();
  const names = usePatternNames();
  if (draft.isPending) return <Loading what="the drafts" />;
  if (draft.isError) return <Notice look="stop">{errorSentence(draft.error)}</Notice>;
  const { changes, problems, broken } = draft.data;
  return (
    <div className="grid h-full grid-cols-[1fr_320px] gap-8 overflow-auto px-7 py-4">
      <section aria-label="Changes">
        <h1 className="mb-3">Drafts beside what is published</h1>
        {changes.length === 0 && (
          <p className="text-ink-2">
            The drafts are the same as what is published. Change a policy or a word list, and it stands here.
          </p>
        )}
        {changes.map((change) => (
          <ChangeCard key={change.id} change={change} names={names} />
        ))}
        {problems.length > 0 && (
          <Notice look="stop">
            <p className="mb-1 font-semibold">To be mended before publishing</p>
            <ul className="list-disc pl-5">
              {problems.map(({ policy, problem }) => (
                <li key={`${policy}${problem.code}${problem.path.join('.')}`}>
                  <Link className="part" to={`/policies/${policy}`}>
                    {changes.find((change) => change.id === policy)?.name || 'a policy'}
                  </Link>
                  : {problemSentence(problem)}
                </li>
              ))}
            </ul>
          </Notice>
        )}
        {broken.length > 0 && <BrokenSpecimens broken={broken} />}
      </section>
      <section aria-label="Publish" className="border-l border-rule pl-6">
        <PublishForm count={changes.length} problems={problems.length} broken={broken} />
        <h2 className="mt-6 mb-2">Revisions</h2>
        <ol>
          {(revisions.data ?? []).map((revision) => (
            <li key={revision.number} className="border-b border-dotted border-rule py-1.5">
              <b>
                {revision.number}, {revision.name}
              </b>
              <p className="text-[12.5px] text-ink-2" title={exactTime(revision.publishedAt)}>
                {revision.publishedBy},{' '}
                {new Date(revision.publishedAt).toLocaleString('en-GB', {
                  dateStyle: 'medium',
                  timeStyle: 'short',
                })}
              </p>
              <p className="text-[12.5px]">{revision.reason}</p>
              {revision.brokenSpecimens.length > 0 && (
                <p className="text-[12.5px]">Broke knowingly: {revision.brokenSpecimens.join(', ')}</p>
              )}
            </li>
          ))}
        </ol>
      </section>
    </div>
  );
}

function BrokenSpecimens({ broken }: { readonly broken: readonly BrokenSpecimen[] }) {
  return (
    <Notice look="stop">
      <p className="mb-1 font-semibold">Specimens that would no longer give what they should</p>
      <ul className="list-disc pl-5">
        {broken.map(({ id, name, pattern, patternName, missed, extra }) => (
          <li key={`${id}${pattern}`}>
            {name}, of{' '}
            <Link className="part" to={`/patterns/${pattern}`}>
              {patternName}
            </Link>
            : {missed} missed, {extra} too many
          </li>
        ))}
      </ul>
    </Notice>
  );
}

interface FormProps {
  readonly count: number;
  readonly problems: number;
  readonly broken: readonly BrokenSpecimen[];
}

function PublishForm({ count, problems, broken }: FormProps) {
  const [takenUpon, setTakenUpon] = useState(false);
  const publish = usePublish();
  const may = useMay('policies.publish');
  const [name, setName] = useState('');
  const [reason, setReason] = useState('');
  const refusal = !may
    ? 'This account does not publish'
    : problems > 0
      ? `${problems} to mend first`
      : count === 0
        ? 'There is nothing to publish'
        : broken.length > 0 && !takenUpon
          ? 'Specimens would break: mend the patterns, or say that you publish all the same'
          : undefined;
  const submit = () =>
    publish.mutate(
      {
        name,
        reason,
        ...(broken.length > 0 ? { brokenSpecimens: [...new Set(broken.map(({ id }) => id))] } : {}),
      },
      {
        onSuccess: (revision) => {
          toast.success(`Revision ${revision.number} is in force`);
          setName('');
          setReason('');
        },
      },
    );
  return (
    <div className="flex flex-col gap-3">
      <h2>Publish as a revision</h2>
      <TextField
        label="Name"
        placeholder="Autumn tightening"
        maxLength={120}
        value={name}
        onChange={(event) => setName(event.target.value)}
      />
      <TextArea
        label="Why"
        rows={3}
        maxLength={4000}
        value={reason}
        onChange={(event) => setReason(event.target.value)}
      />
      {broken.length > 0 && (
        <label className="flex items-start gap-2 text-[13px]">
          <input
            type="checkbox"
            checked={takenUpon}
            onChange={(event) => setTakenUpon(event.target.checked)}
          />
          Publish although {broken.length === 1 ? 'a specimen breaks' : `${broken.length} specimens break`};
          it is kept with the revision
        </label>
      )}
      {publish.isError && <Notice look="stop">{errorSentence(publish.error)}</Notice>}
      <Button look="main" className="justify-center" onClick={submit} refusal={refusal}>
        {publish.isPending ? 'Publishing …' : 'Publish'}
      </Button>
      <p className="text-[12.5px] text-ink-2">{refusal ?? 'It takes effect at once, for the next mail.'}</p>
    </div>
  );
}

function ChangeCard({ change, names }: { readonly change: DraftChange; readonly names: Names }) {
  const to =
    change.state === 'removed'
      ? null
      : `/${change.subject === 'policy' ? 'policies' : 'patterns'}/${change.id}`;
  return (
    <article className="mb-3 rounded border border-rule bg-sheet px-4 py-2.5">
      <p className="mb-1">
        {to ? (
          <Link className="part" to={to}>
            {change.name || 'A policy without a name'}
          </Link>
        ) : (
          <b>{change.name}</b>
        )}{' '}
        <span className="text-[12.5px] text-ink-2">
          {change.subject}, {STATE_WORDS[change.state]}
        </span>
      </p>
      {change.subject === 'policy' && <Sentences before={change.before} after={change.after} names={names} />}
    </article>
  );
}

function Sentences({
  before,
  after,
  names,
}: {
  readonly before: Policy | null;
  readonly after: Policy | null;
  readonly names: Names;
}) {
  const was = (before?.rules ?? []).map((rule) => ruleSentence(rule, names));
  const becomes = (after?.rules ?? []).map((rule) => ruleSentence(rule, names));
  return (
    <ul className="text-[13px]">
      {was
        .filter((sentence) => !becomes.includes(sentence))
        .map((sentence) => (
          <li key={`was ${sentence}`} className="bg-stop-soft px-2 py-0.5">
            <span className="font-semibold">no longer: </span>
            <del>{sentence}</del>
          </li>
        ))}
      {becomes.map((sentence) => (
        <li
          key={`now ${sentence}`}
          className={was.includes(sentence) ? 'px-2 py-0.5 text-ink-2' : 'bg-go-soft px-2 py-0.5'}
        >
          {!was.includes(sentence) && <span className="font-semibold">new: </span>}
          {sentence}
        </li>
      ))}
    </ul>
  );
}
