import type { DriveFileDetail, PlayerView } from '@lantern/contracts';
import { useRef, useState } from 'react';
import { Link, useSearchParams } from 'react-router';
import { toast } from 'sonner';
import { useDriveActs } from '../../data/drive';
import { useChooser } from '../../data/labels-at-work';
import { errorSentence } from '../../wording/errors';
import { shortTime } from '../../wording/times';
import { sizeWords } from '../../wording/sizes';
import { SuggestedLabel } from '../suggested-label';
import { useSuggestion } from '../use-suggestion';
import { LabelOfFile } from './label-of-file';
import { Shares } from './shares';

interface Props {
  readonly file: DriveFileDetail;
  readonly player: PlayerView;
  readonly download: string;
}

const button = 'rounded border border-rule-strong bg-white px-2.5 py-1';

/** One file: what it holds, whether it may go outside, and whom it is open for. */
export function FilePage({ file, player, download }: Props) {
  const acts = useDriveActs(player.id);
  const failed = acts.replace.error ?? acts.remove.error ?? acts.withoutValues.error;
  const picker = useRef<HTMLInputElement>(null);
  const [search] = useSearchParams();
  return (
    <article className="p-6">
      <h1 className="!text-[16px]">{file.name}</h1>
      <p className="mb-2 text-ink-2">
        {file.folder}, {sizeWords(file.size)}, of {file.owner.name}, changed{' '}
        {shortTime(file.changedAt, new Date())}
      </p>
      {file.place && (
        <p className="mb-2">
          <Link
            className="underline"
            to={{
              search: placeSearch(file.place.id, file.place.path, search),
            }}
          >
            Back to {file.place.name}
          </Link>
          {file.place.label && `. The label of the place is ${file.place.label}.`}
        </p>
      )}
      <LabelOfFile file={file} player={player} />
      <Restriction
        file={file}
        onClean={
          file.mine && file.text !== null
            ? () =>
                acts.withoutValues.mutate(
                  { id: file.id },
                  { onSuccess: () => toast('The values were removed') },
                )
            : null
        }
      />
      {failed !== null && failed !== undefined && (
        <p role="alert" className="text-stop">
          {errorSentence(failed)}
        </p>
      )}
      <p className="my-3 flex flex-wrap gap-2">
        {file.refused['make-another'] === null ? (
          <a className={button} href={download}>
            Download
          </a>
        ) : (
          <span>Download is not allowed. {file.refused['make-another']}</span>
        )}
        {file.mine && (
          <>
            <input
              ref={picker}
              type="file"
              aria-label="Replace file"
              className="sr-only"
              tabIndex={-1}
              onChange={(event) => {
                const [given] = event.target.files ?? [];
                event.target.value = '';
                if (given) acts.replace.mutate({ id: file.id, file: given });
              }}
            />
            <button type="button" className={button} onClick={() => picker.current?.click()}>
              Replace file
            </button>
            <button type="button" className={button} onClick={() => acts.remove.mutate({ id: file.id })}>
              Delete file
            </button>
          </>
        )}
      </p>
      {file.text !== null && <TextOf file={file} player={player} />}
      {file.mine && <Shares file={file} player={player} />}
    </article>
  );
}

/** The folder of a place in which a file lies. */
function placeSearch(place: string, path: string, now: URLSearchParams): string {
  const folder = path.split('/').slice(0, -1).join('/');
  const stays = ['on', 'net'].flatMap((name) => (now.get(name) ? [[name, now.get(name) ?? '']] : []));
  return new URLSearchParams({ place, path: folder, ...Object.fromEntries(stays) }).toString();
}

/** Said before anybody tries. */
function Restriction({
  file,
  onClean,
}: {
  readonly file: DriveFileDetail;
  readonly onClean: (() => void) | null;
}) {
  const { restriction } = file;
  if (!restriction) return null;
  const verb =
    restriction.answer === 'block'
      ? 'This file is internal only'
      : 'Sharing this file outside needs an answer first';
  return (
    <section
      aria-label="Sharing restrictions"
      className="my-3 max-w-3xl border border-l-[5px] border-stop bg-stop-soft px-4 py-3"
    >
      <h2 className="!text-[15px] !text-ink">{verb}</h2>
      {restriction.found.map((found) => (
        <p key={found.pattern}>
          It contains <b>{`${found.distinct} × ${found.patternName}`}</b> in {found.where.join(', ')}.
        </p>
      ))}
      <p className="whitespace-pre-wrap">{restriction.text}</p>
      {onClean && (
        <button type="button" className={`${button} mt-2`} onClick={onClean}>
          Remove the values
        </button>
      )}
      <p className="mt-1 text-[12.5px] text-ink-2">
        Rule {restriction.ruleNumber} of "{restriction.policyName}". The restriction ends when its cause is
        removed.
      </p>
    </section>
  );
}

function TextOf({ file, player }: { readonly file: DriveFileDetail; readonly player: PlayerView }) {
  const acts = useDriveActs(player.id);
  const [text, setText] = useState(file.text ?? '');
  const chooser = useChooser(player.id, 'document');
  const written = text !== file.text;
  const suggestion = useSuggestion(player.id, 'document', {
    text: file.mine && written ? text : '',
    label: file.label?.id ?? null,
    sharedOutside: file.outsideNow > 0,
  });
  if (!file.mine) return <OthersText file={file} />;
  return (
    <form
      aria-label="Content"
      onSubmit={(event) => {
        event.preventDefault();
        acts.write.mutate({ id: file.id, text, version: file.version });
      }}
    >
      <textarea
        aria-label="Content of the file"
        rows={8}
        className="block w-full max-w-3xl border border-rule-strong p-2 font-mono text-[13px]"
        value={text}
        onChange={(event) => setText(event.target.value)}
      />
      <SuggestedLabel
        suggestion={suggestion}
        chooser={chooser.data ?? { labels: [] }}
        onTake={(label) => acts.label.mutate({ id: file.id, label })}
      />
      {acts.write.isError && (
        <p role="alert" className="text-stop">
          {errorSentence(acts.write.error)}
        </p>
      )}
      <button
        type="submit"
        disabled={!written || acts.write.isPending}
        className="mt-1 rounded bg-[var(--teal)] px-4 py-1.5 text-white disabled:opacity-60"
      >
        Save
      </button>
    </form>
  );
}

/** The text of somebody else's file; nothing is copied out of it where that is refused. */
function OthersText({ file }: { readonly file: DriveFileDetail }) {
  const why = file.refused['take-out'];
  return (
    <>
      {why !== null && <p className="mb-1">Copying is not allowed. {why}</p>}
      <pre
        className={`max-w-3xl border border-rule p-3 break-words whitespace-pre-wrap ${why === null ? '' : 'select-none'}`}
        onCopy={(event) => {
          if (why === null) return;
          event.preventDefault();
          toast(why);
        }}
      >
        {file.text}
      </pre>
    </>
  );
}
