import type { PersonView } from '@lantern/contracts';
import { useState } from 'react';
import { Link, Navigate, useNavigate, useParams, useSearchParams } from 'react-router';
import { useDocument, useDocuments, useTakeFile } from '../../data/documents-desk';
import { useLiveUpdates } from '../../data/live';
import { usePeople } from '../../data/mail';
import { useMay } from '../../data/session';
import { Loading, Notice } from '../../ui/notice';
import { errorSentence } from '../../wording/errors';
import { StandInFrame } from '../stand-in-frame';
import { playedOf } from '../played-of';
import { Editor } from './editor';
import { LabelTag } from '../label-tag';

/** The simulated document program of a person at work. */
export function DocumentsWindow() {
  useLiveUpdates();
  const { person: id } = useParams();
  const people = usePeople();
  const navigate = useNavigate();
  const may = useMay('stand-ins.use');
  const frame = (person: PersonView | null, children: React.ReactNode) => (
    <StandInFrame
      name="documents"
      played={person && playedOf(person)}
      players={(people.data ?? []).map(playedOf)}
      onPlay={(next) => void navigate(`/stand-ins/documents/${next}`)}
    >
      {children}
    </StandInFrame>
  );
  if (!may) return frame(null, <Notice look="stop">Your account may not use the stand-ins.</Notice>);
  if (people.isPending) return <Loading what="the people" />;
  if (people.isError) return <Notice look="stop">{errorSentence(people.error)}</Notice>;
  if (people.data.length === 0)
    return frame(
      null,
      <p className="p-6">
        The directory is empty, so no person can be chosen. Start with the demo to try this.
      </p>,
    );
  const person = people.data.find((candidate) => candidate.id === id);
  const first = people.data.find((candidate) => candidate.name === 'Orla Fenwick') ?? people.data[0];
  if (!person) return <Navigate to={`/stand-ins/documents/${first?.id ?? ''}`} replace />;
  return frame(person, <Desk key={person.id} person={person} />);
}

function Desk({ person }: { readonly person: PersonView }) {
  const [search, setSearch] = useSearchParams();
  const documents = useDocuments(person.id);
  const take = useTakeFile(person.id);
  const [fresh, setFresh] = useState(0);
  const open = search.get('open');
  const writing = open === 'new';
  const document = useDocument(person.id, writing ? null : open);
  return (
    <div className="flex min-h-0 flex-1">
      <nav
        aria-label="Documents"
        className="flex w-60 shrink-0 flex-col border-r border-rule bg-[#f2f7f5] p-3"
      >
        <button
          type="button"
          className="mb-2 w-full rounded bg-[var(--teal)] px-3 py-1.5 text-white"
          onClick={() => {
            setFresh(fresh + 1);
            setSearch({ open: 'new' });
          }}
        >
          Create document
        </button>
        <label className="mb-3 block cursor-pointer rounded border border-[var(--teal-line)] bg-white px-3 py-1.5 text-center focus-within:outline-2">
          Open a file (.docx)
          <input
            type="file"
            accept=".docx"
            className="sr-only"
            onChange={(event) => {
              const [file] = event.target.files ?? [];
              event.target.value = '';
              if (file) take.mutate(file, { onSuccess: ({ id }) => setSearch({ open: id }) });
            }}
          />
        </label>
        {take.isError && <Notice look="stop">{errorSentence(take.error)}</Notice>}
        {documents.isError && <Notice look="stop">{errorSentence(documents.error)}</Notice>}
        <ul className="min-h-0 flex-1 overflow-auto">
          {documents.data?.length === 0 && <li className="text-[12.5px] text-ink-2">No documents yet.</li>}
          {(documents.data ?? []).map((each) => (
            <li key={each.id}>
              <button
                type="button"
                aria-current={each.id === open ? 'page' : undefined}
                className={`block w-full rounded px-2 py-1.5 text-left ${each.id === open ? 'bg-[#d8e8e2]' : ''}`}
                onClick={() => setSearch({ open: each.id })}
              >
                <span className="block truncate">{each.name}</span>
                <span className="block truncate text-[12px] text-ink-2">
                  <LabelTag label={each.label} /> {each.mine ? '' : `of ${each.owner.name}`}
                </span>
              </button>
            </li>
          ))}
        </ul>
        <Link to="/labels/changes" className="mt-2 text-[12px] underline">
          Open incidents in the workbench
        </Link>
      </nav>
      <div className="min-w-0 flex-1 overflow-auto">
        {!open && (
          <p className="p-6 text-ink-2">Create a document, open a file, or choose one on the left.</p>
        )}
        {open && !writing && document.isPending && <Loading what="the document" />}
        {document.isError && !writing && <Notice look="stop">{errorSentence(document.error)}</Notice>}
        {writing && (
          <Editor
            key={`new ${fresh}`}
            person={person}
            document={null}
            onSaved={(id) => setSearch({ open: id })}
          />
        )}
        {!writing && document.data && (
          <Editor
            key={document.data.id}
            person={person}
            document={document.data}
            onSaved={(id) => setSearch({ open: id })}
          />
        )}
      </div>
    </div>
  );
}
