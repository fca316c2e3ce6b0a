import type { DeskSettingView } from '@lantern/contracts';
import { SEVERITIES } from '@lantern/core/policy';
import { useState } from 'react';
import { toast } from 'sonner';
import { useDeskSetting, useSetDesk } from '../../data/desk';
import { Button } from '../../ui/button';
import { TextField } from '../../ui/field';
import { Loading, Notice } from '../../ui/notice';
import { TimeZoneField } from '../../ui/time-zone-field';
import { errorSentence } from '../../wording/errors';
import { SEVERITY_WORDS } from '../../wording/terms';

const DAYS = ['Monday', 'Tuesday', 'Wednesday', 'Thursday', 'Friday', 'Saturday', 'Sunday'] as const;

/** Working hours, and within how many of them incidents of each severity are to be decided. */
export function PromisesEditor() {
  const setting = useDeskSetting();
  if (setting.isError) return <Notice look="stop">{errorSentence(setting.error)}</Notice>;
  if (!setting.data) return <Loading what="promised times" />;
  return <PromisesForm key={JSON.stringify(setting.data)} setting={setting.data} />;
}

function PromisesForm({ setting }: { readonly setting: DeskSettingView }) {
  const save = useSetDesk();
  const [draft, setDraft] = useState(setting);
  const [closed, setClosed] = useState(setting.hours.closed.join(', '));
  const { hours, promises } = draft;
  const setHours = (changed: Partial<DeskSettingView['hours']>) =>
    setDraft({ ...draft, hours: { ...hours, ...changed } });
  const days = closed
    .split(/[\s,;]+/u)
    .map((each) => each.trim())
    .filter(Boolean);
  const wrong = days.find((day) => !/^\d{4}-\d{2}-\d{2}$/u.test(day));
  const refusal =
    hours.days.length === 0
      ? 'Choose a working day'
      : hours.from >= hours.to
        ? 'Work must begin before it ends'
        : wrong && `${wrong} is not a date such as 2026-12-25`;
  return (
    <div className="flex max-w-3xl flex-col gap-4">
      <section aria-label="Promised times">
        <h2 className="mb-1.5">Decide within this many working hours</h2>
        <div className="grid grid-cols-4 gap-3">
          {[...SEVERITIES].reverse().map((severity) => (
            <TextField
              key={severity}
              label={SEVERITY_WORDS[severity]}
              type="number"
              min={1}
              max={2_000}
              value={promises[severity]}
              onChange={(event) =>
                setDraft({ ...draft, promises: { ...promises, [severity]: Number(event.target.value) } })
              }
            />
          ))}
        </div>
      </section>
      <section aria-label="Working hours">
        <h2 className="mb-1.5">Working hours</h2>
        <div className="mb-2 flex flex-wrap gap-3">
          {DAYS.map((day, at) => (
            <label key={day} className="flex items-center gap-1.5">
              <input
                type="checkbox"
                checked={hours.days.includes(at + 1)}
                onChange={(event) =>
                  setHours({
                    days: event.target.checked
                      ? [...hours.days, at + 1].sort()
                      : hours.days.filter((each) => each !== at + 1),
                  })
                }
              />
              {day}
            </label>
          ))}
        </div>
        <div className="grid grid-cols-3 gap-3">
          <TextField
            label="From"
            type="time"
            value={hours.from}
            onChange={(event) => setHours({ from: event.target.value })}
          />
          <TextField
            label="To"
            type="time"
            value={hours.to}
            onChange={(event) => setHours({ to: event.target.value })}
          />
          <TimeZoneField value={hours.zone} onChange={(zone) => setHours({ zone })} />
        </div>
        <TextField
          className="mt-3"
          label="Closed on"
          placeholder="2026-12-25, 2027-01-01"
          value={closed}
          onChange={(event) => setClosed(event.target.value)}
        />
      </section>
      {save.isError && <Notice look="stop">{errorSentence(save.error)}</Notice>}
      <div>
        <Button
          look="main"
          refusal={refusal || undefined}
          onClick={() =>
            save.mutate(
              { hours: { ...hours, closed: days }, promises },
              { onSuccess: () => toast('Open incidents are promised anew') },
            )
          }
        >
          Save promised times
        </Button>
      </div>
    </div>
  );
}
