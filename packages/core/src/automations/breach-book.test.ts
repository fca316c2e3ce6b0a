import { chance as chanceOf } from '@lantern/testkit';
import { BreachBook, touchedServices } from './breach-book.js';
import type { CrossingSet } from './crossing-set.js';
import type { Flow, FlowService } from './flow.js';
import type { Register } from './judge-automation.js';

const names = Array.from({ length: 12 }, (_each, at) => `s${at}`);
const service = (id: string): FlowService => ({
  ...{ id, name: id, owner: '', ungoverned: null },
  operations: [
    { id: 'read', name: '', does: ['reads'], takesAddress: false },
    { id: 'write', name: '', does: ['writes'], takesAddress: true },
  ],
});
const register: Register = { services: new Map(names.map((id) => [id, service(id)])), labels: new Map() };
const base: CrossingSet = {
  ...{ id: 'set', name: 'Set', workspaces: { with: [], without: [] }, off: [], operations: [] },
  circles: [0, 1, 2].map((at) => ({
    id: `c${at}`,
    name: `${at}`,
    services: names.slice(at * 4, at * 4 + 4),
  })),
  ...{ arrows: [{ from: 'c0', to: 'c1' }], laterServices: { kind: 'refused' }, knownOperations: {} },
  ...{ laterOperations: 'allowed', addresses: [], assistants: [], since: null },
};

function flows(seed: number): Flow[] {
  const { pick, whole } = chanceOf(seed);
  return Array.from({ length: 80 }, (_each, id) => ({
    ...{ kind: 'flow', id: `f${id}`, name: '', owner: '', workspace: 'live', madeAt: 0 },
    steps: Array.from({ length: whole(2, 4) }, (_step, at) => ({
      ...{ id: `${at}`, name: '', service: pick(names), operation: at === 0 ? 'read' : 'write' },
      ...{ address: 'https://a.example/', after: at === 0 ? [] : [`${at - 1}`] },
    })),
  }));
}

const CHANGES: readonly [string, Partial<CrossingSet>][] = [
  ['an arrow', { arrows: [] }],
  ['another arrow', { arrows: [...base.arrows, { from: 'c2', to: 'c0' }] }],
  [
    'a service in another circle',
    {
      circles: [
        { id: 'c0', name: '0', services: names.slice(0, 5) },
        ...base.circles
          .slice(1)
          .map((each) => ({ ...each, services: each.services.filter((id) => id !== 's4') })),
      ],
    },
  ],
  ['a service switched off', { off: ['s3'] }],
  ['an operation', { operations: [{ service: 's2', operation: 'write', allowed: false }] }],
  ['what is known of a service', { knownOperations: { s1: ['read'] }, laterOperations: 'allowed' }],
  ['an address list', { addresses: [{ service: 's9', lines: [], otherwise: 'refused' }] }],
  ['new services', { laterServices: { kind: 'joins', circle: 'c0' } }],
  ['its workspaces', { workspaces: { with: ['trial'], without: [] } }],
];

describe('verdicts of many automations', () => {
  it.each(CHANGES)('after a change of %s are those of judging everything again', (_what, over) => {
    const all = flows(7);
    const book = new BreachBook(register, [base]);
    for (const flow of all) book.put(flow);
    const next = { ...base, ...over };
    book.change([next]);
    const fresh = new BreachBook(register, [next]);
    for (const flow of all) expect(book.verdictOf(flow.id)).toEqual(fresh.put(flow));
  });

  it('judges again only what a change touches', () => {
    const book = new BreachBook(register, [base]);
    for (const flow of flows(8)) book.put(flow);
    book.change([{ ...base, off: ['s3'] }]);
    expect(book.judged).toBeGreaterThan(0);
    expect(book.judged).toBeLessThan(60);
    book.change([{ ...base, off: ['s3'] }]);
    expect(book.judged).toBe(0);
    expect(touchedServices([base], [{ ...base, since: 5 }])).toBeNull();
    expect(touchedServices([base], [])).toBeNull();
  });

  it('forgets what is dropped', () => {
    const book = new BreachBook(register, [base]);
    for (const flow of flows(9)) book.put(flow);
    book.drop('f1');
    book.drop('f1');
    expect([book.size, book.verdictOf('f1')]).toEqual([79, null]);
    expect([...book.verdicts()]).toHaveLength(79);
  });
});
