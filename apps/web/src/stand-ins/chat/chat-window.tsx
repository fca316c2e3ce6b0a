import type { PlayerView, RoomView } from '@lantern/contracts';
import { useState } from 'react';
import { useSearchParams } from 'react-router';
import { useAddresses } from '../../data/mail';
import { roomPath, useOpenRoom, usePutThing, useRooms, useTakeOut, useThings } from '../../data/things';
import { Notice } from '../../ui/notice';
import { errorSentence } from '../../wording/errors';
import { Playing } from '../playing';
import { ThingCard } from '../thing-card';
import { useNewestInView } from '../use-newest-in-view';
import { WriteRow } from '../write-row';

/** The simulated chat of a person at work, or of a guest. */
export function ChatWindow() {
  return (
    <Playing name="chat" path="chat" outsideToo>
      {(player) => <Chat player={player} />}
    </Playing>
  );
}

function Chat({ player }: { readonly player: PlayerView }) {
  const [search, setSearch] = useSearchParams();
  const rooms = useRooms(player.id);
  const open = search.get('room');
  const room = rooms.data?.find(({ id }) => id === open) ?? rooms.data?.[0];
  return (
    <>
      <nav aria-label="Rooms" className="w-60 shrink-0 overflow-auto border-r border-rule bg-[#f2f7f5] p-3">
        {!player.outside && (
          <button
            type="button"
            className="mb-3 w-full rounded bg-[var(--teal)] px-3 py-1.5 text-white"
            onClick={() => setSearch({ new: '1' })}
          >
            Create room
          </button>
        )}
        {rooms.isError && <Notice look="stop">{errorSentence(rooms.error)}</Notice>}
        {(rooms.data ?? []).map(({ id, name, members }) => (
          <button
            key={id}
            type="button"
            aria-current={room?.id === id && !search.has('new') ? 'page' : undefined}
            onClick={() => setSearch({ room: id })}
            className={`block w-full rounded px-2.5 py-1.5 text-left ${room?.id === id && !search.has('new') ? 'bg-[#d8e8e2]' : ''}`}
          >
            {name}
            {members.some(({ guest }) => guest) && <span className="text-[12.5px]"> · with guests</span>}
          </button>
        ))}
      </nav>
      <div className="flex min-w-0 flex-1 flex-col">
        {search.has('new') && !player.outside ? (
          <NewRoom player={player} onDone={(id) => setSearch(id ? { room: id } : {})} />
        ) : room ? (
          <Room key={room.id} room={room} player={player} />
        ) : (
          <p className="p-6 text-ink-2">
            {rooms.data ? 'You are not in a room yet. Create a room and add people.' : 'One moment …'}
          </p>
        )}
      </div>
    </>
  );
}

function Room({ room, player }: { readonly room: RoomView; readonly player: PlayerView }) {
  const path = roomPath(player.id, room.id);
  const things = useThings(path);
  const put = usePutThing(path);
  const takeOut = useTakeOut(player.id);
  const guests = room.members.filter(({ guest }) => guest);
  const end = useNewestInView(things.data?.length ?? 0);
  return (
    <>
      <header className="border-b border-rule px-5 py-2">
        <h1 className="!text-[16px]">{room.name}</h1>
        <p className="text-[12.5px] text-ink-2">
          {room.members.map(({ name, guest }) => `${name}${guest ? ' (guest)' : ''}`).join(', ')}
        </p>
        {guests.length > 0 && (
          <p className="mt-1 border-l-4 border-rule-strong pl-2 text-[12.5px]">
            {guests.length === 1 ? 'A guest reads' : `${guests.length} guests read`} this room: messages here
            leave the organisation.
          </p>
        )}
        {takeOut.isError && <Notice look="stop">{errorSentence(takeOut.error)}</Notice>}
      </header>
      <div className="min-h-0 flex-1 overflow-auto py-2" aria-live="polite">
        {things.isError && <Notice look="stop">{errorSentence(things.error)}</Notice>}
        {things.data?.length === 0 && <p className="p-5 text-ink-2">No messages yet.</p>}
        {(things.data ?? []).map((thing) => (
          <ThingCard
            key={thing.id}
            thing={thing}
            player={player}
            about="message"
            sharedOutside={guests.length > 0}
            fixes={
              !player.outside &&
              guests.map(({ name, address }) => (
                <button
                  key={address}
                  type="button"
                  className="rounded border border-rule-strong bg-white px-2.5 py-1"
                  onClick={() => takeOut.mutate({ room: room.id, address })}
                >
                  Remove {name} from the room
                </button>
              ))
            }
          />
        ))}
        <div ref={end} />
      </div>
      <WriteRow
        label={`Write to ${room.name}`}
        button="Send"
        sending={put.isPending}
        error={put.error}
        labelled={{ player: player.id, carrier: 'chat', sharedOutside: guests.length > 0 }}
        onSend={({ text, files, label }) =>
          put.mutateAsync({ text, files, ...(label === undefined ? {} : { label }) }).then(
            () => true,
            () => false,
          )
        }
      />
    </>
  );
}

interface NewRoomProps {
  readonly player: PlayerView;
  readonly onDone: (room: string | null) => void;
}

function NewRoom({ player, onDone }: NewRoomProps) {
  const [name, setName] = useState('');
  const [members, setMembers] = useState<readonly string[]>([]);
  const [typed, setTyped] = useState('');
  const found = useAddresses(typed);
  const open = useOpenRoom(player.id);
  return (
    <form
      aria-label="Create room"
      className="flex max-w-xl flex-col gap-3 p-6"
      onSubmit={(event) => {
        event.preventDefault();
        open.mutate({ name, members }, { onSuccess: (room) => onDone(room.id) });
      }}
    >
      <label>
        Topic
        <input
          className="mt-0.5 block w-full border border-rule-strong p-1.5"
          required
          minLength={2}
          maxLength={120}
          value={name}
          onChange={(event) => setName(event.target.value)}
        />
      </label>
      <div>
        <label>
          Members: colleagues, or people outside as guests
          <input
            className="mt-0.5 block w-full border border-rule-strong p-1.5"
            placeholder="A name or an address"
            value={typed}
            onChange={(event) => setTyped(event.target.value)}
          />
        </label>
        {(found.data ?? [])
          .filter(({ address }) => address !== player.address && !members.includes(address))
          .map(({ address, name: who, from, outside }) => (
            <button
              key={address}
              type="button"
              className="mr-2 min-h-6 text-press underline"
              onClick={() => {
                setMembers([...members, address]);
                setTyped('');
              }}
            >
              {who}, {from}
              {outside && ' (guest)'}
            </button>
          ))}
      </div>
      <p>
        {members.map((address) => (
          <span key={address} className="mr-2 border border-rule-strong px-2">
            {address}{' '}
            <button
              type="button"
              aria-label={`Remove ${address}`}
              onClick={() => setMembers(members.filter((each) => each !== address))}
            >
              ×
            </button>
          </span>
        ))}
      </p>
      {open.isError && <Notice look="stop">{errorSentence(open.error)}</Notice>}
      <p className="flex gap-2">
        <button
          type="submit"
          disabled={members.length === 0 || open.isPending}
          className="rounded bg-[var(--teal)] px-4 py-1.5 text-white disabled:opacity-60"
        >
          Open it
        </button>
        <button
          type="button"
          className="rounded border border-rule-strong px-3 py-1.5"
          onClick={() => onDone(null)}
        >
          Discard
        </button>
      </p>
    </form>
  );
}
