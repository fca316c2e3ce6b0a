/**
 * Whether a name is written like one with `*` in it. Pieces are sought from the left, each at its earliest place, so
 * the work grows with the two lengths and not with the number of stars.
 */
export function isLike(name: string, like: string): boolean {
  const text = name.toLowerCase();
  const pieces = like.toLowerCase().split('*');
  const [first = ''] = pieces;
  const last = pieces.at(-1) ?? '';
  if (pieces.length === 1) return text === first;
  if (!text.startsWith(first) || text.length < first.length + last.length || !text.endsWith(last))
    return false;
  let from = first.length;
  const end = text.length - last.length;
  for (const piece of pieces.slice(1, -1)) {
    const found = text.indexOf(piece, from);
    if (found === -1 || found + piece.length > end) return false;
    from = found + piece.length;
  }
  return true;
}
