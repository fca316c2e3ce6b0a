import type { FieldTable, FilterField } from '../incidents/index.js';
import { ITEM_REACHES, ITEM_STATES } from './item.js';

const words: FilterField = { kind: 'words' };
const number: FilterField = { kind: 'number' };

/** Every field that a filter over items can name: what it is, what it holds, who can reach it, how it was read. */
export const ITEM_FIELDS = {
  place: words,
  store: { kind: 'choice', choices: ['folder', 'webdav', 'objects', 'mailbox', 'tables'] },
  path: words,
  ending: words,
  bytes: number,
  changed: { kind: 'time' },
  owner: words,
  pattern: { kind: 'words', named: 'pattern', several: true },
  certainty: number,
  count: number,
  label: { kind: 'words', named: 'label' },
  suggested: { kind: 'words', named: 'label' },
  reach: { kind: 'choice', choices: ITEM_REACHES, ordered: true },
  sensitive: { kind: 'yes-no' },
  misplaced: { kind: 'yes-no' },
  copies: number,
  state: { kind: 'choice', choices: ITEM_STATES },
  reason: words,
  quarantined: { kind: 'yes-no' },
  read: { kind: 'time' },
  any: { kind: 'words', onlyContains: true },
} as const satisfies FieldTable<string>;

export type ItemField = keyof typeof ITEM_FIELDS;
/** The same table for whoever looks a field up by a name that is not known beforehand. */
export const ITEM_FIELD_TABLE: FieldTable<ItemField> = ITEM_FIELDS;
