import type { JobView } from '@lantern/contracts/discovery';
import { useState } from 'react';
import { toast } from 'sonner';
import { useSearchParams } from 'react-router';
import { useJobs, useRemoveJob, useSaveJob, useStartRun } from '../../../data/discovery';
import { useMay } from '../../../data/session';
import { Button } from '../../../ui/button';
import { Empty, Loading, Notice } from '../../../ui/notice';
import { STEP_WORDS } from '../../../wording/discovery';
import { errorSentence } from '../../../wording/errors';
import { scheduleWords } from '../../../wording/schedules';
import { shortTime } from '../../../wording/times';
import { chosenOf, ListRow } from '../../../ui/list-and-one';
import { DiscoveryPage } from '../discovery-page';
import { jobRequestOf } from './job-request';
import { JobForm } from './job-form';
import { Runs } from './run-view';

/** Jobs: what is looked for where and when, and how their runs went. */
export function RunsPage() {
  const jobs = useJobs();
  const mayRun = useMay('discovery.run');
  const [search, setSearch] = useSearchParams();
  const [edited, setEdited] = useState<JobView | 'new' | null>(null);
  const chosen = chosenOf(jobs.data, search.get('job'), jobs.isFetching);
  return (
    <DiscoveryPage
      bar={
        <Button
          look="main"
          refusal={mayRun ? undefined : 'Your account may not start runs.'}
          onClick={() => setEdited('new')}
        >
          Add job
        </Button>
      }
    >
      <div className="grid h-full grid-cols-[260px_minmax(0,1fr)]">
        <nav aria-label="Jobs" className="min-h-0 overflow-auto border-r border-rule">
          {jobs.error && <Notice look="stop">{errorSentence(jobs.error)}</Notice>}
          {jobs.isPending && <Loading what="the jobs" />}
          <ul>
            {jobs.data?.map((job) => (
              <li key={job.id}>
                <ListRow
                  isChosen={edited === null && job.id === chosen?.id}
                  onChoose={() => {
                    setEdited(null);
                    setSearch({ job: job.id });
                  }}
                >
                  <b>{job.name}</b>
                  <span className="block text-[12.5px] text-ink-2">{lastWords(job)}</span>
                </ListRow>
              </li>
            ))}
          </ul>
        </nav>
        <section aria-label="One job" className="min-h-0 overflow-auto px-5 py-4">
          {edited !== null ? (
            <JobForm
              job={edited === 'new' ? null : edited}
              onDone={(id) => {
                setEdited(null);
                if (id) setSearch({ job: id });
              }}
            />
          ) : chosen ? (
            <Job key={chosen.id} job={chosen} mayRun={mayRun} onEdit={() => setEdited(chosen)} />
          ) : (
            jobs.data && (
              <Empty title="No job yet">
                A job says where to look, what to leave out, when, and whether to look only or to label as
                well.
              </Empty>
            )
          )}
        </section>
      </div>
    </DiscoveryPage>
  );
}

function lastWords({ runs, active, nextAt }: JobView): string {
  const [last] = runs;
  if (last?.state === 'running') return 'running';
  if (last?.state === 'paused') return 'paused';
  const next = active && nextAt ? `next ${shortTime(nextAt, new Date())}` : 'by hand';
  return last ? `ran ${shortTime(last.startedAt, new Date())}, ${next}` : `never ran, ${next}`;
}

interface JobProps {
  readonly job: JobView;
  readonly mayRun: boolean;
  readonly onEdit: () => void;
}

function Job({ job, mayRun, onEdit }: JobProps) {
  const start = useStartRun();
  const remove = useRemoveJob();
  const save = useSaveJob();
  const [last] = job.runs;
  const isAtWork = last?.state === 'running' || last?.state === 'paused';
  const { definition } = job;
  const error = start.error ?? remove.error;
  const removeIt = () =>
    remove.mutate(job.id, {
      onSuccess: () =>
        toast(`Job “${job.name}” removed; what it found stays`, {
          action: {
            label: 'Add it again',
            onClick: () => save.mutate({ id: null, request: jobRequestOf(job) }),
          },
        }),
    });
  return (
    <article aria-label={job.name}>
      <header className="flex items-start gap-3">
        <div>
          <h2 className="font-head text-[17px] text-ink">{job.name}</h2>
          <p className="max-w-2xl">
            {STEP_WORDS[definition.step][0]?.toUpperCase()}
            {STEP_WORDS[definition.step].slice(1)} in {job.placeNames.join(', ')}
            {scopeWords(job)}
            {definition.everything ? '; reads everything each time' : '; reads what changed'}.{' '}
            {definition.schedule && job.active
              ? `${scheduleWords(definition.schedule)}.`
              : 'Started by hand.'}
          </p>
        </div>
        <span className="ml-auto flex shrink-0 gap-2">
          <Button
            look="main"
            refusal={!mayRun ? 'Your account may not start runs.' : isAtWork ? 'It is at work.' : undefined}
            reasonIsShown={isAtWork}
            onClick={() => start.mutate(job.id)}
          >
            Run now
          </Button>
          {mayRun && <Button onClick={onEdit}>Edit</Button>}
          {mayRun && (
            <Button look="quiet" onClick={removeIt}>
              Remove
            </Button>
          )}
        </span>
      </header>
      {error && <Notice look="stop">{errorSentence(error)}</Notice>}
      <Runs job={job} mayRun={mayRun} />
    </article>
  );
}

function scopeWords({ definition: { scope } }: JobView): string {
  const parts = [
    scope.only.length > 0 ? `only ${scope.only.join(', ')}` : '',
    scope.leaveOut.length > 0 ? `without ${scope.leaveOut.join(', ')}` : '',
    scope.endings.length > 0 ? `files of ${scope.endings.join(', ')}` : '',
    scope.mostBytes ? `up to ${Math.round(scope.mostBytes / 1_000_000)} MB` : '',
    scope.changedWithinDays ? `changed within ${scope.changedWithinDays} days` : '',
  ].filter(Boolean);
  return parts.length > 0 ? `, ${parts.join(', ')}` : '';
}
