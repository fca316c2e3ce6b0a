import { chance as chanceOf } from '@lantern/testkit';
import type { CrossingSet } from './crossing-set.js';
import { crossing } from './crossing-set.js';
import type { Assistant, Flow, FlowService, FlowStep } from './flow.js';
import { alternatives, highestLabel, judgeAutomation, meetings, type Register } from './judge-automation.js';
import { crossingProblems } from './set-problems.js';

/** Services of our own; the facts to hold are those of docs/automations.md. */
const service = (id: string, over: Partial<FlowService> = {}): FlowService => ({
  ...{ id, name: id, owner: '', ungoverned: null },
  operations: [
    { id: 'read', name: 'Read', does: ['reads'], takesAddress: false },
    { id: 'write', name: 'Write', does: ['writes'], takesAddress: false },
    { id: 'call', name: 'Call', does: ['reads', 'sends'], takesAddress: true },
  ],
  ...over,
});
const registerOf = (...services: FlowService[]): Register => ({
  services: new Map(services.map((each) => [each.id, each])),
  labels: new Map([
    ['open', { name: 'Open', rank: 100 }],
    ['bridge', { name: 'Bridge', rank: 700 }],
  ]),
});
const register = registerOf(...['ledger', 'mail', 'blog', 'web', 'crew'].map((id) => service(id)));
const knownOperations = Object.fromEntries(
  [...register.services.keys()].map((id) => [id, ['read', 'write', 'call']]),
);
const setOf = (over: Partial<CrossingSet> = {}): CrossingSet => ({
  ...{ id: 'set', name: 'House', workspaces: { with: [], without: [] } },
  circles: [
    { id: 'house', name: 'House', services: ['ledger', 'mail', 'crew'] },
    { id: 'world', name: 'World', services: ['blog', 'web'] },
  ],
  ...{ arrows: [{ from: 'world', to: 'house' }], off: [], operations: [] },
  ...{ laterServices: { kind: 'refused' }, knownOperations, laterOperations: 'refused' },
  ...{ addresses: [], assistants: [], since: null },
  ...over,
});
const step = (id: string, from: string, operation: string, over: Partial<FlowStep> = {}): FlowStep => ({
  ...{ id, name: id, service: from, operation, after: [] },
  ...over,
});
const flowOf = (steps: FlowStep[], over: Partial<Flow> = {}): Flow => ({
  ...{ kind: 'flow', id: 'flow', name: 'Flow', owner: '', workspace: 'live', madeAt: 1_000, steps },
  ...over,
});
const judge = (steps: FlowStep[], set: CrossingSet = setOf(), reg: Register = register) =>
  judgeAutomation(flowOf(steps), [set], reg);
const codes = (steps: FlowStep[], set?: CrossingSet, reg?: Register) =>
  judge(steps, set, reg).breaches.map(({ reason }) => reason.code);

const out = [step('a', 'ledger', 'read'), step('b', 'blog', 'write', { after: ['a'] })];

