/** Runs tasks with the same key one after the other, and tasks with different keys in parallel. */
export class OneAtATime {
  private readonly last = new Map<string, Promise<unknown>>();

  async run<Result>(key: string, work: () => Promise<Result>): Promise<Result> {
    const before = this.last.get(key) ?? Promise.resolve();
    // What failed before is its own caller's matter.
    const mine = before.then(work, work);
    this.last.set(key, mine);
    try {
      return await mine;
    } finally {
      if (this.last.get(key) === mine) this.last.delete(key);
    }
  }
}
