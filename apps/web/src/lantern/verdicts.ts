import type { LanternSide } from '@lantern/contracts';
import { type StandingLabel } from '@lantern/core/labels';
import {
  type Channel,
  type InspectedPart,
  type LinkKind,
  type MovedFile,
  type MovedLabel,
  type Spot,
} from '@lantern/core/movement';
import {
  type Answer,
  type AnswerText,
  judgeItem,
  type Policy,
  patternsOfRule,
  renderText,
  type Rule,
  targetsOf,
  type Verdict,
} from '@lantern/core/policy';

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
  {
    key: 'link',
    name: 'drive, to whoever holds the link',
    channel: 'drive',
    link: 'whoever-holds-it',
  },
  {
    key: 'site',
    name: 'browser, to a site outside',
    channel: 'browser',
    into: [{ kind: 'host', host: 'site.outside.example' }],
  },
  {
    key: 'stick',
    name: 'endpoint, to an untrusted drive',
    channel: 'endpoint',
    into: [{ kind: 'device', device: 'plugged-in', name: 'an untrusted drive', trusted: false }],
  },
] as const satisfies readonly Way[];

/** One way that a thing may take. */
export interface Way {
  readonly key: string;
  readonly name: string;
  readonly channel: Channel;
  /** Who gets it, where somebody does. */
  readonly address?: string;
  readonly outside?: boolean;
  readonly into?: readonly Spot[];
  readonly link?: LinkKind;
}

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
  /** What automatic rules set on it before it was judged. */
  readonly label: StandingLabel | null;
}

/** What is in the Lantern, as it would move: its parts with their findings, and what it is as a file. */
export interface ItemInLantern {
  readonly parts: readonly InspectedPart[];
  readonly files?: readonly MovedFile[];
  /** Labels that it carries. */
  readonly labels?: readonly MovedLabel[];
}

/** What one side's policies would decide for the parts on one way. */
export function verdictFor(
  side: LanternSide,
  { parts, files = [], labels = [] }: ItemInLantern,
  way: Way,
  names: ReadonlyMap<string, string>,
): WayVerdict {
  const { label, verdict } = judgeItem(
    { labels: side.labels, policies: side.set },
    {
      channel: way.channel,
      at: Date.now(),
      sender: { address: 'sender@inside.example' },
      recipients: [
        ...(way.address ? [{ address: way.address, outside: way.outside ?? true }] : []),
        ...targetsOf(way, () => true),
      ],
      ...(way.into ? { into: way.into } : {}),
      ...(way.link ? { link: way.link } : {}),
      parts,
      files,
      labels,
      earlier: [],
    },
  );
  const { policies, texts } = side.set;
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
    label,
  };
}

interface Filling {
  readonly policy: Policy;
  readonly way: Way;
  readonly found: string;
}

function filledIn(text: AnswerText, { policy, way, found }: Filling): string {
  return renderText(text, 'en', {
    item: way.channel,
    rule: policy.name,
    found,
    values: '',
    to: movementTarget(way),
  });
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

/** Where it would go, as the person would read it. */
function movementTarget(way: Way): string {
  return way.address ?? targetsOf(way, () => true)[0]?.address ?? '';
}