describe('what may cross', () => {
  it('is everything within a circle, and between circles what an arrow allows, in its direction', () => {
    expect(codes([step('a', 'ledger', 'read'), step('b', 'mail', 'write', { after: ['a'] })])).toEqual([]);
    expect(codes([step('a', 'blog', 'read'), step('b', 'ledger', 'write', { after: ['a'] })])).toEqual([]);
    expect(judge(out).breaches).toEqual([
      {
        ...{ set: 'set', steps: ['a', 'b'], from: 'ledger', to: 'blog' },
        reason: { code: 'no-arrow', from: 'house', to: 'world' },
      },
    ]);
  });

  it('counts over any number of steps between, through loops as well, and not backwards', () => {
    const far = [
      step('a', 'ledger', 'read'),
      step('b', 'mail', 'write', { after: ['a', 'c'] }),
      step('c', 'crew', 'write', { after: ['b'] }),
      step('d', 'blog', 'write', { after: ['c'] }),
    ];
    expect(judge(far).breaches.map(({ from, to }) => `${from ?? ''} ${to ?? ''}`)).toEqual(['ledger blog']);
    // The blog is written before the ledger is read.
    const before = [step('a', 'blog', 'write'), step('b', 'ledger', 'read', { after: ['a'] })];
    expect(codes(before)).toEqual([]);
  });

  it('explains every cell of the table', () => {
    const set = setOf({ off: ['crew'] });
    expect(crossing(set, 'ledger', 'mail').reason).toEqual({ code: 'same-circle', circle: 'house' });
    expect(crossing(set, 'blog', 'mail').reason).toEqual({ code: 'arrow', from: 'world', to: 'house' });
    expect(crossing(set, 'mail', 'blog')).toMatchObject({ allowed: false, reason: { code: 'no-arrow' } });
    expect(crossing(set, 'mail', 'crew').reason).toEqual({ code: 'service-off', service: 'crew' });
    expect(crossing(set, 'mail', 'new').reason).toEqual({ code: 'service-later', service: 'new' });
  });

  it('lets a service that is new do what is stated for new ones', () => {
    const reg = registerOf(...register.services.values(), service('sheet'));
    const steps = [step('a', 'ledger', 'read'), step('b', 'sheet', 'write', { after: ['a'] })];
    expect(codes(steps, setOf(), reg)).toEqual(['service-later']);
    const joins = (circle: string) => setOf({ laterServices: { kind: 'joins', circle } });
    expect(codes(steps, joins('house'), reg)).toEqual([]);
    expect(codes(steps, joins('world'), reg)).toEqual(['no-arrow']);
  });

  it('switches off a service, or one operation while the others run', () => {
    expect(codes([step('a', 'mail', 'read')], setOf({ off: ['mail'] }))).toEqual(['service-off']);
    const set = setOf({ operations: [{ service: 'mail', operation: 'write', allowed: false }] });
    expect(codes([step('a', 'mail', 'read'), step('b', 'mail', 'write', { after: ['a'] })], set)).toEqual([
      'operation-off',
    ]);
  });

  it('lets an operation that is new do what is stated, unless a line names it', () => {
    const set = setOf({ knownOperations: { ...knownOperations, mail: ['read'] } });
    const steps = [step('a', 'mail', 'write')];
    expect(codes(steps, set)).toEqual(['operation-later']);
    expect(codes(steps, { ...set, laterOperations: 'allowed' })).toEqual([]);
    const named = { ...set, operations: [{ service: 'mail', operation: 'write', allowed: true }] };
    expect(codes(steps, named)).toEqual([]);
  });

  it('holds calls to their addresses', () => {
    const list = { service: 'web', lines: [{ host: 'tides.example', under: false, allow: true }] };
    const set = setOf({ addresses: [{ ...list, otherwise: 'refused' }] });
    const call = (address?: string) => [step('a', 'web', 'call', address === undefined ? {} : { address })];
    expect(codes(call('https://TIDES.example.:443/today'), set)).toEqual([]);
    expect(judge(call('https://badtides.example/'), set).breaches[0]?.reason).toEqual({
      ...{ code: 'address-refused', service: 'web', address: 'https://badtides.example/', line: null },
    });
    expect(judge(call('https://{{host}}/'), set).breaches[0]?.reason).toEqual({
      ...{ code: 'address', service: 'web', fault: 'made-at-run-time' },
    });
    expect(codes(call(), set)).toEqual(['address']);
  });

  it('adds sets up: the strictest wins, in its workspaces, and since its day', () => {
    const lax = setOf({ id: 'lax', arrows: [{ from: 'house', to: 'world' }] });
    const strict = setOf({ id: 'strict', workspaces: { with: ['live'], without: [] } });
    const judged = judgeAutomation(flowOf(out), [lax, strict], register);
    expect(judged.breaches.map(({ set }) => set)).toEqual(['strict']);
    const trial = judgeAutomation(flowOf(out, { workspace: 'trial' }), [lax, strict], register);
    expect([trial.runs, trial.trace.map(({ binds }) => binds)]).toEqual([true, ['yes', 'other-workspace']]);
    const dated = judgeAutomation(flowOf(out), [{ ...strict, since: 2_000 }], register);
    expect([dated.runs, dated.older.length, dated.trace[0]?.binds]).toEqual([true, 1, 'older']);
  });

  it('says what is gone, and what no set can hold', () => {
    expect(codes([step('a', 'fax', 'send')])).toEqual(['service-gone', 'service-later']);
    expect(codes([step('a', 'mail', 'fold')])).toEqual(['operation-gone']);
    expect(codes([step('a', 'mail', 'read', { after: ['z'] })])).toEqual(['step-gone']);
    const reg = registerOf(service('mail', { ungoverned: 'It asks nobody' }));
    expect(judge([step('a', 'mail', 'read')], setOf(), reg).ungoverned).toEqual([
      { service: 'mail', why: 'It asks nobody' },
    ]);
  });

  it('names what would be allowed instead', () => {
    const [breach] = judge(out).breaches;
    expect(breach && alternatives(breach, [setOf()], register)).toEqual({
      kind: 'services',
      values: ['mail', 'crew'],
    });
  });

  it('takes a thousand steps in a ring', () => {
    const ring = Array.from({ length: 1_000 }, (_each, at) =>
      step(`s${at}`, at === 0 ? 'ledger' : 'mail', at === 0 ? 'read' : 'write', {
        after: [`s${(at + 999) % 1_000}`],
      }),
    );
    expect(codes([...ring, step('end', 'blog', 'write', { after: ['s999'] })])).toEqual(['no-arrow']);
  });
});

