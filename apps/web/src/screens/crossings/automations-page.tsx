import type { AutomationSummary, AutomationView, CrossingsView } from '@lantern/contracts/crossings';
import {
  AUDIENCE_NAMES,
  alternatives,
  breachSentence,
  insteadSentence,
  OUTLET_NAMES,
} from '@lantern/core/automations';
import { useSearchParams } from 'react-router';
import { useAutomation, useAutomations, useCrossings } from '../../data/crossings';
import { chosenOf, ListAndOne, ListRow } from '../../ui/list-and-one';
import { Empty, Loading, Notice } from '../../ui/notice';
import { AUTOMATION_WORDS, countOf } from '../../wording/crossings';
import { errorSentence } from '../../wording/errors';
import { dayOf } from '../../wording/times';
import { CrossingsPage } from './crossings-page';
import { useBreachNames } from './use-names';

/** Every flow and assistant: whether it runs, and what stops it. */
export function AutomationsPage() {
  const list = useAutomations('published');
  const crossings = useCrossings();
  const [search, setSearch] = useSearchParams();
  const chosen = chosenOf(list.data, search.get('open'), list.isFetching);
  const workspaces = new Map(
    (crossings.data?.workspaces ?? []).map(({ workspace }) => [workspace.id, workspace.name]),
  );
  return (
    <CrossingsPage>
      <ListAndOne
        listName="Flows and assistants"
        list={
          <>
            {list.error && <Notice look="stop">{errorSentence(list.error)}</Notice>}
            {list.isPending && <Loading what="the automations" />}
            {list.data?.length === 0 && (
              <Empty title="No automation yet">
                Other systems submit flows and assistants to POST /api/intake/automations. People build them
                in the automation builder.
              </Empty>
            )}
            <ol>
              {list.data?.map((automation) => (
                <li key={automation.id}>
                  <ListRow
                    isChosen={automation.id === chosen?.id}
                    onChoose={() => setSearch({ open: automation.id })}
                  >
                    <span className="flex items-baseline gap-2">
                      <b>{automation.name}</b>
                      <span className="text-[12.5px] text-ink-2">{AUTOMATION_WORDS[automation.kind]}</span>
                      <span className={`ml-auto text-[12.5px] ${automation.runs ? '' : 'text-stop'}`}>
                        {stateWords(automation)}
                      </span>
                    </span>
                    <span className="block text-[12.5px] text-ink-2">
                      {automation.owner || 'no owner'} ·{' '}
                      {workspaces.get(automation.workspace) ?? automation.workspace}
                    </span>
                  </ListRow>
                </li>
              ))}
            </ol>
          </>
        }
        oneName="One automation"
        one={chosen && <One key={chosen.id} id={chosen.id} crossings={crossings.data} />}
      />
    </CrossingsPage>
  );
}

function stateWords({ runs, isOn, older, breaches }: AutomationSummary): string {
  if (!runs) return `stopped, ${countOf(breaches, 'breach', 'breaches')}`;
  if (older > 0) return 'exempt, older than a set';
  return isOn ? 'running' : 'off';
}

