import type { FirstStepsView } from '@lantern/contracts';
import type { ReactNode } from 'react';
import { Link } from 'react-router';
import { useFirstSteps, useMay } from '../../data/session';
import { Loading, Notice } from '../../ui/notice';
import { people } from '../../wording/directory';
import { errorSentence } from '../../wording/errors';

/** What a new installation needs before it guards anything, in the order in which it is best done. */
export function FirstStepsPage() {
  const may = useMay('people.manage');
  const steps = useFirstSteps(may);
  return (
    <div className="h-full overflow-auto px-7 py-4">
      <h1 className="mb-1">First steps</h1>
      {!may && <Notice>Your account may not set up the installation. An administrator can.</Notice>}
      {may && steps.isPending && <Loading what="the installation" />}
      {steps.isError && <Notice look="stop">{errorSentence(steps.error)}</Notice>}
      {steps.data && <Steps steps={steps.data} />}
    </div>
  );
}

function Steps({ steps }: { readonly steps: FirstStepsView }) {
  const { otherAccounts, domains, gateway, agents, policies, published, movements } = steps;
  return (
    <>
      <p className="mb-4 max-w-3xl text-ink-2">
        No data is protected until you publish a policy. Start with a policy that only notes: it stops nobody,
        and within a day you see what leaves the organisation.
      </p>
      <ol className="max-w-3xl">
        <Step
          number={1}
          done={otherAccounts > 0}
          name="Accounts"
          state={
            otherAccounts > 0 ? `${otherAccounts} beside the first one.` : 'Only the first account exists.'
          }
          to="/administration/accounts"
          does="Invite people"
        >
          Invite yourself under your own address, and a second administrator. Keep the first account for
          emergencies.
        </Step>
        <Step
          number={2}
          done={domains.length > 0}
          name="Own domains"
          state={domains.length > 0 ? domains.join(', ') : 'None yet: every address counts as outside.'}
          to="/administration/directory/organisation"
          does="Enter domains"
        >
          Rules use them to tell inside from outside.
        </Step>
        <Step
          number={3}
          done={steps.people > 0}
          name="People"
          state={steps.people > 0 ? `${people(steps.people)} in the directory.` : 'The directory is empty.'}
          to="/administration/directory/import"
          does="Import people"
        >
          Import a CSV or LDIF file, read a directory server, or add people by hand. Agents and the mail
          gateway accept only people in the directory.
        </Step>
        <Step
          number={4}
          done={gateway.open || agents > 0}
          name="Channels"
          state={`${gateway.open ? `The mail gateway is open on port ${gateway.port}.` : `The mail gateway could not open port ${gateway.port}.`} ${agents === 0 ? 'No agent has a key.' : `${agents} ${agents === 1 ? 'agent has a key' : 'agents have keys'}.`}`}
          to="/doors"
          does="Open agents and channels"
        >
          Send outgoing mail from your mail server through the gateway. Create keys for agents on machines and
          in browsers.
        </Step>
        <Step
          number={5}
          done={policies > 0}
          name="First policies"
          state={policies > 0 ? `${policies} written.` : 'None yet.'}
          to="/policies/packs"
          does="Choose a starter pack"
        >
          Choose a pack for your country and industry. Keep the answer at note for the first days.
        </Step>
        <Step
          number={6}
          done={published}
          name="Publish"
          state={published ? 'A revision is in force.' : 'Nothing is in force.'}
          to="/publish"
          does="Review and publish"
        >
          From then on, the policies apply to every movement.
        </Step>
        <Step
          number={7}
          done={movements > 0}
          name="First movement"
          state={movements > 0 ? `${movements.toLocaleString('en')} judged so far.` : 'None has come in yet.'}
          to="/incidents"
          does="Open the desk"
        >
          Send a mail through the gateway. It appears on the desk under Movements.
        </Step>
      </ol>
    </>
  );
}

interface StepProps {
  readonly number: number;
  readonly done: boolean;
  readonly name: string;
  readonly state: string;
  readonly to: string;
  readonly does: string;
  readonly children: ReactNode;
}

function Step({ number, done, name, state, to, does, children }: StepProps) {
  return (
    <li className="grid grid-cols-[28px_minmax(0,1fr)_auto] gap-x-3 border-b border-rule py-2.5">
      <span className="text-ink-2 tabular-nums">{number}</span>
      <div>
        <h2>
          {name}
          <span className={`ml-2 font-normal ${done ? 'text-go' : 'text-ink-2'}`}>
            {done ? 'done' : 'to do'}
          </span>
        </h2>
        <p>{state}</p>
        <p className="text-[12.5px] text-ink-2">{children}</p>
      </div>
      <Link to={to} className="self-center text-press underline">
        {does}
      </Link>
    </li>
  );
}
