import type { DriveEntry, DrivePlaceView, PlayerView } from '@lantern/contracts';
import { useRef, useState } from 'react';
import { useSearchParams } from 'react-router';
import { toast } from 'sonner';
import { useDriveFolder, usePlaceActs } from '../../data/drive';
import { Loading, Notice } from '../../ui/notice';
import { errorSentence } from '../../wording/errors';
import { drivePlaceWords } from '../../wording/place-terms';
import { shortTime } from '../../wording/times';
import { sizeWords } from '../../wording/sizes';
import { PlacePeople } from './place-people';

const button = 'rounded border border-rule-strong bg-white px-2.5 py-1 disabled:opacity-60';

interface Props {
  readonly place: DrivePlaceView;
  readonly player: PlayerView;
  /** Opens a file by its id on the drive. */
  readonly onOpen: (id: string) => void;
}

/** One place of the organisation: what it asks, said before anybody tries, and what lies in it. */
export function PlaceWindow({ place, player, onOpen }: Props) {
  const [search, setSearch] = useSearchParams();
  const path = search.get('path') ?? '';
  const acts = usePlaceActs(player.id, place.id);
  const go = (next: string) =>
    setSearch((now) => {
      now.set('path', next);
      return now;
    });
  return (
    <article className="p-6" aria-label={place.name}>
      <h1 className="!text-[16px]">
        {place.label && (
          <span
            className="mr-2 inline-block h-3 w-3 rounded-sm align-baseline"
            style={{ background: place.label.colour }}
          />
        )}
        {place.name}
      </h1>
      <p className="text-ink-2">
        {place.about} {place.mine ? 'You answer for it.' : `${place.owner.name} answers for it.`}
        {place.label && ` Label: ${place.label.name}.`}
      </p>
      <Terms place={place} />
      {place.mayJoin && (
        <p className="my-2">
          <button type="button" className={button} onClick={() => acts.join.mutate()}>
            Join this place
          </button>
        </p>
      )}
      {acts.join.isError && <Notice look="stop">{errorSentence(acts.join.error)}</Notice>}
      {!place.open || place.terms?.refusedRead ? (
        <p role="alert" className="mt-3 max-w-2xl border border-l-[5px] border-stop bg-stop-soft px-4 py-3">
          {place.terms?.refusedRead ?? `Only people whom ${place.owner.name} let in can open it. Ask them.`}
        </p>
      ) : (
        <Folder key={path} place={place} player={player} path={path} onGo={go} onOpen={onOpen} />
      )}
      {place.open && !player.outside && <PlacePeople place={place} player={player} />}
    </article>
  );
}

function Terms({ place }: { readonly place: DrivePlaceView }) {
  if (!place.terms) return null;
  return (
    <section
      aria-label="What this place asks"
      className="my-3 max-w-3xl border border-l-[5px] border-[var(--teal)] bg-[#f2f7f5] px-4 py-2.5"
    >
      {drivePlaceWords(place.terms, place.owner.name).map((each) => (
        <p key={each}>{each}</p>
      ))}
    </section>
  );
}

