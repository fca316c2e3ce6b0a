import type { Effect } from '@lantern/core/labels';

export const EFFECT_WORDS: Readonly<Record<Effect, string>> = {
  read: 'read it',
  change: 'change it',
  'take-out': 'copy parts of it',
  'make-another': 'make copies',
  'pass-on': 'pass it on',
};
export const EFFECT_MEANING: Readonly<Record<Effect, string>> = {
  read: 'open it and see what it says',
  change: 'write in it',
  'take-out': 'copy text or a screenshot',
  'make-another': 'print, download, keep a copy elsewhere',
  'pass-on': 'send or share it to others',
};
