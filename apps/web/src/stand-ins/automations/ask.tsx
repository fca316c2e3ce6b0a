import type { PlayerView } from '@lantern/contracts';
import { type AssistantTalk, MAX_QUESTION } from '@lantern/contracts/crossings';
import { AUDIENCE_NAMES } from '@lantern/core/automations';
import { type FormEvent, useState } from 'react';
import { useAskAssistant, useAssistants, useTalkActs, useTalks } from '../../data/builder';
import { Loading, Notice } from '../../ui/notice';
import { errorSentence } from '../../wording/errors';
import { languageOf } from '../../wording/told';
import { shortTime } from '../../wording/times';
import { Told } from '../told';

interface ListProps {
  readonly player: PlayerView;
  readonly asked: string | null;
  readonly onAsk: (id: string) => void;
}

/** Assistants that this person may ask. */
export function AssistantList({ player, asked, onAsk }: ListProps) {
  const assistants = useAssistants(player.id);
  return (
    <section aria-label="Assistants to ask" className="mt-4">
      <h2 className="!text-[14px]">Ask an assistant</h2>
      {assistants.data?.length === 0 && <p className="text-ink-2">No assistant is available to you yet.</p>}
      {assistants.data?.map(({ id, name, audience }) => (
        <button
          key={id}
          type="button"
          aria-current={id === asked ? 'page' : undefined}
          className={`block w-full rounded px-2.5 py-1.5 text-left ${id === asked ? 'bg-[#d8e8e2]' : ''}`}
          onClick={() => onAsk(id)}
        >
          <span className="block truncate">{name}</span>
          <span className="block text-[12.5px] text-ink-2">for {AUDIENCE_NAMES[audience]}</span>
        </button>
      ))}
    </section>
  );
}

interface AskProps {
  readonly player: PlayerView;
  readonly assistant: string;
}

/** Questions to one assistant, with what it answered. */
export function Ask({ player, assistant }: AskProps) {
  const offer = useAssistants(player.id).data?.find(({ id }) => id === assistant);
  const talks = useTalks(player.id, assistant);
  const ask = useAskAssistant(player.id, assistant);
  const [question, setQuestion] = useState('');
  const submit = (event: FormEvent) => {
    event.preventDefault();
    ask.mutate(question.trim(), { onSuccess: () => setQuestion('') });
  };
  return (
    <div className="max-w-3xl p-4">
      <h1 className="!text-[18px]">{offer?.name ?? 'Assistant'}</h1>
      {offer && (
        <p className="text-ink-2">
          Sources: {offer.reads.join(', ') || 'none'}. Owner: {offer.owner}.
        </p>
      )}
      <form aria-label="Ask" className="my-3 flex flex-col items-start gap-2" onSubmit={submit}>
        <label className="block w-full">
          Your question
          <textarea
            required
            maxLength={MAX_QUESTION}
            className="mt-0.5 block h-20 w-full border border-rule-strong bg-white px-2 py-1"
            value={question}
            onChange={({ target }) => setQuestion(target.value)}
          />
        </label>
        <button
          type="submit"
          className="rounded bg-[var(--teal)] px-4 py-1.5 text-white disabled:opacity-60"
          disabled={question.trim() === '' || ask.isPending}
        >
          {ask.isPending ? 'Reading sources …' : 'Ask'}
        </button>
        {ask.error && <Notice look="stop">{errorSentence(ask.error)}</Notice>}
      </form>
      {talks.isPending && <Loading what="your questions" />}
      {talks.isError && <Notice look="stop">{errorSentence(talks.error)}</Notice>}
      <ul>
        {talks.data?.map((talk) => (
          <li key={talk.id} className="list-none border-t border-rule py-3">
            <Talk player={player} talk={talk} />
          </li>
        ))}
      </ul>
    </div>
  );
}

function Talk({ player, talk }: { readonly player: PlayerView; readonly talk: AssistantTalk }) {
  const acts = useTalkActs(player.id);
  const { question, answer, notice } = talk;
  const isSaid = (answer ?? question).state === 'went-on';
  return (
    <article aria-label={question.text.slice(0, 80)}>
      <p>
        <b className="whitespace-pre-wrap">{question.text}</b>{' '}
        <span className="text-[12.5px] text-ink-2">{shortTime(talk.at, new Date())}</span>
      </p>
      {answer?.text && <p className="mt-1 whitespace-pre-wrap">{answer.text}</p>}
      {question.state === 'went-on' && !answer && <p className="text-ink-2">No answer yet.</p>}
      {notice && (!isSaid || notice.state !== 'went-on') && (
        <Told
          id={talk.id}
          notice={notice}
          about={answer ? 'answer' : 'question'}
          language={languageOf(player.language)}
          acts={acts}
          reported={talk.reported}
        />
      )}
    </article>
  );
}
