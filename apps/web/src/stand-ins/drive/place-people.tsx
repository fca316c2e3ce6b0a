import type { DrivePlaceView, PlayerView } from '@lantern/contracts';
import { useState } from 'react';
import { usePlaceActs } from '../../data/drive';
import { Notice } from '../../ui/notice';
import { errorSentence } from '../../wording/errors';

const button = 'rounded border border-rule-strong bg-white px-2.5 py-1';

/** Who was let in, and by its owner: whom to let in or out. */
export function PlacePeople({
  place,
  player,
}: {
  readonly place: DrivePlaceView;
  readonly player: PlayerView;
}) {
  const acts = usePlaceActs(player.id, place.id);
  const [address, setAddress] = useState('');
  const failed = acts.letIn.error ?? acts.letOut.error;
  const people = [
    ...place.members.map((each) => ({ address: each, outside: false })),
    ...place.outside.map((each) => ({ address: each, outside: true })),
  ];
  return (
    <section aria-label="People of this place" className="mt-5 max-w-2xl">
      <h2 className="!text-[15px] !text-ink">People of this place</h2>
      {failed && <Notice look="stop">{errorSentence(failed)}</Notice>}
      {people.length === 0 && <p className="text-ink-2">Nobody was let in by name.</p>}
      <ul>
        {people.map((each) => (
          <li key={each.address} className="flex items-center gap-3 py-0.5">
            <span className="flex-1">
              {each.address}
              {each.outside && <b className="text-stop"> · outside</b>}
              {each.outside && place.terms?.outside === 'nobody' && ' · kept out by the label of the place'}
            </span>
            {place.mine && (
              <button
                type="button"
                className="min-h-6 underline"
                onClick={() => acts.letOut.mutate(each.address)}
              >
                End access
              </button>
            )}
          </li>
        ))}
      </ul>
      {place.mine && (
        <form
          className="mt-2 flex gap-2"
          onSubmit={(event) => {
            event.preventDefault();
            acts.letIn.mutate(address, { onSuccess: () => setAddress('') });
          }}
        >
          <input
            type="email"
            required
            aria-label="Address of somebody to let in"
            placeholder="Address"
            className="w-72 border border-rule-strong px-1.5"
            value={address}
            onChange={(event) => setAddress(event.target.value)}
          />
          <button type="submit" className={button}>
            Let in
          </button>
        </form>
      )}
    </section>
  );
}
