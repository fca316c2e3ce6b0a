import type { StoreItem } from './store.js';

/** Longest path that the workbench keeps, in UTF-16 units: half of what Linux allows. */
export const LONGEST_PATH = 2_000;
const LONGEST_MARKER = 200;
const LONGEST_OWNER = 254;
/** Times outside of these are mistakes of a clock or of a store; the database knows no others. */
const EARLIEST = Date.UTC(1970, 0, 1);
const LATEST = Date.UTC(9999, 0, 1);

/** An item as the workbench takes it: odd times and long marks are mended. Null where its path is too long to be named. */
export function reportable({ path, bytes, changedAt, marker, owner }: StoreItem): StoreItem | null {
  if (path === '' || path.length > LONGEST_PATH) return null;
  const at = changedAt === null ? Number.NaN : Date.parse(changedAt);
  return {
    ...{ path, bytes: Number.isSafeInteger(bytes) && bytes >= 0 ? bytes : 0 },
    changedAt: at >= EARLIEST && at < LATEST ? new Date(at).toISOString() : null,
    marker: marker.slice(0, LONGEST_MARKER),
    ...(owner ? { owner: owner.slice(0, LONGEST_OWNER) } : {}),
  };
}
