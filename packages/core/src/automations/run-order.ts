import type { FlowStep } from './flow.js';

/**
 * The order in which the steps of a flow run, each once: a step after all those whose data it gets. Where steps wait for
 * one another in a ring, the ring is entered at its first step in the order given, which then runs without what comes round.
 * Steps that are named and not there are passed over. Time grows with the steps and their links.
 */
export function runOrder<Step extends Pick<FlowStep, 'id' | 'after'>>(steps: readonly Step[]): Step[] {
  const ids = new Set(steps.map(({ id }) => id));
  const behind = new Map<string, Step[]>();
  const missing = new Map<string, number>();
  for (const step of steps) {
    const before = new Set(step.after.filter((id) => ids.has(id) && id !== step.id));
    missing.set(step.id, before.size);
    for (const id of before) {
      const known = behind.get(id);
      if (known) known.push(step);
      else behind.set(id, [step]);
    }
  }
  const order: Step[] = [];
  const placed = new Set<string>();
  const place = (first: Step): void => {
    const ready = [first];
    for (let at = 0; at < ready.length; at += 1) {
      const step = ready[at];
      if (!step || placed.has(step.id)) continue;
      placed.add(step.id);
      order.push(step);
      for (const next of behind.get(step.id) ?? []) {
        const left = (missing.get(next.id) ?? 0) - 1;
        missing.set(next.id, left);
        if (left === 0) ready.push(next);
      }
    }
  };
  for (const step of steps) if (missing.get(step.id) === 0) place(step);
  for (const step of steps) if (!placed.has(step.id)) place(step);
  return order;
}
