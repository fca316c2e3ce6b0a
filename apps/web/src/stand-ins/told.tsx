import type { PersonNotice } from '@lantern/contracts';
import { type ReactNode, useId, useState } from 'react';
import { toast } from 'sonner';
import { errorSentence } from '../wording/errors';
import { UNREADABLE_WORDS } from '../wording/terms';
import { exactTime, shortTime } from '../wording/times';
import { Proof } from './proof';
import { goingOf, headOf, phrases, type ToldAbout, type ToldLanguage } from '../wording/told';

/** A request of the person, as the data layer gives it. */
interface Asking<Given> {
  readonly mutate: (given: Given, options?: { readonly onSuccess?: () => void }) => void;
  readonly isPending: boolean;
  readonly error: unknown;
}

export interface ToldActs {
  readonly reply: Asking<{ id: string; leads: 'goes-on' | 'stays'; words: string }>;
  readonly override: Asking<{ id: string; words: string }>;
  readonly report: Asking<{ id: string; words: string }>;
}

interface Props {
  /** What the acts are about. */
  readonly id: string;
  readonly notice: PersonNotice;
  readonly about: ToldAbout;
  readonly language: ToldLanguage;
  readonly acts: ToldActs;
  readonly reported: boolean;
  /** What happened, where it is not what the state of the notice says. */
  readonly head?: string;
  /** Buttons that mend it on the spot. */
  readonly fixes?: ReactNode;
  readonly onTakenBack?: (id: string) => void;
}

/** What the person is told: what happened, why, by which rule, what to do now, and that it is recorded. */
export function Told({ id, notice, about, language, acts, reported, head, fixes, onTakenBack }: Props) {
  const heading = useId();
  const say = phrases(language);
  const stopped = notice.state === 'refused' || notice.state === 'taken-back';
  return (
    <section
      role="alert"
      lang={language}
      aria-labelledby={heading}
      className={`my-3 max-w-3xl border border-l-[5px] px-4 py-3 ${stopped ? 'border-stop bg-stop-soft' : 'border-rule-strong bg-[#f2f7f5]'}`}
    >
      <h2 id={heading} className="!text-[16px] !text-ink">
        {head ?? headOf(notice, about, language)}
      </h2>
      <Why notice={notice} language={language} />
      <p className="mt-1 whitespace-pre-wrap">{notice.text}</p>
      {notice.guidance && <p className="text-[12.5px]">{say.more(notice.guidance)}</p>}
      {notice.contact && <p className="text-[12.5px]">{say.questions(notice.contact)}</p>}
      {notice.decision && (
        <p className="mt-1">
          {notice.decision.by}: "{notice.decision.words}"
        </p>
      )}
      {notice.again && (
        <p className="mt-1">{say.again(shortTime(notice.again.until, new Date()), notice.again.once)}</p>
      )}
      {notice.state === 'waiting' && notice.proof && !notice.proof.isDone && (
        <Proof
          proof={notice.proof}
          incident={notice.incident}
          language={language}
          onGiveUp={
            notice.ask
              ? undefined
              : () =>
                  acts.reply.mutate(
                    { id, leads: 'stays', words: say.takeBack },
                    { onSuccess: () => onTakenBack?.(id) },
                  )
          }
        />
      )}
      {notice.state === 'waiting' && notice.ask && (notice.proof?.isDone ?? true) && (
        <Question
          id={id}
          ask={notice.ask}
          about={about}
          language={language}
          acts={acts}
          onTakenBack={onTakenBack}
        />
      )}
      {notice.state === 'refused' && (
        <div className="mt-2 flex flex-wrap gap-2">
          {fixes}
          {notice.override && !notice.decision && (
            <Words
              open={say.askSomebody}
              label={say.whyAll}
              button={say.ask}
              asking={acts.override}
              onSend={(words) => acts.override.mutate({ id, words }, { onSuccess: () => toast(say.asked) })}
            />
          )}
        </div>
      )}
      {notice.found.length > 0 && !reported && (
        <div className="mt-2">
          <Words
            open={say.notIt}
            label={say.whyNot}
            button={say.report}
            asking={acts.report}
            onSend={(words) => acts.report.mutate({ id, words })}
          />
        </div>
      )}
      {reported && <p className="mt-2">{say.reported}</p>}
      <p className="mt-2 text-[12.5px] text-ink-2">
        {notice.policyName !== '' && `${say.rule(notice.ruleNumber, notice.policyName)} `}
        {say.recorded(notice.incident)}
        {stopped && ` ${goingOf(about, language).kept}`}
      </p>
    </section>
  );
}

