import type { DiscoveryPlaceView, PlaceMovePreview } from '@lantern/contracts/discovery';
import { type FormEvent, useState } from 'react';
import { useActs, useDiscoveryPlaces } from '../../../data/discovery';
import { useMovePlace, useMovePreview } from '../../../data/discovery-follow-up';
import { Button } from '../../../ui/button';
import { SelectField, TextField } from '../../../ui/field';
import { Loading, Notice } from '../../../ui/notice';
import { actReasonWords, number, size } from '../../../wording/discovery';
import { errorSentence } from '../../../wording/errors';

/** Moves everything of a place into another one, after a look at what that changes. */
export function MovePlace({ place }: { readonly place: DiscoveryPlaceView }) {
  const [isOpen, setOpen] = useState(false);
  const [begun, setBegun] = useState<string | null>(null);
  if (place.store !== 'folder' || place.figures.items === 0) return begun ? <Outcome id={begun} /> : null;
  return (
    <section aria-label="Move" className="mt-5 max-w-xl">
      <h2>Move</h2>
      {begun && <Outcome id={begun} />}
      {isOpen ? (
        <MoveForm
          place={place}
          onDone={(id) => (setOpen(false), setBegun(id))}
          onLeave={() => setOpen(false)}
        />
      ) : (
        <Button className="mt-1" onClick={() => setOpen(true)}>
          Move all items …
        </Button>
      )}
    </section>
  );
}

function MoveForm({
  place,
  onDone,
  onLeave,
}: {
  readonly place: DiscoveryPlaceView;
  readonly onDone: (act: string) => void;
  readonly onLeave: () => void;
}) {
  const places = useDiscoveryPlaces();
  const move = useMovePlace(place.id);
  const [to, setTo] = useState('');
  const [people, setPeople] = useState(false);
  const [reason, setReason] = useState('');
  const preview = useMovePreview(place.id, to);
  const submit = (event: FormEvent) => {
    event.preventDefault();
    move.mutate({ to, people, reason }, { onSuccess: ({ id }) => onDone(id) });
  };
  const error = move.error ?? preview.error;
  return (
    <form className="mt-2 flex flex-col gap-2" aria-label="Move all items" onSubmit={submit}>
      <SelectField
        label="Move to"
        value={to}
        options={[
          { value: '', label: 'Choose one' },
          ...(places.data ?? []).flatMap(({ id, name, store }) =>
            store === 'folder' && id !== place.id ? [{ value: id, label: name }] : [],
          ),
        ]}
        onChange={setTo}
      />
      {to !== '' && preview.isPending && <Loading what="what it would change" />}
      {to !== '' && preview.data && <Changes preview={preview.data} people={people} onPeople={setPeople} />}
      <TextField
        label="Reason, kept in the history of each item"
        required
        minLength={3}
        maxLength={300}
        value={reason}
        onChange={({ target }) => setReason(target.value)}
      />
      {error && <Notice look="stop">{errorSentence(error)}</Notice>}
      <div className="flex gap-2">
        <Button
          look="stop"
          type="submit"
          refusal={
            to === '' ? 'Choose a place.' : preview.data?.items === 0 ? 'Nothing would move.' : undefined
          }
        >
          Move items
        </Button>
        <Button onClick={onLeave}>Cancel</Button>
      </div>
    </form>
  );
}

function Changes({
  preview,
  people,
  onPeople,
}: {
  readonly preview: PlaceMovePreview;
  readonly people: boolean;
  readonly onPeople: (people: boolean) => void;
}) {
  const may = preview.people.filter(({ mayComeIn }) => mayComeIn).map(({ address }) => address);
  const mayNot = preview.people.filter(({ mayComeIn }) => !mayComeIn).map(({ address }) => address);
  return (
    <Notice>
      <p>
        {number(preview.items)} items ({size(preview.bytes)}) move to the same paths and keep their dates and
        labels. Access follows the new place.
      </p>
      {preview.standing > 0 && (
        <p>{number(preview.standing)} stay here, because their path is taken there.</p>
      )}
      {preview.quarantined > 0 && <p>{number(preview.quarantined)} stay in quarantine.</p>}
      {preview.closesInside && (
        <p>Everyone inside can open them here. There, only people who were let in can.</p>
      )}
      {mayNot.length > 0 && <p>{mayNot.join(', ')} will lose access.</p>}
      {may.length > 0 && (
        <label className="mt-1 flex items-start gap-2">
          <input
            type="checkbox"
            className="mt-1"
            checked={people}
            onChange={({ target }) => onPeople(target.checked)}
          />
          <span>Also give access there to {may.join(', ')}</span>
        </label>
      )}
    </Notice>
  );
}

/** What came of a move: what did not move is named. */
function Outcome({ id }: { readonly id: string }) {
  const acts = useActs();
  const found = acts.data?.find((each) => each.id === id);
  if (!found) return null;
  return (
    <div role="status" className="mt-1 text-[12.5px]">
      {number(found.done)} moved{found.waiting > 0 && `, ${number(found.waiting)} wait for a reader …`}
      {found.refused.length > 0 && (
        <ul className="max-h-40 overflow-auto text-stop" aria-label="What did not move">
          {found.refused.map(({ path, reason }) => (
            <li key={path} className="break-all">
              {path}: not moved, {actReasonWords(reason)}
            </li>
          ))}
        </ul>
      )}
    </div>
  );
}
