import type { BrokenSpecimen, DraftChange } from '@lantern/contracts';
import { labelGravity } from '@lantern/core/labels';
import { gravityOf, type SetProblem } from '@lantern/core/policy';
import { useState } from 'react';
import { Link, useSearchParams } from 'react-router';
import { toast } from 'sonner';
import { useDraft, useNames, usePublish, usePolicies, useRevisions } from '../../data/policies';
import { useReplays } from '../../data/replays';
import { useTwoPeople } from '../../data/access';
import { useBreaches } from '../../data/crossings';
import { useMay } from '../../data/session';
import { Button } from '../../ui/button';
import { TextArea, TextField } from '../../ui/field';
import { Loading, Notice } from '../../ui/notice';
import { errorSentence, isForSecond } from '../../wording/errors';
import { crossingProblemSentence } from '../../wording/crossings';
import { labelProblemSentence } from '../../wording/labels';
import { problemSentence } from '../../wording/problems';
import { shortTime } from '../../wording/times';
import { ChangeList } from './change-list';
import { PolicyPlaces } from '../../shared/policy-places';
import { ComparedRevisions, RevisionList } from './revision-list';
import { SetFolder } from './set-folder';

/** What the drafts change, sentence by sentence, and the step that puts them in force. */
export function PublishPage() {
  const draft = useDraft();
  const revisions = useRevisions();
  const names = useNames();
  const [search, setSearch] = useSearchParams();
  const from = search.get('from');
  const to = search.get('to');
  if (draft.isPending) return <Loading what="the drafts" />;
  if (draft.isError) return <Notice look="stop">{errorSentence(draft.error)}</Notice>;
  const { changes, problems, labelProblems, crossingProblems, broken, follows, fingerprint } = draft.data;
  const crossingsToMend = crossingProblems.filter(({ gravity }) => gravity === 'must');
  const labelsToMend = labelProblems.filter(({ code }) => labelGravity(code) === 'must');
  const must = problems.filter(({ problem }) => gravityOf(problem.code) === 'must');
  const look = problems.filter(({ problem }) => gravityOf(problem.code) === 'look');
  return (
    <div className="h-full overflow-auto px-7 py-4">
      <PolicyPlaces />
      <div className="grid grid-cols-[1fr_320px] gap-8">
        {from !== null ? (
          <ComparedRevisions
            from={Number(from)}
            to={to === null ? null : Number(to)}
            onChange={(next) => setSearch(next)}
            onClose={() => setSearch({})}
          />
        ) : (
          <section aria-label="Changes">
            <h1 className="mb-3">Unpublished changes</h1>
            {changes.length === 0 && (
              <p className="text-ink-2">
                The drafts are identical to the published revision. Changes to policies, patterns or labels
                appear here.
              </p>
            )}
            <ChangeList changes={changes} names={names} />
            {must.length > 0 && (
              <Notice look="stop">
                <p className="mb-1 font-semibold">Fix before publishing</p>
                <Problems problems={must} changes={changes} />
              </Notice>
            )}
            {crossingsToMend.length > 0 && (
              <Notice look="stop">
                <p className="mb-1 font-semibold">Problems of automations to fix before publishing</p>
                <ul className="list-disc pl-5">
                  {crossingsToMend.map((problem) => (
                    <li key={`${problem.code}${problem.value}`}>
                      {crossingProblemSentence(problem)}{' '}
                      <Link className="part" to="/automations/sets">
                        Where data may go
                      </Link>
                    </li>
                  ))}
                </ul>
              </Notice>
            )}
            {changes.some(({ subject }) => subject === 'crossing-set' || subject === 'service') && (
              <WouldStop />
            )}
            {labelsToMend.length > 0 && (
              <Notice look="stop">
                <p className="mb-1 font-semibold">Label problems to fix before publishing</p>
                <ul className="list-disc pl-5">
                  {labelsToMend.map((problem) => (
                    <li key={`${problem.id}${problem.code}${problem.path.join('.')}`}>
                      <Link
                        className="part"
                        to={
                          problem.of === 'label'
                            ? `/labels/${problem.id}`
                            : `/labels/${problem.of === 'offer' ? 'offers' : 'automatic'}?open=${problem.id}`
                        }
                      >
                        {problem.name || 'one without a name'}
                      </Link>
                      : {labelProblemSentence(problem)}
                    </li>
                  ))}
                </ul>
              </Notice>
            )}
            {changes.some(({ subject }) => subject === 'label' || subject === 'offer') && (
              <p className="mb-2 text-[13px]">
                <Link className="part" to="/labels/review">
                  Who is affected by the labels, and the sign-off
                </Link>
              </p>
            )}
            {broken.length > 0 && <BrokenSpecimens broken={broken} />}
            {look.length > 0 && (
              <details className="mt-2 bg-sunk px-3 py-2 text-[13px]">
                <summary className="cursor-pointer font-semibold">{look.length} to check</summary>
                <Problems problems={look} changes={changes} />
              </details>
            )}
          </section>
        )}
        <section aria-label="Publish" className="border-l border-rule pl-6">
          <PublishForm
            count={changes.length}
            problems={must.length + labelsToMend.length}
            broken={broken}
            follows={follows ?? 0}
            fingerprint={fingerprint}
            agreed={draft.data.agreed ?? null}
          />
          <LastReplay />
          <h2 className="mt-6 mb-2">Revisions</h2>
          <RevisionList
            revisions={revisions.data ?? []}
            onCompare={(number) => setSearch({ from: String(number) })}
          />
          <SetFolder />
        </section>
      </div>
    </div>
  );
}

