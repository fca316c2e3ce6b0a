import type { PolicyView } from '@lantern/contracts';
import type { Policy } from '@lantern/core/policy';

/** Text of a policy that is not saved yet, with the version it was written over. */
interface Unsaved {
  readonly policy: Policy;
  readonly version: number;
}

const keyOf = (id: string): string => `unsaved policy ${id}`;

/** Keeps what was typed until it is saved: in this window's storage, where a reload finds it again. */
export function keepUnsaved(policy: Policy, version: number): void {
  try {
    sessionStorage.setItem(keyOf(policy.id), JSON.stringify({ policy, version } satisfies Unsaved));
  } catch {
    // A full or forbidden storage keeps nobody from typing.
  }
}

export function forgetUnsaved(id: string): void {
  sessionStorage.removeItem(keyOf(id));
}

/** What was typed over this very version and never saved; null for none. */
export function unsavedOf({ policy, version }: Pick<PolicyView, 'policy' | 'version'>): Policy | null {
  const kept = sessionStorage.getItem(keyOf(policy.id));
  if (kept === null) return null;
  try {
    const unsaved = JSON.parse(kept) as Unsaved;
    return unsaved.version === version ? unsaved.policy : null;
  } catch {
    return null;
  }
}
