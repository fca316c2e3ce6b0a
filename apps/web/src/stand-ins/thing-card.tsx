import type { PlayerView, ThingView } from '@lantern/contracts';
import { type ReactNode, useState } from 'react';
import { toast } from 'sonner';
import { useChooser } from '../data/labels-at-work';
import { useThingActs } from '../data/things';
import { errorSentence } from '../wording/errors';
import { shortTime } from '../wording/times';
import { LabelTag } from './label-tag';
import { LoweringReason } from './lowering-reason';
import { sizeWords } from '../wording/sizes';
import { Told } from './told';
import { languageOf, type ToldAbout } from '../wording/told';
import { WriteLabel } from './write-label';

interface Props {
  readonly thing: ThingView;
  readonly player: PlayerView;
  readonly about: ToldAbout;
  /** For what carries a label: whether somebody outside reads it. */
  readonly sharedOutside?: boolean;
  /** More that mends it on the spot. */
  readonly fixes?: ReactNode;
}

const button = 'rounded border border-rule-strong bg-white px-2.5 py-1';

/** Something that was put somewhere: its text and files, and for its author what became of it. */
export function ThingCard({ thing, player, about, sharedOutside, fixes }: Props) {
  const acts = useThingActs(player.id);
  const [editing, setEditing] = useState(false);
  const mine = thing.author.address === player.address;
  const failed = acts.withoutValues.error ?? acts.remove.error;
  return (
    <article aria-label={`${thing.author.name}, ${shortTime(thing.at, new Date())}`} className="px-5 py-2">
      <p className="text-[12.5px] text-ink-2">
        <b className="text-ink">{thing.author.name}</b>
        {thing.author.outside && ' (guest)'}, {shortTime(thing.at, new Date())}
        {thing.edited && ', changed'}
        {thing.label && (
          <>
            {' '}
            <LabelTag label={thing.label} />
          </>
        )}
        {thing.state === 'waiting' && <b className="text-ink"> · waiting, not visible to others yet</b>}
        {thing.state === 'withheld' && <b className="text-stop"> · withheld, visible only to you</b>}
      </p>
      {editing ? (
        <EditText
          thing={thing}
          player={player}
          sharedOutside={sharedOutside}
          error={acts.edit.error}
          onCancel={() => setEditing(false)}
          onSave={(changed) =>
            acts.edit.mutate({ id: thing.id, ...changed }, { onSuccess: () => setEditing(false) })
          }
        />
      ) : thing.closed !== null ? (
        <p className="max-w-3xl border-l-4 border-stop pl-2">{thing.closed}</p>
      ) : (
        <p className="max-w-3xl break-words whitespace-pre-wrap">{thing.text}</p>
      )}
      {thing.stillShown !== null && (
        <p className="max-w-3xl text-[12.5px] text-ink-2">Others still see: {thing.stillShown}</p>
      )}
      {thing.files.map((file, index) => (
        <a
          key={`${file.name}${index}`}
          className="mt-1 mr-2 inline-block border border-rule-strong bg-[#f7faf9] px-3 py-1"
          href={`/api/stand-ins/things/${encodeURIComponent(player.id)}/${thing.id}/files/${index}`}
        >
          <b>{file.name}</b> {sizeWords(file.size)}
        </a>
      ))}
      {mine && thing.notice && thing.notice.state !== 'went-on' && (
        <Told
          id={thing.id}
          notice={thing.notice}
          about={about}
          language={languageOf(player.language)}
          acts={acts}
          reported={thing.reported}
          fixes={
            <>
              {thing.notice.found.length > 0 && thing.text !== '' && (
                <button
                  type="button"
                  className={button}
                  onClick={() =>
                    acts.withoutValues.mutate(
                      { id: thing.id },
                      { onSuccess: () => toast('The values were removed and it was tried again') },
                    )
                  }
                >
                  Remove the values and try again
                </button>
              )}
              {fixes}
            </>
          }
        />
      )}
      {failed && (
        <p role="alert" className="text-stop">
          {errorSentence(failed)}
        </p>
      )}
      {mine && !editing && thing.state !== 'waiting' && (
        <p className="mt-1 flex gap-3 text-[12.5px]">
          <button type="button" className="min-h-6 text-press underline" onClick={() => setEditing(true)}>
            Change it
          </button>
          <button
            type="button"
            className="min-h-6 text-press underline"
            onClick={() => acts.remove.mutate({ id: thing.id })}
          >
            Delete
          </button>
        </p>
      )}
    </article>
  );
}

interface EditProps {
  readonly thing: ThingView;
  readonly player: PlayerView;
  readonly sharedOutside: boolean | undefined;
  readonly error: unknown;
  readonly onCancel: () => void;
  readonly onSave: (changed: { text: string; label?: string | null; reason?: string }) => void;
}

function EditText({ thing, player, sharedOutside, error, onCancel, onSave }: EditProps) {
  const [draft, setDraft] = useState(thing.text);
  const before = thing.label?.id ?? null;
  const [label, setLabel] = useState(before);
  const [reason, setReason] = useState('');
  const chooser = useChooser(player.id, 'chat');
  return (
    <form
      aria-label="Change it"
      onSubmit={(event) => {
        event.preventDefault();
        onSave({
          text: draft,
          ...(label === before ? {} : { label }),
          ...(reason.trim() === '' ? {} : { reason: reason.trim() }),
        });
      }}
    >
      <textarea
        aria-label="Text"
        autoFocus
        rows={3}
        className="block w-full max-w-3xl border border-rule-strong p-1"
        value={draft}
        onChange={(event) => setDraft(event.target.value)}
      />
      {sharedOutside !== undefined && chooser.data && (
        <>
          <WriteLabel
            player={player.id}
            carrier="chat"
            chooser={chooser.data}
            text={draft}
            sharedOutside={sharedOutside}
            chosen={label}
            carried={thing.label}
            onChoose={setLabel}
          />
          <LoweringReason
            chooser={chooser.data}
            before={before}
            after={label}
            reason={reason}
            onChange={setReason}
          />
        </>
      )}
      {error !== null && error !== undefined && (
        <p role="alert" className="text-stop">
          {errorSentence(error)}
        </p>
      )}
      <p className="mt-1 flex gap-2">
        <button type="submit" className="rounded bg-[var(--teal)] px-3 py-1 text-white">
          Save
        </button>
        <button type="button" className={button} onClick={onCancel}>
          Discard
        </button>
      </p>
    </form>
  );
}
