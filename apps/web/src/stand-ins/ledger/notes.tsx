import type { PlayerView } from '@lantern/contracts';
import { usePutThing, useThings } from '../../data/things';
import { errorSentence } from '../../wording/errors';
import { ThingCard } from '../thing-card';
import { WriteRow } from '../write-row';

/** Notes between colleagues who use the ledger: each is a movement. */
export function Notes({ player }: { readonly player: PlayerView }) {
  const path = `/stand-ins/ledger/${encodeURIComponent(player.id)}/notes`;
  const notes = useThings(path);
  const put = usePutThing(path);
  return (
    <section aria-label="Notes" className="flex h-full flex-col">
      <h2>Notes</h2>
      <p className="text-ink-2">Everyone with access to the ledger can read notes.</p>
      <div className="min-h-0 flex-1 overflow-auto">
        {notes.isError && <p className="text-stop">{errorSentence(notes.error)}</p>}
        {notes.data?.length === 0 && <p className="mt-2 text-ink-2">No notes yet.</p>}
        {notes.data?.map((thing) => (
          <ThingCard key={thing.id} thing={thing} player={player} about="message" />
        ))}
      </div>
      <WriteRow
        label="Write a note"
        button="Post"
        sending={put.isPending}
        error={put.error}
        onSend={({ text, files }) =>
          put
            .mutateAsync({ text, files, activity: 'write' })
            .then(() => true)
            .catch(() => false)
        }
      />
    </section>
  );
}
