import { type DiscoveryPlaceView, type PlaceRequest, STORES } from '@lantern/contracts/discovery';
import { ITEM_REACHES } from '@lantern/core/discovery';
import { type FormEvent, useState } from 'react';
import { useReaders, useSavePlace } from '../../../data/discovery';
import { useLabels } from '../../../data/labels';
import { Button } from '../../../ui/button';
import { SelectField, TextField } from '../../../ui/field';
import { Notice } from '../../../ui/notice';
import { REACH_WORDS, STORE_WORDS } from '../../../wording/discovery';
import { errorSentence } from '../../../wording/errors';

interface Props {
  readonly place: DiscoveryPlaceView | null;
  /** With the id of what was saved, or without where nothing was. */
  readonly onDone: (id?: string) => void;
}

const NEW: PlaceRequest = {
  ...{ name: '', store: 'folder', address: { at: '' }, group: '', owner: '', reach: 'organisation' },
  ...{ unmanaged: false, label: null, unwanted: [] },
};

const requestOf = (place: DiscoveryPlaceView): PlaceRequest => ({
  ...{ name: place.name, store: place.store, address: { ...place.address }, group: place.group },
  ...{ owner: place.owner, reach: place.reach, unmanaged: place.unmanaged, label: place.label?.id ?? null },
  ...{ unwanted: [...place.unwanted], version: place.version },
});

/** Where a place is, how it is opened, and who opens it. Saving has it checked at once. */
export function PlaceForm({ place, onDone }: Props) {
  const [draft, setDraft] = useState<PlaceRequest>(() => (place ? requestOf(place) : NEW));
  const [unwanted, setUnwanted] = useState(draft.unwanted.join(', '));
  const save = useSavePlace();
  const readers = useReaders();
  const labels = useLabels();
  const set = (change: Partial<PlaceRequest>) => setDraft({ ...draft, ...change });
  const groups = [
    ...new Set((readers.data ?? []).flatMap(({ group, state }) => (state === 'withdrawn' ? [] : [group]))),
  ];
  const submit = (event: FormEvent) => {
    event.preventDefault();
    const { owner, secret, ...rest } = draft;
    const request: PlaceRequest = {
      ...rest,
      unwanted: unwanted.split(/[\s,;]+/u).filter(Boolean),
      ...(owner ? { owner } : {}),
      ...(secret ? { secret } : {}),
    };
    save.mutate({ id: place?.id ?? null, request }, { onSuccess: ({ id }) => onDone(id) });
  };
  return (
    <form
      aria-label={place ? `Edit ${place.name}` : 'New place'}
      className="grid max-w-2xl grid-cols-2 gap-3"
      onSubmit={submit}
    >
      <h2 className="col-span-2 font-head text-[17px] text-ink">{place ? place.name : 'New place'}</h2>
      <TextField
        label="Name"
        required
        value={draft.name}
        onChange={({ target }) => set({ name: target.value })}
      />
      <SelectField
        label="What it is"
        value={draft.store}
        options={STORES.map((store) => ({ value: store, label: STORE_WORDS[store].name }))}
        onChange={(store) => set({ store })}
      />
      <StoreFields draft={draft} hasSecret={place?.hasSecret ?? false} set={set} />
      <TextField
        label="Group of readers"
        required
        list="reader-groups"
        hint={
          groups.length === 0
            ? 'No reader is enrolled yet; the place waits until one is.'
            : 'Readers of this group go through it.'
        }
        value={draft.group}
        onChange={({ target }) => set({ group: target.value })}
      />
      <datalist id="reader-groups">
        {groups.map((group) => (
          <option key={group} value={group} />
        ))}
      </datalist>
      <TextField
        label="Who answers for it"
        type="email"
        value={draft.owner ?? ''}
        onChange={({ target }) => set({ owner: target.value })}
      />
      <GuardFields draft={draft} set={set} />
      <SelectField
        label="Label of the place"
        value={draft.label ?? ''}
        options={[
          { value: '', label: 'none' },
          ...(labels.data?.labels ?? []).map(({ label }) => ({ value: String(label.id), label: label.name })),
        ]}
        onChange={(label) => set({ label: label || null })}
      />
      <TextField
        label="Kinds of file that should not lie there"
        placeholder="exe, pst"
        value={unwanted}
        onChange={({ target }) => setUnwanted(target.value)}
      />
      {save.error && (
        <div className="col-span-2">
          <Notice look="stop">{errorSentence(save.error)}</Notice>
        </div>
      )}
      <div className="col-span-2 flex gap-2">
        <Button look="main" type="submit" refusal={save.isPending ? 'Being saved …' : undefined}>
          Save and check
        </Button>
        <Button onClick={() => onDone()}>Cancel</Button>
      </div>
    </form>
  );
}

interface FieldsProps {
  readonly draft: PlaceRequest;
  readonly set: (change: Partial<PlaceRequest>) => void;
}

/** Where the store is, and how it is opened. */
function StoreFields({ draft, hasSecret, set }: FieldsProps & { readonly hasSecret: boolean }) {
  const words = STORE_WORDS[draft.store];
  return (
    <>
      <TextField
        className="col-span-2"
        label={words.at}
        required
        placeholder={words.example}
        value={draft.address.at}
        onChange={({ target }) => set({ address: { ...draft.address, at: target.value } })}
      />
      {words.part && (
        <TextField
          label={words.part}
          value={draft.address.part ?? ''}
          onChange={({ target }) => set({ address: { ...draft.address, part: target.value } })}
        />
      )}
      {words.user && (
        <TextField
          label={words.user}
          autoComplete="off"
          value={draft.address.user ?? ''}
          onChange={({ target }) => set({ address: { ...draft.address, user: target.value } })}
        />
      )}
      {words.secret && (
        <TextField
          label={words.secret}
          type="password"
          autoComplete="new-password"
          hint={
            hasSecret
              ? 'One is kept. Leave this empty to keep it; with another address it is asked for again.'
              : 'Kept sealed, and opened by the reader alone while it reads.'
          }
          value={draft.secret ?? ''}
          onChange={({ target }) => set({ secret: target.value })}
        />
      )}
    </>
  );
}

/** Who opens the place, and from where. */
function GuardFields({ draft, set }: FieldsProps) {
  return (
    <>
      <SelectField
        label="Opened by"
        value={draft.reach}
        options={ITEM_REACHES.map((reach) => ({ value: reach, label: REACH_WORDS[reach] }))}
        onChange={(reach) => set({ reach })}
      />
      <SelectField
        label="From which machines"
        value={draft.unmanaged ? 'any' : 'managed'}
        options={[
          { value: 'managed', label: 'managed machines alone' },
          { value: 'any', label: 'any machine' },
        ]}
        onChange={(value) => set({ unmanaged: value === 'any' })}
      />
    </>
  );
}
