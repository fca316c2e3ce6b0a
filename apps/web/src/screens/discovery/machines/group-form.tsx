import type { ReaderCost } from '@lantern/contracts';
import {
  MAX_WATCHED,
  WATCHED_AS,
  type WatchedFolder,
  type WatchGroupView,
} from '@lantern/contracts/discovery';
import { useState } from 'react';
import { useSaveGroupDraft } from '../../../data/discovery';
import { Button } from '../../../ui/button';
import { SelectField, TextField } from '../../../ui/field';
import { Notice } from '../../../ui/notice';
import { errorSentence } from '../../../wording/errors';
import { WATCHED_AS_WORDS, WATCHED_NAME_WORDS } from '../../../wording/watching';

const NEW_FOLDER: WatchedFolder = { path: '', as: 'device', name: '', trusted: false };
const NO_LIMITS: ReaderCost = {
  ...{ processor: null, bytesPerSecond: null, itemsPerSecond: null, hours: null, batteryAbove: null },
};

/** Writes the draft of a group: the one that is there, or what is in force. */
export function GroupForm({
  group,
  onDone,
}: {
  readonly group: WatchGroupView;
  readonly onDone: () => void;
}) {
  const save = useSaveGroupDraft();
  const begun = group.draft ?? group;
  const [folders, setFolders] = useState<readonly WatchedFolder[]>(begun.folders);
  const [person, setPerson] = useState(begun.person);
  const [cost, setCost] = useState<ReaderCost>(begun.cost ?? NO_LIMITS);
  const set = (at: number, change: Partial<WatchedFolder>) =>
    setFolders(folders.map((each, index) => (index === at ? { ...each, ...change } : each)));
  return (
    <form
      aria-label={`Draft for ${group.group}`}
      className="flex max-w-2xl flex-col gap-3"
      onSubmit={(event) => {
        event.preventDefault();
        const request = {
          ...{ folders: [...folders], draft: group.draft?.id ?? null },
          ...(person.trim() === '' ? {} : { person: person.trim() }),
          ...(Object.values(cost).some((limit) => limit !== null) && { cost }),
        };
        save.mutate({ group: group.group, request }, { onSuccess: onDone });
      }}
    >
      {folders.map((folder, index) => (
        <fieldset key={index} className="grid grid-cols-2 gap-x-3 gap-y-2 border-l-2 border-rule-strong pl-3">
          <legend className="sr-only">Folder {index + 1}</legend>
          <TextField
            label="Folder on the machine"
            required
            placeholder="/media/stick"
            maxLength={1000}
            value={folder.path}
            onChange={({ target }) => set(index, { path: target.value })}
          />
          <SelectField
            label="What it leads to"
            value={folder.as}
            options={WATCHED_AS.map((value) => ({ value, label: WATCHED_AS_WORDS[value] }))}
            onChange={(as) => set(index, { as })}
          />
          <TextField
            label={WATCHED_NAME_WORDS[folder.as]}
            required
            maxLength={200}
            value={folder.name}
            onChange={({ target }) => set(index, { name: target.value })}
          />
          <span className="flex items-end justify-between gap-2">
            {folder.as === 'device' ? (
              <label className="flex items-center gap-1.5 pb-1.5">
                <input
                  type="checkbox"
                  checked={folder.trusted}
                  onChange={() => set(index, { trusted: !folder.trusted })}
                />
                The organisation handed it out
              </label>
            ) : (
              <span />
            )}
            <Button look="quiet" onClick={() => setFolders(folders.filter((_each, at) => at !== index))}>
              Remove
            </Button>
          </span>
        </fieldset>
      ))}
      {folders.length < MAX_WATCHED && (
        <span>
          <Button onClick={() => setFolders([...folders, NEW_FOLDER])}>Add a folder</Button>
        </span>
      )}
      <TextField
        label="Whose movements they are, on machines that the directory gives to nobody"
        type="email"
        maxLength={254}
        value={person}
        onChange={({ target }) => setPerson(target.value)}
      />
      <CostFields cost={cost} onChange={setCost} />
      {save.error && <Notice look="stop">{errorSentence(save.error)}</Notice>}
      <span className="flex gap-2">
        <Button look="main" type="submit">
          {save.isPending ? 'Saving …' : 'Save as draft'}
        </Button>
        <Button onClick={onDone}>Cancel</Button>
      </span>
    </form>
  );
}

/** Fields of the limits: how a limit is shown, and the least and the most that can be set. */
const LIMITS = [
  { field: 'processor', label: 'Share of a processor, in percent', factor: 100, min: 5, max: 6_400 },
  { field: 'bytesPerSecond', label: 'Kilobytes a second', factor: 1 / 1_000, min: 10 },
  { field: 'itemsPerSecond', label: 'Items a second', factor: 1, min: 0.1 },
  { field: 'batteryAbove', label: 'On battery, only above, in percent', factor: 1, min: 1, max: 100 },
] as const satisfies readonly {
  readonly field: keyof ReaderCost;
  readonly label: string;
  readonly factor: number;
  readonly min: number;
  readonly max?: number;
}[];
/** Limits that are whole numbers. */
const WHOLE: ReadonlySet<keyof ReaderCost> = new Set(['bytesPerSecond', 'batteryAbove']);

/** What each machine of the group may cost. An empty field is no limit. */
function CostFields({
  cost,
  onChange,
}: {
  readonly cost: ReaderCost;
  readonly onChange: (cost: ReaderCost) => void;
}) {
  const hours = cost.hours ?? null;
  const setHours = (end: 'from' | 'to', value: string) => {
    const whole = { from: hours?.from ?? '00:00', to: hours?.to ?? '23:59', [end]: value };
    onChange({ ...cost, hours: value === '' ? null : whole });
  };
  return (
    <fieldset className="border-l-2 border-rule-strong pl-3">
      <legend className="mb-1 text-[12.5px] font-semibold text-ink-2">
        What each machine may cost. An empty field sets no limit.
      </legend>
      <div className="grid grid-cols-2 gap-x-3 gap-y-2">
        {LIMITS.map(({ field, label, factor, ...bounds }) => {
          const value = cost[field] ?? null;
          return (
            <TextField
              key={field}
              label={label}
              type="number"
              {...bounds}
              step="any"
              value={value === null ? '' : String(Math.round(value * factor * 10) / 10)}
              onChange={({ target }) => {
                const limit = Number(target.value) / factor;
                const set = WHOLE.has(field) ? Math.round(limit) : limit;
                onChange({ ...cost, [field]: target.value === '' ? null : set });
              }}
            />
          );
        })}
        <TextField
          label="Reads from"
          type="time"
          value={hours?.from ?? ''}
          onChange={({ target }) => setHours('from', target.value)}
        />
        <TextField
          label="Reads until"
          type="time"
          value={hours?.to ?? ''}
          onChange={({ target }) => setHours('to', target.value)}
        />
      </div>
    </fieldset>
  );
}
