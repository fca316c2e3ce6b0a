import { CHANNELS } from '@lantern/core/movement';
import {
  type ChannelCondition,
  type RateCondition,
  type SizeCondition,
  type TimeCondition,
  type TriesCondition,
} from '@lantern/core/policy';
import { SelectField, TextField } from '../../../ui/field';
import { CHANNEL_WORDS } from '../../../wording/terms';
import { TimeZoneField } from '../../../ui/time-zone-field';
import { ChooseSeveral } from './choose-several';
import { NumberField } from '../../../ui/number-field';
import { type EditorProps } from './content-editors';

const WEEK = ['1', '2', '3', '4', '5', '6', '7'] as const;
const DAY_NAMES = { 1: 'Mon', 2: 'Tue', 3: 'Wed', 4: 'Thu', 5: 'Fri', 6: 'Sat', 7: 'Sun' } as const;

export function TimeEditor({ clause, onChange }: EditorProps<TimeCondition>) {
  return (
    <div className="flex flex-col gap-2.5">
      <div className="grid grid-cols-2 gap-2.5">
        <TextField
          label="From"
          type="time"
          value={clause.from}
          onChange={(event) => onChange({ ...clause, from: event.target.value })}
        />
        <TextField
          label="Until"
          type="time"
          hint="May be after midnight."
          value={clause.to}
          onChange={(event) => onChange({ ...clause, to: event.target.value })}
        />
      </div>
      <ChooseSeveral
        label="On days"
        hint="None selected: every day."
        options={WEEK.map((day) => ({ value: day, label: DAY_NAMES[day] }))}
        chosen={WEEK.filter((day) => clause.days.includes(Number(day)))}
        onChange={(days) => onChange({ ...clause, days: days.map(Number).sort() })}
      />
      <TimeZoneField value={clause.zone} onChange={(zone) => onChange({ ...clause, zone })} />
      <label className="flex min-h-6 items-center gap-1.5">
        <input
          type="checkbox"
          checked={clause.ofSender ?? false}
          onChange={({ target }) => onChange({ ...clause, ofSender: target.checked })}
        />
        Use the time zone of the sender where the directory has it
      </label>
    </div>
  );
}

export function RateEditor({ clause, onChange }: EditorProps<RateCondition>) {
  return (
    <div className="flex flex-col gap-2.5">
      <SelectField
        label="What counts"
        value={clause.of}
        options={[
          { value: 'all', label: 'all movements by the sender' },
          { value: 'outside', label: 'movements to outside' },
          { value: 'matched', label: 'movements that rules matched' },
        ]}
        onChange={(of) => onChange({ ...clause, of })}
      />
      <Within clause={clause} onChange={onChange} />
    </div>
  );
}

export function TriesEditor({ clause, onChange }: EditorProps<TriesCondition>) {
  return <Within clause={clause} onChange={onChange} />;
}

function Within<Clause extends { readonly atLeast: number; readonly minutes: number }>({
  clause,
  onChange,
}: EditorProps<Clause>) {
  return (
    <div className="grid grid-cols-2 gap-2.5">
      <NumberField
        label="At least"
        value={clause.atLeast}
        onChange={(atLeast) => onChange({ ...clause, atLeast })}
      />
      <NumberField
        label="Within minutes"
        most={1_440}
        hint="At most one day."
        value={clause.minutes}
        onChange={(minutes) => onChange({ ...clause, minutes })}
      />
    </div>
  );
}

export function SizeEditor({ clause, onChange }: EditorProps<SizeCondition>) {
  return (
    <NumberField
      label="Minimum size in kilobytes"
      hint="Texts and files together."
      value={clause.atLeastKilobytes}
      onChange={(atLeastKilobytes) => onChange({ ...clause, atLeastKilobytes })}
    />
  );
}

export function ChannelEditor({ clause, onChange }: EditorProps<ChannelCondition>) {
  return (
    <ChooseSeveral
      label="It goes by"
      options={CHANNELS.map((channel) => ({ value: channel, label: CHANNEL_WORDS[channel] }))}
      chosen={clause.channels}
      onChange={(channels) => onChange({ ...clause, channels })}
    />
  );
}
