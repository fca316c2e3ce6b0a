import type { Pattern } from '@lantern/core/detection';

/** A pattern as a file of a set holds it, for the server to try; null for one whose knowledge stays there. */
export function asFile(pattern: Pattern): object | null {
  switch (pattern.origin) {
    case 'ready':
      return { pattern: 'weights', id: pattern.id, name: pattern.name, weights: pattern.weights };
    case 'own': {
      const { name, about, words, threshold, inside } = pattern;
      return {
        pattern: 'words',
        name: name || 'Unnamed',
        about,
        words,
        threshold: threshold ?? null,
        inside: inside ?? false,
      };
    }
    case 'expression': {
      const { origin: _origin, id: _id, kind: _kind, name, ...fields } = pattern;
      return { pattern: 'expression', name: name || 'Unnamed', ...fields };
    }
    default:
      return null;
  }
}
