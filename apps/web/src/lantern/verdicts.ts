import type { LanternSide } from '@lantern/contracts';
import {
  type Answer,
  evaluate,
  type InspectedMovement,
  type InspectedPart,
  type Policy,
  type Rule,
} from '@lantern/core';

/** Where the thing in the Lantern might go. */
export const WAYS = [
  { key: 'outside', name: 'mail, outside', address: 'somebody@outside.example', outside: true },
  { key: 'inside', name: 'mail, to a colleague', address: 'colleague@inside.example', outside: false },
] as const;

export interface WayVerdict {
  readonly answer: Answer | null;
  readonly policy: Policy | null;
  readonly ruleNumber: number;
  readonly rule: Rule | null;
}

/** What one side's policies would decide for the parts on one way. */
export function verdictFor(
  side: LanternSide,
  parts: readonly InspectedPart[],
  way: (typeof WAYS)[number],
): WayVerdict {
  const movement: InspectedMovement = {
    channel: 'mail',
    sender: { address: 'sender@inside.example' },
    recipients: [{ address: way.address, outside: way.outside }],
    parts,
  };
  const { answer, decidedBy } = evaluate(side.policies, movement);
  const policy = side.policies.find((candidate) => candidate.id === decidedBy?.policy) ?? null;
  const index = policy?.rules.findIndex((rule) => rule.id === decidedBy?.rule) ?? -1;
  return { answer, policy, ruleNumber: index + 1, rule: policy?.rules[index] ?? null };
}
