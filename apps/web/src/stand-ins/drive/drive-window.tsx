import type { DriveFileSummary, OpenedView, PlayerView } from '@lantern/contracts';
import { useRef, useState } from 'react';
import { useParams, useSearchParams } from 'react-router';
import {
  useContentPath,
  useDriveActs,
  useDriveFiles,
  useDrivePlaces,
  useOpened,
  useOpenedLink,
} from '../../data/drive';
import { Loading, Notice } from '../../ui/notice';
import { errorSentence } from '../../wording/errors';
import { Playing } from '../playing';
import { sizeWords } from '../../wording/sizes';
import { FilePage } from './file-page';
import { PlaceWindow } from './place-window';

/** The simulated drive of the house, for its people and for those outside. */
export function DriveWindow() {
  return (
    <Playing name="drive" path="drive" outsideToo>
      {(player) => <Drive player={player} />}
    </Playing>
  );
}

/** What is behind a link, for whoever holds it. */
export function DriveLinkWindow() {
  const { token = '' } = useParams();
  return (
    <Playing name="drive, a link" path={`drive/link/${token}`} outsideToo>
      {(player) => <ByLink player={player} token={token} />}
    </Playing>
  );
}

function ByLink({ player, token }: { readonly player: PlayerView; readonly token: string }) {
  const opened = useOpenedLink(player.id, token);
  const download = useContentPath(player.id, { token });
  if (opened.isPending) return <Loading what="the link" />;
  if (opened.isError) return <Notice look="stop">{errorSentence(opened.error)}</Notice>;
  return (
    <div className="min-w-0 flex-1 overflow-auto">
      <Opened opened={opened.data} player={player} download={download} />
    </div>
  );
}

function Opened({
  opened,
  player,
  download,
}: {
  readonly opened: OpenedView;
  readonly player: PlayerView;
  readonly download: string;
}) {
  const [, setSearch] = useSearchParams();
  if (opened.status === 'closed')
    return (
      <section
        role="alert"
        className="m-6 max-w-2xl border border-l-[5px] border-stop bg-stop-soft px-4 py-3"
      >
        <h1 className="!text-[16px]">
          {opened.name ? `"${opened.name}" does not open` : 'This does not open'}
        </h1>
        <p className="mt-1">{opened.text}</p>
        {opened.why === 'sign-in' && (
          <button
            type="button"
            className="mt-2 rounded border border-rule-strong bg-white px-2.5 py-1"
            onClick={() =>
              setSearch((now) => {
                now.set('signed', 'yes');
                return now;
              })
            }
          >
            Sign in as {player.name}
          </button>
        )}
      </section>
    );
  return (
    <FilePage
      key={`${opened.file.id} ${opened.file.version}`}
      file={opened.file}
      player={player}
      download={download}
    />
  );
}

function Drive({ player }: { readonly player: PlayerView }) {
  const [search, setSearch] = useSearchParams();
  const files = useDriveFiles(player.id);
  const open = search.get('open');
  const opened = useOpened(player.id, open);
  const download = useContentPath(player.id, { id: open });
  const places = useDrivePlaces(player.id);
  const place = places.data?.find(({ id }) => id === search.get('place'));
  // The machine and the network stay while somebody goes from one thing to the next.
  const show = (what: Record<string, string>) =>
    setSearch((now) => {
      const stays = ['on', 'net'].flatMap((name) => (now.get(name) ? [[name, now.get(name) ?? '']] : []));
      return new URLSearchParams({ ...what, ...Object.fromEntries(stays) });
    });
  const folders = [...new Set((files.data ?? []).map(({ folder }) => folder))];
  return (
    <>
      <nav aria-label="Files" className="w-80 shrink-0 overflow-auto border-r border-rule bg-[#f2f7f5] p-3">
        {!player.outside && <Upload player={player} onAdded={(id) => show({ open: id })} />}
        {!player.outside && (
          <>
            <Whence
              label="Working at"
              name="on"
              choices={[
                ['', 'a machine of the organisation'],
                ['own', 'a machine of their own'],
              ]}
            />
            <Whence
              label="Network"
              name="net"
              choices={[
                ['', 'the organisation’s network'],
                ['foreign', 'another network'],
              ]}
            />
          </>
        )}
        {places.data && places.data.length > 0 && (
          <section aria-label="Places">
            <p className="mt-3 mb-1 text-[12.5px] text-ink-2">Places</p>
            {places.data.map((each) => (
              <button
                key={each.id}
                type="button"
                aria-current={each.id === place?.id ? 'page' : undefined}
                onClick={() => show({ place: each.id })}
                className={`block w-full rounded px-2.5 py-1 text-left ${each.id === place?.id ? 'bg-[#d8e8e2]' : ''}`}
              >
                {each.name}
                <span className="text-[12.5px] text-ink-2">
                  {each.label && ` · ${each.label.name}`}
                  {each.terms?.noCopies && ' · no copies'}
                  {!each.open && ' · closed to you'}
                </span>
              </button>
            ))}
          </section>
        )}
        {files.isError && <Notice look="stop">{errorSentence(files.error)}</Notice>}
        {files.data?.length === 0 && (
          <p className="text-ink-2">
            {player.outside ? 'No single file is shared with you.' : 'You have no files of your own yet.'}
          </p>
        )}
        {folders.map((folder) => (
          <section key={folder} aria-label={folder}>
            <p className="mt-3 mb-1 text-[12.5px] text-ink-2">{folder}</p>
            {(files.data ?? [])
              .filter((file) => file.folder === folder)
              .map((file) => (
                <FileRow
                  key={file.id}
                  file={file}
                  current={file.id === open}
                  onOpen={() => show({ open: file.id })}
                />
              ))}
          </section>
        ))}
      </nav>
      <div className="min-w-0 flex-1 overflow-auto">
        {open === null && !place && <p className="p-6 text-ink-2">Choose a place or a file.</p>}
        {open === null && place && (
          <PlaceWindow key={place.id} place={place} player={player} onOpen={(id) => show({ open: id })} />
        )}
        {opened.isError && <Notice look="stop">{errorSentence(opened.error)}</Notice>}
        {opened.data && open && <Opened opened={opened.data} player={player} download={download} />}
      </div>
    </>
  );
}

