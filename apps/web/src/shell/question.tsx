import { MAX_RESPONSE_TEXT } from '@lantern/contracts';
import { type FormEvent, useState } from 'react';
import { useParams } from 'react-router';
import { useAnswerQuestion, useQuestion } from '../data/response';
import { Button } from '../ui/button';
import { TextArea } from '../ui/field';
import { Loading, Notice } from '../ui/notice';
import { errorSentence } from '../wording/errors';
import { exactTime } from '../wording/times';

/** Where the link of a question leads: the person answers in their own words. */
export function Question() {
  const { token = '' } = useParams();
  const question = useQuestion(token);
  const answer = useAnswerQuestion(token);
  const [text, setText] = useState('');
  if (question.isPending) return <Loading what="the question" />;
  const submit = (event: FormEvent) => {
    event.preventDefault();
    if (text.trim() !== '') answer.mutate(text.trim());
  };
  return (
    <main className="grid min-h-screen place-items-center p-6">
      <div className="w-[560px] max-w-full">
        <div className="mb-5 flex items-center gap-3">
          <img src="/lantern.svg" alt="" className="h-9" />
          <h1>{question.data ? `A question to ${question.data.person}` : 'Question'}</h1>
        </div>
        {question.isError && <Notice look="stop">{errorSentence(question.error)}</Notice>}
        {question.data && (
          <>
            <p className="mb-1 text-ink-2">{question.data.by} asks:</p>
            <blockquote className="mb-4 border-l-4 border-rule-strong pl-3 whitespace-pre-wrap">
              {question.data.text}
            </blockquote>
            {answer.isSuccess || question.data.state === 'replied' ? (
              <Notice look="go">Your reply was sent. You can close this page.</Notice>
            ) : question.data.state === 'over' ? (
              <Notice>The time for a reply is over. Write to {question.data.by} instead.</Notice>
            ) : (
              <form onSubmit={submit} className="flex flex-col gap-3">
                <TextArea
                  label="Your reply"
                  rows={5}
                  maxLength={MAX_RESPONSE_TEXT}
                  value={text}
                  hint="It is kept as you write it. Do not repeat card numbers or the like."
                  onChange={(event) => setText(event.target.value)}
                />
                {answer.isError && <Notice look="stop">{errorSentence(answer.error)}</Notice>}
                <div className="flex items-center gap-3">
                  <Button
                    look="main"
                    type="submit"
                    refusal={text.trim() === '' ? 'Write something first' : undefined}
                  >
                    Send reply
                  </Button>
                  <span className="text-[12.5px] text-ink-2" title={exactTime(question.data.deadline)}>
                    until{' '}
                    {new Date(question.data.deadline).toLocaleString('en-GB', {
                      dateStyle: 'long',
                      timeStyle: 'short',
                    })}
                  </span>
                </div>
              </form>
            )}
          </>
        )}
      </div>
    </main>
  );
}
