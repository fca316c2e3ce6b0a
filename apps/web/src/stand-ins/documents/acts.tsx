import type { DocumentDetail, PersonView } from '@lantern/contracts';
import { useState } from 'react';
import { useAttempt, useDecideLowering, useDownload } from '../../data/documents-desk';
import { Notice } from '../../ui/notice';
import { errorSentence } from '../../wording/errors';

export function Waiting({
  person,
  document,
  onDecided,
}: {
  readonly person: PersonView;
  readonly document: DocumentDetail;
  readonly onDecided: (document: DocumentDetail) => void;
}) {
  const decide = useDecideLowering(person.id);
  if (!document.waiting) return null;
  return (
    <Notice>
      Waiting for a second person: {document.waiting.label ?? 'no label'} instead of{' '}
      {document.label?.name ?? 'none'}, “{document.waiting.reason}”.
      <p className="mt-1 flex gap-3">
        <button
          type="button"
          className="part"
          onClick={() => decide.mutate({ id: document.id, agrees: true }, { onSuccess: onDecided })}
        >
          Agree
        </button>
        <button
          type="button"
          className="part"
          onClick={() => decide.mutate({ id: document.id, agrees: false }, { onSuccess: onDecided })}
        >
          Decline
        </button>
      </p>
      {decide.isError && <p className="text-stop">{errorSentence(decide.error)}</p>}
    </Notice>
  );
}

interface ActProps {
  readonly person: PersonView;
  readonly document: DocumentDetail;
  readonly attempt: ReturnType<typeof useAttempt>;
  readonly onDone: (id: string) => void;
}

/** What people do with documents. Whatever the label forbids is tried, refused and explained by the server. */
export function Acts({ person, document, attempt, onDone }: ActProps) {
  const [to, setTo] = useState('');
  const download = useDownload(person.id);
  const copyText = () =>
    void navigator.clipboard.writeText(document.paragraphs.join('\n')).catch(() => undefined);
  const button = 'rounded border border-[var(--teal-line)] bg-white px-2.5 py-1';
  return (
    <div className="flex flex-wrap gap-2 border-t border-rule pt-3">
      <button
        type="button"
        className={button}
        onClick={() => attempt.mutate({ id: document.id, effect: 'take-out' }, { onSuccess: copyText })}
      >
        Copy the text
      </button>
      <button
        type="button"
        className={button}
        onClick={() =>
          attempt.mutate({ id: document.id, effect: 'make-another' }, { onSuccess: ({ id }) => onDone(id) })
        }
      >
        Make a copy
      </button>
      <button type="button" className={button} onClick={() => download.mutate(document)}>
        Download
      </button>
      <span className="flex w-full gap-2">
        <input
          aria-label="Forward to"
          className="field flex-1"
          placeholder="Forward to"
          list="known-people"
          value={to}
          onChange={(event) => setTo(event.target.value)}
        />
        <button
          type="button"
          className={button}
          onClick={() =>
            attempt.mutate({ id: document.id, effect: 'pass-on', to }, { onSuccess: () => setTo('') })
          }
        >
          Pass on
        </button>
      </span>
      {download.isError && <Notice look="stop">{errorSentence(download.error)}</Notice>}
      {attempt.isSuccess && (
        <p role="status" className="w-full text-[12.5px]">
          Done.
        </p>
      )}
    </div>
  );
}

export function Past({ document }: { readonly document: DocumentDetail }) {
  if (document.changes.length === 0 && document.foreign.length === 0) return null;
  return (
    <div className="border-t border-rule pt-2 text-[12.5px]">
      {document.foreign.map(({ field, value, label }) => (
        <p key={`${field}${value}`}>
          Label from another product in the file: {field} = {value}
          {label && `, which means ${label} here`}
        </p>
      ))}
      {document.changes.map((change) => (
        <p key={change.id} className="text-ink-2">
          {change.at.slice(0, 10)}: {change.before?.name ?? 'no label'} → {change.after?.name ?? 'no label'}{' '}
          by {change.by}
          {change.reason && `, “${change.reason}”`}
        </p>
      ))}
    </div>
  );
}