function Why({ notice, language }: { readonly notice: PersonNotice; readonly language: ToldLanguage }) {
  const say = phrases(language);
  return (
    <>
      {notice.unfinished && <p>{say.unfinished}</p>}
      {notice.found.map((found) => (
        <p key={found.pattern}>
          {say.holds}{' '}
          <b>
            {found.distinct} × {found.patternName}
          </b>{' '}
          {say.in} {found.where.join(', ')}
          {notice.outside.length > 0 &&
            `, ${say.outside(notice.outside.join(', '), notice.outside.length === 1)}`}
          .
        </p>
      ))}
      {notice.unreadable.map((part) => (
        <p key={part.name}>{say.unchecked(part.name, UNREADABLE_WORDS[part.reason])}</p>
      ))}
    </>
  );
}

interface QuestionProps {
  readonly id: string;
  readonly ask: NonNullable<PersonNotice['ask']>;
  readonly about: ToldAbout;
  readonly language: ToldLanguage;
  readonly acts: ToldActs;
  readonly onTakenBack: ((id: string) => void) | undefined;
}

/** The reasons of the rule, free words, and until when; turning back is one of the answers. */
function Question({ id, ask, about, language, acts, onTakenBack }: QuestionProps) {
  const { reply } = acts;
  const say = phrases(language);
  const { thing, goes, comesBack, send: sendWords } = goingOf(about, language);
  const [chosen, setChosen] = useState<number | null>(null);
  const [words, setWords] = useState('');
  const reason = chosen === null ? null : ask.reasons[chosen];
  const send = (leads: 'goes-on' | 'stays', said: string) =>
    reply.mutate(
      { id, leads, words: [said, words.trim()].filter(Boolean).join('. ') },
      {
        onSuccess: () => {
          toast(say.replied(thing, leads === 'goes-on'));
          if (leads === 'stays') onTakenBack?.(id);
        },
      },
    );
  return (
    <form
      aria-label={say.why}
      className="mt-2"
      onSubmit={(event) => {
        event.preventDefault();
        if (reason) send(reason.leads, reason.words);
        else if (words.trim()) send('goes-on', '');
      }}
    >
      <fieldset>
        <legend className="font-semibold">{say.why}</legend>
        {ask.reasons.map((each, index) => (
          <label key={each.words} className="flex min-h-7 items-center gap-2">
            <input
              type="radio"
              name={`reason ${id}`}
              checked={chosen === index}
              onChange={() => setChosen(index)}
            />
            {each.words}
            <span className="text-[12.5px] text-ink-2">{each.leads === 'goes-on' ? goes : comesBack}</span>
          </label>
        ))}
      </fieldset>
      <label className="mt-1 block">
        {say.ownWords}
        <textarea
          rows={2}
          maxLength={2000}
          className="mt-0.5 block w-full border border-rule-strong bg-white p-1"
          value={words}
          onChange={(event) => setWords(event.target.value)}
        />
      </label>
      <Failure error={reply.error} />
      <p className="mt-2 flex flex-wrap items-center gap-2">
        <button
          type="submit"
          disabled={reply.isPending || (!reason && !words.trim())}
          className="rounded bg-[var(--teal)] px-4 py-1.5 text-white disabled:opacity-60"
        >
          {reason?.leads === 'stays' ? say.takeBack : sendWords}
        </button>
        <span className="text-[12.5px] text-ink-2" title={exactTime(ask.until)}>
          {say.until(
            shortTime(ask.until, new Date()),
            ask.otherwise === 'stays' ? comesBack : goes,
            ask.whileOpen ?? false,
          )}
        </span>
      </p>
    </form>
  );
}

interface WordsProps {
  readonly open: string;
  readonly label: string;
  readonly button: string;
  readonly asking: { readonly isPending: boolean; readonly error: unknown };
  readonly onSend: (words: string) => void;
}

/** A button that opens a few lines to write. */
function Words({ open, label, button, asking, onSend }: WordsProps) {
  const [isOpen, setOpen] = useState(false);
  const [words, setWords] = useState('');
  if (!isOpen)
    return (
      <button
        type="button"
        onClick={() => setOpen(true)}
        className="rounded border border-rule-strong bg-white px-2.5 py-1"
      >
        {open}
      </button>
    );
  return (
    <div className="w-full">
      <label className="block">
        {label}
        <textarea
          rows={2}
          maxLength={2000}
          className="mt-0.5 block w-full border border-rule-strong bg-white p-1"
          value={words}
          onChange={(event) => setWords(event.target.value)}
        />
      </label>
      <Failure error={asking.error} />
      <button
        type="button"
        disabled={words.trim().length < 3 || asking.isPending}
        onClick={() => onSend(words.trim())}
        className="mt-1 rounded bg-[var(--teal)] px-4 py-1.5 text-white disabled:opacity-60"
      >
        {button}
      </button>
    </div>
  );
}

function Failure({ error }: { readonly error: unknown }) {
  if (!error) return null;
  return (
    <p role="alert" className="text-stop">
      {errorSentence(error)}
    </p>
  );
}
