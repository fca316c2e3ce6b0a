import type { DoorGap } from '@lantern/contracts';
import { ago } from './times';

/** Why rules hold for less than they say, in a sentence. */
export function gapWords({ name, code, paths, lastSeen }: DoorGap, now: Date): string {
  const folders = paths.join(', ');
  switch (code) {
    case 'silent':
      return lastSeen === null
        ? `${name} was never heard of.`
        : `${name} was last heard of ${ago(lastSeen, now)}. Nothing there is inspected while it is off.`;
    case 'older-rules':
      return `${name} judges by an older revision.`;
    case 'older-orders':
      return `${name} does not know yet which folders to watch.`;
    case 'cannot-watch':
      return `${name} cannot watch ${folders}: it is missing, or may not be read.`;
    case 'cannot-stop':
      return `${name} sees files in ${folders}, but cannot move them away. A rule that blocks there only tells.`;
  }
}