function Folder({
  place,
  player,
  path,
  onGo,
  onOpen,
}: Props & { readonly path: string; readonly onGo: (path: string) => void }) {
  const folder = useDriveFolder(player.id, place.id, path);
  const acts = usePlaceActs(player.id, place.id);
  const [chosen, setChosen] = useState<readonly string[]>([]);
  const failed = acts.open.error ?? acts.take.error ?? acts.rename.error ?? acts.add.error;
  const at = (name: string): string => (path === '' ? name : `${path}/${name}`);
  const refused = place.terms?.refusedCopy ?? null;
  if (folder.isPending) return <Loading what="the folder" />;
  if (folder.isError) return <Notice look="stop">{errorSentence(folder.error)}</Notice>;
  const { entries, isCut } = folder.data;
  return (
    <>
      <Steps place={place.name} path={path} onGo={onGo} />
      <p className="my-2 flex flex-wrap items-center gap-2">
        {refused === null || place.terms?.copyKinds.length ? (
          <button
            type="button"
            className={button}
            disabled={chosen.length === 0 || acts.take.isPending}
            onClick={() => acts.take.mutate(chosen.map(at))}
          >
            {chosen.length > 1 ? `Download ${chosen.length} files` : 'Download'}
          </button>
        ) : (
          <span>Downloads, prints and copies are closed here. Ask {place.owner.name}.</span>
        )}
        <Upload onFile={(file) => acts.add.mutate({ file, folder: path })} />
      </p>
      {failed && <Notice look="stop">{errorSentence(failed)}</Notice>}
      {entries.length === 0 && <p className="text-ink-2">Nothing lies here.</p>}
      <table className="w-full max-w-4xl">
        <tbody>
          {entries.map((entry) => (
            <Row
              key={entry.name}
              entry={entry}
              isChosen={chosen.includes(entry.name)}
              onChoose={() =>
                setChosen(
                  chosen.includes(entry.name)
                    ? chosen.filter((each) => each !== entry.name)
                    : [...chosen, entry.name],
                )
              }
              onOpen={() => {
                if (entry.kind === 'folder') onGo(at(entry.name));
                else
                  acts.open.mutate(at(entry.name), {
                    onSuccess: (opened) =>
                      opened.status === 'open' ? onOpen(opened.file.id) : toast(opened.text),
                  });
              }}
              onRename={(name) => acts.rename.mutate({ path: at(entry.name), name })}
            />
          ))}
        </tbody>
      </table>
      {isCut && <p className="mt-1 text-ink-2">Only the first {entries.length} are shown.</p>}
    </>
  );
}

/** The folders above, from the place down. */
function Steps({
  place,
  path,
  onGo,
}: {
  readonly place: string;
  readonly path: string;
  readonly onGo: (path: string) => void;
}) {
  const steps = path === '' ? [] : path.split('/');
  return (
    <nav aria-label="Folders above" className="mt-3">
      <button type="button" className="min-h-6 underline" onClick={() => onGo('')}>
        {place}
      </button>
      {steps.map((step, index) => (
        <span key={step + String(index)}>
          {' / '}
          <button
            type="button"
            className="min-h-6 underline"
            onClick={() => onGo(steps.slice(0, index + 1).join('/'))}
          >
            {step}
          </button>
        </span>
      ))}
    </nav>
  );
}

function Row({
  entry,
  isChosen,
  onChoose,
  onOpen,
  onRename,
}: {
  readonly entry: DriveEntry;
  readonly isChosen: boolean;
  readonly onChoose: () => void;
  readonly onOpen: () => void;
  readonly onRename: (name: string) => void;
}) {
  const [name, setName] = useState<string | null>(null);
  return (
    <tr className="border-b border-dotted border-rule">
      <td className="w-7">
        {entry.kind === 'file' && (
          <input type="checkbox" aria-label={`Choose ${entry.name}`} checked={isChosen} onChange={onChoose} />
        )}
      </td>
      <td className="py-1">
        {name === null ? (
          <button type="button" className="text-left" onClick={onOpen}>
            {entry.kind === 'folder' ? <b>{entry.name}</b> : entry.name}
          </button>
        ) : (
          <form
            className="flex gap-1.5"
            onSubmit={(event) => {
              event.preventDefault();
              onRename(name);
              setName(null);
            }}
          >
            <input
              aria-label={`New name of ${entry.name}`}
              className="w-80 border border-rule-strong px-1.5"
              maxLength={200}
              value={name}
              onChange={(event) => setName(event.target.value)}
            />
            <button type="submit" className={button}>
              Rename
            </button>
          </form>
        )}
      </td>
      <td className="w-24 text-right text-ink-2">{entry.kind === 'file' && sizeWords(entry.bytes)}</td>
      <td className="w-36 pl-4 text-ink-2">{shortTime(entry.changedAt, new Date())}</td>
      <td className="w-28 text-right">
        {entry.kind === 'file' && name === null && (
          <button type="button" className="min-h-6 underline" onClick={() => setName(entry.name)}>
            Rename …
          </button>
        )}
      </td>
    </tr>
  );
}

function Upload({ onFile }: { readonly onFile: (file: File) => void }) {
  const picker = useRef<HTMLInputElement>(null);
  return (
    <>
      <input
        ref={picker}
        type="file"
        aria-label="Upload into this folder"
        className="sr-only"
        tabIndex={-1}
        onChange={(event) => {
          const [file] = event.target.files ?? [];
          event.target.value = '';
          if (file) onFile(file);
        }}
      />
      <button type="button" className={button} onClick={() => picker.current?.click()}>
        Upload here
      </button>
    </>
  );
}
