import type { PersonView } from '@lantern/contracts';
import { useState } from 'react';
import { Navigate, useNavigate, useParams, useSearchParams } from 'react-router';
import { useLiveUpdates } from '../../data/live';
import { useMailbox, usePeople } from '../../data/mail';
import { useMay } from '../../data/session';
import { Loading, Notice } from '../../ui/notice';
import { errorSentence } from '../../wording/errors';
import { StandInFrame } from '../stand-in-frame';
import { playedOf } from '../played-of';
import { Compose } from './compose';
import { MailReader } from './mail-reader';

/** The simulated mail program of a person at work; it looks like nothing in the workbench. */
export function MailWindow() {
  useLiveUpdates();
  const { person: id } = useParams();
  const people = usePeople();
  const may = useMay('stand-ins.use');
  if (!may)
    return (
      <Frame person={null}>
        <Notice look="stop">Your account may not use the stand-ins.</Notice>
      </Frame>
    );
  if (people.isPending) return <Loading what="the people" />;
  if (people.isError) return <Notice look="stop">{errorSentence(people.error)}</Notice>;
  if (people.data.length === 0)
    return (
      <Frame person={null}>
        <p className="p-6">
          The directory is empty, so no person can be chosen. Start with the demo to try this.
        </p>
      </Frame>
    );
  const person = people.data.find((candidate) => candidate.id === id);
  const first = people.data.find((candidate) => candidate.name === 'Orla Fenwick') ?? people.data[0];
  if (!person) return <Navigate to={`/stand-ins/mail/${first?.id ?? ''}`} replace />;
  return (
    <Frame person={person} people={people.data}>
      <Mailbox key={person.id} person={person} />
    </Frame>
  );
}

interface FrameProps {
  readonly person: PersonView | null;
  readonly people?: readonly PersonView[];
  readonly children: React.ReactNode;
}

function Frame({ person, people = [], children }: FrameProps) {
  const navigate = useNavigate();
  return (
    <StandInFrame
      name="mail"
      played={person && playedOf(person)}
      players={people.map(playedOf)}
      onPlay={(id) => void navigate(`/stand-ins/mail/${id}`)}
    >
      {children}
    </StandInFrame>
  );
}

const FOLDERS = [
  { key: 'inbox', name: 'Inbox' },
  { key: 'drafts', name: 'Drafts' },
  { key: 'waiting', name: 'Waiting' },
  { key: 'sent', name: 'Sent' },
] as const;

function Mailbox({ person }: { readonly person: PersonView }) {
  const [search, setSearch] = useSearchParams();
  const mailbox = useMailbox(person.id);
  const [fresh, setFresh] = useState(0);
  const folder = FOLDERS.find(({ key }) => key === search.get('folder'))?.key ?? 'inbox';
  const open = search.get('mail');
  const writing = search.get('write') !== null;
  const mails = (mailbox.data ?? []).filter((mail) => mail.folder === folder);
  const go = (next: Record<string, string>) => setSearch(next);
  const startNew = () => {
    setFresh((count) => count + 1);
    go({ write: 'new' });
  };
  return (
    <div className="flex min-h-0 flex-1">
      <nav aria-label="Folders" className="w-48 shrink-0 border-r border-rule bg-[#f2f7f5] p-3">
        <button
          type="button"
          onClick={startNew}
          className="mb-3 w-full rounded bg-[var(--teal)] px-3 py-1.5 text-white"
        >
          Write a mail
        </button>
        {FOLDERS.map(({ key, name }) => (
          <button
            key={key}
            type="button"
            aria-current={folder === key && !writing ? 'page' : undefined}
            onClick={() => go({ folder: key })}
            className={`block w-full rounded px-2.5 py-1.5 text-left ${folder === key && !writing ? 'bg-[#d8e8e2]' : ''}`}
          >
            {name}, {(mailbox.data ?? []).filter((mail) => mail.folder === key).length}
          </button>
        ))}
      </nav>
      <div className="min-w-0 flex-1 overflow-auto">
        {mailbox.isError && <Notice look="stop">{errorSentence(mailbox.error)}</Notice>}
        {writing ? (
          <Compose
            key={`${search.get('write') ?? ''}${fresh}`}
            person={person}
            draft={search.get('write') === 'new' ? null : search.get('write')}
            onDraft={(draft) => go({ write: draft })}
            onSent={() => go({ folder: 'sent' })}
            onWaiting={(mail) => go({ folder: 'waiting', mail })}
          />
        ) : open ? (
          <MailReader
            person={person}
            id={open}
            onBack={() => go({ folder })}
            onDraft={(draft) => go({ write: draft })}
          />
        ) : (
          <ul>
            {mails.length === 0 && mailbox.data && (
              <li className="p-6 text-ink-2">There is no mail in this folder.</li>
            )}
            {mails.map((mail) => (
              <li key={mail.id}>
                <button
                  type="button"
                  onClick={() =>
                    go(mail.folder === 'drafts' ? { write: mail.id } : { folder, mail: mail.id })
                  }
                  className="grid w-full grid-cols-[200px_1fr_130px] gap-3 border-b border-rule px-4 py-2 text-left hover:bg-[#eef5f2]"
                >
                  <span className="truncate">{folder === 'inbox' ? mail.from : mail.to.join(', ')}</span>
                  <span className="truncate">
                    {mail.refused && <b className="text-stop">Not sent: </b>}
                    {folder === 'waiting' && <b>Waits: </b>}
                    {mail.noPassingOn && <span title="Do not forward">⊘ </span>}
                    {mail.subject || 'No subject'}
                  </span>
                  <span className="text-right text-ink-2">
                    {new Date(mail.at).toLocaleString('en-GB', {
                      day: 'numeric',
                      month: 'short',
                      hour: '2-digit',
                      minute: '2-digit',
                    })}
                  </span>
                </button>
              </li>
            ))}
          </ul>
        )}
      </div>
    </div>
  );
}
