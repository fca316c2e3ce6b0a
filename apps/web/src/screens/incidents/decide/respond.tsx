import {
  MAX_RESPONDED,
  type ResponseKind,
  type ResponsePreview,
  type ResponseRequest,
} from '@lantern/contracts';
import { Dialog } from 'radix-ui';
import { useState } from 'react';
import { toast } from 'sonner';
import { useHooks, usePreview, useRespond, useResponseTexts } from '../../../data/response';
import { useMay } from '../../../data/session';
import { Button } from '../../../ui/button';
import { SelectField, TextArea, TextField } from '../../../ui/field';
import { Notice } from '../../../ui/notice';
import { RESPONSE_REASONS, RESPONSE_WORDS } from '../../../wording/desk';
import { errorSentence } from '../../../wording/errors';

interface Props {
  readonly numbers: readonly number[];
  readonly open: boolean;
  readonly onOpenChange: (open: boolean) => void;
}

/** Tells or asks people about incidents, or opens tickets. What cannot be taken back is shown as it would go out. */
export function Respond({ numbers, open, onOpenChange }: Props) {
  return (
    <Dialog.Root open={open} onOpenChange={onOpenChange}>
      <Dialog.Portal>
        <Dialog.Overlay className="fixed inset-0 z-40 bg-black/30" />
        <Dialog.Content
          aria-describedby={undefined}
          className="fixed top-16 left-1/2 z-50 flex max-h-[85vh] w-[640px] -translate-x-1/2 flex-col gap-3 overflow-auto rounded border border-rule-strong bg-sheet p-5 shadow-xl"
        >
          <Dialog.Title className="font-head text-[17px] font-semibold">
            Respond to {numbers.length === 1 ? `incident ${numbers[0] ?? ''}` : `${numbers.length} incidents`}
          </Dialog.Title>
          {numbers.length > MAX_RESPONDED ? (
            <Notice look="stop">
              One response can be about {MAX_RESPONDED} incidents at most. Pick fewer.
            </Notice>
          ) : (
            <ResponseForm numbers={numbers} onDone={() => onOpenChange(false)} />
          )}
        </Dialog.Content>
      </Dialog.Portal>
    </Dialog.Root>
  );
}

const KINDS: readonly ResponseKind[] = [
  'ask-person',
  'tell-person',
  'tell-manager',
  'tell-address',
  'ticket',
  'take-back',
  'sign-out',
];
/** What each kind of response cannot undo, or leaves out. */
const EFFECTS = {
  mail: 'A mail cannot be taken back. The history keeps what was sent.',
  ticket: 'The ticket names what was found by kind and number, without values.',
  'take-back':
    'Ends shares, disconnects applications, and deletes exports that were not downloaded yet. Downloaded files stay with the person.',
  'sign-out':
    'The person is signed out within seconds and must sign in and confirm their identity again. Unsaved work is lost.',
} as const;
const HOURS = [4, 24, 48, 72, 168] as const;

