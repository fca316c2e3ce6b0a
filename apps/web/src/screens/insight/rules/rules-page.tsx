import type { RuleCostView } from '@lantern/contracts/insight';
import { deskPath, type Listed } from '@lantern/core/incidents';
import { Fragment, useState } from 'react';
import { Link } from 'react-router';
import { type PeriodAsked, useRuleCosts, useRuleReasons } from '../../../data/insight';
import { RulePromises } from '../../../shared/prevention/rule-promises';
import { Empty, Loading, Notice } from '../../../ui/notice';
import { errorSentence } from '../../../wording/errors';
import { count, durationWords, percent, ruleRemarkWords } from '../../../wording/insight';
import { InsightPage } from '../insight-page';
import { PeriodBar } from '../period-bar';
import { useInsight } from '../use-insight';
import { FalseBar } from './false-bar';

/** What each rule costs the people, and what it stops. */
export function RulesPage() {
  const { state, asked, change } = useInsight();
  const costs = useRuleCosts(asked);
  return (
    <InsightPage bar={<PeriodBar state={state} onChange={change} />}>
      {costs.error && <Notice look="stop">{errorSentence(costs.error)}</Notice>}
      {!costs.data && !costs.error && <Loading what="rules" />}
      {costs.data?.length === 0 && (
        <Empty title="No rule is published">Rules appear here once a policy is published.</Empty>
      )}
      {costs.data && costs.data.length > 0 && <RuleTable costs={costs.data} asked={asked} />}
    </InsightPage>
  );
}

const HEAD = 'px-2 py-1 align-bottom font-normal text-ink-2';
const FIGURE = `${HEAD} text-right`;

function RuleTable({
  costs,
  asked,
}: {
  readonly costs: readonly RuleCostView[];
  readonly asked: PeriodAsked;
}) {
  const [open, setOpen] = useState<string | null>(null);
  return (
    <table className="w-full text-[12.5px]">
      <caption className="sr-only">Rules, the surest false positives first</caption>
      <thead>
        <tr className="border-b border-rule-strong">
          <th className={`${HEAD} !pl-0 text-left`}>Rule</th>
          <th className={FIGURE}>Matches</th>
          <th className={FIGURE} title="Different people who were advised, asked, held up or refused">
            People interrupted
          </th>
          <th className={FIGURE}>Asked</th>
          <th className={FIGURE}>Turned back</th>
          <th className={FIGURE}>Blocked or held</th>
          <th className={FIGURE} title="Overrides requested, and how many of them were approved">
            Overrides, approved
          </th>
          <th className={FIGURE} title="Share of the decided incidents, with its 95 % interval (Wilson)">
            False positives of decided
          </th>
          <th className={FIGURE}>Harm, stopped</th>
          <th className={FIGURE} title="Median time from the movement to the decision">
            Decided after
          </th>
        </tr>
      </thead>
      <tbody>
        {costs.map((cost) => (
          <Fragment key={cost.rule.id}>
            <RuleRow
              cost={cost}
              open={open === cost.rule.id}
              onOpen={() => setOpen(open === cost.rule.id ? null : cost.rule.id)}
            />
            {open === cost.rule.id && (
              <tr className="border-b border-rule bg-sunk">
                <td colSpan={10} className="px-4 py-2">
                  <Reasons rule={cost.rule.id} asked={asked} />
                </td>
              </tr>
            )}
          </Fragment>
        ))}
      </tbody>
    </table>
  );
}

interface RowProps {
  readonly cost: RuleCostView;
  readonly open: boolean;
  readonly onOpen: () => void;
}

function RuleRow({ cost, open, onOpen }: RowProps) {
  const { figures, remarks, filter, policy, rule } = cost;
  const cell = 'px-2 py-1.5 text-right align-top tabular-nums';
  const link = (value: number, more = '', listed: Listed = 'incidents') =>
    value === 0 ? (
      <span className="text-ink-2">0</span>
    ) : (
      <Link className="part" to={deskPath(`${filter}${more}`, listed)}>
        {count(value)}
      </Link>
    );
  const hasWords = figures.asked + figures.overridesAsked > 0;
  return (
    <tr className={open ? '' : 'border-b border-rule'}>
      <th scope="row" className="max-w-96 py-1.5 pr-2 text-left align-top font-normal">
        <Link className="part" to={`/policies/${policy.id}#${rule.id}`}>
          {rule.name}
        </Link>{' '}
        <span className="text-ink-2">
          {policy.name}
          {cost.published ? '' : ' · no longer published'}
        </span>
        <RulePromises rule={rule.id} />
        {remarks.map((remark) => (
          <p key={remark.code} className={remark.code === 'stops-harm' ? 'text-ink-2' : 'font-semibold'}>
            {ruleRemarkWords(remark)}
          </p>
        ))}
        {figures.falsePositives > 0 && (
          <Link
            className="part mr-3"
            to={`/insight/prevent?${new URLSearchParams({ filter: `${filter} and outcome eq "false-positive"` }).toString()}`}
          >
            Prevent false positives
          </Link>
        )}
        {hasWords && (
          <button type="button" className="part" aria-expanded={open} onClick={onOpen}>
            {open ? 'Hide what people said' : 'What people said'}
          </button>
        )}
      </th>
      <td className={cell}>{link(figures.matches, '', 'matches')}</td>
      <td className={cell}>
        {figures.people === 0 ? (
          <span className="text-ink-2">0</span>
        ) : (
          <Link className="part" to={`${deskPath(`${filter} and answer ge "advise"`)}&group=person`}>
            {count(figures.people)}
          </Link>
        )}
      </td>
      <td className={cell}>{link(figures.asked, ' and answer eq "ask"', 'matches')}</td>
      <td className={cell}>{link(figures.turnedBack, ' and reply eq "mistake"')}</td>
      <td className={cell}>{link(figures.blocked + figures.held, ' and answer ge "hold"', 'matches')}</td>
      <td className={cell}>
        {link(figures.overridesAsked, ' and override eq "requested"')}
        {figures.overridesAsked > 0 && <>, {link(figures.approved, ' and override eq "approved"')}</>}
      </td>
      <td className={cell}>
        <FalseBar
          hits={figures.falsePositives}
          of={figures.decided}
          to={deskPath(`${filter} and outcome eq "false-positive"`)}
        />
      </td>
      <td className={cell}>
        {link(figures.harm, ' and outcome eq "harm"')}
        {figures.harm > 0 && (
          <span className="text-ink-2">, {percent(figures.harmStopped / figures.harm)}</span>
        )}
      </td>
      <td className={`${cell} text-ink-2`}>
        {cost.minutesToDecide === null ? '–' : durationWords(cost.minutesToDecide)}
      </td>
    </tr>
  );
}

function Reasons({ rule, asked }: { readonly rule: string; readonly asked: PeriodAsked }) {
  const reasons = useRuleReasons(asked, rule);
  if (!reasons.data) return <p className="text-ink-2">Loading …</p>;
  if (reasons.data.length === 0)
    return <p className="text-ink-2">Nobody has said anything in this period.</p>;
  return (
    <ul className="columns-2 gap-6">
      {reasons.data.map(({ words, about, count: times, incident, kind }) => (
        <li key={`${kind} ${about} ${words}`} className="break-inside-avoid">
          <span className="text-ink-2">
            {times > 1 ? `${count(times)} × ` : ''}
            {about ? `${about}: ` : ''}
          </span>
          <Link className="hover:underline" to={`/incidents/${incident}?filter=`}>
            “{words}”
          </Link>
        </li>
      ))}
    </ul>
  );
}
