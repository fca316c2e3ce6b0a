/** A machine that was told to watch folders, as it said of itself last. Times are milliseconds. */
export interface WatchingMachine {
  readonly name: string;
  readonly lastSeen: number | null;
  /** Published revision that it judges by; null for none yet. */
  readonly revision: number | null;
  /** What it says of its folders; null where it said nothing yet. */
  readonly folders: readonly { readonly path: string; readonly state: string }[] | null;
  /** It holds the folders that its group was told to watch last. */
  readonly holdsOrders: boolean;
}

export const MACHINE_GAPS = ['silent', 'older-rules', 'older-orders', 'cannot-watch', 'cannot-stop'] as const;
export type MachineGapCode = (typeof MACHINE_GAPS)[number];

/** Why rules guard less on a machine than they say. */
export interface MachineGap {
  readonly name: string;
  readonly code: MachineGapCode;
  /** Folders that it is about; empty for the whole machine. */
  readonly paths: readonly string[];
  /** When it was heard of last, in milliseconds; null for never. */
  readonly lastSeen: number | null;
}

/** A machine that says nothing for a day is off for longer than a night. */
export const SILENT_FOR_MS = 24 * 3_600_000;
/** A machine asks at least twice a minute: what it does not hold after an hour, it does not get. */
const TAKEN_UP_WITHIN_MS = 3_600_000;

/**
 * Where rules for files on machines do not hold as written: machines that are silent, judge by an older revision, do
 * not know yet what to watch, or cannot watch or change a folder. Of a silent machine nothing else is told.
 */
export function machineGaps(
  machines: readonly WatchingMachine[],
  published: { readonly revision: number | null; readonly at: number | null },
  now: number,
): MachineGap[] {
  return machines.flatMap((machine) => {
    const gap = (code: MachineGapCode, paths: readonly string[] = []): MachineGap => ({
      ...{ name: machine.name, code, paths, lastSeen: machine.lastSeen },
    });
    if (machine.lastSeen === null || now - machine.lastSeen > SILENT_FOR_MS) return [gap('silent')];
    const isSettled = published.at !== null && now - published.at > TAKEN_UP_WITHIN_MS;
    const among = (...states: readonly string[]): string[] =>
      (machine.folders ?? []).flatMap(({ path, state }) => (states.includes(state) ? [path] : []));
    const closed = among('missing', 'not-allowed');
    const readOnly = among('cannot-change');
    return [
      ...(isSettled && machine.revision !== published.revision ? [gap('older-rules')] : []),
      ...(machine.holdsOrders ? [] : [gap('older-orders')]),
      ...(closed.length > 0 ? [gap('cannot-watch', closed)] : []),
      ...(readOnly.length > 0 ? [gap('cannot-stop', readOnly)] : []),
    ];
  });
}
