/** Ways to the workbench are measured this often: networks change during a day. */
const MEASURED_EVERY_MS = 5 * 60_000;
/** Another way is taken once it is shorter by half and by more than this: two alike must not take turns. */
const WORTH_MS = 10;
const WORTH_SHARE = 0.5;

/** Addresses at which the workbench can be reached, its own and those of relays: the nearest that answers is taken. */
export class Ways {
  /** Milliseconds to the workbench and back; infinity where there was no answer. */
  private readonly roundTrips = new Map<string, number>();
  private measuredAt = -Infinity;
  private taken: string;

  constructor(private readonly addresses: readonly [string, ...string[]]) {
    this.taken = addresses[0];
  }

  get current(): string {
    return this.taken;
  }

  /** Times each way now and then, and takes the shortest. `ask` throws where there is no answer. */
  async measure(ask: (address: string) => Promise<unknown>, now: () => number = Date.now): Promise<void> {
    if (this.addresses.length === 1 || now() - this.measuredAt < MEASURED_EVERY_MS) return;
    this.measuredAt = now();
    const times = await Promise.all(
      this.addresses.map(async (address) => {
        const began = now();
        return ask(address).then(
          () => now() - began,
          () => Infinity,
        );
      }),
    );
    for (const [at, address] of this.addresses.entries()) this.roundTrips.set(address, times[at] ?? Infinity);
    const [nearest, known] = [this.nearest(), this.timeOf(this.taken)];
    const time = this.timeOf(nearest);
    if (time < known * WORTH_SHARE && known - time > WORTH_MS) this.taken = nearest;
  }

  /** There was no answer at an address: the next one is taken. */
  failed(address: string): void {
    if (address !== this.taken || this.addresses.length === 1) return;
    this.roundTrips.set(address, Infinity);
    const next = this.nearest();
    // Where none answers, one after the other is tried.
    this.taken =
      this.timeOf(next) < Infinity
        ? next
        : (this.addresses[(this.addresses.indexOf(address) + 1) % this.addresses.length] ?? address);
  }

  private nearest(): string {
    return this.addresses.reduce((best, address) =>
      this.timeOf(address) < this.timeOf(best) ? address : best,
    );
  }

  /** One that was never measured comes after all that answered. */
  private timeOf(address: string): number {
    return this.roundTrips.get(address) ?? Number.MAX_VALUE;
  }
}
