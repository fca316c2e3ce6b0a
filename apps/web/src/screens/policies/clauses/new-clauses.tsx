import type { Condition } from '@lantern/core/policy';
import { Button } from '../../../ui/button';

interface Props {
  readonly firstPattern: string;
  readonly onAdd: (clause: Condition) => void;
  readonly groups?: boolean;
}

const SIGN_IN: Condition = {
  kind: 'sign-in',
  countries: [],
  elsewhere: false,
  proofs: [],
  olderThanMinutes: 480,
};

type Choice = readonly [words: string, clause: Condition];

/** The clauses one can begin with, by the question they answer; each is changed in place afterwards. */
function choices(firstPattern: string): readonly (readonly [question: string, choices: readonly Choice[]])[] {
  const everybody = { with: [], without: [] };
  const findings: Condition = {
    kind: 'findings',
    pattern: firstPattern,
    atLeast: 1,
    distinct: true,
    certainty: 80,
    where: [],
  };
  return [
    [
      'Content',
      [
        ['it contains something', findings],
        ['a part cannot be read', { kind: 'unreadable', reasons: [] }],
        [
          'a file comes along',
          { kind: 'file', kinds: [], names: [], atLeastKilobytes: null, misnamed: false },
        ],
        ['it carries a label', { kind: 'label', carries: 'one-of', labels: [] }],
        ['it is large', { kind: 'size', atLeastKilobytes: 10_240 }],
        ['it has many table rows', { kind: 'rows', atLeast: 100 }],
      ],
    ],
    [
      'Destination',
      [
        ['recipients are inside or outside', { kind: 'recipient', quantity: 'any', side: 'outside' }],
        ['recipients are at a domain', { kind: 'domain', quantity: 'every', domains: ['partner.example'] }],
        ['recipients are in a country', { kind: 'country', quantity: 'any', countries: [] }],
        ['recipients are among some people', { kind: 'receivers', quantity: 'any', people: everybody }],
        ['many people can read it', { kind: 'reach', side: 'outside', atLeast: 10 }],
        ['a link is made', { kind: 'link', links: ['whoever-holds-it'] }],
        ['an approved exchange covers it', { kind: 'exchange', exchanges: [] }],
      ],
    ],
    [
      'Source, target and connection',
      [
        ['it is taken from something', { kind: 'taken-from', spots: [] }],
        ['it is put into something', { kind: 'put-into', spots: [] }],
        ['the connection is encrypted or not', { kind: 'connection', states: ['readable'] }],
        ['the machine is managed or not', { kind: 'machine', states: ['strange'] }],
        ['the network is trusted or not', { kind: 'network', states: ['foreign'] }],
      ],
    ],
    [
      'Sender, time and frequency',
      [
        ['it comes from some people', { kind: 'sender', people: everybody }],
        ['it uses a channel', { kind: 'channel', channels: ['mail'] }],
        ['it is sent at a time of day', { kind: 'time', from: '20:00', to: '06:00', days: [], zone: 'UTC' }],
        ['much is moved in a short time', { kind: 'rate', of: 'outside', atLeast: 20, minutes: 60 }],
        ['the same content is tried again', { kind: 'tries', atLeast: 1, minutes: 60 }],
        [
          'a total over hours or days is high',
          { kind: 'sum', of: 'rows', over: 'this-channel', atLeast: 5_000, hours: 24 },
        ],
        [
          'many distinct values over hours or days',
          {
            kind: 'values',
            pattern: firstPattern,
            certainty: 80,
            over: 'every-channel',
            atLeast: 100,
            hours: 168,
          },
        ],
        [
          'the total is far above usual',
          { kind: 'usual', of: 'rows', over: 'this-channel', times: 10, atLeast: 500, hours: 1 },
        ],
      ],
    ],
    [
      'Business applications',
      [
        [
          'records are exported or read, or someone signs in',
          { kind: 'use', deeds: ['export'], by: null, objects: [], reports: [] },
        ],
        ['columns contain something', { kind: 'fields', pattern: firstPattern, certainty: 80, atLeast: 1 }],
        ['records have many fields', { kind: 'columns', atLeast: 20 }],
        ['the sign-in is old or from another country', SIGN_IN],
        ['a connected application requests rights', { kind: 'rights', rights: ['*export*'] }],
      ],
    ],
  ];
}

export function NewClauses({ firstPattern, onAdd, groups = false }: Props) {
  const offered = choices(firstPattern);
  const [first] = offered[0]?.[1] ?? [];
  return (
    <div className="flex flex-col gap-1.5">
      {offered.map(([question, some]) => (
        <div key={question}>
          <p className="text-[12.5px] text-ink-2">{question}</p>
          <div className="flex flex-wrap">
            {some.map(([words, clause]) => (
              <Button key={words} look="quiet" onClick={() => onAdd(clause)}>
                {words}
              </Button>
            ))}
          </div>
        </div>
      ))}
      {groups && first && (
        <Button look="quiet" onClick={() => onAdd({ kind: 'any', of: [first[1]] })}>
          a group of conditions
        </Button>
      )}
    </div>
  );
}