interface RowProps {
  readonly file: DriveFileSummary;
  readonly current: boolean;
  readonly onOpen: () => void;
}

function FileRow({ file, current, onOpen }: RowProps) {
  return (
    <button
      type="button"
      aria-current={current ? 'page' : undefined}
      onClick={onOpen}
      className={`block w-full rounded px-2.5 py-1.5 text-left ${current ? 'bg-[#d8e8e2]' : ''}`}
    >
      <span className="block truncate">{file.name}</span>
      <span className="block text-[12.5px] text-ink-2">
        {sizeWords(file.size)}
        {file.label && ` · ${file.label.name}`}
        {file.restriction && <b className="text-stop"> · internal only</b>}
        {file.outsideNow > 0 && ` · open to ${file.outsideNow} outside`}
      </span>
    </button>
  );
}

/** From where somebody works, kept in the address. */
function Whence({
  label,
  name,
  choices,
}: {
  readonly label: string;
  readonly name: string;
  readonly choices: readonly (readonly [value: string, words: string])[];
}) {
  const [search, setSearch] = useSearchParams();
  return (
    <label className="mb-1 block text-[12.5px]">
      {label}
      <select
        className="mt-0.5 block w-full border border-rule-strong bg-white px-1.5 py-1"
        value={search.get(name) ?? ''}
        onChange={({ target }) =>
          setSearch((now) => {
            if (target.value === '') now.delete(name);
            else now.set(name, target.value);
            return now;
          })
        }
      >
        {choices.map(([value, words]) => (
          <option key={value} value={value}>
            {words}
          </option>
        ))}
      </select>
    </label>
  );
}

function Upload({
  player,
  onAdded,
}: {
  readonly player: PlayerView;
  readonly onAdded: (id: string) => void;
}) {
  const acts = useDriveActs(player.id);
  const picker = useRef<HTMLInputElement>(null);
  const [folder, setFolder] = useState(`/${player.from}`);
  return (
    <div className="mb-3">
      <label className="block text-[12.5px]">
        Folder
        <input
          className="mt-0.5 mb-1 block w-full border border-rule-strong bg-white px-1.5 py-1"
          value={folder}
          maxLength={300}
          onChange={(event) => setFolder(event.target.value)}
        />
      </label>
      <input
        ref={picker}
        type="file"
        aria-label="Upload a file"
        className="sr-only"
        tabIndex={-1}
        onChange={(event) => {
          const [file] = event.target.files ?? [];
          event.target.value = '';
          if (file) acts.add.mutate({ file, folder }, { onSuccess: ({ id }) => onAdded(id) });
        }}
      />
      <button
        type="button"
        className="w-full rounded bg-[var(--teal)] px-3 py-1.5 text-white"
        onClick={() => picker.current?.click()}
      >
        {acts.add.isPending ? 'One moment …' : 'Upload here'}
      </button>
      {acts.add.isError && <Notice look="stop">{errorSentence(acts.add.error)}</Notice>}
    </div>
  );
}
