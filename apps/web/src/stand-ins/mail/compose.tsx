import type { CleanedMail, MailDetail, PersonView } from '@lantern/contracts';
import { domainOf } from '@lantern/core/directory';
import { type DragEvent, useRef, useState } from 'react';
import { toast } from 'sonner';
import { useChooser } from '../../data/labels-at-work';
import { useCleanMail, useDiscardMail, useMail, useMailActs, useSendMail } from '../../data/mail';
import { Loading, Notice } from '../../ui/notice';
import { errorSentence } from '../../wording/errors';
import { LabelRow } from './label-row';
import { Recipients } from './recipients';
import { Told } from '../told';
import { languageOf } from '../../wording/told';
import { sizeWords } from '../../wording/sizes';
import { refusedFiles } from '../sizes';

interface Props {
  readonly person: PersonView;
  readonly draft: string | null;
  readonly onDraft: (id: string) => void;
  readonly onSent: () => void;
  readonly onWaiting: (id: string) => void;
}

/** Writing a mail, new or from a draft that was refused. */
export function Compose(props: Props) {
  const kept = useMail(props.person.id, props.draft);
  if (props.draft && kept.isPending) return <Loading what="the draft" />;
  if (props.draft && kept.isError) return <Notice look="stop">{errorSentence(kept.error)}</Notice>;
  return <Form {...props} start={kept.data ?? null} />;
}

function Form({ person, start, onDraft, onSent, onWaiting }: Props & { readonly start: MailDetail | null }) {
  const [to, setTo] = useState<readonly string[]>(start?.to ?? []);
  const [label, setLabel] = useState<string | null>(start?.label?.id ?? null);
  const chooser = useChooser(person.id, 'mail');
  const [subject, setSubject] = useState(start?.subject ?? '');
  const [body, setBody] = useState(start?.body ?? '');
  const [files, setFiles] = useState<readonly File[]>([]);
  const [keep, setKeep] = useState(start?.attachments ?? []);
  const [refused, setRefused] = useState<string | null>(null);
  const send = useSendMail(person.id);
  const discard = useDiscardMail(person.id);
  const ownDomain = domainOf(person.address);
  const take = (taken: readonly File[]) => {
    setRefused(refusedFiles(taken));
    const fitting = taken.filter((file) => refusedFiles([file]) === null);
    setFiles((before) => [...before, ...fitting]);
  };
  const submit = () =>
    send.mutate(
      { to, subject, body, files, draft: start?.id ?? null, keep: keep.map((file) => file.id), label },
      {
        onSuccess: (result) => {
          if (result.status === 'refused') onDraft(result.draft.id);
          else if (result.status === 'waiting') onWaiting(result.message.id);
          else {
            if (result.notice) toast(`The mail is on its way. ${result.notice.text}`, { duration: 12_000 });
            else toast.success('The mail is on its way');
            onSent();
          }
        },
      },
    );
  return (
    <form
      aria-label="New mail"
      className="p-6"
      onSubmit={(event) => {
        event.preventDefault();
        submit();
      }}
      onDragOver={(event) => event.preventDefault()}
      onDrop={(event: DragEvent) => {
        event.preventDefault();
        take([...event.dataTransfer.files]);
      }}
    >
      <Recipients to={to} ownDomain={ownDomain} onChange={setTo} />
      <div className="flex items-center gap-1.5 border-b border-rule py-1">
        <label htmlFor="subject" className="w-16 text-ink-2">
          Subject
        </label>
        <input
          id="subject"
          maxLength={900}
          className="flex-1 px-1 py-1 outline-offset-0"
          value={subject}
          onChange={(event) => setSubject(event.target.value)}
        />
      </div>
      {(chooser.data?.labels.length ?? 0) > 0 && chooser.data && (
        <LabelRow
          person={person.id}
          chooser={chooser.data}
          chosen={label}
          carried={start?.label ?? null}
          mail={{ files, draft: start?.id ?? null, keep: keep.map((file) => file.id) }}
          text={`${subject}\n${body}`}
          sharedOutside={insideOnly(to, ownDomain).length < to.length}
          onChoose={setLabel}
        />
      )}
      {start && (
        <DraftNotice
          draft={start}
          person={person}
          written={{ to, subject, body }}
          onTakeOutside={() => setTo(insideOnly(to, ownDomain))}
          onClean={(cleaned) => {
            setSubject(cleaned.subject);
            setBody(cleaned.body);
          }}
        />
      )}
      {send.isError && <Notice look="stop">{errorSentence(send.error)}</Notice>}
      {refused && <Notice look="stop">{refused}</Notice>}
      <textarea
        aria-label="Text of the mail"
        rows={10}
        className="mt-3 w-full resize-y p-1"
        value={body}
        onChange={(event) => setBody(event.target.value)}
      />
      <div className="my-3 flex flex-wrap gap-2">
        {keep.map((file) => (
          <FileChip
            key={file.id}
            name={file.name}
            size={file.size}
            onRemove={() => setKeep(keep.filter((other) => other.id !== file.id))}
          />
        ))}
        {files.map((file, index) => (
          <FileChip
            key={`${file.name}${index}`}
            name={file.name}
            size={file.size}
            onRemove={() => setFiles(files.filter((other) => other !== file))}
          />
        ))}
      </div>
      <Buttons
        sending={send.isPending}
        onFiles={take}
        onDiscard={start ? () => discard.mutate(start.id, { onSuccess: onSent }) : null}
      />
    </form>
  );
}

