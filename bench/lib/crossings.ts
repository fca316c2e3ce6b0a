import {
  BreachBook,
  type CrossingSet,
  type Flow,
  type FlowService,
  judgeAutomation,
  type Register,
} from '@lantern/core/automations';
import { chance } from '@lantern/testkit';

const SERVICES = 500;
const CIRCLES = 25;
const SEED = 20261130;

/** A register of 500 services in 25 circles, with arrows between a fifth of them. */
function basis(): { readonly register: Register; readonly set: CrossingSet } {
  const random = chance(SEED);
  const services = Array.from({ length: SERVICES }, (_each, at): FlowService => ({
    ...{ id: `s${at}`, name: `Service ${at}`, owner: '', ungoverned: null },
    operations: [
      { id: 'read', name: '', does: ['reads'], takesAddress: false },
      { id: 'write', name: '', does: ['writes'], takesAddress: true },
    ],
  }));
  const circles = Array.from({ length: CIRCLES }, (_each, at) => ({
    ...{ id: `c${at}`, name: `Circle ${at}` },
    services: services.filter((_service, index) => index % CIRCLES === at).map(({ id }) => id),
  }));
  const arrows = circles.flatMap((from) =>
    circles.flatMap((to) => (from !== to && random.happens(0.2) ? [{ from: from.id, to: to.id }] : [])),
  );
  const lines = [{ host: 'tides.example', under: true, allow: true }];
  return {
    register: { services: new Map(services.map((service) => [service.id, service])), labels: new Map() },
    set: {
      ...{ id: 'set', name: 'Set', workspaces: { with: [], without: [] }, circles, arrows, off: [] },
      ...{ operations: [], laterServices: { kind: 'refused' }, laterOperations: 'refused', assistants: [] },
      knownOperations: Object.fromEntries(services.map(({ id }) => [id, ['read', 'write']])),
      addresses: services.slice(0, 50).map(({ id }) => ({ service: id, lines, otherwise: 'refused' })),
      since: null,
    },
  };
}

function flowsOf(count: number): Flow[] {
  const random = chance(SEED + count);
  return Array.from({ length: count }, (_each, id): Flow => ({
    ...{ kind: 'flow', id: `f${id}`, name: `Flow ${id}`, owner: '', workspace: 'live', madeAt: 0 },
    steps: Array.from({ length: random.whole(2, 12) }, (_step, at) => ({
      ...{ id: `${at}`, name: '', service: `s${random.whole(0, SERVICES - 1)}` },
      ...{ operation: random.happens(0.4) ? 'read' : 'write', address: 'https://www.tides.example/a' },
      after: at === 0 ? [] : [`${random.whole(0, at - 1)}`],
    })),
  }));
}

/** A pass over the same steps that only touches them: what no judging can be quicker than. */
function touch(flows: readonly Flow[]): number {
  let sum = 0;
  for (const { steps } of flows) for (const { service, after } of steps) sum += service.length + after.length;
  return sum;
}

const timed = (work: () => unknown): number => {
  const started = performance.now();
  work();
  return performance.now() - started;
};

/** Milliseconds for 5,000 and 50,000 flows, and for judging again after one service changed its circle. */
export function crossings() {
  const { register, set } = basis();
  const judge = (flows: readonly Flow[]): void => {
    for (const flow of flows) judgeAutomation(flow, [set], register);
  };
  judge(flowsOf(2_000));
  const [few, many] = [flowsOf(5_000), flowsOf(50_000)];
  const [small, large] = [timed(() => judge(few)), timed(() => judge(many))];
  const book = new BreachBook(register, [set]);
  for (const flow of many) book.put(flow);
  const moved = {
    ...set,
    circles: set.circles.map((circle, at) => ({
      ...circle,
      services:
        at === 0
          ? circle.services.filter((id) => id !== 's0')
          : at === 1
            ? [...circle.services, 's0']
            : circle.services,
    })),
  };
  const again = timed(() => book.change([moved]));
  const passes = timed(() => {
    for (let round = 0; round < 20; round += 1) touch(many);
  });
  return {
    small,
    large,
    again,
    judgedAgain: book.judged,
    overTouching: large / (passes / 20),
  };
}
