import type { PreventView } from '@lantern/contracts/insight';
import { deskPath } from '@lantern/core/incidents';
import { useState } from 'react';
import { Link, useSearchParams } from 'react-router';
import { usePrevent, useTakeChange } from '../../../data/insight';
import { usePatternNames } from '../../../data/patterns';
import { useMay } from '../../../data/session';
import { RulePromises } from '../../../shared/prevention/rule-promises';
import { Button } from '../../../ui/button';
import { Empty, Notice } from '../../../ui/notice';
import { errorSentence } from '../../../wording/errors';
import { count } from '../../../wording/insight';
import { changeSentence } from '../../../wording/prevention';
import { OptionRow } from './option-row';

/** Changes that would have prevented false positives, each with what it would have cost. */
export function PreventPage() {
  const [search] = useSearchParams();
  const incident = Number(search.get('incident') ?? 0);
  const filter = search.get('filter') ?? '';
  const prevent = usePrevent(incident > 0 ? { incident } : { filter });
  return (
    <div className="h-full overflow-auto px-6 py-5">
      <p className="mb-1 text-[12.5px]">
        {incident > 0 ? (
          <Link className="part" to={`/incidents/${incident}?filter=`}>
            Incident {incident}
          </Link>
        ) : (
          <Link className="part" to="/insight/rules">
            What rules cost
          </Link>
        )}
      </p>
      <h1>Prevent false positives</h1>
      {prevent.isFetching && (
        <p role="status" className="mt-3 text-ink-2">
          Judging the recorded movements again under each change. This takes some seconds …
        </p>
      )}
      {prevent.error && !prevent.isFetching && (
        <div className="mt-3 max-w-3xl">
          <Notice look="stop">{errorSentence(prevent.error)}</Notice>
        </div>
      )}
      {prevent.data && !prevent.isFetching && (
        <Options view={prevent.data} filter={filter} again={() => void prevent.refetch()} />
      )}
    </div>
  );
}

interface Props {
  readonly view: PreventView;
  readonly filter: string;
  readonly again: () => void;
}

function Options({ view, filter, again }: Props) {
  const { rule, policy, days, matches, judged, options, drafted } = view;
  const take = useTakeChange(rule.id);
  /** Places of the changes that are in the draft, in the order in which they were taken. */
  const [taken, setTaken] = useState<readonly number[]>([]);
  const names = usePatternNames();
  const nameOf = (id: string): string => names.get(id) ?? id;
  const mayWrite = useMay('policies.write');
  const done = options[taken.at(-1) ?? -1];
  const refusal = !mayWrite
    ? 'A policy author can make this change.'
    : take.isPending
      ? 'A change is being made.'
      : undefined;
  return (
    <>
      <p className="mt-2 max-w-4xl">
        <Link className="part" to={`/policies/${policy.id}`}>
          {rule.name}
        </Link>{' '}
        matched {count(matches)} movements in {days} days. {count(judged)} of them are still in the journal
        and were judged again under each change{judged < matches ? '; nothing is known of the others' : ''}.
        {drafted && ' The rule differs in the drafts: the changes start from the draft.'}{' '}
        {filter && (
          <Link className="part" to={deskPath(filter)}>
            Open the false positives
          </Link>
        )}
      </p>
      <RulePromises rule={rule.id} />
      {take.error && (
        <div className="mt-3 max-w-3xl">
          <Notice look="stop">{errorSentence(take.error)}</Notice>
        </div>
      )}
      {done && (
        <div className="mt-3 max-w-3xl">
          <Notice look="go">
            The draft has the change: {changeSentence(done.change, nameOf)}.{' '}
            <Link className="part" to="/policies/replay">
              Replay the drafts
            </Link>{' '}
            or{' '}
            <Link className="part" to="/publish">
              review and publish
            </Link>
            .{' '}
            <Button look="quiet" onClick={again}>
              Compute again
            </Button>
          </Notice>
        </div>
      )}
      {options.length === 0 ? (
        <Empty title="No single change prevents these">
          The false positives have nothing in common that real cases do not have. Change the rule by hand, and
          replay the draft.
        </Empty>
      ) : (
        <ol className="mt-4 flex flex-col gap-2.5">
          {options.map((option, at) => (
            <li key={changeSentence(option.change, nameOf)}>
              <OptionRow
                option={option}
                sentence={changeSentence(option.change, nameOf)}
                refusal={refusal}
                taken={taken.includes(at)}
                onTake={() =>
                  take.mutate(
                    { computed: view.computed, option: at },
                    { onSuccess: () => setTaken([...taken, at]) },
                  )
                }
              />
            </li>
          ))}
        </ol>
      )}
    </>
  );
}
