import type { ExpressionPattern, ListedWord, OwnPattern, PatternWeights } from '@lantern/core/detection';
import type { PatternId } from '@lantern/core/shared';
import { READY_PATTERNS } from '@lantern/core/detection';

/** A pattern as its file holds it, defaults filled in. */
export type FilePattern =
  | {
      readonly pattern: 'words';
      readonly id: string;
      readonly name: string;
      readonly about: string;
      readonly words: readonly ListedWord[];
      readonly threshold: number | null;
      readonly inside: boolean;
    }
  | ({ readonly pattern: 'expression' } & Omit<ExpressionPattern, 'origin' | 'kind' | 'id'> & {
        readonly id: string;
      })
  | {
      readonly pattern: 'weights';
      readonly id: string;
      readonly name: string;
      readonly weights: Partial<PatternWeights>;
    }
  | {
      readonly pattern: 'elsewhere';
      readonly id: string;
      readonly name: string;
      readonly about: string;
      readonly from: 'records' | 'documents';
    };

export function isElsewhere(pattern: FilePattern): boolean {
  return pattern.pattern === 'elsewhere';
}

/** The pattern of the core, or nothing for one that is only named. */
export function toPattern(file: FilePattern): OwnPattern[] {
  const id = file.id as PatternId;
  switch (file.pattern) {
    case 'words': {
      const { name, about, words, threshold, inside } = file;
      const more = { ...(threshold === null ? {} : { threshold }), ...(inside ? { inside } : {}) };
      return [{ origin: 'own', id, name, kind: 'own-words', about, words, ...more }];
    }
    case 'expression': {
      const { pattern: _pattern, ...fields } = file;
      return [{ origin: 'expression', kind: 'own-expression', ...fields, id }];
    }
    case 'weights': {
      const name = READY_PATTERNS.find((ready) => ready.id === id)?.name ?? file.name;
      return [{ origin: 'adjusted', id, name, weights: file.weights }];
    }
    case 'elsewhere':
      return [];
  }
}

/** The pattern of one file's value that has its shape already; null for one that no file holds. */
export function patternFromFile(value: object, id: string): OwnPattern | null {
  const [pattern] = toPattern({ ...value, id } as FilePattern);
  return pattern ?? null;
}
