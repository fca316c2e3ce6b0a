interface Node {
  ends: boolean;
  readonly next: Map<string, Node>;
}

const newNode = (): Node => ({ ends: false, next: new Map() });

/**
 * Source of an expression for any of some words, the longest that stands, without looking at one after the other: words
 * share their beginnings. Letters and digits only.
 */
export function treeOf(words: readonly string[]): string {
  const root = newNode();
  for (const word of words) {
    let node = root;
    for (const letter of word) {
      const next = node.next.get(letter) ?? newNode();
      node.next.set(letter, next);
      node = next;
    }
    node.ends = true;
  }
  return sourceOf(root);
}

function sourceOf({ ends, next }: Node): string {
  if (next.size === 0) return '';
  const branches = [...next].map(([letter, node]) => letter + sourceOf(node));
  const [only] = branches;
  const isOne = branches.length === 1 && !ends;
  return isOne ? (only ?? '') : `(?:${branches.join('|')})${ends ? '?' : ''}`;
}
