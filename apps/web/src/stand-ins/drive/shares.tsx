import type { DriveFileDetail, PlayerView, ShareView } from '@lantern/contracts';
import { LINK_KINDS } from '@lantern/core/movement';
import { useState } from 'react';
import { useAddresses } from '../../data/mail';
import { useDriveActs } from '../../data/drive';
import { errorSentence } from '../../wording/errors';
import { shortTime } from '../../wording/times';
import { LINK_WORDS } from '../../wording/terms';
import { Told } from '../told';
import { languageOf, phrases } from '../../wording/told';

interface Props {
  readonly file: DriveFileDetail;
  readonly player: PlayerView;
}

/** Whom a file is open for, and the small form that opens it for more. */
export function Shares({ file, player }: Props) {
  const acts = useDriveActs(player.id);
  return (
    <section aria-labelledby="shares" className="mt-5 max-w-3xl">
      <h2 id="shares" className="mb-1 !text-ink">
        Shared with
      </h2>
      {file.shares.length === 0 && <p className="text-ink-2">No one else.</p>}
      {file.shares.map((share) => (
        <ShareRow key={share.id} share={share} file={file} player={player} />
      ))}
      <NewShare file={file} player={player} />
      {(acts.share.isError || acts.end.isError) && (
        <p role="alert" className="text-stop">
          {errorSentence(acts.share.error ?? acts.end.error)}
        </p>
      )}
    </section>
  );
}

const STATES: Readonly<Record<ShareView['state'], string>> = {
  open: 'open',
  waiting: 'waits for an answer',
  refused: 'refused',
  withdrawn: 'withdrawn',
};

function ShareRow({ share, file, player }: Props & { readonly share: ShareView }) {
  const acts = useDriveActs(player.id);
  const who = share.address
    ? `${share.name ?? ''} (${share.address})`
    : `A link for ${LINK_WORDS[share.link ?? 'only-named']}`;
  const link = share.token ? `${window.location.origin}/stand-ins/drive/link/${share.token}` : null;
  return (
    <div className="border-t border-rule py-1.5">
      <p className="flex flex-wrap items-baseline gap-x-3">
        <span>
          {who}
          {share.outside && <span className="text-[12.5px]"> · outside</span>}
        </span>
        <b className={share.state === 'open' && !share.closedByLabel ? '' : 'text-stop'}>
          {share.closedByLabel ? 'the label does not let them read it' : STATES[share.state]}
        </b>
        {share.until && <span className="text-[12.5px]">until {shortTime(share.until, new Date())}</span>}
        <button
          type="button"
          className="min-h-6 text-[12.5px] text-press underline"
          onClick={() => acts.end.mutate({ id: share.id })}
        >
          Stop sharing
        </button>
      </p>
      {link && (
        <p className="text-[12.5px] break-all">
          <a className="inline-block min-h-6 text-press underline" href={link}>
            {link}
          </a>
        </p>
      )}
      {share.notice && share.state !== 'open' && (
        <Told
          id={share.id}
          notice={share.notice}
          about="share"
          language={languageOf(player.language)}
          {...(share.state === 'withdrawn' ? { head: phrases(languageOf(player.language)).withdrawn } : {})}
          acts={acts}
          reported={share.reported}
          fixes={
            share.outside &&
            share.state === 'refused' && (
              <button
                type="button"
                className="rounded border border-rule-strong bg-white px-2.5 py-1"
                onClick={() => acts.share.mutate({ id: file.id, link: 'whole-house' })}
              >
                Create a link for everyone inside instead
              </button>
            )
          }
        />
      )}
    </div>
  );
}

function NewShare({ file, player }: Props) {
  const acts = useDriveActs(player.id);
  const [typed, setTyped] = useState('');
  const found = useAddresses(typed);
  const stopped = file.restriction?.answer === 'block';
  return (
    <div className="mt-3 border-t border-rule pt-2">
      <label className="block">
        Share with
        <input
          className="mt-0.5 block w-full max-w-md border border-rule-strong p-1.5"
          placeholder="A name or an address"
          value={typed}
          onChange={(event) => setTyped(event.target.value)}
        />
      </label>
      {(found.data ?? [])
        .filter(({ address }) => address !== player.address)
        .map(({ address, name, from, outside }) => (
          <button
            key={address}
            type="button"
            className="mr-3 min-h-6 text-press underline"
            onClick={() => {
              acts.share.mutate({ id: file.id, address });
              setTyped('');
            }}
          >
            {name}, {from}
            {outside && (stopped ? ' (outside: a rule does not allow it)' : ' (outside)')}
          </button>
        ))}
      <p className="mt-2 flex flex-wrap items-center gap-2">
        Create link for
        {LINK_KINDS.map((link) => (
          <button
            key={link}
            type="button"
            className="rounded border border-rule-strong bg-white px-2.5 py-1"
            onClick={() => acts.share.mutate({ id: file.id, link })}
          >
            {LINK_WORDS[link]}
            {link === 'whoever-holds-it' && stopped && ' (a rule does not allow it)'}
          </button>
        ))}
      </p>
      {acts.share.isError && (
        <p role="alert" className="text-stop">
          {errorSentence(acts.share.error)}
        </p>
      )}
    </div>
  );
}