describe('an assistant', () => {
  const assistant = (over: Partial<Assistant> = {}): Assistant => ({
    ...{ kind: 'assistant', id: 'x', name: 'Desk help', owner: '', workspace: 'live', madeAt: 0 },
    ...{ sources: [], steps: [], audience: 'anybody', published: ['site'] },
    ...over,
  });
  const set = setOf({
    assistants: [{ fromLabel: 'bridge', audience: 'signed-in', outlets: ['chat'] }],
  });
  const of = (over: Partial<Assistant>) =>
    judgeAutomation(assistant(over), [set], register).breaches.map(({ reason }) => reason.code);
  const bridge = { kind: 'place' as const, name: 'Port security', label: 'bridge' };

  it('that needs no sign-in may not read a place whose label forbids it; once it demands one, it may', () => {
    expect(of({ sources: [bridge], published: ['chat'] })).toEqual(['audience']);
    expect(of({ sources: [bridge], published: ['chat'], audience: 'signed-in' })).toEqual([]);
    expect(of({ sources: [bridge], published: ['site', 'chat'], audience: 'named' })).toEqual(['outlet']);
    expect(of({ sources: [{ ...bridge, label: 'open' }] })).toEqual([]);
  });

  it('carries the highest label of what it reads', () => {
    const file = { kind: 'file' as const, name: 'fares.pdf', label: 'open' };
    expect(highestLabel({ sources: [file, bridge, { ...file, label: null }] }, register)).toBe('bridge');
    expect(highestLabel({ sources: [] }, register)).toBeNull();
    // What a place carries now counts, whatever the document says about it; of other places it is believed.
    const place = { kind: 'place', name: 'Port security', label: null } as const;
    const places = new Map([['Port security', 'bridge']]);
    expect(highestLabel({ sources: [place] }, { ...register, places })).toBe('bridge');
    const bare = new Map([['Port security', null]]);
    expect(
      highestLabel({ sources: [{ ...place, label: 'bridge' }] }, { ...register, places: bare }),
    ).toBeNull();
    expect(
      highestLabel({ sources: [{ ...place, name: 'Elsewhere', label: 'bridge' }] }, { ...register, places }),
    ).toBe('bridge');
  });

  it('may not carry what it reads to where it may not go', () => {
    const sources = [{ kind: 'service' as const, service: 'ledger' }];
    const write = { id: 'w', name: 'w', service: 'blog', operation: 'write' };
    expect(of({ sources, steps: [write] })).toEqual(['no-arrow']);
    expect(of({ sources, steps: [{ ...write, service: 'mail' }] })).toEqual([]);
  });

  it('reads only sites that its list lets it', () => {
    const lines = [{ host: 'tides.example', under: true, allow: true }];
    const sites = setOf({ addresses: [{ service: 'sites', lines, otherwise: 'refused' }] });
    const reads = (address: string) =>
      judgeAutomation(assistant({ sources: [{ kind: 'site', address }] }), [sites], register).breaches.length;
    expect([reads('https://www.tides.example/'), reads('https://other.example/')]).toEqual([0, 1]);
    expect(crossingProblems(sites, context)).toEqual([]);
  });
});