interface DraftNoticeProps {
  readonly draft: MailDetail;
  readonly person: PersonView;
  readonly written: { readonly to: readonly string[]; readonly subject: string; readonly body: string };
  readonly onTakeOutside: () => void;
  readonly onClean: (cleaned: CleanedMail) => void;
}

/** Why a draft did not go, with what mends it. */
function DraftNotice({ draft, person, written, onTakeOutside, onClean }: DraftNoticeProps) {
  const acts = useMailActs(person.id);
  const clean = useCleanMail(person.id);
  if (!draft.notice) return null;
  const { outside } = draft.notice;
  return (
    <Told
      id={draft.id}
      notice={draft.notice}
      about="mail"
      language={languageOf(person.language)}
      acts={acts}
      reported={draft.reported}
      fixes={
        <>
          {draft.notice.found.length > 0 && (
            <button
              type="button"
              className="rounded border border-rule-strong bg-white px-2.5 py-1"
              onClick={() =>
                clean.mutate(
                  { ...written, draft: draft.id },
                  {
                    onSuccess: (cleaned) => {
                      onClean(cleaned);
                      toast('The values were removed from the text. Send it again.');
                    },
                  },
                )
              }
            >
              Remove the values from the text
            </button>
          )}
          {outside.length > 0 && <TakeOutside several={outside.length > 1} onTake={onTakeOutside} />}
          {clean.isError && (
            <p role="alert" className="w-full text-stop">
              {errorSentence(clean.error)}
            </p>
          )}
        </>
      }
    />
  );
}

const insideOnly = (to: readonly string[], domain: string): string[] =>
  to.filter((address) => address.endsWith(`@${domain}`));

function TakeOutside({ several, onTake }: { readonly several: boolean; readonly onTake: () => void }) {
  return (
    <button type="button" onClick={onTake} className="rounded border border-rule-strong bg-white px-2.5 py-1">
      Remove outside {several ? 'recipients' : 'recipient'}
    </button>
  );
}

function FileChip({
  name,
  size,
  onRemove,
}: {
  readonly name: string;
  readonly size: number;
  readonly onRemove: () => void;
}) {
  return (
    <span className="inline-flex items-center gap-2 border border-rule-strong bg-[#f7faf9] px-3 py-1.5">
      <b>{name}</b> {sizeWords(size)}
      <button type="button" aria-label={`Remove ${name}`} onClick={onRemove}>
        ×
      </button>
    </span>
  );
}

interface ButtonsProps {
  readonly sending: boolean;
  readonly onFiles: (files: readonly File[]) => void;
  readonly onDiscard: (() => void) | null;
}

function Buttons({ sending, onFiles, onDiscard }: ButtonsProps) {
  const picker = useRef<HTMLInputElement>(null);
  return (
    <div className="flex gap-2">
      <button type="submit" disabled={sending} className="rounded bg-[var(--teal)] px-4 py-1.5 text-white">
        {sending ? 'Sending …' : 'Send'}
      </button>
      <input
        ref={picker}
        type="file"
        multiple
        aria-label="Attach files"
        className="sr-only"
        tabIndex={-1}
        onChange={(event) => {
          onFiles([...(event.target.files ?? [])]);
          event.target.value = '';
        }}
      />
      <button
        type="button"
        onClick={() => picker.current?.click()}
        className="rounded border border-rule-strong px-3 py-1.5"
      >
        Attach a file
      </button>
      {onDiscard && (
        <button type="button" onClick={onDiscard} className="rounded border border-rule-strong px-3 py-1.5">
          Discard draft
        </button>
      )}
    </div>
  );
}
