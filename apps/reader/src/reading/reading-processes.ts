import { openKnowledge } from './own-knowledge.js';
import { ReadingPool } from './reading-pool.js';
import type { Revision } from './revision.js';

/** Own records and documents of one run, as they came: sealed, with the key that opens them. */
export interface SealedKnowledge {
  readonly bytes: Buffer;
  readonly key: Uint8Array;
}

/** The revision that a reader holds, and the processes that look for it. */
export class ReadingProcesses {
  private current: ReadingPool | null = null;
  private revision: Revision | null = null;
  /** Names the run and the own records that the processes look for as well; null for none. */
  private knows: string | null = null;

  constructor(private readonly processes: number) {}

  /** Null before any revision is held. */
  get pool(): ReadingPool | null {
    return this.current;
  }

  get held(): Revision | null {
    return this.revision;
  }

  hold(revision: Revision): void {
    this.revision = revision;
    this.startWith(null);
  }

  /** Starts processes that also look for the named own records and documents, unless they do already. */
  async learn(name: string, fetch: () => Promise<SealedKnowledge>): Promise<void> {
    if (name === this.knows) return;
    this.startWith(name, await fetch());
  }

  /** Ends processes that know own records: they live no longer than their run. */
  forget(): void {
    if (this.knows !== null) this.startWith(null);
  }

  close(): void {
    this.current?.close();
  }

  private startWith(name: string | null, sealed?: SealedKnowledge): void {
    if (!this.revision) return;
    const { own, wanted, labels, automatic } = this.revision;
    const knowledge = sealed ? { knowledge: openKnowledge(sealed.key, sealed.bytes) } : {};
    const old = this.current;
    this.current = new ReadingPool({ own, wanted, labels, automatic, ...knowledge }, this.processes);
    this.knows = name;
    // A file that is judged by the old processes just now is judged to its end.
    void old?.finish();
  }
}