const context = {
  services: [...register.services.values()],
  ...{ workspaces: [], labels: new Set(['open', 'bridge']), otherNames: ['Other'] },
};

describe('a set', () => {
  it.each([
    [{ name: ' ' }, ['no-name']],
    [{ name: 'other' }, ['duplicate-name']],
    [{ off: ['fax'] }, ['unknown-service']],
    [{ off: ['mail'] }, ['off-and-in-a-circle']],
    [{ arrows: [{ from: 'house', to: 'moon' }] }, ['unknown-circle']],
    [{ laterServices: { kind: 'joins', circle: 'moon' } }, ['unknown-circle']],
    [{ workspaces: { with: [], without: ['moon'] } }, ['unknown-workspace']],
    [{ operations: [{ service: 'mail', operation: 'fold', allowed: true }] }, ['unknown-operation']],
    [{ assistants: [{ fromLabel: 'lost', audience: 'named', outlets: [] }] }, ['unknown-label']],
    [
      {
        circles: [
          { id: 'a', name: 'A', services: ['mail'] },
          { id: 'b', name: 'a', services: ['mail'] },
        ],
        arrows: [],
      },
      ['duplicate-circle', 'in-two-circles'],
    ],
    [
      {
        addresses: [
          { service: 'web', lines: [{ host: 'a b', under: false, allow: true }], otherwise: 'allowed' },
        ],
      },
      ['not-a-host'],
    ],
    [
      {
        addresses: [
          {
            service: 'web',
            lines: [
              { host: 'tides.example', under: true, allow: true },
              { host: 'www.tides.example', under: false, allow: false },
            ],
            otherwise: 'refused',
          },
        ],
      },
      ['line-never-read'],
    ],
  ] as const)('%j is told %j', (over, expected) =>
    expect(crossingProblems(setOf(over as Partial<CrossingSet>), context).map(({ code }) => code)).toEqual(
      expected,
    ),
  );
});

describe('which data meets which service', () => {
  /** The plain way: from every step that reads, by every path. */
  function plain(steps: readonly FlowStep[]): Set<string> {
    const pairs = new Set<string>();
    const does = ({ operation }: FlowStep) => (operation === 'call' ? 'both' : operation);
    for (const first of steps) {
      pairs.add(`${first.service}>${first.service}`);
      if (does(first) === 'write') continue;
      const seen = new Set([first.id]);
      const open = [first];
      for (let at = open.pop(); at; at = open.pop()) {
        if (does(at) !== 'read') pairs.add(`${first.service}>${at.service}`);
        const here = at.id;
        for (const next of steps)
          if (next.after.includes(here) && !seen.has(next.id)) {
            seen.add(next.id);
            open.push(next);
          }
      }
    }
    return pairs;
  }

  it.each(Array.from({ length: 60 }, (_each, seed) => seed))(
    'is what following every path says, case %i',
    (seed) => {
      const { pick, whole } = chanceOf(seed);
      const count = whole(2, 15);
      const steps = Array.from({ length: count }, (_each, at) =>
        step(`s${at}`, pick([...register.services.keys()]), pick(['read', 'write', 'call']), {
          after: Array.from({ length: whole(0, 2) }, () => `s${whole(0, count - 1)}`),
        }),
      );
      expect(new Set(meetings({ steps }, register).map(({ from, to }) => `${from}>${to}`))).toEqual(
        plain(steps),
      );
    },
  );
});
