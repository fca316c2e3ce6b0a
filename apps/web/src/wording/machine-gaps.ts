import type { DoorGap } from '@lantern/contracts';
import { ago } from './times';

/** Why rules do not apply fully on a machine, in a sentence. */
export function gapWords({ name, code, paths, lastSeen }: DoorGap, now: Date): string {
  const folders = paths.join(', ');
  switch (code) {
    case 'silent':
      return lastSeen === null ? `${name} was never seen.` : `${name} was last seen ${ago(lastSeen, now)}.`;
    case 'older-rules':
      return `${name} uses an older revision.`;
    case 'older-orders':
      return `${name} has not received its list of folders yet.`;
    case 'cannot-watch':
      return `${name} cannot watch ${folders}: the folder is missing or not readable.`;
    case 'cannot-stop':
      return `${name} can read files in ${folders} but cannot move them, so blocking does not work there.`;
  }
}
