import type { JudgedWhileBuilding } from '@lantern/contracts/crossings';
import { useState } from 'react';
import { useAutomations, useMayItRun } from '../data/crossings';
import { useMay } from '../data/session';
import { Button } from '../ui/button';
import { Notice } from '../ui/notice';
import { errorSentence } from '../wording/errors';
import { AUTOMATION_WORDS } from '../wording/crossings';

/** A document about a flow or an assistant, in our form or as Arazzo, JSON or YAML. */
export const looksLikeAutomation = (text: string): boolean =>
  /^[\s{]*"?arazzo"?\s*:/mu.test(text) || /^[\s{,]*"?kind"?\s*:\s*"?(?:flow|assistant)\b/mu.test(text);

/** May this flow run? Asked about the text of the Lantern, where it is a document, or about one that is kept. */
export function MayItRun({ text }: { readonly text: string | null }) {
  return useMay('policies.read') ? <Asked text={text} /> : null;
}

function Asked({ text }: { readonly text: string | null }) {
  const [open, setOpen] = useState(text !== null);
  const kept = useAutomations('published', open);
  const ask = useMayItRun();
  return (
    <details
      open={open}
      className="border border-rule px-3 py-1.5"
      onToggle={({ currentTarget }) => setOpen(currentTarget.open)}
    >
      <summary className="min-h-6 cursor-pointer font-semibold">May this flow run?</summary>
      <div className="flex flex-col gap-2 py-1">
        {text !== null && (
          <Button className="self-start" onClick={() => ask.mutate({ text })}>
            Check the text above
          </Button>
        )}
        <label className="block text-[12.5px]">
          Existing flow or assistant
          <select
            className="field mt-0.5 w-full"
            value=""
            onChange={({ target }) => target.value !== '' && ask.mutate({ id: target.value })}
          >
            <option value="">Choose one</option>
            {kept.data?.map(({ id, name, kind }) => (
              <option key={id} value={id}>
                {name}, {AUTOMATION_WORDS[kind]}
              </option>
            ))}
          </select>
        </label>
        {text === null && (
          <p className="text-[12.5px] text-ink-2">
            Or paste a document above, as JSON or YAML. Arazzo workflows are accepted.
          </p>
        )}
        {ask.error && <Notice look="stop">{errorSentence(ask.error)}</Notice>}
        {ask.data && (
          <div role="status">
            <p className="font-semibold">{ask.data.name}</p>
            <Verdict by="By what is published" told={ask.data.published} />
            <Verdict by="By the drafts" told={ask.data.drafts} />
          </div>
        )}
      </div>
    </details>
  );
}

function Verdict({ by, told }: { readonly by: string; readonly told: JudgedWhileBuilding }) {
  return (
    <section aria-label={by} className="mt-1.5">
      <p>
        {by}: <b className={told.runs ? '' : 'text-stop'}>{told.runs ? 'it may run' : 'it may not run'}</b>
      </p>
      <ul className="list-disc pl-5 text-[12.5px]">
        {told.told.map(({ sentence, instead, set }, index) => (
          <li key={index}>
            {sentence} {instead} {set !== '' && <span className="text-ink-2">({set})</span>}
          </li>
        ))}
        {told.ungoverned.map((each) => (
          <li key={each} className="text-ink-2">
            {each}
          </li>
        ))}
      </ul>
    </section>
  );
}