function ResponseForm({
  numbers,
  onDone,
}: {
  readonly numbers: readonly number[];
  readonly onDone: () => void;
}) {
  const first = numbers[0] ?? 0;
  const may = useMay('incidents.respond');
  const texts = useResponseTexts(first, may);
  const hooks = useHooks(may);
  const preview = usePreview();
  const respond = useRespond();
  const [kind, setKind] = useState<ResponseKind>('ask-person');
  const [written, setWritten] = useState<Written | null>(null);
  const [to, setTo] = useState('');
  const [hours, setHours] = useState<number>(48);
  const [hook, setHook] = useState('');
  if (!may) return <Notice>Your account may read incidents but not respond to them.</Notice>;
  const template = texts.data?.find((one) => one.kind === kind);
  const { subject, text } = written ?? { subject: template?.subject ?? '', text: template?.text ?? '' };
  const isTicket = kind === 'ticket';
  const isMail = !isTicket && kind !== 'take-back' && kind !== 'sign-out';
  const request: ResponseRequest = {
    kind,
    numbers: [...numbers],
    ...(isTicket ? { hook } : {}),
    ...(isMail ? { subject, text } : {}),
    ...(kind === 'tell-address' ? { to } : {}),
    ...(kind === 'ask-person' ? { hours } : {}),
  };
  const missing = !isMail
    ? isTicket && hook === '' && 'Choose where the ticket goes'
    : subject.trim() === '' || text.trim() === ''
      ? 'Write a subject and a text'
      : kind === 'tell-address' && !to.includes('@') && 'Enter an address';
  const send = () =>
    respond.mutate(request, {
      onSuccess: (results) => {
        const refused = results.filter(({ state }) => state === 'refused');
        const sent = results.length - refused.length;
        if (sent > 0) toast(`${RESPONSE_WORDS[kind]}: ${sent} sent`);
        const [one] = refused;
        if (one)
          toast.error(
            `${refused.length} not sent: ${[...new Set(refused.map(({ reason }) => RESPONSE_REASONS[reason ?? 'not-found']))].join(', ')}`,
          );
        if (sent > 0) onDone();
      },
    });
  return (
    <>
      <SelectField
        label="What to do"
        value={kind}
        options={KINDS.map((value) => ({ value, label: RESPONSE_WORDS[value] }))}
        onChange={(next) => {
          setKind(next);
          setWritten(null);
          preview.reset();
        }}
      />
      {isTicket && (
        <SelectField
          label="Ticket system"
          value={hook}
          hint={
            hooks.data?.length === 0 ? 'No web hook is set up. Add one under Routing and tickets.' : undefined
          }
          options={[
            { value: '', label: 'choose …' },
            ...(hooks.data ?? []).map(({ id, name }) => ({ value: id, label: name })),
          ]}
          onChange={setHook}
        />
      )}
      {kind === 'tell-address' && (
        <TextField label="Address" type="email" value={to} onChange={(event) => setTo(event.target.value)} />
      )}
      {kind === 'ask-person' && (
        <SelectField
          label="Wait for the reply"
          value={String(hours)}
          options={HOURS.map((each) => ({
            value: String(each),
            label: each < 48 ? `${each} hours` : `${each / 24} days`,
          }))}
          onChange={(value) => setHours(Number(value))}
        />
      )}
      {isMail && <MailFields subject={subject} text={text} onChange={setWritten} />}
      {preview.data && <PreviewBox preview={preview.data} asks={kind === 'ask-person'} />}
      {(respond.isError || preview.isError) && (
        <Notice look="stop">{errorSentence(respond.error ?? preview.error)}</Notice>
      )}
      <div className="flex gap-2">
        {isMail && (
          <Button refusal={missing || undefined} reasonIsShown onClick={() => preview.mutate(request)}>
            Show preview
          </Button>
        )}
        <Button look="main" refusal={missing || undefined} onClick={send}>
          {isMail
            ? numbers.length === 1
              ? 'Send mail'
              : `Send ${numbers.length} mails`
            : isTicket
              ? 'Open ticket'
              : RESPONSE_WORDS[kind]}
        </Button>
        <Dialog.Close asChild>
          <Button look="quiet">Cancel</Button>
        </Dialog.Close>
      </div>
      <p className="text-[12.5px] text-ink-2">
        {EFFECTS[kind === 'ticket' || kind === 'take-back' || kind === 'sign-out' ? kind : 'mail']}
      </p>
    </>
  );
}

interface Written {
  readonly subject: string;
  readonly text: string;
}

function MailFields({
  subject,
  text,
  onChange,
}: Written & { readonly onChange: (written: Written) => void }) {
  return (
    <>
      <TextField
        label="Subject"
        value={subject}
        maxLength={200}
        onChange={(event) => onChange({ subject: event.target.value, text })}
      />
      <TextArea
        label="Text"
        rows={7}
        value={text}
        maxLength={4_000}
        hint="Fields: {person} {number} {time} {title} {found} {destination}. Values that were found are never put in."
        onChange={(event) => onChange({ subject, text: event.target.value })}
      />
    </>
  );
}

function PreviewBox({ preview, asks }: { readonly preview: ResponsePreview; readonly asks: boolean }) {
  return (
    <section aria-label="Preview" className="border-l-4 border-rule-strong bg-sunk px-3 py-2 text-[13px]">
      <p>
        To <b>{preview.to ?? 'nobody'}</b>
        {preview.refusal && <span className="text-stop"> ({RESPONSE_REASONS[preview.refusal]})</span>}
      </p>
      <p>
        <b>{preview.subject}</b>
      </p>
      <p className="whitespace-pre-wrap">{preview.text}</p>
      {asks && <p className="text-ink-2">A link for the reply follows.</p>}
    </section>
  );
}
