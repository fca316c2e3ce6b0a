import { STAND_INS } from './stand-ins';
import { Command } from 'cmdk';
import { useNavigate } from 'react-router';
import { usePatterns } from '../data/patterns';
import { useLabels } from '../data/labels';
import { usePolicies } from '../data/policies';
import { useMay } from '../data/session';
import { useLantern } from '../stores/lantern-store';

const PLACES = [
  ['/labels/offers', 'Label offers'],
  ['/labels/automatic', 'Automatic labels'],
  ['/labels/runs', 'Label stored files'],
  ['/labels/changes', 'Label history'],
  ['/labels/review', 'Who is affected by labels'],
  ['/policies/texts', 'Messages'],
  ['/policies/exchanges', 'Approved exchanges'],
  ['/policies/spots', 'Applications and sites'],
  ['/account', 'Your account'],
  ['/administration/accounts', 'Accounts'],
  ['/administration/roles', 'Roles'],
  ['/administration/programs', 'Service accounts'],
  ['/administration/sign-on', 'Single sign-on'],
  ['/administration/directory', 'Directory: people'],
  ['/administration/directory/groups', 'Directory: groups'],
  ['/administration/directory/machines', 'Directory: machines and places'],
  ['/administration/directory/import', 'Directory: import'],
  ['/administration/directory/organisation', 'Own domains and partners'],
  ['/first-steps', 'First steps'],
  ['/administration/retention', 'Retention and legal holds'],
  ['/administration/trail', 'Audit trail'],
  ['/doors', 'Agents and channels'],
  ['/policies/coverage', 'Coverage'],
  ['/policies/replay', 'Replay'],
  ['/incidents/waiting', 'Waiting for a decision'],
  ['/incidents/routing', 'Routing and tickets'],
  ['/discovery', 'Places'],
  ['/discovery/runs', 'Jobs and runs'],
  ['/discovery/items', 'What was found'],
  ['/discovery/machines', 'Machines'],
  ['/automations', 'Flows and assistants'],
  ['/automations/breaches', 'Breaches'],
  ['/automations/sets', 'Data flow rules'],
  ['/automations/services', 'Services'],
  ['/insight', 'What changed'],
  ['/insight/rules', 'What rules cost'],
  ['/insight/most', 'Who and where'],
  ['/insight/guard', 'How well guarded'],
  ['/insight/improve', 'What to improve'],
  ['/insight/reports', 'Reports'],
] as const;

interface Props {
  readonly open: boolean;
  readonly onOpenChange: (open: boolean) => void;
  readonly showKeys: () => void;
}

/** One key finds places, objects and actions. */
export function CommandList({ open, onOpenChange, showKeys }: Props) {
  const navigate = useNavigate();
  const patterns = usePatterns();
  const policies = usePolicies();
  const labels = useLabels();
  const mayWrite = useMay('patterns.write');
  const pullLantern = useLantern((state) => state.setOpen);
  const then = (act: () => void) => () => {
    onOpenChange(false);
    act();
  };
  const go = (to: string) => then(() => void navigate(to));
  const item =
    'flex cursor-pointer items-baseline justify-between gap-4 rounded px-3 py-1.5 data-[selected=true]:bg-press-soft';
  const group =
    '[&_[cmdk-group-heading]]:px-3 [&_[cmdk-group-heading]]:pt-2 [&_[cmdk-group-heading]]:pb-1 [&_[cmdk-group-heading]]:text-[12px] [&_[cmdk-group-heading]]:text-ink-2';
  return (
    <Command.Dialog
      open={open}
      onOpenChange={onOpenChange}
      label="Search or run a command"
      overlayClassName="fixed inset-0 z-40 bg-black/30"
      contentClassName="fixed top-24 left-1/2 z-50 w-[560px] -translate-x-1/2 rounded border border-rule-strong bg-sheet p-2 shadow-xl"
    >
      <Command.Input placeholder="Screen, pattern, policy or action" className="field mb-2" />
      <Command.List className="max-h-96 overflow-auto">
        <Command.Empty className="px-3 py-4 text-ink-2">No results.</Command.Empty>
        <Command.Group heading="Do" className={group}>
          <Command.Item className={item} onSelect={then(() => pullLantern(true))}>
            Open the Lantern
          </Command.Item>
          {mayWrite && (
            <Command.Item className={item} onSelect={go('/patterns/new')}>
              Create word list
            </Command.Item>
          )}
          <Command.Item className={item} onSelect={go('/publish')}>
            Review and publish
          </Command.Item>
          <Command.Item className={item} onSelect={then(showKeys)}>
            Show the keys of this screen
          </Command.Item>
        </Command.Group>
        <Command.Group heading="Go to" className={group}>
          <Command.Item className={item} onSelect={go('/patterns')}>
            Patterns
          </Command.Item>
          <Command.Item className={item} onSelect={go('/policies')}>
            Policies
          </Command.Item>
          {PLACES.map(([to, name]) => (
            <Command.Item key={to} className={item} onSelect={go(to)}>
              {name}
            </Command.Item>
          ))}
          <Command.Item className={item} onSelect={go('/incidents')}>
            Incidents
          </Command.Item>
          {STAND_INS.map(([to, name]) => (
            <Command.Item key={to} className={item} onSelect={go(to)}>
              Stand-in: {name}
            </Command.Item>
          ))}
        </Command.Group>
        <Command.Group heading="Patterns" className={group}>
          {(patterns.data ?? []).map((pattern) => (
            <Command.Item
              key={pattern.id}
              value={`pattern ${pattern.name}`}
              className={item}
              onSelect={go(`/patterns/${pattern.id}`)}
            >
              {pattern.name}
            </Command.Item>
          ))}
        </Command.Group>
        <Command.Group heading="Labels" className={group}>
          {(labels.data?.labels ?? []).map(({ label }) => (
            <Command.Item
              key={label.id}
              value={`label ${label.name} ${label.id}`}
              className={item}
              onSelect={go(`/labels/${label.id}`)}
            >
              {label.name || 'Unnamed label'}
            </Command.Item>
          ))}
        </Command.Group>
        <Command.Group heading="Policies" className={group}>
          {(policies.data ?? []).map(({ policy }) => (
            <Command.Item
              key={policy.id}
              value={`policy ${policy.name} ${policy.id}`}
              className={item}
              onSelect={go(`/policies/${policy.id}`)}
            >
              {policy.name || 'Unnamed policy'}
            </Command.Item>
          ))}
        </Command.Group>
      </Command.List>
    </Command.Dialog>
  );
}
