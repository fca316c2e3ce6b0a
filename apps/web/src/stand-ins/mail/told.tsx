import type { MailDetail, PersonNotice, PersonView } from '@lantern/contracts';
import { useState } from 'react';
import { toast } from 'sonner';
import { useAskOverride, useReply } from '../../data/mail';
import { errorSentence } from '../../wording/errors';
import { UNREADABLE_WORDS } from '../../wording/terms';
import { exactTime, shortTime } from '../../wording/times';
import { headOf } from './told-words';

interface Props {
  readonly mail: MailDetail;
  readonly person: PersonView;
  readonly notice: PersonNotice;
  readonly onTakeOutOutside?: () => void;
  readonly onTakenBack?: (id: string) => void;
}

/** What the person is told: what happened to the mail, why, by which rule, what to do now, and that it is recorded. */
export function Told({ mail, person, notice, onTakeOutOutside, onTakenBack }: Props) {
  const stopped = notice.state === 'refused' || notice.state === 'taken-back';
  return (
    <section
      role="alert"
      aria-labelledby="told"
      className={`my-4 max-w-3xl border border-l-[5px] px-4 py-3 ${stopped ? 'border-stop bg-stop-soft' : 'border-rule-strong bg-[#f2f7f5]'}`}
    >
      <h2 id="told" className="!text-[16px] !text-ink">
        {headOf(notice)}
      </h2>
      {notice.found.map((found) => (
        <p key={found.pattern}>
          It holds{' '}
          <b>
            {found.distinct} × {found.patternName}
          </b>{' '}
          in {found.where.join(', ')}
          {notice.outside.length > 0 && (
            <>
              , and {notice.outside.join(', ')} {notice.outside.length === 1 ? 'is' : 'are'} outside the
              organisation
            </>
          )}
          .
        </p>
      ))}
      {notice.unreadable.map((part) => (
        <p key={part.name}>
          {part.name} could not be checked: {UNREADABLE_WORDS[part.reason]}.
        </p>
      ))}
      <p className="mt-1 whitespace-pre-wrap">{notice.text}</p>
      {notice.decision && (
        <p className="mt-1">
          {notice.decision.by}: "{notice.decision.words}"
        </p>
      )}
      {notice.state === 'waiting' && notice.ask && (
        <Question mail={mail} person={person} ask={notice.ask} onTakenBack={onTakenBack} />
      )}
      {notice.state === 'refused' && (
        <div className="mt-2 flex flex-wrap gap-2">
          {notice.outside.length > 0 && onTakeOutOutside && (
            <button
              type="button"
              onClick={onTakeOutOutside}
              className="rounded border border-rule-strong bg-white px-2.5 py-1"
            >
              Take out the outside {notice.outside.length === 1 ? 'address' : 'addresses'}
            </button>
          )}
          {notice.override && !notice.decision && <AskOverride mail={mail} person={person} />}
        </div>
      )}
      <p className="mt-2 text-[12.5px] text-ink-2">
        Rule {notice.ruleNumber} of "{notice.policyName}". This is recorded
        {notice.incident > 0 && ` under number ${notice.incident}`}.
        {stopped && ' Your mail is kept as a draft: change it below and send it again.'}
      </p>
    </section>
  );
}

interface QuestionProps {
  readonly mail: MailDetail;
  readonly person: PersonView;
  readonly ask: NonNullable<PersonNotice['ask']>;
  readonly onTakenBack: ((id: string) => void) | undefined;
}

/** The reasons of the rule, free words, and until when; turning back is one of the answers. */
function Question({ mail, person, ask, onTakenBack }: QuestionProps) {
  const reply = useReply(person.id);
  const [chosen, setChosen] = useState<number | null>(null);
  const [words, setWords] = useState('');
  const reason = chosen === null ? null : ask.reasons[chosen];
  const send = (leads: 'goes-on' | 'stays', said: string) =>
    reply.mutate(
      { id: mail.id, leads, words: [said, words.trim()].filter(Boolean).join('. ') },
      {
        onSuccess: () => {
          toast(
            leads === 'goes-on' ? 'The mail is on its way' : 'The mail was taken back; it is a draft again',
          );
          if (leads === 'stays') onTakenBack?.(mail.id);
        },
      },
    );
  return (
    <form
      aria-label="Your reply"
      className="mt-2"
      onSubmit={(event) => {
        event.preventDefault();
        if (reason) send(reason.leads, reason.words);
        else if (words.trim()) send('goes-on', '');
      }}
    >
      <fieldset>
        <legend className="font-semibold">Why should it go?</legend>
        {ask.reasons.map((each, index) => (
          <label key={each.words} className="flex min-h-7 items-center gap-2">
            <input
              type="radio"
              name={`reason ${mail.id}`}
              checked={chosen === index}
              onChange={() => setChosen(index)}
            />
            {each.words}
            <span className="text-[12.5px] text-ink-2">
              {each.leads === 'goes-on' ? 'it is sent' : 'it comes back to you'}
            </span>
          </label>
        ))}
      </fieldset>
      <label className="mt-1 block">
        In your own words
        <textarea
          rows={2}
          maxLength={2000}
          className="mt-0.5 block w-full border border-rule-strong bg-white p-1"
          value={words}
          onChange={(event) => setWords(event.target.value)}
        />
      </label>
      {reply.isError && (
        <p role="alert" className="text-stop">
          {errorSentence(reply.error)}
        </p>
      )}
      <p className="mt-2 flex items-center gap-2">
        <button
          type="submit"
          disabled={reply.isPending || (!reason && !words.trim())}
          className="rounded bg-[var(--teal)] px-4 py-1.5 text-white disabled:opacity-60"
        >
          {reason?.leads === 'stays' ? 'Take it back' : 'Send it with this reason'}
        </button>
        <span className="text-[12.5px] text-ink-2" title={exactTime(ask.until)}>
          Until {shortTime(ask.until, new Date())}; then it{' '}
          {ask.otherwise === 'stays' ? 'comes back to you' : 'is sent'}.
        </span>
      </p>
    </form>
  );
}

function AskOverride({ mail, person }: { readonly mail: MailDetail; readonly person: PersonView }) {
  const [open, setOpen] = useState(false);
  const [words, setWords] = useState('');
  const ask = useAskOverride(person.id);
  if (!open)
    return (
      <button
        type="button"
        onClick={() => setOpen(true)}
        className="rounded border border-rule-strong bg-white px-2.5 py-1"
      >
        Ask somebody to let it go
      </button>
    );
  return (
    <div className="w-full">
      <label className="block">
        Why it should go all the same; whoever decides reads it
        <textarea
          rows={2}
          maxLength={2000}
          className="mt-0.5 block w-full border border-rule-strong bg-white p-1"
          value={words}
          onChange={(event) => setWords(event.target.value)}
        />
      </label>
      {ask.isError && (
        <p role="alert" className="text-stop">
          {errorSentence(ask.error)}
        </p>
      )}
      <button
        type="button"
        disabled={words.trim().length < 3 || ask.isPending}
        onClick={() =>
          ask.mutate(
            { id: mail.id, words: words.trim() },
            { onSuccess: () => toast('Somebody will look at it; the mail waits') },
          )
        }
        className="mt-1 rounded bg-[var(--teal)] px-4 py-1.5 text-white disabled:opacity-60"
      >
        Ask
      </button>
    </div>
  );
}
