import { Link, useNavigate } from 'react-router';
import { usePatternNames } from '../../data/patterns';
import { useCreatePolicy, usePolicies } from '../../data/policies';
import { useMay } from '../../data/session';
import { Button } from '../../ui/button';
import { Empty, Loading, Notice } from '../../ui/notice';
import { errorSentence } from '../../wording/errors';
import { ruleSentence } from '../../wording/sentence';
import { STATE_WORDS } from '../../wording/terms';
import { newRule } from './edit';

/** All policies in the order in which they are read, their rules as sentences. */
export function PoliciesList() {
  const policies = usePolicies();
  const names = usePatternNames();
  const navigate = useNavigate();
  const create = useCreatePolicy();
  const mayWrite = useMay('policies.write');
  const start = () =>
    create.mutate(
      { name: '', purpose: '', channels: ['mail'], rules: [newRule(crypto.randomUUID(), 'payment-card')] },
      { onSuccess: ({ policy }) => void navigate(`/policies/${policy.id}`) },
    );
  return (
    <div className="h-full overflow-auto px-7 py-4">
      <div className="mb-3 flex max-w-5xl items-center gap-3">
        <h1 className="flex-1">Policies: how data may move</h1>
        <Link className="part" to="/publish">
          Review and publish
        </Link>
        <Button
          look="main"
          onClick={start}
          refusal={mayWrite ? undefined : 'This account reads policies and does not write them'}
        >
          Write a policy
        </Button>
      </div>
      {create.isError && <Notice look="stop">{errorSentence(create.error)}</Notice>}
      {policies.isPending && <Loading what="the policies" />}
      {policies.isError && <Notice look="stop">{errorSentence(policies.error)}</Notice>}
      {policies.data?.length === 0 && (
        <Empty title="Nothing is guarded yet">
          A policy says how one kind of data may move. Write the first one: it is a draft until you publish
          it.
        </Empty>
      )}
      <ol className="max-w-5xl">
        {(policies.data ?? []).map(({ policy, state, problems }) => (
          <li key={policy.id} className="border-b border-rule py-2.5">
            <p className="flex items-baseline gap-3">
              <Link className="part text-[15px]" to={`/policies/${policy.id}`}>
                {policy.name || 'A policy without a name'}
              </Link>
              <span className="text-[12.5px] text-ink-2">{STATE_WORDS[state]}</span>
              {problems.length > 0 && (
                <span className="bg-stop-soft px-1.5 text-[12.5px] text-stop">{problems.length} to mend</span>
              )}
            </p>
            <p className="text-ink-2">{policy.purpose}</p>
            <ol className="mt-1 list-decimal pl-6 text-[13px]">
              {policy.rules.map((rule) => (
                <li key={rule.id}>{ruleSentence(rule, names)}</li>
              ))}
            </ol>
          </li>
        ))}
      </ol>
      <p className="mt-3 max-w-5xl text-[12.5px] text-ink-2">
        A mail that no rule names goes on, and leaves no incident.
      </p>
    </div>
  );
}
