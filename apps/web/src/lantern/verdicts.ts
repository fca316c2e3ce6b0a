import type { LanternSide } from '@lantern/contracts';
import {
  type Answer,
  type AnswerText,
  evaluate,
  type InspectedMovement,
  type InspectedPart,
  type Policy,
  patternsOfRule,
  renderText,
  type Rule,
  type Verdict,
} from '@lantern/core';

/** Where the thing in the Lantern might go. */
export const WAYS = [
  {
    key: 'outside',
    name: 'mail, outside',
    channel: 'mail',
    address: 'somebody@outside.example',
    outside: true,
  },
  {
    key: 'inside',
    name: 'mail, to a colleague',
    channel: 'mail',
    address: 'colleague@inside.example',
    outside: false,
  },
  {
    key: 'guests',
    name: 'chat, with a guest',
    channel: 'chat',
    address: 'guest@outside.example',
    outside: true,
  },
] as const;

export interface WayVerdict {
  readonly answer: Answer | null;
  readonly policy: Policy | null;
  readonly ruleNumber: number;
  readonly rule: Rule | null;
  /** What the rule says, where a ceiling cuts it. */
  readonly written: Answer | null;
  /** What the person would read. */
  readonly words: string;
  /** The whole way to it. */
  readonly verdict: Verdict;
}

/** What one side's policies would decide for the parts on one way. */
export function verdictFor(
  side: LanternSide,
  parts: readonly InspectedPart[],
  way: (typeof WAYS)[number],
  names: ReadonlyMap<string, string>,
): WayVerdict {
  const movement: InspectedMovement = {
    channel: way.channel,
    at: Date.now(),
    sender: { address: 'sender@inside.example' },
    recipients: [{ address: way.address, outside: way.outside }],
    parts,
    files: [],
    earlier: [],
  };
  const { policies, texts } = side.set;
  const verdict = evaluate(side.set, movement);
  const { answer, decidedBy } = verdict;
  const policy = policies.find((candidate) => candidate.id === decidedBy?.policy) ?? null;
  const index = policy?.rules.findIndex((rule) => rule.id === decidedBy?.rule) ?? -1;
  const text = texts.find(({ id }) => id === decidedBy?.text);
  return {
    answer,
    written: decidedBy?.written ?? null,
    policy,
    ruleNumber: index + 1,
    rule: policy?.rules[index] ?? null,
    words:
      text && policy
        ? filledIn(text, { policy, way, found: foundBy(policy.rules[index], parts, names) })
        : '',
    verdict,
  };
}

interface Filling {
  readonly policy: Policy;
  readonly way: (typeof WAYS)[number];
  readonly found: string;
}

function filledIn(text: AnswerText, { policy, way, found }: Filling): string {
  return renderText(text, 'en', { item: way.channel, rule: policy.name, found, values: '', to: way.address });
}

/** What a rule asks for and the parts hold, as the person is told. */
function foundBy(
  rule: Rule | undefined,
  parts: readonly InspectedPart[],
  names: ReadonlyMap<string, string>,
): string {
  const findings = parts.flatMap((part) => (part.status === 'read' ? part.findings : []));
  return (rule ? patternsOfRule(rule) : [])
    .flatMap((pattern) => {
      const values = findings
        .filter((finding) => finding.pattern === pattern)
        .map(({ canonical }) => canonical);
      return values.length === 0 ? [] : [`${new Set(values).size} × ${names.get(pattern) ?? pattern}`];
    })
    .join(', ');
}
