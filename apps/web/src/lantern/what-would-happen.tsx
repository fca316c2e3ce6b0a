import type { LanternSet } from '@lantern/contracts';
import type { Answer } from '@lantern/core/policy';
import { usePatternNames } from '../data/patterns';
import { RuleTraces } from '../shared/trace/rule-traces';
import { type ItemInLantern, verdictFor, WAYS, type WayVerdict } from './verdicts';

interface Props {
  readonly set: LanternSet;
  readonly published: ItemInLantern;
  readonly drafts: ItemInLantern;
}

/** Which rule would decide on each way, by the published revision and by the drafts, and what the sender would read. */
export function WhatWouldHappen({ set, published, drafts }: Props) {
  const names = usePatternNames();
  const rows = WAYS.map((way) => ({
    way,
    now: set.published ? verdictFor(set.published, published, way, names) : null,
    then: verdictFor(set.drafts, drafts, way, names),
  }));
  const shown = rows.find((row) => row.then.rule && row.then.answer !== 'note')?.then;
  return (
    <section aria-label="What would happen">
      <table className="w-full text-[12.5px]">
        <thead>
          <tr className="text-left text-ink-2">
            <th className="py-1 font-normal">
              <span className="sr-only">way</span>
            </th>
            <th className="py-1 font-normal">
              {set.published ? `revision ${set.published.revision}` : 'published'}
            </th>
            <th className="py-1 font-normal">drafts</th>
          </tr>
        </thead>
        <tbody>
          {rows.map(({ way, now, then }) => (
            <tr key={way.key} className="border-t border-dotted border-rule">
              <th className="py-1 pr-2 text-left font-normal">{way.name}</th>
              <td className="py-1 pr-2">{now ? <Words verdict={now} /> : 'nothing'}</td>
              <td className="py-1">
                <Words verdict={then} />
              </td>
            </tr>
          ))}
        </tbody>
      </table>
      {rows.map(({ way, then }) => (
        <details key={way.key} className="text-[12.5px]">
          <summary className="cursor-pointer py-1 text-press">
            Reasons, judged by the drafts: {way.name}
          </summary>
          <RuleTraces verdict={then.verdict} policies={set.drafts.set.policies} />
        </details>
      ))}
      {shown?.rule && (
        <>
          <h2 className="mt-3 mb-1">What the sender sees</h2>
          <div className="border-l-4 border-stop bg-paper px-3 py-2">
            <p className="font-semibold">{TOLD[shown.answer ?? 'note']}</p>
            <p>{shown.words}</p>
          </div>
        </>
      )}
    </section>
  );
}

const TOLD: Readonly<Record<Answer, string>> = {
  note: '',
  advise: 'The message was sent. Advice:',
  ask: 'Answer a question before the message is sent.',
  hold: 'The message waits until someone decides.',
  block: 'It was not sent.',
};

/** The label that it would carry by then. */
function Carried({ verdict: { label } }: { readonly verdict: WayVerdict }) {
  if (!label) return null;
  return (
    <span className="block text-ink-2">
      as{' '}
      <span className="border-l-4 pl-1" style={{ borderColor: label.label.colour }}>
        {label.label.name}
      </span>
    </span>
  );
}

function Words({ verdict }: { readonly verdict: WayVerdict }) {
  if (!verdict.answer)
    return (
      <>
        goes through
        <Carried verdict={verdict} />
      </>
    );
  return (
    <span title={verdict.policy?.name}>
      <b className={verdict.answer === 'block' ? 'text-stop' : ''}>{verdict.answer}</b>, rule{' '}
      {verdict.ruleNumber} of {verdict.policy?.name}
      {verdict.written !== verdict.answer && <> (as written: {verdict.written})</>}
      <Carried verdict={verdict} />
    </span>
  );
}
