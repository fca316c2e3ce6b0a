import { type JobRequest, type JobView, type Step, STEPS } from '@lantern/contracts/discovery';
import { type FormEvent, useState } from 'react';
import { useDiscoveryPlaces, useEstimate, useSaveJob } from '../../../data/discovery';
import { NEW_SCHEDULE, ScheduleFields } from '../../../shared/schedule/schedule-fields';
import { Button } from '../../../ui/button';
import { SelectField, TextArea, TextField } from '../../../ui/field';
import { Notice } from '../../../ui/notice';
import { lasting, number, size, STEP_WORDS } from '../../../wording/discovery';
import { errorSentence } from '../../../wording/errors';
import { ProtectionFields, withStep } from './protection-fields';
import { endingsOf, jobRequestOf, limitOf, linesOf } from './job-request';

interface Props {
  readonly job: JobView | null;
  readonly onDone: (id?: string) => void;
}

const NEW: JobRequest = {
  ...{ name: '', places: [], step: 'find', everything: false, schedule: null, active: false },
  scope: { only: [], leaveOut: [], endings: [], mostBytes: null, changedWithinDays: null },
};
const MEGABYTE = 1_000_000;

/** Where, what of it, when, and how far to go. */
export function JobForm({ job, onDone }: Props) {
  const [draft, setDraft] = useState<JobRequest>(() => (job ? jobRequestOf(job) : NEW));
  const { scope } = draft;
  const [texts, setTexts] = useState({
    only: scope.only.join('\n'),
    leaveOut: scope.leaveOut.join('\n'),
    endings: scope.endings.join(', '),
    megabytes: scope.mostBytes ? String(scope.mostBytes / MEGABYTE) : '',
    days: scope.changedWithinDays ? String(scope.changedWithinDays) : '',
  });
  const save = useSaveJob();
  const set = (change: Partial<JobRequest>) => setDraft({ ...draft, ...change });
  const submit = (event: FormEvent) => {
    event.preventDefault();
    const megabytes = limitOf(texts.megabytes);
    const request: JobRequest = {
      ...draft,
      scope: {
        only: linesOf(texts.only),
        leaveOut: linesOf(texts.leaveOut),
        endings: endingsOf(texts.endings),
        mostBytes: megabytes === null ? null : megabytes * MEGABYTE,
        changedWithinDays: limitOf(texts.days),
      },
      ...(job ? { version: job.version } : {}),
    };
    save.mutate({ id: job?.id ?? null, request }, { onSuccess: ({ id }) => onDone(id) });
  };
  const text = (name: keyof typeof texts) => ({
    value: texts[name],
    onChange: ({ target }: { readonly target: { readonly value: string } }) =>
      setTexts({ ...texts, [name]: target.value }),
  });
  return (
    <form
      aria-label={job ? `Edit ${job.name}` : 'New job'}
      className="flex max-w-3xl flex-col gap-3"
      onSubmit={submit}
    >
      <h2 className="font-head text-[17px] text-ink">{job ? job.name : 'New job'}</h2>
      <TextField
        label="Name"
        required
        value={draft.name}
        onChange={({ target }) => set({ name: target.value })}
      />
      <Places chosen={draft.places} onChange={(places) => set({ places })} />
      <div className="grid grid-cols-2 gap-3">
        <TextArea
          label="Only these paths (none: all)"
          hint="One a line. * stands for anything in a name, ** for anything at all."
          rows={3}
          mono
          {...text('only')}
        />
        <TextArea label="Without these paths" hint="These win." rows={3} mono {...text('leaveOut')} />
        <TextField
          label="Only these kinds of file (none: all)"
          placeholder="docx, xlsx, pdf"
          {...text('endings')}
        />
        <TextField
          label="Items up to (MB)"
          placeholder="no limit"
          inputMode="numeric"
          {...text('megabytes')}
        />
        <TextField
          label="Changed within (days)"
          placeholder="any age"
          inputMode="numeric"
          {...text('days')}
        />
        <SelectField<Step>
          label="How far to go"
          value={draft.step}
          hint={
            draft.step !== 'find'
              ? 'Labels that automatic rules of the published revision call for are written into files of folders.'
              : 'Nothing is changed.'
          }
          options={STEPS.map((value) => ({ value, label: STEP_WORDS[value] }))}
          onChange={(step) => set(withStep(draft, step))}
        />
      </div>
      <ProtectionFields draft={draft} onChange={(protect) => set({ protect })} />
      <label className="flex items-center gap-2">
        <input
          type="checkbox"
          checked={draft.everything}
          onChange={({ target }) => set({ everything: target.checked })}
        />
        Read every item again, also those that did not change
      </label>
      <label className="flex items-center gap-2">
        <input
          type="checkbox"
          checked={draft.active}
          onChange={({ target }) =>
            set({
              active: target.checked,
              schedule: draft.schedule ?? (target.checked ? { ...NEW_SCHEDULE } : null),
            })
          }
        />
        Runs on a schedule
      </label>
      {draft.active && draft.schedule && (
        <ScheduleFields schedule={draft.schedule} onChange={(schedule) => set({ schedule })} />
      )}
      {save.error && <Notice look="stop">{errorSentence(save.error)}</Notice>}
      <div className="flex gap-2">
        <Button look="main" type="submit" refusal={draft.places.length > 0 ? undefined : 'Choose a place.'}>
          Save job
        </Button>
        <Button onClick={() => onDone()}>Cancel</Button>
      </div>
    </form>
  );
}

interface PlacesProps {
  readonly chosen: readonly string[];
  readonly onChange: (places: string[]) => void;
}

/** Places to go through, and what that takes, said before anything is started. */
function Places({ chosen, onChange }: PlacesProps) {
  const places = useDiscoveryPlaces();
  const estimate = useEstimate(chosen);
  const all = places.data ?? [];
  const expected = chosen.length > 0 ? estimate.data : undefined;
  return (
    <fieldset>
      <legend className="mb-1 text-[12.5px] font-semibold text-ink-2">Places</legend>
      <div className="grid max-h-52 grid-cols-2 overflow-auto border border-rule bg-sheet px-3 py-1.5">
        {all.map((place) => (
          <label key={place.id} className="flex min-h-[26px] items-center gap-2">
            <input
              type="checkbox"
              checked={chosen.includes(place.id)}
              onChange={({ target }) =>
                onChange(target.checked ? [...chosen, place.id] : chosen.filter((id) => id !== place.id))
              }
            />
            {place.name}
            <span
              className={
                place.check.state === 'failed' || place.check.state === 'empty' ? 'text-stop' : 'text-ink-2'
              }
            >
              {place.check.state === 'failed'
                ? 'cannot be opened'
                : place.check.state === 'empty'
                  ? 'empty'
                  : number(Math.max(place.figures.items, place.check.items ?? 0))}
            </span>
          </label>
        ))}
      </div>
      {expected && (
        <p role="status" className="mt-1 bg-sunk px-2.5 py-1.5 text-[12.5px]">
          {number(expected.items)} items, {size(expected.bytes)}: about {lasting(expected.seconds)} where all
          is read, {expected.isGuess ? 'guessed without an earlier run' : 'by the pace of the last run'}.
          {expected.empty.length > 0 && ` Empty: ${expected.empty.join(', ')}.`}
          {expected.unknown.length > 0 && ` Nothing is known yet of: ${expected.unknown.join(', ')}.`}
          {expected.withoutReader.length > 0 &&
            ` No reader at work for: ${expected.withoutReader.join(', ')}.`}
        </p>
      )}
    </fieldset>
  );
}
