import type { ScheduleRequest } from '@lantern/contracts/insight';
import { format } from 'date-fns';
import { useState } from 'react';
import { useScheduleRuns } from '../../data/insight';
import { SelectField, TextField } from '../../ui/field';
import { TimeZoneField } from '../../ui/time-zone-field';
import { errorSentence } from '../../wording/errors';
import {
  REPEAT_WORDS,
  type Repeat,
  REPEATS,
  repeatOf,
  ruleOf,
  WEEKDAY_CODES,
  WEEKDAY_WORDS,
} from '../../wording/schedules';

interface Props {
  readonly schedule: ScheduleRequest;
  readonly onChange: (schedule: ScheduleRequest) => void;
}

/** A new schedule: Mondays at eight by the reader's clock. */
export const NEW_SCHEDULE: ScheduleRequest = {
  rule: 'FREQ=WEEKLY;BYDAY=MO',
  time: '08:00',
  zone: Intl.DateTimeFormat().resolvedOptions().timeZone,
};

/** When something runs: by simple choices or a calendar rule, with the next times it gives. */
export function ScheduleFields({ schedule, onChange }: Props) {
  const known = repeatOf(schedule.rule);
  const [own, setOwn] = useState(known.repeat === 'own');
  const repeat = own ? 'own' : known.repeat;
  const runs = useScheduleRuns(schedule, schedule.rule !== '');
  const change = (changed: Partial<typeof schedule>) => onChange({ ...schedule, ...changed });
  return (
    <fieldset className="mt-3 grid grid-cols-3 gap-x-5 gap-y-3">
      <legend className="sr-only">Schedule</legend>
      <SelectField<Repeat>
        label="Runs"
        value={repeat}
        options={REPEATS.map((value) => ({ value, label: REPEAT_WORDS[value] }))}
        onChange={(value) => {
          setOwn(value === 'own');
          if (value !== 'own') change({ rule: ruleOf(value, known.weekday, known.day) });
        }}
      />
      {repeat === 'weeks' && (
        <SelectField
          label="Weekday"
          value={known.weekday}
          options={WEEKDAY_CODES.map((value) => ({ value, label: WEEKDAY_WORDS[value] }))}
          onChange={(weekday) => change({ rule: ruleOf('weeks', weekday, known.day) })}
        />
      )}
      {repeat === 'months' && (
        <TextField
          label="Day of the month"
          type="number"
          min={1}
          max={31}
          value={known.day}
          onChange={(event) =>
            change({ rule: ruleOf('months', known.weekday, Number(event.target.value) || 1) })
          }
        />
      )}
      {repeat === 'own' && (
        <TextField
          label="Rule"
          className="font-mono"
          value={schedule.rule}
          placeholder="FREQ=MONTHLY;BYDAY=1MO"
          onChange={(event) => change({ rule: event.target.value })}
        />
      )}
      <TextField
        label="At"
        type="time"
        required
        value={schedule.time}
        onChange={(event) => change({ time: event.target.value })}
      />
      <div>
        <TimeZoneField value={schedule.zone} onChange={(zone) => change({ zone })} />
      </div>
      <p role="status" className="col-span-3 text-[12.5px] text-ink-2">
        {runs.error ? (
          <span className="text-stop">{errorSentence(runs.error)}</span>
        ) : (
          (runs.data?.next ?? []).length > 0 &&
          `Next runs: ${runs.data?.next.map((at) => format(new Date(at), 'EEE d MMM yyyy HH:mm')).join(', ')} (your time)`
        )}
      </p>
    </fieldset>
  );
}
