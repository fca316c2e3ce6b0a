import type { ApprovalVersionView, StandingApprovalView } from '@lantern/contracts/approvals';
import { deskPath } from '@lantern/core/incidents';
import { useState } from 'react';
import { Link } from 'react-router';
import { toast } from 'sonner';
import { useApprovals, useChangeApproval, useEndApproval } from '../../data/approvals';
import { useLimited, useMay } from '../../data/session';
import { ReasonPopover } from '../reason-popover';
import { Button } from '../../ui/button';
import { TextField } from '../../ui/field';
import { Empty, Notice } from '../../ui/notice';
import { EditorPopover } from '../../ui/popover';
import { errorSentence, isForSecond } from '../../wording/errors';
import { CHANNEL_WORDS } from '../../wording/terms';
import { exactTime, shortTime } from '../../wording/times';

/** List of standing approvals. Roles that cover some incidents only do not see it, since it names everybody. */
export function StandingApprovals({
  all,
  empty = false,
}: {
  readonly all: boolean;
  readonly empty?: boolean;
}) {
  const limited = useLimited();
  const may = useMay('incidents.read');
  return limited || !may ? null : <Listed all={all} empty={empty} />;
}

function Listed({ all, empty }: { readonly all: boolean; readonly empty: boolean }) {
  const approvals = useApprovals();
  const rows = (approvals.data ?? []).filter(({ state }) => all || state === 'in-force');
  if (rows.length === 0 && !empty) return null;
  return (
    <section aria-labelledby="standing" className="mt-6 max-w-5xl">
      <h2 id="standing">Standing approvals</h2>
      <p className="text-[12.5px] text-ink-2">
        An approver gave these together with an override. They take effect at once and do not change the
        published rules. Each movement they allow is still recorded and names its approval.
      </p>
      {approvals.isError && <Notice look="stop">{errorSentence(approvals.error)}</Notice>}
      {approvals.data && rows.length === 0 && (
        <Empty title="No standing approvals">
          When an approver allows an override, the same can stay allowed for some days.
        </Empty>
      )}
      <ul>
        {rows.map((approval) => (
          <Approval key={approval.id} approval={approval} />
        ))}
      </ul>
    </section>
  );
}

const STATES = { 'in-force': 'in force', over: 'over', ended: 'ended', used: 'used' } as const;
const CHANGES = { given: 'Given', changed: 'Changed', ended: 'Ended' } as const;

function Approval({ approval }: { readonly approval: StandingApprovalView }) {
  const { person, rules, channel, once, incident, state, versions, refusal } = approval;
  const [latest] = versions;
  if (!latest) return null;
  const passed = `person eq "${person.address}" and reducedBy eq "approval"`;
  return (
    <li className="list-none border-b border-rule py-2" aria-label={`Standing approval for ${person.name}`}>
      <p className="flex flex-wrap items-baseline gap-x-3">
        <b>{person.name}</b>
        <span>
          {once ? 'one repeat of the same content' : CHANNEL_WORDS[channel as keyof typeof CHANNEL_WORDS]}
          {latest.to.length > 0 && ` to ${latest.to.map(destinationWords).join(', ')}`}
        </span>
        <span className="text-[12.5px] text-ink-2" title={exactTime(latest.until)}>
          {STATES[state]}
          {state === 'in-force' && ` until ${shortTime(latest.until, new Date())}`}
        </span>
        <span className="flex-1" />
        <Link className="part" to={`/incidents/${incident}`}>
          incident {incident}
        </Link>
        <Link className="part" to={deskPath(passed)}>
          allowed movements
        </Link>
      </p>
      <p className="text-[12.5px] text-ink-2">
        Applies to: {rules.map(({ name }) => name).join(', ')}. {latest.by}: “{latest.words}”
      </p>
      {versions.length > 1 && <Versions versions={versions} />}
      {state === 'in-force' &&
        (refusal ? (
          <p className="text-[12.5px] text-ink-2">
            {refusal === 'own'
              ? 'It is for you, so you cannot change it.'
              : 'Your account may not change approvals.'}
          </p>
        ) : (
          <p className="mt-1 flex gap-3">
            {!once && <Change approval={approval} latest={latest} />}
            <End approval={approval} />
          </p>
        ))}
    </li>
  );
}

/** A destination, or everybody at a domain. */
export const destinationWords = (to: string): string =>
  to.startsWith('@') ? `anyone at ${to.slice(1)}` : to;

function Versions({ versions }: { readonly versions: readonly ApprovalVersionView[] }) {
  return (
    <details className="text-[12.5px]">
      <summary className="cursor-pointer text-ink-2">{versions.length} versions</summary>
      <ol>
        {versions.map((each) => (
          <li key={each.version} className="list-none py-0.5">
            {each.version}. {CHANGES[each.change]} by {each.by}, {shortTime(each.at, new Date())}: “
            {each.words}” Until {shortTime(each.until, new Date())}
            {each.to.length > 0 && `, to ${each.to.map(destinationWords).join(', ')}`}.
          </li>
        ))}
      </ol>
    </details>
  );
}

interface EditProps {
  readonly approval: StandingApprovalView;
}

function Change({ approval, latest }: EditProps & { readonly latest: ApprovalVersionView }) {
  const change = useChangeApproval();
  const [day, setDay] = useState(latest.until.slice(0, 10));
  const [to, setTo] = useState(latest.to);
  const [words, setWords] = useState('');
  const refusal =
    words.trim().length < 3
      ? 'Write a reason first'
      : latest.to.length > 0 && to.length === 0
        ? 'Leave at least one destination, or end the approval'
        : undefined;
  return (
    <EditorPopover
      label="Change the approval"
      trigger={
        <button type="button" className="part text-[12.5px]">
          Change
        </button>
      }
    >
      <div className="flex flex-col gap-2">
        <TextField
          label="Last day (UTC)"
          type="date"
          value={day}
          onChange={(event) => setDay(event.target.value)}
        />
        {latest.to.map((each) => (
          <label key={each} className="flex min-h-6 items-center gap-2 text-[13px]">
            <input
              type="checkbox"
              checked={to.includes(each)}
              onChange={(event) =>
                setTo(event.target.checked ? [...to, each] : to.filter((other) => other !== each))
              }
            />
            {destinationWords(each)}
          </label>
        ))}
        <TextField
          label="Why"
          value={words}
          maxLength={2_000}
          onChange={(event) => setWords(event.target.value)}
        />
        {change.isError && (
          <Notice look={isForSecond(change.error) ? 'go' : 'stop'}>{errorSentence(change.error)}</Notice>
        )}
        <Button
          look="main"
          refusal={refusal}
          onClick={() =>
            change.mutate(
              { id: approval.id, until: `${day}T23:59:59.000Z`, to, words: words.trim() },
              { onSuccess: () => toast.success('The approval is changed and acts at once') },
            )
          }
        >
          Change
        </Button>
      </div>
    </EditorPopover>
  );
}

function End({ approval }: EditProps) {
  const end = useEndApproval();
  return (
    <ReasonPopover
      trigger="End now"
      name="End the approval"
      question="Why"
      hint="The rules stop the same again from the next movement on."
      button="End now"
      look="stop"
      most={2_000}
      error={end.error}
      onGiven={(words) =>
        end.mutate({ id: approval.id, words }, { onSuccess: () => toast.success('The approval is ended') })
      }
    />
  );
}
