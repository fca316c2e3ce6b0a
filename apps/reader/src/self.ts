import type { ReaderTold } from '@lantern/contracts/discovery';
import type { ReaderCost } from '@lantern/contracts';
import { restOf } from '@lantern/core/discovery';
import { batteryOf } from './battery.js';
import type { Relay } from './relay.js';

/** How often the way to the workbench is measured. */
const MEASURED_EVERY_MS = 60_000;

/** What a reader knows of itself and its machine beside its work. */
export class Self {
  private measured: {
    readonly at: number;
    readonly roundTripMs: number;
    readonly clockAheadMs: number;
  } | null = null;

  constructor(private readonly relay: Relay | null) {}

  /** Asks the workbench for the time now and then: how far away it is, and how wrong this clock. */
  async measure(clock: () => Promise<{ readonly now: string } | null>, now = Date.now): Promise<void> {
    const began = now();
    if (this.measured && began - this.measured.at < MEASURED_EVERY_MS) return;
    const answer = await clock();
    const ended = now();
    if (!answer) return;
    const there = Date.parse(answer.now);
    const roundTripMs = ended - began;
    // The answer was written about half way.
    const clockAheadMs = Math.round(began + roundTripMs / 2 - there);
    if (Number.isFinite(clockAheadMs)) this.measured = { at: ended, roundTripMs, clockAheadMs };
  }

  async told(cost: ReaderCost, at = new Date()): Promise<ReaderTold> {
    const battery = await batteryOf();
    const minute = at.getHours() * 60 + at.getMinutes();
    return {
      resting: restOf(
        { hours: cost.hours ?? null, batteryAbove: cost.batteryAbove ?? null },
        minute,
        battery,
      ),
      battery,
      roundTripMs: this.measured?.roundTripMs ?? null,
      clockAheadMs: this.measured?.clockAheadMs ?? null,
      serves: this.relay?.serves() ?? null,
    };
  }
}
