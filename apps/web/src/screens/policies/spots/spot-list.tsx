import { DEVICE_KINDS } from '@lantern/core/movement';
import { type SpotGroup, type SpotTerm } from '@lantern/core/policy';
import { useId, useState } from 'react';
import { useNames, usePlacePaths } from '../../../data/policies';
import { Button } from '../../../ui/button';
import { Chips } from '../../../ui/chosen-terms';
import { SelectField, TextField } from '../../../ui/field';
import { spotWords } from '../../../wording/sentence';
import { DEVICE_WORDS } from '../../../wording/terms';

interface Props {
  readonly label: string;
  readonly spots: readonly SpotTerm[];
  /** Named groups that can be chosen; empty where a group is being written. */
  readonly groups: readonly SpotGroup[];
  readonly readOnly?: boolean;
  readonly onChange: (spots: readonly SpotTerm[]) => void;
}

type Kind = SpotTerm['kind'];
const KINDS: readonly { readonly value: Kind; readonly label: string }[] = [
  { value: 'application', label: 'an application' },
  { value: 'host', label: 'a site or host' },
  { value: 'device', label: 'a device' },
  { value: 'place', label: 'a place' },
  { value: 'spots', label: 'a named group' },
];

const EMPTY: Readonly<Record<Kind, SpotTerm>> = {
  application: { kind: 'application', name: '' },
  host: { kind: 'host', host: '', under: true },
  device: { kind: 'device', device: 'plugged-in', name: '', trusted: null },
  place: { kind: 'place', path: '' },
  spots: { kind: 'spots', called: '' as SpotGroup['id'] },
};

/** A list of spots, and the small form that adds one. */
export function SpotList({ label, spots, groups, readOnly = false, onChange }: Props) {
  const names = useNames();
  const [draft, setDraft] = useState<SpotTerm>(EMPTY.application);
  const add = () => {
    onChange([...spots, draft]);
    setDraft(EMPTY[draft.kind]);
  };
  return (
    <fieldset>
      <legend className="mb-1 text-[12.5px] font-semibold text-ink-2">{label}</legend>
      <Chips
        items={spots}
        none="nothing yet"
        words={(spot) => spotWords(spot, names)}
        readOnly={readOnly}
        onChange={onChange}
      />
      {!readOnly && (
        <div className="flex flex-wrap items-end gap-2">
          <SelectField
            label="Add"
            value={draft.kind}
            options={KINDS.filter(({ value }) => value !== 'spots' || groups.length > 0)}
            onChange={(kind) => setDraft(EMPTY[kind])}
          />
          <SpotFields spot={draft} groups={groups} onChange={setDraft} onEnter={add} />
          <Button onClick={add} refusal={isWhole(draft) ? undefined : 'Choose one first'}>
            Add
          </Button>
        </div>
      )}
    </fieldset>
  );
}

function isWhole(spot: SpotTerm): boolean {
  switch (spot.kind) {
    case 'application':
      return spot.name.trim() !== '';
    case 'host':
      return spot.host.trim() !== '';
    case 'place':
      return spot.path.split('/').some((step) => step.trim() !== '');
    case 'spots':
      return spot.called.length > 0;
    case 'device':
      return true;
  }
}

interface FieldProps {
  readonly spot: SpotTerm;
  readonly groups: readonly SpotGroup[];
  readonly onChange: (spot: SpotTerm) => void;
  readonly onEnter: () => void;
}

function SpotFields({ spot, groups, onChange, onEnter }: FieldProps) {
  const places = usePlacePaths();
  const list = useId();
  const enter = (event: { readonly key: string; preventDefault: () => void }) => {
    if (event.key !== 'Enter' || !isWhole(spot)) return;
    event.preventDefault();
    onEnter();
  };
  switch (spot.kind) {
    case 'application':
      return (
        <TextField
          label="Called"
          placeholder="Booking system"
          value={spot.name}
          onKeyDown={enter}
          onChange={(event) => onChange({ ...spot, name: event.target.value })}
        />
      );
    case 'host':
      return (
        <>
          <TextField
            label="Host"
            placeholder="partner.example"
            value={spot.host}
            onKeyDown={enter}
            onChange={(event) => onChange({ ...spot, host: event.target.value.trim() })}
          />
          <SelectField
            label="Which"
            value={spot.under ? 'under' : 'only'}
            options={[
              { value: 'under', label: 'this host and all below it' },
              { value: 'only', label: 'only this host' },
            ]}
            onChange={(which) => onChange({ ...spot, under: which === 'under' })}
          />
        </>
      );
    case 'device':
      return (
        <>
          <SelectField
            label="Kind"
            value={spot.device}
            options={DEVICE_KINDS.map((value) => ({ value, label: DEVICE_WORDS[value] }))}
            onChange={(device) => onChange({ ...spot, device })}
          />
          <SelectField
            label="Trust"
            value={spot.trusted === null ? 'any' : spot.trusted ? 'trusted' : 'strange'}
            options={[
              { value: 'any', label: 'trusted or untrusted' },
              { value: 'trusted', label: 'only trusted' },
              { value: 'strange', label: 'only untrusted' },
            ]}
            onChange={(trust) => onChange({ ...spot, trusted: trust === 'any' ? null : trust === 'trusted' })}
          />
          <TextField
            label="Called"
            placeholder="any"
            value={spot.name}
            onKeyDown={enter}
            onChange={(event) => onChange({ ...spot, name: event.target.value })}
          />
        </>
      );
    case 'place':
      return (
        <>
          <TextField
            label="Place"
            placeholder="/Crewing"
            list={list}
            value={spot.path}
            onKeyDown={enter}
            onChange={(event) => onChange({ ...spot, path: event.target.value })}
          />
          <datalist id={list}>
            {(places.data ?? []).map((path) => (
              <option key={path} value={path} />
            ))}
          </datalist>
        </>
      );
    case 'spots':
      return (
        <SelectField
          label="Group"
          value={String(spot.called)}
          options={[
            { value: '', label: 'choose one' },
            ...groups.map(({ id, name }) => ({ value: String(id), label: name })),
          ]}
          onChange={(called) => onChange({ ...spot, called: called as SpotGroup['id'] })}
        />
      );
  }
}
