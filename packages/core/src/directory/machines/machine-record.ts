/** What the directory keeps of one machine. */
export interface MachineRecord {
  readonly name: string;
  /** Whether the organisation looks after it. */
  readonly state: 'looked-after' | 'strange' | 'not-known';
  /** Empty where the source says nothing. */
  readonly serial: string;
  /** Addresses of its network connections, as they are usually written. */
  readonly addresses: readonly string[];
  /** Address of who usually works at it; empty for nobody. */
  readonly owner: string;
  /** Groups that the source lists. */
  readonly listed: readonly string[];
}

/** One machine as a source tells of it. */
export interface ListedMachine {
  readonly line: number;
  readonly name: string;
  /** Fields that the source says something about. */
  readonly fields: Partial<Omit<MachineRecord, 'name'>>;
  /** What was given as an address and is none. */
  readonly badAddress?: string;
}

export const MAX_MACHINE_FIELD = 120;
export const MAX_MACHINES = 200_000;
/** Network connections of one machine. */
export const MAX_MACHINE_ADDRESSES = 20;
