import type { WatchOrders, WatchedFolder } from '@lantern/contracts/discovery';
import { isUnder } from '@lantern/core/directory';
import type { Scanner } from '@lantern/core/detection';
import type { WholeLabelSet } from '@lantern/core/labels';
import type { InspectedMovement, Spot } from '@lantern/core/movement';
import { judgeItem, targetsOf, type Verdict } from '@lantern/core/policy';
import { asHandled, asMoved, inspectItem, labelsCarried } from '@lantern/files/inspect';

/** A file that arrived while the workbench could not be reached. */
export interface OfflineTask {
  readonly name: string;
  readonly bytes: Uint8Array;
  readonly at: number;
  readonly machine: string;
  readonly folder: WatchedFolder;
  readonly person: NonNullable<WatchOrders['person']>;
  readonly policies: WatchOrders['policies'];
  readonly domains: readonly string[];
}

export interface OfflineVerdict {
  readonly answer: Verdict['answer'];
  /** Name and number of what decided; null where nothing did. */
  readonly because: string | null;
}

/** Where a file goes that arrives in a watched folder. */
export function spotOf({ as, name, trusted }: WatchedFolder): Spot {
  switch (as) {
    case 'device':
      return { kind: 'device', device: 'plugged-in', name, trusted };
    case 'place':
      return { kind: 'place', path: name };
    case 'service':
      return { kind: 'host', host: name };
  }
}

/**
 * Judges by the last revision that is held, as the workbench would, but for what stands there alone: own records and
 * samples, and what the person moved before.
 */
export async function judgeOffline(
  task: OfflineTask,
  scanner: Scanner,
  labels: WholeLabelSet,
): Promise<OfflineVerdict> {
  const { name, bytes, at, person, policies, domains, machine } = task;
  const item = await inspectItem(
    { texts: [], files: [{ role: 'attachment', name, bytes }], keepTexts: 0 },
    scanner,
  );
  const into = [spotOf(task.folder)];
  const carried = labelsCarried(labels, item.files, item.labels);
  const movement: InspectedMovement = {
    ...{ channel: 'endpoint', at, sender: person, into, files: item.files, earlier: [] },
    recipients: targetsOf({ into }, (host) => !domains.some((domain) => isUnder(host, domain))),
    parts: item.parts.map(({ part }) => part),
    labels: asMoved(carried),
    handled: { effects: ['make-another'], outside: person.outside, items: asHandled(carried) },
    machine: { name: machine, state: 'looked-after', groups: [] },
  };
  const { verdict } = judgeItem({ labels, policies }, movement);
  return { answer: verdict.answer, because: becauseOf(verdict, policies) };
}

function becauseOf(verdict: Verdict, { policies }: WatchOrders['policies']): string | null {
  const [forbidden] = verdict.forbidden ?? [];
  if (forbidden) return `the label "${forbidden.label.name}"`;
  const policy = policies.find(({ id }) => id === verdict.decidedBy?.policy);
  const rule = policy?.rules.findIndex(({ id }) => id === verdict.decidedBy?.rule) ?? -1;
  return policy ? `rule ${rule + 1} of the policy "${policy.name}"` : null;
}
