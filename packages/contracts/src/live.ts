/** Events of `GET /api/events`. They say what changed; the data is fetched where it is allowed. */
export type LiveEvent =
  | { readonly kind: 'incident-recorded'; readonly number: number }
  | { readonly kind: 'incident-changed'; readonly number: number }
  /** Age changed how urgent incidents are, or many were decided together. */
  | { readonly kind: 'incidents-aged' }
  | { readonly kind: 'bulk-changed'; readonly id: string }
  | { readonly kind: 'drafts-changed' }
  /** People, groups, domains or partners of the directory. */
  | { readonly kind: 'directory-changed' }
  /** Something was put somewhere in a stand-in, or what waited there went on. */
  | { readonly kind: 'thing-changed'; readonly agent: string }
  | { readonly kind: 'replay-changed'; readonly id: string }
  | { readonly kind: 'label-run-changed'; readonly id: string }
  /** Places, runs, results or readers. */
  | { readonly kind: 'discovery-changed' }
  | { readonly kind: 'automations-changed' }
  | { readonly kind: 'revision-published'; readonly revision: number };