function One({ id, crossings }: { readonly id: string; readonly crossings: CrossingsView | undefined }) {
  const one = useAutomation(id);
  const names = useBreachNames();
  if (one.isPending) return <Loading what="it" />;
  if (one.isError) return <Notice look="stop">{errorSentence(one.error)}</Notice>;
  const { automation, verdict, isOn, madeAt } = one.data;
  const workspace = crossings?.workspaces.find(({ workspace: each }) => each.id === automation.workspace);
  return (
    <article aria-label={automation.name} className="max-w-3xl">
      <h2 className="!text-[16px] text-ink">{automation.name}</h2>
      <p className="text-ink-2">
        {AUTOMATION_WORDS[automation.kind] === 'flow' ? 'Flow' : 'Assistant'}. Owner:{' '}
        {automation.owner || 'none'}. Workspace: {workspace?.workspace.name ?? automation.workspace}. Changed{' '}
        {dayOf(madeAt)}. {isOn ? 'It is running.' : verdict.runs ? 'It is off.' : 'It is stopped.'}
      </p>
      {verdict.ungoverned.map(({ service, why }) => (
        <p key={service}>
          {names.service(service)} cannot be governed. {why}
        </p>
      ))}
      <Breaches view={one.data} crossings={crossings} />
      {automation.kind === 'assistant' && (
        <section aria-label="Sources and audience" className="mt-4">
          <h2>Sources</h2>
          <ul className="list-disc pl-5">
            {automation.sources.map((source, index) => (
              <li key={index}>
                {source.kind === 'service'
                  ? names.service(source.service)
                  : source.kind === 'site'
                    ? source.address
                    : `${source.kind === 'place' ? 'Place' : 'File'} ${source.name}${source.label ? `, label ${names.label(source.label)}` : ''}`}
              </li>
            ))}
          </ul>
          <p className="mt-1">
            Audience: {AUDIENCE_NAMES[automation.audience]}. Published on:{' '}
            {automation.published.map((outlet) => OUTLET_NAMES[outlet]).join(', ') || 'nothing'}.
            {verdict.label !== null &&
              ` Its label is ${names.label(verdict.label)}, the highest label of its sources.`}
          </p>
        </section>
      )}
      <section aria-label="Steps" className="mt-4">
        <h2>{automation.kind === 'flow' ? 'Steps' : 'Actions'}</h2>
        {automation.steps.length === 0 && <p>It only answers.</p>}
        <ol>
          {automation.steps.map((step, index) => (
            <li
              key={step.id}
              className={`flex gap-3 border-b border-dotted border-rule py-1 ${verdict.breaches.some(({ steps }) => steps.includes(step.id)) ? 'text-stop' : ''}`}
            >
              <span className="w-6 shrink-0 text-right text-ink-2">{index + 1}</span>
              <span className="flex-1">
                <b>{step.name || step.id}</b>: {names.operation(step.service, step.operation)},{' '}
                {names.service(step.service)}
                {step.address && (
                  <span className="block font-mono text-[12.5px] break-all">{step.address}</span>
                )}
              </span>
            </li>
          ))}
        </ol>
      </section>
      <section aria-label="Sets" className="mt-4">
        <h2>Sets</h2>
        <ul>
          {verdict.trace.map(({ set, binds, breaches }) => (
            <li key={set}>
              {crossings?.sets.find((each) => each.set.id === set)?.set.name ?? set}:{' '}
              {binds === 'other-workspace'
                ? 'applies to other workspaces'
                : binds === 'older'
                  ? `applies to newer automations only; ${countOf(breaches, 'breach', 'breaches')} otherwise`
                  : breaches === 0
                    ? 'no breach'
                    : countOf(breaches, 'breach', 'breaches')}
            </li>
          ))}
        </ul>
      </section>
    </article>
  );
}

/** What keeps it from running, with what would be allowed instead. */
function Breaches({
  view,
  crossings,
}: {
  readonly view: AutomationView;
  readonly crossings: CrossingsView | undefined;
}) {
  const names = useBreachNames();
  const { verdict } = view;
  const sets = (crossings?.sets ?? []).map(({ set }) => set);
  const binding = sets.filter(({ id }) =>
    verdict.trace.some(({ set, binds }) => set === id && binds === 'yes'),
  );
  const services = new Map((crossings?.services ?? []).map(({ service }) => [service.id, service]));
  if (verdict.breaches.length + verdict.older.length === 0) return null;
  return (
    <section aria-label="In breach" className="mt-3">
      <Notice look={verdict.runs ? 'plain' : 'stop'}>
        <p className="font-semibold">
          {verdict.runs
            ? 'It keeps running because it is older. A new one would be stopped:'
            : 'Fix this so that it can run:'}
        </p>
        <ul className="list-disc pl-5">
          {[...verdict.breaches, ...verdict.older].map((breach, index) => {
            const service = 'service' in breach.reason ? breach.reason.service : '';
            const instead = alternatives(breach, binding, { services, labels: new Map() });
            return (
              <li key={index}>
                {breachSentence(breach, names)} {insteadSentence(instead, names, service)}
                {breach.set !== null && (
                  <span className="text-ink-2">
                    {' '}
                    ({sets.find(({ id }) => id === breach.set)?.name ?? breach.set})
                  </span>
                )}
              </li>
            );
          })}
        </ul>
      </Notice>
    </section>
  );
}
