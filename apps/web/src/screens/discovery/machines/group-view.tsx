import type { ReaderView } from '@lantern/contracts';
import type { WatchDraftView, WatchGroupView } from '@lantern/contracts/discovery';
import { useState } from 'react';
import { useDiscardGroupDraft, usePutGroupInForce } from '../../../data/discovery';
import { AskFirst } from '../../../ui/ask-first';
import { Button } from '../../../ui/button';
import { Notice } from '../../../ui/notice';
import { number } from '../../../wording/discovery';
import { errorSentence } from '../../../wording/errors';
import { ago, exactTime } from '../../../wording/times';
import { settingsChanges, settingsWords } from '../../../wording/watching';
import { GroupForm } from './group-form';

/** What the machines of a group watch and may cost, what a draft would change of it, and who changed it. */
export function GroupView({
  group,
  machines,
  mayManage,
}: {
  readonly group: WatchGroupView;
  readonly machines: readonly ReaderView[];
  readonly mayManage: boolean;
}) {
  const [editing, setEditing] = useState(false);
  const words = settingsWords(group);
  return (
    <article aria-label={group.group}>
      <div className="flex items-baseline gap-3">
        <h2 className="flex-1 !text-[16px] text-ink">{group.group}</h2>
        {!editing && (
          <Button
            refusal={mayManage ? undefined : 'An administrator says what machines watch and may cost.'}
            onClick={() => setEditing(true)}
          >
            {group.draft ? 'Edit the draft' : 'Write a draft'}
          </Button>
        )}
      </div>
      <RoundTrips machines={machines} />
      {editing ? (
        <GroupForm key={group.draft?.id ?? group.version} group={group} onDone={() => setEditing(false)} />
      ) : (
        <>
          {group.draft && <Draft group={group} draft={group.draft} mayManage={mayManage} />}
          <h2 className="mt-3">In force for {machinesWords(group)}</h2>
          {words.length === 0 && <p>Its machines watch nothing, and no limit is set.</p>}
          <ul className="list-disc pl-5">
            {words.map((each) => (
              <li key={each}>{each}</li>
            ))}
          </ul>
          {group.ownCosts > 0 && (
            <p className="text-[12.5px] text-ink-2">
              {group.ownCosts === 1
                ? '1 machine has limits of its own.'
                : `${group.ownCosts} machines have limits of their own.`}
            </p>
          )}
        </>
      )}
      <History group={group} />
    </article>
  );
}

const machinesWords = ({ machines }: WatchGroupView): string =>
  machines === 1 ? '1 machine' : `${machines} machines`;

/** How long the way from the machines of a group to the workbench and back takes. */
function RoundTrips({ machines }: { readonly machines: readonly ReaderView[] }) {
  const times = machines.flatMap(({ roundTripMs, state }) =>
    roundTripMs === null || state === 'silent' || state === 'withdrawn' ? [] : [Math.round(roundTripMs)],
  );
  if (times.length === 0) return null;
  const [least, most] = [Math.min(...times), Math.max(...times)];
  return (
    <p className="text-[12.5px] text-ink-2">
      Round trip to the workbench:{' '}
      {least === most ? `${number(least)} ms` : `${number(least)} to ${number(most)} ms`}
    </p>
  );
}

/** A draft: what it would change, and who may put it in force. */
function Draft({
  group,
  draft,
  mayManage,
}: {
  readonly group: WatchGroupView;
  readonly draft: WatchDraftView;
  readonly mayManage: boolean;
}) {
  const use = usePutGroupInForce();
  const discard = useDiscardGroupDraft();
  const { added, gone } = settingsChanges(group, draft);
  const asked = { group: group.group, draft: draft.id };
  const error = use.error ?? discard.error;
  return (
    <section aria-label="Draft" className="mt-2 max-w-2xl border-l-2 border-rule-strong pl-3">
      <h2>
        Draft by {draft.by}, <When at={draft.at} />
      </h2>
      {added.length + gone.length === 0 && <p>It changes nothing.</p>}
      <ul className="list-disc pl-5">
        {gone.map((each) => (
          <li key={each}>
            No longer: <del>{each}</del>
          </li>
        ))}
        {added.map((each) => (
          <li key={each}>
            New: <ins>{each}</ins>
          </li>
        ))}
      </ul>
      {draft.agreed && (
        <p>
          {draft.agreed.by} approved it <When at={draft.agreed.at} />. A second person must put it in force.
        </p>
      )}
      {error && <Notice look="stop">{errorSentence(error)}</Notice>}
      {mayManage && (
        <p className="mt-1 flex gap-2">
          <AskFirst
            name="Put in force"
            effect={`It takes effect within seconds on ${machinesWords(group)} of ${group.group}. Machines with limits of their own keep them.`}
            does="Put in force"
            onDo={() => use.mutate(asked)}
          />
          <AskFirst
            name="Discard"
            effect="The draft is deleted. What is in force stays."
            does="Discard"
            onDo={() => discard.mutate(asked)}
          />
        </p>
      )}
    </section>
  );
}

const When = ({ at }: { readonly at: string }) => <time title={exactTime(at)}>{ago(at, new Date())}</time>;

function History({ group }: { readonly group: WatchGroupView }) {
  if (group.history.length === 0) return null;
  return (
    <section aria-label="History" className="mt-5 max-w-2xl">
      <h2>Who changed it</h2>
      <ol>
        {group.history.map((change) => (
          <li key={change.version} className="border-b border-dotted border-rule py-1">
            <When at={change.at} />, {change.by}
            {change.writtenBy !== change.by && `, written by ${change.writtenBy}`}:{' '}
            {settingsWords(change).join(' ') || 'nothing is watched, and no limit is set.'}
          </li>
        ))}
      </ol>
    </section>
  );
}