/** What the drafts would have done, as the last replay found it; it stands beside what is reviewed. */
function LastReplay() {
  const replays = useReplays();
  const last = replays.data?.find(({ state, difference }) => state === 'done' && difference !== null);
  const shifts = last?.difference?.shifts;
  return (
    <div className="mt-3 bg-sunk px-3 py-2 text-[13px]">
      {last && shifts && (
        <p>
          The replay of {shortTime(last.startedAt, new Date())} over {last.judged} movements:{' '}
          {shifts['newly-stopped']} newly stopped, {shifts['newly-let-through']} newly let through,{' '}
          {shifts['otherwise-answered']} with a different answer.
        </p>
      )}
      <Link className="part" to="/policies/replay">
        {last ? 'Open it, or replay the current drafts' : 'Replay the drafts'}
      </Link>
    </div>
  );
}

interface ProblemsProps {
  readonly problems: readonly SetProblem[];
  readonly changes: readonly DraftChange[];
}

function Problems({ problems, changes }: ProblemsProps) {
  const policies = usePolicies();
  const nameOf = (id: string): string =>
    policies.data?.find(({ policy }) => policy.id === id)?.policy.name ||
    changes.find((change) => change.id === id)?.name ||
    'a policy';
  return (
    <ul className="list-disc pl-5">
      {problems.map(({ policy, problem }) => (
        <li key={`${policy ?? ''}${problem.code}${problem.path.join('.')}${problem.value ?? ''}`}>
          {policy === null ? (
            'The whole set'
          ) : (
            <Link className="part" to={`/policies/${policy}`}>
              {nameOf(policy)}
            </Link>
          )}
          : {problemSentence(problem)}
        </li>
      ))}
    </ul>
  );
}

function BrokenSpecimens({ broken }: { readonly broken: readonly BrokenSpecimen[] }) {
  return (
    <Notice look="stop">
      <p className="mb-1 font-semibold">Specimens that would fail</p>
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
  readonly follows: number;
  /** Of the drafts on the screen: others are not published. */
  readonly fingerprint: string;
  /** Who published the same drafts as the first of two people. */
  readonly agreed: { readonly by: string; readonly at: string } | null;
}

function PublishForm({ count, problems, broken, follows, fingerprint, agreed }: FormProps) {
  const [takenUpon, setTakenUpon] = useState(false);
  const publish = usePublish();
  const may = useMay('policies.publish');
  const takesTwo = useTwoPeople().data?.kinds.includes('publish') ?? false;
  const [name, setName] = useState('');
  const [reason, setReason] = useState('');
  const refusal = !may
    ? 'Your account may not publish'
    : problems > 0
      ? `${problems} problems to fix first`
      : count === 0
        ? 'There is nothing to publish'
        : broken.length > 0 && !takenUpon
          ? 'Specimens would fail. Fix the patterns, or confirm that you publish anyway.'
          : undefined;
  const submit = () =>
    publish.mutate(
      {
        name,
        reason,
        follows,
        fingerprint,
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
          Publish although {broken.length === 1 ? 'a specimen fails' : `${broken.length} specimens fail`}. The
          revision records this.
        </label>
      )}
      {agreed && (
        <Notice>
          {agreed.by} agreed to publish these changes {shortTime(agreed.at, new Date())}. They take effect
          when a second person publishes them.
        </Notice>
      )}
      {publish.isError && !(agreed && isForSecond(publish.error)) && (
        <Notice look={isForSecond(publish.error) ? 'go' : 'stop'}>{errorSentence(publish.error)}</Notice>
      )}
      <Button look="main" className="justify-center" onClick={submit} reasonIsShown refusal={refusal}>
        {publish.isPending ? 'Publishing …' : 'Publish'}
      </Button>
      <p className="text-[12.5px] text-ink-2">
        {refusal ??
          (takesTwo
            ? 'It takes effect when a second person publishes the same changes.'
            : 'Publishing takes effect at once.')}
      </p>
    </div>
  );
}

/** Flows and assistants that run now and would be stopped by what is drafted. */
function WouldStop() {
  const breaches = useBreaches('drafts', '');
  const count = breaches.data?.wouldStop ?? 0;
  if (count === 0) return null;
  return (
    <Notice look="stop">
      <p>
        {count === 1 ? '1 automation that runs now stops' : `${count} automations that run now stop`} as soon
        as this is published.{' '}
        <Link className="part" to="/automations/breaches?by=drafts">
          Which, and whose they are
        </Link>
      </p>
    </Notice>
  );
}
